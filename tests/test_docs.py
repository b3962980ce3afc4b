"""The documents name only what exists."""

from __future__ import annotations

import json
import os
import re
import runpy
import shlex
import subprocess
import sys
import tomllib
from pathlib import Path

import click
import jsonschema
import msgspec
import pytest
from click.testing import CliRunner

from nub_shift.bench.flooder import PATTERNS
from nub_shift.cli.main import main
from nub_shift.demo.games import GAMES, demo_profile_text
from nub_shift.editing.words.messages import WORDS
from nub_shift.model.controls import CONTROL_OF_SLOT
from nub_shift.model.messages import Code
from nub_shift.model.profile.profile import json_schema
from nub_shift.protocol.calls import METHODS
from nub_shift.protocol.codec import PROTOCOL
from nub_shift.ui.commands import TEXTS
from tests.trust.test_ways_to_die import HELD

ROOT = Path(__file__).parents[1]
DOCS = [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *sorted((ROOT / "docs").glob("*.md"))]


def code_spans(text: str) -> set[str]:
    return set(re.findall(r"`([^`\n]+)`", text))


@pytest.mark.parametrize("path", DOCS, ids=lambda path: path.name)
def test_every_path_that_is_named_exists(path: Path) -> None:
    text = path.read_text()
    links = [target for target in re.findall(r"\]\(([^)#]+)\)", text) if "://" not in target]
    missing = [target for target in links if not (path.parent / target).exists()]
    for span in code_spans(text):
        is_path = re.fullmatch(r"[a-z_]+/[\w/]+(\.py)?/?", span) or re.fullmatch(r"[\w/]+\.py", span)
        if is_path and not any((base / span).exists() for base in (ROOT, ROOT / "nub_shift")):
            missing.append(span)
    assert missing == []


def test_every_command_that_is_named_exists_and_the_reverse() -> None:
    readme = (ROOT / "README.md").read_text()
    named = set(re.findall(r"`nub-shift ([a-z]+)", readme))
    assert named == {name for name, command in main.commands.items() if not command.hidden}
    for name in main.commands:
        assert CliRunner().invoke(main, [name, "--help"]).exit_code == 0


def test_every_command_has_an_example_that_it_takes() -> None:
    parent = click.Context(main, info_name="nub-shift")
    for name, command in main.commands.items():
        _, _, example = (command.help or "").partition("Example:\n")
        program, called, *words = shlex.split(example.strip())
        assert (program, called) == ("nub-shift", name)
        command.make_context(name, words, parent)  # an error of usage if it does not


def test_every_command_line_that_people_are_told_is_taken() -> None:
    told: dict[str, str] = {}
    for path in (ROOT / "README.md", *sorted((ROOT / "docs" / "guide").rglob("*.md"))):
        text = path.read_text()
        lines = [*re.findall(r"`([^`\n]+)`", text), *re.findall(r"^    (\S.*)$", text, re.MULTILINE)]
        told |= {line.split("#")[0].strip(): path.name for line in lines}
    taken = 0
    for line, name in told.items():
        program, *words = shlex.split(line)
        if program == "./nub":
            assert f"./nub {words[0]}" in (ROOT / "nub").read_text(), f"{name}: {line}"
        elif program.endswith("nub-shift") and words:
            command = main.commands.get(words[0])
            assert command is not None or words[0].startswith("-"), f"{name}: {line}"
            if command is not None and len(words) > 1:
                command.make_context(words[0], words[1:], click.Context(main))  # an error of usage if it does not
        else:
            continue
        taken += 1
    assert taken > 30


def test_what_the_readme_says_of_daily_use_works_on_a_new_account(tmp_path: Path) -> None:
    section = (ROOT / "README.md").read_text().split("## Install it for daily use")[1].split("###")[0]
    removal = (ROOT / "README.md").read_text().split("## Remove it")[1].split("##")[0]
    found = re.findall(r"^    (?:\S*/)?nub-shift ([^#\n]+)", section + removal, re.MULTILINE)
    lines = [line.strip() for line in found]
    assert lines == ["terminal on", "desktop on", "session off", "desktop off", "terminal off"]
    home = {"HOME": str(tmp_path), "PATH": os.environ["PATH"]}
    program = Path(sys.executable).with_name("nub-shift")
    for line in lines:
        done = subprocess.run(
            [program, *line.split()], env=home, capture_output=True, text=True, timeout=60, check=False
        )
        assert done.returncode == 0, f"{line}: {done.stderr}"
        link = tmp_path / ".local" / "bin" / "nub-shift"
        assert link.is_symlink() is (line != "terminal off"), line


def test_every_shortcut_is_in_the_readme() -> None:
    readme = (ROOT / "README.md").read_text()
    assert [words.shortcut for words in TEXTS.values() if words.shortcut not in readme] == []


def test_every_slot_is_in_the_format_document() -> None:
    text = (ROOT / "docs" / "profile-format.md").read_text()
    for slot in CONTROL_OF_SLOT:
        name, _, part = slot.partition(".")
        assert name in text or name.startswith("grip_"), slot
        assert not part or f".{part}`" in text, slot


def test_the_examples_in_the_format_document_are_sound(tmp_path: Path) -> None:
    examples = [
        part.split("```")[0] for part in (ROOT / "docs" / "profile-format.md").read_text().split("```toml\n")[1:]
    ]
    path = tmp_path / "example.toml"
    path.write_text("\n".join(examples))
    found = CliRunner().invoke(main, ["check", str(path)])
    assert found.exit_code == 0, found.output


def test_every_setting_is_in_the_format_document() -> None:
    text = (ROOT / "docs" / "profile-format.md").read_text()
    schema = json_schema()
    definitions = schema["$defs"]
    assert isinstance(definitions, dict)
    names = {name for part in definitions.values() for name in part.get("properties", {})}
    assert len(names) > 60
    assert sorted(name for name in names if name not in text) == []


def test_the_published_schema_is_the_models_and_takes_the_demo_profiles() -> None:
    published = json.loads((ROOT / "docs" / "profile.schema.json").read_text())
    assert published == msgspec.json.decode(msgspec.json.encode(json_schema()))
    validator = jsonschema.Draft202012Validator(published)
    validator.check_schema(published)
    for game in GAMES:
        assert list(validator.iter_errors(tomllib.loads(demo_profile_text(game)))) == []
    assert list(validator.iter_errors({"schema": 2, "title": "T", "feel": {"left_stick": {"dead_zone": 2}}})) != []


def test_the_protocol_document_names_every_call_and_every_code_has_words() -> None:
    text = (ROOT / "docs" / "runner-protocol.md").read_text()
    assert [method for method in METHODS if f"`{method}`" not in text] == []
    assert f"`protocol` ({PROTOCOL})" in text
    assert set(WORDS) == set(Code)


def test_the_reliability_document_has_every_pattern_of_the_floods_and_all_that_is_held() -> None:
    text = (ROOT / "docs" / "reliability.md").read_text()
    rows = {row.split("|")[1].strip() for row in text.splitlines() if row.startswith("|")}
    assert rows >= PATTERNS.keys() - {"idle"}
    assert ", ".join(HELD) in text


def test_pins_cover_every_dependency() -> None:
    pins = (ROOT / "requirements" / "run.txt").read_text().lower()
    project = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
    names = [re.split(r"[>=<; ]", dependency)[0].lower() for dependency in project["dependencies"]]
    assert [name for name in names if f"{name}==" not in pins] == []


def test_the_bootstrap_script_is_sound() -> None:
    for script in ("nub", "tools/kernel-guest", ".ci/run"):
        assert subprocess.run(["bash", "-n", ROOT / script], check=False).returncode == 0


def test_the_picture_of_the_rooms_is_of_the_code_as_it_is() -> None:
    tool = runpy.run_path(str(ROOT / "tools" / "rooms.py"))
    assert (ROOT / "docs" / "rooms.svg").read_text() == tool["picture"](), "run tools/rooms.py"
