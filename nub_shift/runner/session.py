"""All seats in play, on one ledger and one output, and the switch between rehearsal and live."""

from __future__ import annotations

import logging
from collections.abc import Callable, Collection
from contextlib import suppress
from dataclasses import dataclass
from functools import partial
from typing import Protocol

from nub_shift import VERSION
from nub_shift.engine.agenda import earlier
from nub_shift.engine.ledger import Ledger
from nub_shift.engine.program import Program
from nub_shift.engine.values import US_PER_SECOND, Output, ProfileRequest
from nub_shift.model.comes_on import Away, Front
from nub_shift.model.controls import CONTROL_BY_NAME, of_right_hand
from nub_shift.model.kinds import OutputKind
from nub_shift.model.messages import Code, Message
from nub_shift.model.profile import Profile
from nub_shift.outputs.output import OutputDevice, OutputError
from nub_shift.outputs.registry import is_x11_only
from nub_shift.outputs.watcher import STALLED_US
from nub_shift.pads.pad import PadError
from nub_shift.protocol.clock import monotonic_us
from nub_shift.protocol.codec import PROTOCOL, Refused
from nub_shift.protocol.messages import State
from nub_shift.runner.live_output import LiveOutput
from nub_shift.runner.pad_events import PadEvents
from nub_shift.runner.pad_source import PadSource, Taken
from nub_shift.runner.seat import Seat
from nub_shift.runner.sharing import Sharing
from nub_shift.runner.signs_feed import SignsFeed
from nub_shift.store.played import Recap

log = logging.getLogger("nub_shift.runner")


@dataclass(frozen=True)
class Loaded:
    """A profile that can be played, and the file that it is kept in, or empty."""

    program: Program
    file: str = ""


@dataclass(frozen=True)
class Choice:
    """A person's choice of a profile for a seat, as it was made: reading the profile takes a while.

    Attributes:
        window: the one that was in front; 0 if none was known.
        went_over: how often the seat had gone over to another profile by itself.
    """

    window: int
    went_over: int


class ProfileSource(Protocol):
    """Where profiles come from while play goes on. Each call is answered by one of `done`, at once or later."""

    @property
    def finds(self) -> bool:
        """Whether profiles can be asked for."""

    def find(self, title: str, done: Callable[[Loaded | Refused], None]) -> None:
        """The profile of that title."""

    def check_again(self, profile: Profile, done: Callable[[Loaded | Refused], None]) -> None:
        """A profile whose texts are to be typed on another layout now."""


class Session:
    """The seats and what they share.

    Attributes:
        seats: in the order in which they were added; there is at least one in play.
        live: whether outputs go to the system.
        wanted: whether they are meant to, once nobody holds them back.
        halted: a person has stopped everything, from the pad or the keyboard.
        rehearses: nothing goes out since nobody wants it to, and no window of ours is in front.
        halt_key: which key does so, as far as that was told.
        on_change: is called when the state is another now.
        keep_recap: keeps what was done in a session with the profile of that file.
        on_live: is called when signs are to be shown: outputs begin to go to the system, or a game gets none.
        pads_changed: a seat has got another pad or lost its own; whoever watches their descriptors takes it back.
        hears_plugs: the system tells of each pad that comes, so that nobody looks for one that is not there.
        front: the window in front, as far as anybody looked.
        away: why nothing is sent for now.
        follows: whether anybody tells which window is in front, so that profiles come on by themselves.
        library_late: the library could not be read in time, and is tried again.
        output: where outputs go while it is live.
        wants_front: whether it matters which window is in front.
        pad_events: where the pads of seats tell what they do.
    """

    def __init__(
        self,
        open_output: Callable[[], OutputDevice],
        output: OutputKind,
        tell: Callable[[Message], None],
        pad_events: PadEvents,
        loading: ProfileSource,
        clock: Callable[[], int],
    ) -> None:
        self.seats: list[Seat] = []
        self.ledger = Ledger()
        self.live = self.wanted = self.halted = False
        self.rehearses = True
        self.halt_key = ""
        self.on_change: Callable[[], None] | None = None
        self.on_live: Callable[[], None] | None = None
        self.keep_recap: Callable[[str, Recap], None] | None = None
        self.pads_changed = False
        self.wants_front = False
        self.hears_plugs = False
        self.signs: list[SignsFeed] = []
        self.front: Front | None = None
        self.pad_events = pad_events
        self.output = LiveOutput(open_output)
        self._output_kind = output
        self._message: Message | None = None
        self._tell = tell
        self._loading = loading
        self._clock = clock
        self._held_back = False
        self._halt_asked = False
        self._menu_asked: tuple[Seat, bool] | None = None
        self._asked: list[tuple[Seat, str]] = []
        self._sharings: dict[Seat, tuple[Sharing, Seat]] = {}  # by seat, with the seat that has the rest of its pad
        self._game = 0  # the window that toggles wait for to come back
        self.away = Away.NO
        self.follows = self.library_late = False

    @property
    def over(self) -> bool:
        """Whether no seat has anything more to give."""
        for seat in self.seats:  # noqa: SIM110 - as a generator it would be a good part of a wake-up
            if not seat.over:
                return False
        return True

    def add(self, program: Program, source: PadSource, pad_returns: bool, file: str = "") -> Seat:
        """Another pad with a profile, which is kept in that file."""
        seat = Seat(self, program, source, pad_returns, file)
        seat.shows_signs = bool(self.signs)
        seat.set_away(self.away is not Away.NO, self._clock())
        self.seats.append(seat)
        self.wants_front = self.wants_front or program.regains
        return seat

    def remove(self, seat: Seat, now_us: int) -> None:
        """A seat ends; what it holds is released."""
        self.seats.remove(seat)
        self._count(seat, False, now_us)
        self._send(seat, seat.close(now_us))
        self._end_sharing(seat, now_us)
        self.wants_front = any(seat.program.regains for seat in self.seats)
        self.note_pad(seat)

    def note_pad(self, seat: Seat) -> None:
        """A seat has got its pad, or lost it."""
        if seat.companion is not None:
            seat.companion.look_now()
        if seat.pad is not None and seat in self.seats:
            seat.pad.show_player(self.seats.index(seat) + 1)
        if self.pad_events.listener is not None:
            self.pad_events.listener.on_pads()
        self.note_change()

    def take_pad(self, seat: Seat, fd: int) -> None:
        """Takes what a seat's pad has on a descriptor, now."""
        try:
            now_us = monotonic_us()
            if self.output.beat_us is not None and now_us - self.output.beat_us > STALLED_US:
                self._recover(now_us)
                return  # the pad's descriptors are others now
            self._send(seat, seat.take_pad(now_us, fd))
            seat.note_taken(now_us)
            if seat.companion is not None:
                self._send(seat.companion, seat.companion.take_pad(now_us))
                seat.companion.note_taken(now_us)
        except Exception:  # a fault of ours in play itself
            log.exception("play")
            self._start_over()

    def look_now(self) -> None:
        """Something was plugged in or out."""
        for seat in self.seats:
            seat.look_now()

    def work(self, now_us: int) -> None:
        """Lets time pass."""
        try:
            if self.output.beat_us is not None and now_us - self.output.beat_us > STALLED_US:
                self._recover(now_us)
            for seat in self.seats:
                self._send(seat, seat.work(now_us))
                if seat.taken:
                    seat.note_taken(now_us)
                if seat.companion is not None:
                    self._send(seat.companion, seat.companion.take_pad(now_us))
                    seat.companion.note_taken(now_us)
        except Exception:  # likewise
            log.exception("play")
            self._start_over()
        if self._halt_asked:
            self._halt_asked = False
            try:
                self.halt(now_us)
            except OutputError as error:
                self.say(error.message)
        if self._menu_asked is not None:
            (seat, opens), self._menu_asked = self._menu_asked, None
            self.open_menu(seat, opens, now_us)
        if self._asked:
            self._follow_requests()
        try:
            self.output.work(now_us)
        except OutputError as error:
            self.lose_output(error.message)

    def due_us(self) -> int | None:
        """When `work` wants to be called, though nothing may be readable."""
        due_us = self.output.due_us()
        for seat in self.seats:
            due_us = earlier(due_us, seat.due_us())
        return due_us

    def _recover(self, now_us: int) -> None:
        """Releases everything and plays on: this process was stopped for so long that its watcher has released it."""
        log.warning("play was held up for %.1f s", (now_us - (self.output.beat_us or now_us)) / US_PER_SECOND)
        self.output.beat_us = None
        self.pause(now_us)
        self.go_on(now_us)

    def go(self, live: bool, now_us: int) -> None:
        """Goes live or back to rehearsal; whatever is down is released first.

        Raises:
            OutputError: the output cannot be opened; the session stays in rehearsal.
        """
        self.wanted = live
        self.halted = False
        self._follow_wanted(now_us)

    def ask_halt(self) -> None:
        """The person wants everything to stop, or to go on after that: it is done once this step is."""
        self._halt_asked = True

    def ask_menu(self, seat: Seat, opens: bool) -> None:
        """The person wants the menu of a seat's pad, or wants it closed: likewise."""
        self._menu_asked = seat, opens

    def open_menu(self, seat: Seat, on: bool, now_us: int) -> None:
        """Opens the menu of a seat's pad, if somebody shows it, or closes it."""
        if on is not seat.in_menu and ((self.signs and self.away is Away.NO) or not on):
            self._send(seat, seat.set_menu(on, now_us))
            self.note_change()

    def halt(self, now_us: int, key: str = "") -> None:
        """Lets everything go and stops, whatever is going on; halted so already, goes on.

        A `key` that a profile presses itself stops nothing.

        Raises:
            OutputError: the output cannot be opened again.
        """
        if key and key in self.ledger.down:
            return
        for seat in self.seats:
            self.open_menu(seat, False, now_us)
        halts = not self.halted
        if halts and not self.wanted:
            return  # nothing goes to the system, and nobody has stopped that
        self.wanted = not halts
        self.halted = halts
        log.info("%s", "halted" if halts else "on again")
        self._follow_wanted(now_us)
        self.say(Message(Code.HALTED if halts else Code.GOES_ON))

    def note_unwatched(self) -> None:
        """Nothing tells any more which window is in front."""
        self.follows = False
        self.say(Message(Code.WATCH_FAILS))
        self.note_change()

    def set_away(self, away: Away, now_us: int) -> None:
        """Has every seat pause while there is a reason why nothing may be sent, and go on as after a pause."""
        self.away = away
        for seat in self.seats:
            if seat.in_menu and away is not Away.NO:
                self.open_menu(seat, False, now_us)
            self._send(seat, seat.set_away(away is not Away.NO, now_us))
        self.note_change()

    def lose_output(self, why: Message) -> None:
        """The receiver of outputs has gone. Where it is a display, what was wanted is kept for its return."""
        self.live = False
        self.wanted = self.output.lose(self.wanted, why.code)
        for seat in self.seats:
            seat.grab()
        self.note_change()
        self.say(Message(Code.DISPLAY_GONE if self.wanted else Code.BACK_TO_REHEARSAL, {"why": why}))

    def regain_output(self, now_us: int) -> bool:
        """Goes live again, if the receiver is back and that is still wanted; returns whether no more need be tried."""
        if not self.output.is_lost:
            return True
        try:
            self._follow_wanted(now_us, keeps_wanted=True)
        except OutputError:
            return False
        self.output.is_lost = False
        self.say(Message(Code.PLAYS_AGAIN))
        return True

    def hold_back(self, on: bool, now_us: int) -> None:
        """Has nothing go to the system, whatever is wanted, until this is called again."""
        self._held_back = on
        try:
            self._follow_wanted(now_us)
        except OutputError as error:
            self.say(error.message)

    def note_unheard(self) -> None:
        """A person presses in a game that gets nothing: a sign says why."""
        if self.on_live is not None and any(seat.tells for seat in self.seats):
            self.on_live()
        self.note_signs()

    def _follow_wanted(self, now_us: int, keeps_wanted: bool = False) -> None:
        live = self.wanted and not self._held_back
        self.rehearses = not (self.wanted or self._held_back or self.halted)
        for seat in self.seats:
            seat.unheard = seat.unheard and self.rehearses
        if not self.wanted:
            self.output.is_lost = False
        if live is self.live:
            self.note_change()
            return
        if live:
            try:
                self.output.open()
            except OutputError:
                self.wanted = keeps_wanted
                raise
        for seat in self.seats:
            self._send(seat, seat.stop(now_us))
        log.info("%s", "live" if live else "rehearsal")
        self.live = live
        for seat in self.seats:
            self._send(seat, seat.resume(now_us))
            self._count(seat, live, now_us)
        self.note_change()
        if live and self.on_live is not None and any(seat.tells for seat in self.seats):
            self.on_live()

    def pause_seat(self, seat: Seat, on: bool, now_us: int) -> None:
        """Has nothing of a seat act until this is called again, since its game is not in front."""
        if on is not seat.paused:
            self._send(seat, seat.set_paused(on, now_us))
            self.note_change()

    def pause(self, now_us: int) -> None:
        """Lets everything go, for the process is about to be stopped."""
        for seat in self.seats:
            self._send(seat, seat.stop(now_us))

    def go_on(self, now_us: int) -> None:
        """After that: pads are opened anew, so that what they did meanwhile is neither made up for nor still held."""
        for seat in self.seats:
            self._send(seat, seat.reopen(now_us))
            self._send(seat, seat.resume(now_us))

    def choose(self, seat: Seat) -> Choice:
        """The choice of a profile that a person makes now."""
        return Choice(self.front.window if self.front is not None else 0, seat.went_over)

    def load(self, seat: Seat, program: Program, now_us: int, file: str = "", choice: Choice | None = None) -> None:
        """Has a seat go on with another profile, which is kept in that file.

        Nothing is done if the seat has gone over by itself since the `choice` was made: another game is in front now.
        """
        choice = choice or self.choose(seat)
        if file != seat.file:
            if choice.went_over != seat.went_over:
                return
            seat.file, seat.rule = file, None
            seat.chosen, seat.chosen_in = file, choice.window
        self._send(seat, seat.load(program, now_us))
        self._count(seat, self.live, now_us)
        self.wants_front = any(seat.program.regains for seat in self.seats)
        self.note_change()

    def go_over(self, seat: Seat, program: Program, now_us: int, file: str) -> None:
        """A seat goes on with the profile of another file, as that was left."""
        self._send(seat, seat.go_over(program, file, now_us))
        self._count(seat, self.live, now_us)
        self.wants_front = any(seat.program.regains for seat in self.seats)
        self.note_change()

    def retype(self) -> None:
        """Texts are typed on another keyboard layout; seats whose profile types none go on undisturbed.

        A profile with a text that the layout cannot type goes on as it was, and that is said.
        """
        for seat in self.seats:
            profile = seat.program.profile
            if any(step.text for sequence in profile.sequences for step in sequence.steps):
                self._loading.check_again(profile, partial(self._on_checked, seat))

    def assign_pad(self, seat: Seat, source: PadSource, key: str, now_us: int) -> None:
        """A seat goes on with the pad of that key; one that had it, or waits for it, looks for another.

        Raises:
            PadError: two seats share that pad.
        """
        if any(found.pad is not None and found.pad.key == key for found in self._sharings):
            raise PadError(Code.PAD_IS_SHARED)
        self._end_sharing(seat, now_us)
        others = [other for other in self.seats if other is not seat]
        for other in others:
            if other.pad is not None and other.pad.key == key:
                self._send(other, other.part_with_pad(now_us))
        self._send(seat, seat.assign_pad(source, now_us))
        for other in others:
            if other.pad is None and other.had == seat.had:
                other.forget_pad()

    def share_pad(self, key: str, program: Program, now_us: int, file: str = "") -> Seat:
        """A new seat gets what the right hand works on the pad of that key; its own seat keeps the rest.

        Raises:
            PadError: nobody plays it, or two do already.

        Returns:
            The new seat.
        """
        first = next((seat for seat in self.seats if seat.pad is not None and seat.pad.key == key), None)
        if first is None or first.pad is None:
            raise PadError(Code.NOBODY_PLAYS)
        if first in self._sharings:
            raise PadError(Code.PAD_IS_SHARED)
        sharing = Sharing(first.source, of_right_hand(first.pad.controls, first.pad.fingers))
        second = self.add(program, sharing.second, pad_returns=True, file=file)
        self._sharings |= {first: (sharing, second), second: (sharing, first)}
        first.source, first.companion = sharing.first, second
        self._reopen_shared(first, now_us)
        return second

    def split_pad(self, key: str, controls: Collection[str], now_us: int) -> None:
        """Of the pad of that key, which two seats play, the second one has these controls from now on.

        Raises:
            PadError: it is not played by two, or there are no such controls.
        """
        for name in controls:
            if name not in CONTROL_BY_NAME:
                raise PadError(Code.NO_SUCH_CONTROL, control=name)
        for first, (sharing, _) in self._sharings.items():
            if first.companion is not None and first.pad is not None and first.pad.key == key:
                sharing.seconds = frozenset(controls)
                self._reopen_shared(first, now_us)
                return
        raise PadError(Code.PAD_IS_NOT_SHARED)

    def _reopen_shared(self, first: Seat, now_us: int) -> None:
        self._send(first, first.reopen(now_us))
        if first.companion is not None:
            self._send(first.companion, first.companion.reopen(now_us))

    def _end_sharing(self, seat: Seat, now_us: int) -> None:
        """A seat has no part of the pad any more that it shares: who has the rest has all of it."""
        if seat not in self._sharings:
            return
        sharing, other = self._sharings.pop(seat)
        del self._sharings[other]
        seat.companion = other.companion = None
        self._send(seat, seat.let_go(now_us))
        self._send(other, other.assign_pad(sharing.source, now_us))

    def reopen_pad(self, seat: Seat, now_us: int) -> None:
        """A seat lets its pad go and looks for it again."""
        self._send(seat, seat.reopen(now_us))

    def front_changed(self, window: int, before: int, now_us: int) -> None:
        """Another window is in front: toggles that are to be regained are let go, and pressed again in their own."""
        if self._game and window == self._game:
            self._game = 0
            for seat in self.seats:
                self._send(seat, seat.regain_game(now_us))
        elif not self._game:
            for seat in self.seats:
                self._send(seat, seat.leave_game(now_us))
            self._game = before if any(seat.awaits_game for seat in self.seats) else 0

    def close(self, now_us: int) -> None:
        """Releases everything and lets pads and output go, whatever fails on the way."""
        try:
            for seat in self.seats:
                self._count(seat, False, now_us)
                with suppress(OutputError):
                    self._send(seat, seat.close(now_us))
        finally:
            self.output.close()

    def state(self) -> State:
        """A look at everything."""
        seats = tuple(seat.state() for seat in self.seats)
        kind = self._output_kind
        only = is_x11_only(kind)
        return State(
            PROTOCOL,
            VERSION,
            self.live,
            kind.value,
            seats,
            self.ledger.down,
            self._message,
            only,
            self.wanted,
            self.front,
            self.halted,
            self.halt_key,
            self.away,
            self.follows,
            self.library_late,
        )

    def pads_taken(self) -> Collection[str]:
        """Keys of the pads that have a seat."""
        return [seat.pad.key for seat in self.seats if seat.pad is not None]

    def taken(self, seat: Seat) -> Taken:
        """The pads that other seats have, or wait for to come back."""
        others = [other for other in self.seats if other is not seat]
        return Taken(self.pads_taken(), [other.had for other in others if other.pad is None and other.had])

    def say(self, message: Message) -> None:
        """Tells the person something."""
        log.info("said: %s", message)
        self._message = message
        self._tell(message)

    def note_change(self) -> None:
        """The state is another now."""
        for seat in self.seats:
            for feed in seat.feeds:
                feed.note_change()
        self.note_signs()
        if self.on_change is not None:
            self.on_change()

    def tell_signs(self, feed: SignsFeed, on: bool) -> None:
        """Has what signs are shown of told to a subscriber, or no more. A menu that nobody shows is closed."""
        if on:
            self.signs.append(feed)
        else:
            self.signs.remove(feed)
        for seat in self.seats:
            seat.shows_signs = bool(self.signs)
        for seat in self.seats if not self.signs else ():
            self.open_menu(seat, False, self._clock())

    def note_signs(self) -> None:
        """What signs are shown of may be something else now."""
        for feed in self.signs:
            feed.note()

    def shared(self, seat: Seat) -> tuple[Seat, Collection[str]] | None:
        """If a seat plays the second part of a pad: who has the rest, and which controls are its own."""
        sharing, other = self._sharings.get(seat, (None, seat))
        return (other, sharing.seconds) if sharing is not None and seat.companion is None else None

    def _count(self, seat: Seat, live: bool, now_us: int) -> None:
        """What is done is counted while live; what has ended is kept."""
        ended = seat.play(live, now_us)
        if ended is not None and self.keep_recap is not None:
            self.keep_recap(*ended)

    def _send(self, seat: Seat, outputs: list[Output]) -> None:
        """Sends what a seat gave back."""
        if not outputs:
            return
        if self.live:
            try:
                self.output.send(outputs)
            except OutputError as error:
                self.lose_output(error.message)
        for feed in seat.feeds:
            feed.note_outputs(outputs)
        for output in outputs:
            if type(output) is ProfileRequest:
                self._asked.append((seat, output.title))

    def _follow_requests(self) -> None:
        """Looks for the profiles that were asked for."""
        asked, self._asked = self._asked, []
        for seat, title in asked:
            if self._loading.finds:
                self._loading.find(title, partial(self._on_found, seat, self.choose(seat)))
            else:
                self.say(Message(Code.PROFILE_ASKED_FOR, {"title": title}))

    def _on_found(self, seat: Seat, choice: Choice, found: Loaded | Refused) -> None:
        if isinstance(found, Refused):
            self.say(found.why)
        elif seat in self.seats:
            self.load(seat, found.program, self._clock(), found.file, choice)
            if seat.program is found.program:
                self.say(Message(Code.PLAYING, {"title": found.program.profile.title}))

    def _on_checked(self, seat: Seat, checked: Loaded | Refused) -> None:
        if isinstance(checked, Refused):
            self.say(checked.why)
        elif seat in self.seats and seat.program.profile == checked.program.profile:  # it has no other one meanwhile
            self.load(seat, checked.program, self._clock(), seat.file)

    def _start_over(self) -> None:
        """Nothing that the engines believe can be trusted any more: they begin anew, in rehearsal."""
        self.ledger = Ledger()
        for seat in self.seats:
            seat.start_over()
        self.wanted = False
        self.lose_output(Message(Code.PLAY_FAILED))
