"""Which profile plays by itself: the one whose game is in front, for each seat."""

from __future__ import annotations

import logging
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from nub_shift.engine.program import Program
from nub_shift.model.comes_on import Front, Leaving, Rule, fits, weight
from nub_shift.model.messages import Code, Message
from nub_shift.protocol.codec import Refused
from nub_shift.runner.loading import Loading
from nub_shift.runner.reading import Ruled
from nub_shift.runner.seat import Seat
from nub_shift.runner.session import Loaded, Session

log = logging.getLogger("nub_shift.runner")

# So many profiles that come on by themselves are kept ready, so that they are there as soon as their window is.
MAX_READY = 16


class ByGame:
    """Has each seat play what the window in front asks for.

    A window of ours changes nothing, but lets what is paused be tried: nothing of it goes to the system.
    """

    def __init__(self, session: Session, loading: Loading, folders: Sequence[Path], clock: Callable[[], int]) -> None:
        self._session = session
        self._loading = loading
        self._folders = folders
        self._clock = clock
        self._front: Front | None = None
        self._ruled: list[Ruled] = []
        self._seen: tuple[int, ...] | None = None  # when the folders changed last, as it was looked at
        self._listing = False
        self._ready: dict[str, tuple[int, Program]] = {}  # by file, with when that changed last
        self._spoiled: dict[str, int] = {}  # likewise, of those that cannot be played
        self._awaited: set[str] = set()
        self._own: dict[Seat, str] = {}  # what a person had the seat play, that comes on by no window
        self._ties: set[frozenset[str]] = set()  # that were told

    def start(self) -> None:
        """Looks at what there is, before any window is told of."""
        self._list()

    def on_front(self, front: Front) -> None:
        """That window is in front now, or has another title."""
        log.debug("in front: %s", front.names)  # what a program was started with may be nobody's business
        self._front = front
        self._session.front = front
        if _folder_times(self._folders) != self._seen:
            self._list()
        self._follow()

    def _list(self) -> None:
        if not self._listing:
            self._listing = True
            self._seen = _folder_times(self._folders)
            self._loading.list_rules(self._on_listed)

    def _on_listed(self, ruled: list[Ruled]) -> None:
        self._listing = False
        self._ruled = ruled
        for profile in ruled[:MAX_READY]:
            self._program(profile.file)
        self._follow()

    def _follow(self) -> None:
        if self._front is None:
            return
        for number, seat in enumerate(list(self._session.seats), start=1):
            if not seat.program.profile.comes_on.rules and seat.file:
                self._own[seat] = seat.file
            if self._front.is_ours:
                self._session.pause_seat(seat, False, self._clock())
            else:
                self._follow_for(seat, number, self._front)

    def _follow_for(self, seat: Seat, player: int, front: Front) -> None:
        if seat.chosen_in and seat.chosen_in == front.window:
            self._session.pause_seat(seat, False, self._clock())
            return  # a person has chosen it for this very window, which only has another title
        found = self._best(seat, player, front)
        if found is not None:
            profile, rule = found
            plays = self._play(seat, profile.file)
            if not plays and self._is_spoiled(profile.file):
                return  # as was found just now, and the next best was taken
            seat.rule = rule if plays else seat.rule
            self._session.pause_seat(seat, not plays, self._clock())  # what it plays until then is of another game
            return
        comes_on = seat.program.profile.comes_on
        if not any(rule.player in (0, player) for rule in comes_on.rules):
            return
        seat.rule = None
        match comes_on.when_left:
            case Leaving.STAY:
                return
            case Leaving.BACK if self._own.get(seat):
                self._play(seat, self._own[seat])
            case Leaving.OTHER if not seat.paused:  # it was looked for already
                self._loading.find(comes_on.other, partial(self._on_other, seat, front))
            case _:
                pass
        self._session.pause_seat(seat, bool(seat.program.profile.comes_on.rules), self._clock())

    def _best(self, seat: Seat, player: int, front: Front) -> tuple[Ruled, Rule] | None:
        """The profile that asks for most of what this window is, with the rule by which it does."""
        found = [
            (weight(rule), profile, rule)
            for profile in self._ruled
            for rule in profile.comes_on.rules
            if fits(rule, front, player) and not self._is_spoiled(profile.file)
        ]
        if not found:
            return None
        most = max(weighed for weighed, _, _ in found)
        best = {profile.file: (profile, rule) for weighed, profile, rule in reversed(found) if weighed == most}
        if len(best) > 1:
            self._tell_tie(frozenset(profile.title for profile, _ in best.values()))
        return best.get(seat.file) or min(best.values(), key=lambda pair: pair[0].title)

    def _tell_tie(self, titles: frozenset[str]) -> None:
        if titles not in self._ties:
            self._ties.add(titles)
            self._session.say(Message(Code.RULES_TIE, {"titles": sorted(titles)}))

    def _play(self, seat: Seat, file: str) -> bool:
        """Has a seat play the profile of a file; returns whether it does, else it will once that is read."""
        if seat.file == file:
            return True
        program = self._program(file)
        if program is None:
            return False
        self._session.go_over(seat, program, self._clock(), file)
        self._session.say(Message(Code.PLAYING, {"title": program.profile.title}))
        return True

    def _program(self, file: str) -> Program | None:
        """The program of a file as it is now; None if it has to be read first, or cannot be played."""
        changed = _changed(Path(file))
        known = self._ready.get(file)
        if known is not None and known[0] == changed:
            return known[1]
        if file not in self._awaited and not self._is_spoiled(file):
            self._awaited.add(file)
            self._loading.load_file(file, partial(self._on_program, file, changed))
        return None

    def _is_spoiled(self, file: str) -> bool:
        """Whether it cannot be played as it is now."""
        return file in self._spoiled and self._spoiled[file] == _changed(Path(file))

    def _on_program(self, file: str, changed: int, read: Loaded | Refused) -> None:
        self._awaited.discard(file)
        if isinstance(read, Refused):
            self._spoiled[file] = changed
            self._session.say(read.why)
            self._follow()
            return
        self._ready.pop(file, None)
        self._ready[file] = (changed, read.program)
        while len(self._ready) > MAX_READY:
            del self._ready[next(iter(self._ready))]
        self._follow()

    def _on_other(self, seat: Seat, front: Front, found: Loaded | Refused) -> None:
        if isinstance(found, Refused):
            self._session.say(found.why)
        elif seat in self._session.seats and front is self._front:
            self._session.go_over(seat, found.program, self._clock(), found.file)
            self._session.pause_seat(seat, False, self._clock())


def _changed(path: Path) -> int:
    try:
        return path.stat().st_mtime_ns
    except OSError:
        return 0


def _folder_times(folders: Sequence[Path]) -> tuple[int, ...]:
    """When files came to, or went from, the folders last: a file that is written anew does both."""
    return tuple(_changed(folder) for folder in folders)
