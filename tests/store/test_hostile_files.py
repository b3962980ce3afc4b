"""Whatever a file is, `check` answers: soon, within bounds, and without a stack trace."""

from __future__ import annotations

import logging
import os
import socket
from collections.abc import Callable
from pathlib import Path

import pytest
from click.testing import CliRunner

from nub_shift.cli.logs import _LateFile
from nub_shift.cli.main import main
from nub_shift.model.problems import MAX_PROBLEMS, ProfileError
from nub_shift.store.atomic import write_text
from nub_shift.store.journal import Journal, journal_path
from nub_shift.store.profile_files import parse_profile, read_profile
from nub_shift.tasks.record import record_pad
from nub_shift.ui.signs.sounds import write_sound

HEAD = 'schema = 4\ntitle = "T"\n'
MOVE = '[[moves]]\nid = "m{0}"\nlabel = "M"\nkeys = ["KEY_A"]\n'
HOSTILE = {
    "schema is a list": ("schema = [1]", "schema: a list of 1 does not fit"),
    "schema is a table": ("schema = { a = 1 }", "schema: a table does not fit"),
    "schema is true": ("schema = true", "schema: true does not fit"),
    "a number of 5000 digits": (f"schema = {'9' * 5000}", "too many digits"),
    "a number of 400 digits": (f"schema = {'9' * 400}", "written by a newer"),
    "deep lists": (f"{HEAD}notes = {'[' * 5000}{']' * 5000}", "nested too deep"),
    "deep tables": (f"{HEAD}notes = {'{a=' * 3000}1{'}' * 3000}", "nested too deep"),
    "a key of thousands of parts": (f"{HEAD}{'.'.join(['a'] * 20_000)} = 1", "more parts than any setting"),
    "a table of thousands of parts": (f"{HEAD}[{'.'.join(['a'] * 20_000)}]", "more parts than any setting"),
    "unknown slots": (
        HEAD
        + '[[layers]]\nid = "base"\nlabel = "B"\n[layers.slots]\n'
        + "\n".join(f'slot{number} = {{ keys = ["KEY_A"] }}' for number in range(3000)),
        "no control has a slot",
    ),
    "unknown keys": (HEAD + "\n".join(f"key{number} = 1" for number in range(5000)), "unknown key"),
    "moves without end": (HEAD + "".join(MOVE.format(number) for number in range(5000)), "moves: there are 5000"),
    "carriage returns only": (HEAD.replace("\n", "\r"), "expected TOML"),
    "an id that ends in a newline": (HEAD + MOVE.format("\\n"), "m\\n"),
    "a title of blanks": ('schema = 4\ntitle = "   "', 'title: "   " does not fit'),
    "a title of two lines": ('schema = 4\ntitle = "a\\nb"', "on one line"),
    "a title that speaks to the terminal": ('schema = 4\ntitle = "\\u001b[2Jgone"', "on one line"),
    "a key that speaks to the terminal": (HEAD + '"\\u001b[2J" = 1', "unknown key"),
}


@pytest.mark.parametrize(("text", "answer"), HOSTILE.values(), ids=list(HOSTILE))
def test_hostile_texts_are_answered(tmp_path: Path, text: str, answer: str) -> None:
    with pytest.raises(ProfileError) as caught:
        parse_profile(text)
    assert 1 <= len(caught.value.problems) <= MAX_PROBLEMS
    assert answer in str(caught.value)
    path = tmp_path / "hostile.toml"
    path.write_bytes(text.encode())
    told = CliRunner().invoke(main, ["check", str(path)])
    assert told.exit_code == 1 and not told.output.replace("\n", "").translate({27: "!"}).count("!")


def test_what_is_no_plain_file_is_not_waited_for(tmp_path: Path) -> None:
    pipe, endless = tmp_path / "pipe.toml", tmp_path / "endless.toml"
    os.mkfifo(pipe)
    endless.symlink_to("/dev/zero")
    for path, answer in ((pipe, "pipe or a device"), (endless, "pipe or a device"), (tmp_path, "cannot be read")):
        with pytest.raises(ProfileError, match=answer):
            read_profile(path)


def _append(path: Path) -> None:
    profile = path.parent / f"{path.name}-profile.toml"
    at = journal_path(profile)
    at.parent.mkdir(exist_ok=True)
    at.symlink_to(path)
    Journal(profile).add("edit", "Jump", "text")()


WRITERS: dict[str, Callable[[Path], object]] = {
    "text": lambda path: write_text(path, "text"),
    "journal": _append,
    "recording": lambda path: record_pad(path, "simulated:tern", 0.1, lambda _: None),
    "sound": lambda path: write_sound(path, (440.0,)),
}


@pytest.mark.parametrize("write", WRITERS.values(), ids=list(WRITERS))
def test_what_is_no_plain_file_is_not_written_over(tmp_path: Path, write: Callable[[Path], object]) -> None:
    """Nor through a link; and a log there is left out, since nobody is waiting for it."""
    pipe, device, folder, kept = (tmp_path / name for name in ("pipe", "device", "folder", "socket"))
    os.mkfifo(pipe)
    device.symlink_to("/dev/full")
    folder.mkdir()
    with socket.socket(socket.AF_UNIX) as server:
        server.bind(str(kept))
        for path in (pipe, device, folder, kept):
            before = path.stat()
            with pytest.raises(OSError, match="plain file"):
                write(path)
            assert path.stat().st_mode == before.st_mode and path.stat().st_ino == before.st_ino
            handler = _LateFile(path)
            handler.emit(logging.makeLogRecord({"msg": "lost"}))
    assert not [left for left in tmp_path.iterdir() if left.name.startswith(".pipe")]


def test_a_byte_order_mark_is_no_fault(tmp_path: Path) -> None:
    path = tmp_path / "marked.toml"
    path.write_bytes(b"\xef\xbb\xbf" + HEAD.encode())
    assert read_profile(path).title == "T"
