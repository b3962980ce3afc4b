"""Whatever a file is, `check` answers: soon, within bounds, and without a stack trace."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from click.testing import CliRunner

from nub_shift.cli.main import main
from nub_shift.model.problems import MAX_PROBLEMS, ProfileError
from nub_shift.store.profile_files import parse_profile, read_profile

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


def test_a_byte_order_mark_is_no_fault(tmp_path: Path) -> None:
    path = tmp_path / "marked.toml"
    path.write_bytes(b"\xef\xbb\xbf" + HEAD.encode())
    assert read_profile(path).title == "T"
