"""Automatic activation of profiles, for each seat, by the game in front."""

from __future__ import annotations

import logging
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from typing import Final, Protocol

from nub_shift.engine.agenda import earlier
from nub_shift.engine.program import Program
from nub_shift.model.messages import Code, Message
from nub_shift.model.profile.activation import Front, Leaving, Rule, fits, weight
from nub_shift.protocol.codec import Refused
from nub_shift.runner.profiles.reading import RuledProfile
from nub_shift.runner.seats.profile_requests import Loaded
from nub_shift.runner.seats.seat import Seat
from nub_shift.runner.seats.session import Session

log = logging.getLogger("nub_shift.runner")

# Number of compiled profiles kept ready for their windows.
MAX_READY: Final = 16
# Length of a trial of a profile by a person, during which its window counts as in front.
TRIAL_US: Final = 4_000_000


class Profiles(Protocol):
    """Loads profiles beside play. Each call is answered by `done`, at once or later."""

    def load_file(self, file: str, done: Callable[[Loaded | Refused], None]) -> None:
        """Loads the profile of a file."""

    def find(self, title: str, done: Callable[[Loaded | Refused], None]) -> None:
        """Loads the profile of a title."""


class Rules(Protocol):
    """Rules of the library; see `RuleList`."""

    @property
    def ruled(self) -> Sequence[RuledProfile]:
        """Profiles with activation rules."""

    @property
    def is_read(self) -> bool:
        """Whether the rules have been read at all."""

    @property
    def is_late(self) -> bool:
        """Whether the last reading was too slow."""

    def start(self, changed: Callable[[], None], when_tried: Callable[[], None]) -> None:
        """Begins to read the rules."""

    def close(self) -> None:
        """Ends reading."""

    def due_us(self) -> int | None:
        """Returns when `work` has to be called."""

    def work(self, now_us: int) -> None:
        """Advances the time."""

    def changed(self, file: str) -> int | None:
        """Returns the modification time of a file; None if the file is missing."""

    def retry(self) -> None:
        """Reads again after a wait."""


class ByGame:
    """Gives each seat the profile of the window in front.

    A window of ours changes nothing, apart from trials of a paused profile, whose outputs stay in rehearsal.
    """

    def __init__(
        self,
        session: Session,
        loading: Profiles,
        rules: Rules,
        folders: Sequence[Path],
        clock: Callable[[], int],
    ) -> None:
        self._session = session
        self._loading = loading
        self._rules = rules
        self._folders = folders
        self._clock = clock
        self._front: Front | None = None
        self._trial: Front | None = None  # counts as in front until `_trial_us`
        self._trial_us: int | None = None
        self._ready: dict[str, tuple[int | None, Program]] = {}  # by file, with the modification time
        self._spoiled: dict[str, int | None] = {}  # likewise, for files that cannot be played
        self._awaited: set[str] = set()
        self._late: set[str] = set()  # files whose reading was too slow
        self._own: dict[Seat, str] = {}  # profiles without rules that a person has chosen
        self._ties: set[frozenset[str]] = set()  # already reported
        self._reported_gone: set[str] = set()  # missing files, already reported
        self._had: dict[str, RuledProfile] = {}  # all profiles ever listed

    def start(self, when_listed: Callable[[], None] = lambda: None) -> None:
        """Reads the rules before the first window is reported; `when_listed` is called after the first attempt."""
        self._rules.start(self._on_listed, when_listed)

    def close(self) -> None:
        """Ends all reading."""
        self._rules.close()

    def due_us(self) -> int | None:
        """Returns when `work` has to be called."""
        return earlier(self._rules.due_us(), self._trial_us)

    def work(self, now_us: int) -> None:
        """Advances the time, and reads changed files."""
        self._rules.work(now_us)
        if self._trial_us is not None and now_us >= self._trial_us:
            self._trial, self._trial_us = None, None
            self._follow()

    def on_front(self, front: Front) -> None:
        """Handles the window in front, or its new title."""
        log.debug("in front: %s", front.names)  # arguments of programs may be private, and are not logged
        self._front = front
        self._session.front = front
        self._follow()

    def try_front(self, front: Front) -> None:
        """Treats a window as in front for some time, for a trial of its profile."""
        self._trial, self._trial_us = front, self._clock() + TRIAL_US
        self._follow()

    def _on_listed(self) -> None:
        """Handles changed rules, and files to retry."""
        self._late.clear()
        self._session.library_late = self._rules.is_late
        self._had |= {ruled.file: ruled for ruled in self._rules.ruled}
        for ruled in self._rules.ruled[:MAX_READY]:
            self._program(ruled.file)
        self._follow()

    def _follow(self) -> None:
        front = self._trial or self._front
        if front is None:
            return
        for number, seat in enumerate(list(self._session.seats), start=1):
            if not seat.program.profile.comes_on.rules and seat.file:
                self._own[seat] = seat.file
            if front.is_ours:
                self._session.pause_seat(seat, False, self._clock())
            else:
                self._follow_for(seat, number, front)

    def _follow_for(self, seat: Seat, player: int, front: Front) -> None:
        # a person has chosen another profile for this very window
        if seat.chosen_in and seat.chosen_in == front.window:
            self._session.pause_seat(seat, not self._play(seat, seat.chosen), self._clock())
            return
        found = self._best(seat, player, front)
        if found is not None:
            profile, rule = found
            plays = self._play(seat, profile.file)
            if not plays and self._is_spoiled(profile.file):
                return  # failed just now, and the next best was taken
            seat.rule = rule if plays else seat.rule
            self._session.pause_seat(seat, not plays, self._clock())  # the present profile belongs to another game
            if plays:
                self._report_gone(seat)
            return
        self._report_missing(player, front)
        comes_on = seat.program.profile.comes_on
        if not any(rule.player in (0, player) for rule in comes_on.rules):
            return
        seat.rule = None
        match comes_on.when_left:
            case Leaving.STAY:
                return
            case Leaving.BACK if self._own.get(seat):
                self._play(seat, self._own[seat])
            case Leaving.OTHER if not seat.paused:  # already looked up
                self._loading.find(comes_on.other, partial(self._on_other, seat, front))
            case _:
                pass
        self._session.pause_seat(seat, bool(seat.program.profile.comes_on.rules), self._clock())

    def _best(self, seat: Seat, player: int, front: Front) -> tuple[RuledProfile, Rule] | None:
        """Returns the profile that matches this window most specifically, with the matching rule.

        The seat's present profile counts even before the library has been read.
        """
        profile = seat.program.profile
        known = [ruled for ruled in self._rules.ruled if ruled.file != seat.file]
        known.append(RuledProfile(seat.file, profile.title, profile.comes_on))
        found = [
            (weight(rule), ruled, rule)
            for ruled in known
            for rule in ruled.comes_on.rules
            if fits(rule, front, player) and (ruled.file == seat.file or not self._is_spoiled(ruled.file))
        ]
        if not found:
            return None
        most = max(weighed for weighed, _, _ in found)
        best = {ruled.file: (ruled, rule) for weighed, ruled, rule in reversed(found) if weighed == most}
        if len(best) > 1:
            self._report_tie(frozenset(ruled.title for ruled, _ in best.values()))
        return best.get(seat.file) or min(best.values(), key=lambda pair: pair[0].title)

    def _report_tie(self, titles: frozenset[str]) -> None:
        if titles not in self._ties:
            self._ties.add(titles)
            self._session.say(Message(Code.RULES_TIE, {"titles": sorted(titles)}))

    def _report_gone(self, seat: Seat) -> None:
        """Reports once that the profile in play has lost its file."""
        if seat.file and Path(seat.file).parent in self._folders and self._rules.is_read:
            self._note_gone(seat.file, Code.PROFILE_GONE, seat.program.profile.title)

    def _report_missing(self, player: int, front: Front) -> None:
        """Reports once that the profile of a window has been deleted."""
        for ruled in self._had.values() if self._rules.is_read else ():
            if any(fits(rule, front, player) for rule in ruled.comes_on.rules):
                self._note_gone(ruled.file, Code.PROFILE_MISSING, ruled.title)

    def _note_gone(self, file: str, code: Code, title: str) -> None:
        """Reports a missing file that existed at the last check."""
        if self._rules.changed(file) is not None:
            self._reported_gone.discard(file)
        elif file not in self._reported_gone:
            self._reported_gone.add(file)
            self._session.say(Message(code, {"title": title}))

    def _play(self, seat: Seat, file: str) -> bool:
        """Gives a seat the profile of a file; returns False if the file has to be read first."""
        if seat.file == file:
            return True
        program = self._program(file)
        if program is None:
            return False
        self._session.change_over(seat, program, self._clock(), file)
        self._session.say(Message(Code.PLAYING, {"title": program.profile.title}))
        return True

    def _program(self, file: str) -> Program | None:
        """Returns the program of a file's present text; None if unread or faulty."""
        changed = self._rules.changed(file)
        known = self._ready.get(file)
        if known is not None and known[0] == changed:
            return known[1]
        if file not in self._awaited and file not in self._late and not self._is_spoiled(file):
            self._awaited.add(file)
            self._loading.load_file(file, partial(self._on_program, file, changed))
        return None

    def _is_spoiled(self, file: str) -> bool:
        """Returns whether the present text of a file cannot be played."""
        return file in self._spoiled and self._spoiled[file] == self._rules.changed(file)

    def _on_program(self, file: str, changed: int | None, read: Loaded | Refused) -> None:
        self._awaited.discard(file)
        if isinstance(read, Refused):
            if read.why.code is Code.READING_FAILED:  # a timeout is no fault of the file
                self._late.add(file)
                self._rules.retry()
            else:
                self._spoiled[file] = changed
                self._session.say(read.why)
        else:
            self._ready.pop(file, None)
            self._ready[file] = (changed, read.program)
            while len(self._ready) > MAX_READY:
                del self._ready[next(iter(self._ready))]
        self._follow()

    def _on_other(self, seat: Seat, front: Front, found: Loaded | Refused) -> None:
        if isinstance(found, Refused):
            self._session.say(found.why)
        elif seat in self._session.seats and front is (self._trial or self._front):
            self._session.change_over(seat, found.program, self._clock(), found.file)
            self._session.pause_seat(seat, False, self._clock())
