"""Faults of a file: path, what is wrong, what would be right."""

from __future__ import annotations

from dataclasses import dataclass

from nub_shift.model.plain_text import plain_text

# More faults at once are no help, and searching for them takes time.
MAX_PROBLEMS = 50


@dataclass(frozen=True)
class Problem:
    """One fault.

    Attributes:
        path: dotted path of the fault in the file, as in `layers.aim.slots.south`; "file" for the whole file.
        wrong: what the file contains.
        right: what would be right.
    """

    path: str
    wrong: str
    right: str

    def __str__(self) -> str:
        """Returns one line, with control characters of the file escaped."""
        return plain_text(f"{self.path}: {self.wrong}, {self.right}")


class ProfileError(Exception):
    """A file is not a valid profile. `problems` lists all faults in the file's order."""

    def __init__(self, source: str, problems: list[Problem]) -> None:
        super().__init__("\n".join(f"{source}: {problem}" for problem in problems))
        self.source = source
        self.problems = problems
