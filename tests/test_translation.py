"""Whether every text that reaches a person can be translated, and whether what is translated fits."""

from __future__ import annotations

import ast
import json
import os
import re
import runpy
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QLocale
from pytestqt.qtbot import QtBot

from nub_shift.translation import tr, unbroken
from nub_shift.ui.help.guide import FOLDER, PAGES
from nub_shift.ui.widgets.spins import DecimalSpin
from tests.ui.hands import QTest

ROOT = Path(__file__).parents[1]
# One that people speak, one a third longer, and one that is written from right to left.
LANGUAGES = ("de", "qps", "ar_XB")
# A language, and the window's size with that of the text where it is not the usual one.
WALKS = [
    *((language,) for language in LANGUAGES),
    *(("de", "1024", "768", "100"), ("de", "1280", "800", "150"), ("de", "1024", "768", "200")),
]
CATALOGUE = runpy.run_path(str(ROOT / "tools" / "catalogue.py"))
ESCAPED = runpy.run_path(str(ROOT / "tools" / "escaped_texts.py"))


def python(*words: str, **environ: str) -> str:
    """What a Python of its own prints in another language."""
    env = {**os.environ, "QT_QPA_PLATFORM": "offscreen", **environ}
    done = subprocess.run(
        [sys.executable, *words], env=env, cwd=ROOT, capture_output=True, text=True, timeout=120, check=False
    )
    assert done.returncode == 0, done.stdout[-2000:] + done.stderr[-2000:]
    return done.stdout


def test_no_text_escapes_translation() -> None:
    assert list(ESCAPED["escaped"]()) == []
    said = "label.setText('Save it'); tell(f'{pad} is gone'); log.debug('not for people'); tr('Led')"
    said += "; kept['Shown'] = kept['Found']"
    assert [text for _, text in ESCAPED["_of"](ast.parse(said))] == ["Save it", "{pad} is gone", "Shown"]


def test_every_catalogue_is_complete_and_fits(tmp_path: Path) -> None:
    catalogues: dict[str, Path] = CATALOGUE["catalogues"]()
    assert list(catalogues) == ["de"]
    assert [fault for language, path in catalogues.items() for fault in CATALOGUE["faults"](language, path)] == []
    for language, path in catalogues.items():  # nothing is lost as it is brought up to date
        copy = tmp_path / path.name
        copy.write_bytes(path.read_bytes())
        CATALOGUE["update"](language, copy)
        assert copy.read_text() == path.read_text(), "run tools/catalogue.py update"


@pytest.mark.parametrize(
    "name",
    [
        *("feel/handles", "feel/motion_numbers", "feel/stage_lines", "feel/wishes", "feel/signal_way"),
        *("fits", "starting_points"),
    ],
)
def test_what_is_told_apart_by_its_label_is_told_apart_in_every_language(name: str) -> None:
    for language, path in CATALOGUE["catalogues"]().items():
        found = CATALOGUE["read"](language, path)
        here = [message for message in found if (f"nub_shift/editing/{name}.py", None) in message.locations]
        labels = [message.string for message in here if message.id[0].isupper()]
        assert here and len(labels) == len(set(labels)), sorted(labels)


def test_what_a_translation_does_to_its_original_is_seen() -> None:
    message = CATALOGUE["Message"]
    wrong = CATALOGUE["_wrong"]
    assert list(wrong(message("{pad} is here", "{pad} ist da"))) == []
    for said in ("", "{Pad} ist da", "das Pad ist da", "{pad} ist da "):
        assert list(wrong(message("{pad} is here", said))), said


def test_numbers_days_and_plural_forms_are_those_of_the_language() -> None:
    program = """
from datetime import date, datetime
from nub_shift.translation import *
from nub_shift.translation import day_text, moment_text
print(tr("A full turn is {least} to {most} counts, not {turned}", least=1, most=2, turned=3))
print(trn("{count} slot", "{count} slots", 1), trn("{count} slot", "{count} slots", 2))
print(tr("up to {x:g} × {y:g} counts a second", x=1.5, y=2), number_text(0.25), inside("Rechter Stick"))
print(day_text(date(2026, 3, 1)), moment_text(datetime(2026, 3, 1, 14, 5)))
"""
    german = python("-c", program, LANGUAGE="de").splitlines()
    assert german[1:] == [
        "1 Platz 2 Plätze",
        "bis 1,5 × 2 Impulse pro Sekunde 0,25 Rechter Stick",
        "1. März 2026 1. März, 14:05",
    ]
    english = python("-c", program, LANGUAGE="en_US").splitlines()
    assert english[1:] == [
        "1 slot 2 slots",
        "up to 1.5 × 2 counts a second 0.25 rechter Stick",
        "1 March 2026 1 March, 14:05",
    ]
    assert python("-c", program, LANGUAGE="tlh").splitlines() == english  # there is no such catalogue


def test_a_number_is_typed_with_either_decimal_sign_and_shown_with_that_of_the_language(qtbot: QtBot) -> None:
    before = QLocale()
    QLocale.setDefault(QLocale("de"))
    try:
        spin = DecimalSpin("Dead zone", 0.0, 5.0, 0.1, 3)
        qtbot.addWidget(spin)
        for typed in ("1,8", "1.8"):
            spin.setValue(0.0)
            spin.selectAll()
            QTest.keyClicks(spin, typed + "\r")
            assert (spin.value(), spin.text()) == (1.8, "1,8")
    finally:
        QLocale.setDefault(before)


def test_commands_speak_german() -> None:
    said = python("-m", "nub_shift", "run", "--help", LANGUAGE="de")
    assert said.startswith("Aufruf: ") and "Spielt PROFILE ohne Fenster." in said and "Beispiel:" in said
    assert "Strg + C" in python(
        "-c",
        "from nub_shift.keyboard.layout import *; print(us_layout().combination(('KEY_LEFTCTRL', 'KEY_C')))",
        LANGUAGE="de",
    )


def test_what_programs_wait_for_is_the_same_in_every_language() -> None:
    told = python("-m", "nub_shift", "demo", "--text", "--seconds", "3", LANGUAGE="de")  # it waits for its runner
    assert "W gedrückt (Vorwärts laufen)" in told and "linker Stick" not in told


def test_the_example_of_a_pasted_list_is_understood_in_german() -> None:
    program = """
from nub_shift.editing.edits.moves import parse_moves
from nub_shift.keyboard.layout import us_layout
from nub_shift.ui.map.move_entry import HELP
for move in parse_moves(HELP.split("\\n\\n")[1], us_layout(), pasted=True):
    print(move.label, move.sent, move.direction)
"""
    lines = python("-c", program, LANGUAGE="de").splitlines()
    assert len(lines) == 11 and "Ausweichen PressKeys(keys=('KEY_LEFTCTRL', 'KEY_C')) None" in lines
    assert "Gehen zurück PressKeys(keys=('KEY_S',)) Direction.DOWN" in lines
    assert "Nächstes Werkzeug ClickWheel(direction=<WheelDirection.DOWN: 'down'>) None" in lines
    assert any(line.startswith("Bereit TypeText(") for line in lines)


def test_the_guide_is_the_same_in_every_language() -> None:
    def shape(path: Path) -> list[str]:
        text = path.read_text()
        marks = re.findall(r"^(#+|\d+\.|-|\|) |\]\((?:\.\./)*([\w/.:-]+)\)", text, re.MULTILINE)
        return [mark or link for mark, link in marks]

    for folder in (path for path in FOLDER.iterdir() if path.is_dir()):
        for page in PAGES:
            here = folder / f"{page}.md"
            assert [link.replace(f"/{folder.name}/", "/") for link in shape(here)] == shape(FOLDER / f"{page}.md"), here
            for picture in re.findall(r"\]\(([^)]+\.png)\)", here.read_text()):
                assert (folder / picture).resolve().is_file(), f"{here}: {picture}"


@pytest.fixture(scope="module")
def walks(tmp_path_factory: pytest.TempPathFactory) -> Iterator[dict[tuple[str, ...], subprocess.Popen[str]]]:
    """A walk through the window in each language and size, all of them at once, since most of the time they wait."""
    folder = tmp_path_factory.mktemp("pseudo")
    CATALOGUE["make_pseudo"](folder)
    going = {}
    for walk in WALKS:
        language, *size = walk
        own = {} if language == "de" else {"NUB_SHIFT_LOCALE_DIR": str(folder)}
        home = str(tmp_path_factory.mktemp(language))
        homes = dict.fromkeys(("XDG_DATA_HOME", "XDG_STATE_HOME", "XDG_CONFIG_HOME"), home)
        env = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "LANGUAGE": language, **own, **homes}
        going[walk] = subprocess.Popen(
            [sys.executable, "-m", "tests.ui.cut_texts", *size],
            env=env,
            cwd=ROOT,
            text=True,
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
        )
    yield going
    for process in going.values():
        process.kill()
        process.communicate()


@pytest.mark.timeout(420)
@pytest.mark.parametrize("walk", WALKS, ids="-".join)
def test_nothing_is_cut_whatever_the_language_and_the_size(
    walk: tuple[str, ...], walks: dict[tuple[str, ...], subprocess.Popen[str]]
) -> None:
    said, complaints = walks[walk].communicate(timeout=400)
    assert walks[walk].returncode == 0, complaints[-2000:]
    found: dict[str, Any] = json.loads(said)
    assert found["cut"] == []
    assert found["right_to_left"] is (walk[0] == "ar_XB")


@pytest.mark.timeout(180)
def test_the_first_hour_in_german() -> None:
    python("-m", "pytest", "-q", "-p", "no:cacheprovider", "tests/ui/test_first_hour.py", NUB_SHIFT_TEST_LANGUAGE="de")


def test_no_number_is_parted_from_its_unit_in_english_either() -> None:
    assert tr("Within {ms} ms", ms=100) == "Within 100\N{NO-BREAK SPACE}ms"
    texts = {text for text, _, _ in CATALOGUE["texts"]() if isinstance(text, str)}
    assert sum(unbroken(text) != text for text in texts) > 20
    assert unbroken("{count} slots and {seconds} seconds") == "{count} slots and {seconds} seconds"
