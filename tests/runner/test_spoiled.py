"""What is kept may be spoiled in any way: play starts with what is left, and says what is not."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

import pytest
import tomli_w
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nub_shift.demo.games import demo_profile_text
from nub_shift.model.kinds import OutputKind
from nub_shift.model.messages import Code, Message
from nub_shift.protocol.messages import State
from nub_shift.runner.process import play
from nub_shift.store.atomic import write_text
from nub_shift.store.library import entries, library_folder, rules_in
from nub_shift.store.residence import ResidentPlayer, ResidentState, residence_path, write_kept
from nub_shift.tasks.resident import resident_options

LONG = bool(os.environ.get("NUB_SHIFT_LONG"))


def started() -> tuple[State, list[Message]]:
    """The session's runner comes up, and ends at once; how it is then, and what it has said."""
    said: list[Message] = []
    states: list[State] = []
    play(resident_options(OutputKind.PRINT, 0.0, lambda _: ""), said.append, states.append)
    return states[0], said


@pytest.fixture
def mine() -> Path:
    path = library_folder() / "mine.toml"
    write_text(path, demo_profile_text())
    players = (
        ResidentPlayer("simulated:tern", str(path)),
        ResidentPlayer("", str(path), shares_with=0, controls=("south",)),
        ResidentPlayer("simulated:plank", str(path)),
    )
    write_kept(residence_path(), ResidentState(True, players, ("tern", "plank"), "print"))
    return path


WRONG: list[dict[str, Any]] = [
    {"simulated": ["nothing-like-it"]},
    {"output": "smoke"},
    {"live": "yes"},
    {"players": [{"pad": "recorded:/gone.txt", "file": ""}]},
    {"players": [{"pad": "simulated:unknown", "file": "/no\0name"}]},
    {"players": [{"pad": "tube", "file": "/gone.toml"}, {"pad": 3, "file": 4}]},
    {"players": [{"pad": "simulated:tern", "file": ""}, {"pad": "", "file": "", "shares_with": 0, "controls": ["x"]}]},
    {"players": [{"pad": "", "file": "", "shares_with": 0}]},
    {"players": "none"},
]


@pytest.mark.parametrize("wrong", WRONG)
def test_one_wrong_value_costs_that_value_and_is_said(mine: Path, wrong: dict[str, Any]) -> None:
    kept = {"live": True, "simulated": ["tern"], "output": "print", "players": [{"pad": "evdev", "file": str(mine)}]}
    write_text(residence_path(), tomli_w.dumps(kept | wrong))
    state, said = started()
    assert state.seats and state.seats[0].title == "Saltglass Keeper"
    if "output" not in wrong and "x" not in str(wrong):  # what is shared is tried once the pad is there
        assert [message.code for message in said if message.code not in (Code.WAITING_FOR_PAD, Code.PAD_IS_HERE)]


JUNK = st.one_of(st.binary(max_size=40), st.sampled_from([b"[" * 3000, b"\0", b"nan", b"9" * 5000, b"\xff"]))
UNREADABLE = ["title = " + "[" * 3000, "title = 'a'\ncolour = " + "{a=" * 2000, "\0", "title = 1e999999"]


@settings(max_examples=500 if LONG else 25, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(data=st.data())
def test_it_starts_whatever_is_in_its_files(mine: Path, data: st.DataObject) -> None:
    files = [residence_path(), mine]
    whole = {path: path.read_bytes() for path in files}
    path = data.draw(st.sampled_from(files))
    text = whole[path]
    at = data.draw(st.integers(0, len(text)))
    junk = data.draw(JUNK)
    cut = data.draw(st.integers(0, 200))
    try:
        path.write_bytes(text[:at] + junk + text[at + cut :])
        state, _ = started()
        assert state.seats
    finally:
        for kept, before in whole.items():
            kept.write_bytes(before)


def test_a_profile_that_is_gone_is_replaced_in_rehearsal_and_that_is_said(mine: Path) -> None:
    assert started()[0].live
    other = library_folder() / "other.toml"
    write_text(other, demo_profile_text("tidefold"))
    mine.unlink()
    state, said = started()
    assert (state.live, state.seats[0].title) == (False, "Tidefold")
    assert Code.PROFILE_FAULTY in [message.code for message in said]


@pytest.mark.parametrize(
    "text", ["title = " + "[" * 3000, "title = 'a'\ncolour = " + "{a=" * 2000, "\0", "title = 1e999999"]
)
def test_a_profile_that_cannot_be_read_is_in_nobodys_way(mine: Path, text: str) -> None:
    (library_folder() / "bad.toml").write_text(text)
    assert "Saltglass Keeper" in [entry.title for entry in entries(library_folder())]
    rules_in([library_folder()])
    assert started()[0].seats[0].title == "Saltglass Keeper"
