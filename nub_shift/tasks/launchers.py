"""Quoting of command lines in desktop entries and systemd units."""

from __future__ import annotations

import re
import subprocess
from collections.abc import Sequence
from typing import Final

from nub_shift.own_process import FOLDER

_LIMIT_S: Final = 30
_WORD: Final = re.compile(r'"((?:[^"\\]|\\.)*)"')


def desktop_exec(words: Sequence[str]) -> str:
    """Returns the value of Exec by the Desktop Entry Specification: each word quoted, then escaped as a string
    value.
    """
    quoted = " ".join(f'"{_escaped(word, chr(92) + chr(34) + "`$")}"' for word in words)
    return quoted.replace("%", "%%").replace("\\", "\\\\")


def desktop_words(line: str) -> list[str]:
    """Returns the words of such a value, the inverse of `desktop_exec`."""
    text = line.replace("\\\\", "\\").replace("%%", "%")
    return [re.sub(r"\\(.)", r"\1", word) for word in _WORD.findall(text)]


def systemd_exec(words: Sequence[str]) -> str:
    """Returns the value of ExecStart (systemd.service(5)); the colon disables the substitution of variables."""
    quoted = " ".join(f'"{_escaped(word, chr(92) + chr(34))}"' for word in words)
    return ":" + quoted.replace("%", "%%")


def starts(words: Sequence[str]) -> bool:
    """Tries whether a command line starts this program, from the folder that desktops use."""
    try:
        done = subprocess.run(
            [*words, "--version"], capture_output=True, text=True, cwd=FOLDER, timeout=_LIMIT_S, check=False
        )
    except (OSError, subprocess.TimeoutExpired):
        return False
    return done.returncode == 0 and done.stdout.startswith("nub-shift ")


def _escaped(word: str, special: str) -> str:
    return "".join(f"\\{letter}" if letter in special else letter for letter in word)
