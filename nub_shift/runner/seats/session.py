"""All seats in play, on one ledger and one output, and the switch between rehearsal and live."""

from __future__ import annotations

import logging
from collections.abc import Callable, Collection
from contextlib import suppress

from nub_shift import VERSION
from nub_shift.engine.agenda import earlier
from nub_shift.engine.ledger import Ledger
from nub_shift.engine.program import Program
from nub_shift.engine.values import US_PER_SECOND, Output, ProfileRequest
from nub_shift.model.kinds import OutputKind
from nub_shift.model.messages import Code, Message
from nub_shift.model.profile.comes_on import Away, Front
from nub_shift.outputs.output import OutputDevice, OutputError
from nub_shift.outputs.registry import is_x11_only
from nub_shift.outputs.watcher import STALLED_US
from nub_shift.pads.pad import PadError
from nub_shift.protocol.clock import monotonic_us
from nub_shift.protocol.codec import PROTOCOL
from nub_shift.protocol.messages import State
from nub_shift.runner.live.live_output import LiveOutput
from nub_shift.runner.live.live_switch import LiveSwitch
from nub_shift.runner.seats.pad_events import PadEvents
from nub_shift.runner.seats.pad_source import PadSource, Taken
from nub_shift.runner.seats.profile_requests import Choice, ProfileRequests, ProfileSource
from nub_shift.runner.seats.seat import Seat
from nub_shift.runner.seats.seat_reports import seat_state
from nub_shift.runner.seats.shared_pads import SharedPads
from nub_shift.runner.seats.signs_feed import SignsFeed
from nub_shift.store.played import Recap

log = logging.getLogger("nub_shift.runner")


class Session:
    """The seats and what they share.

    Attributes:
        seats: in the order in which they were added; there is at least one in play.
        switch: between rehearsal and live.
        halt_key: name of the key that halts, or empty while unknown.
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
        pad_events: forwards what the pads of seats do.
        shared_pads: pads that two seats play.
        profile_requests: profiles that were requested from pads.
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
        self.switch = LiveSwitch(self)
        self._output_kind = output
        self._message: Message | None = None
        self._tell = tell
        self.shared_pads = SharedPads(self)
        self.profile_requests = ProfileRequests(self, loading, clock)
        self._clock = clock
        self._halt_asked = False
        self._menu_asked: tuple[Seat, bool] | None = None
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
        self.send(seat, seat.close(now_us))
        self.shared_pads.end(seat, now_us)
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
            self.send(seat, seat.take_pad(now_us, fd))
            seat.note_taken(now_us)
            if seat.companion is not None:
                self.send(seat.companion, seat.companion.take_pad(now_us))
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
                self.send(seat, seat.work(now_us))
                if seat.taken:
                    seat.note_taken(now_us)
                if seat.companion is not None:
                    self.send(seat.companion, seat.companion.take_pad(now_us))
                    seat.companion.note_taken(now_us)
        except Exception:  # likewise
            log.exception("play")
            self._start_over()
        if self._halt_asked:
            self._halt_asked = False
            try:
                self.switch.halt(now_us)
            except OutputError as error:
                self.say(error.message)
        if self._menu_asked is not None:
            (seat, opens), self._menu_asked = self._menu_asked, None
            self.open_menu(seat, opens, now_us)
        if self.profile_requests.requested:
            self.profile_requests.work()
        try:
            self.output.work(now_us)
        except OutputError as error:
            self.switch.lose_output(error.message)

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
        self.release(now_us)
        self.go_on(now_us)

    def ask_halt(self) -> None:
        """The person wants everything to stop, or to go on after that: it is done once this step is."""
        self._halt_asked = True

    def ask_menu(self, seat: Seat, opens: bool) -> None:
        """The person wants the menu of a seat's pad, or wants it closed: likewise."""
        self._menu_asked = seat, opens

    def open_menu(self, seat: Seat, on: bool, now_us: int) -> None:
        """Opens the menu of a seat's pad, if somebody shows it, or closes it."""
        if on is not seat.in_menu and ((self.signs and self.away is Away.NO) or not on):
            self.send(seat, seat.set_menu(on, now_us))
            self.note_change()

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
            self.send(seat, seat.set_away(away is not Away.NO, now_us))
        self.note_change()

    def pause_seat(self, seat: Seat, on: bool, now_us: int) -> None:
        """Has nothing of a seat act until this is called again, since its game is not in front."""
        if on is not seat.paused:
            self.send(seat, seat.set_paused(on, now_us))
            self.note_change()

    def release(self, now_us: int) -> None:
        """Releases all that seats hold: the switch changes over, or the process is about to be stopped."""
        for seat in self.seats:
            self.send(seat, seat.stop(now_us))

    def play_on(self, now_us: int) -> None:
        """Has seats play on after `release`, and counts what is done while live."""
        for seat in self.seats:
            self.send(seat, seat.resume(now_us))
            self._count(seat, self.switch.live, now_us)

    def go_on(self, now_us: int) -> None:
        """Goes on after a stop of the process.

        Pads are opened anew, so that presses of meanwhile are neither made up for nor still held.
        """
        for seat in self.seats:
            self.send(seat, seat.reopen(now_us))
            self.send(seat, seat.resume(now_us))

    def grab_pads(self) -> None:
        """Keeps pads from other programs while live, and leaves them to these otherwise."""
        for seat in self.seats:
            seat.grab()

    def close_menus(self, now_us: int) -> None:
        """Closes the menus of all pads."""
        for seat in self.seats:
            self.open_menu(seat, False, now_us)

    def show_signs(self) -> None:
        """Has signs shown, if any profile wants them."""
        if self.on_live is not None and any(seat.tells for seat in self.seats):
            self.on_live()

    def forget_unheard(self) -> None:
        """Forgets presses of which no game got anything."""
        for seat in self.seats:
            seat.unheard = False

    def note_unheard(self) -> None:
        """Has a sign say why a game gets nothing in which a person presses."""
        self.show_signs()
        self.note_signs()

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
        self.send(seat, seat.load(program, now_us))
        self._count(seat, self.switch.live, now_us)
        self.wants_front = any(seat.program.regains for seat in self.seats)
        self.note_change()

    def go_over(self, seat: Seat, program: Program, now_us: int, file: str) -> None:
        """A seat goes on with the profile of another file, as that was left."""
        self.send(seat, seat.go_over(program, file, now_us))
        self._count(seat, self.switch.live, now_us)
        self.wants_front = any(seat.program.regains for seat in self.seats)
        self.note_change()

    def assign_pad(self, seat: Seat, source: PadSource, key: str, now_us: int) -> None:
        """A seat goes on with the pad of that key; one that had it, or waits for it, looks for another.

        Raises:
            PadError: two seats share that pad.
        """
        if self.shared_pads.is_shared(key):
            raise PadError(Code.PAD_IS_SHARED)
        self.shared_pads.end(seat, now_us)
        others = [other for other in self.seats if other is not seat]
        for other in others:
            if other.pad is not None and other.pad.key == key:
                self.send(other, other.part_with_pad(now_us))
        self.send(seat, seat.assign_pad(source, now_us))
        for other in others:
            if other.pad is None and other.source.had == seat.source.had:
                other.source.forget()

    def reopen_pad(self, seat: Seat, now_us: int) -> None:
        """A seat lets its pad go and looks for it again."""
        self.send(seat, seat.reopen(now_us))

    def front_changed(self, window: int, before: int, now_us: int) -> None:
        """Another window is in front: toggles that are to be regained are let go, and pressed again in their own."""
        if self._game and window == self._game:
            self._game = 0
            for seat in self.seats:
                self.send(seat, seat.regain_game(now_us))
        elif not self._game:
            for seat in self.seats:
                self.send(seat, seat.leave_game(now_us))
            self._game = before if any(seat.engine.awaits_game for seat in self.seats) else 0

    def close(self, now_us: int) -> None:
        """Releases everything and lets pads and output go, whatever fails on the way."""
        try:
            for seat in self.seats:
                self._count(seat, False, now_us)
                with suppress(OutputError):
                    self.send(seat, seat.close(now_us))
        finally:
            self.output.close()

    def state(self) -> State:
        """A look at everything."""
        seats = tuple(seat_state(seat) for seat in self.seats)
        kind = self._output_kind
        only = is_x11_only(kind)
        return State(
            PROTOCOL,
            VERSION,
            self.switch.live,
            kind.value,
            seats,
            self.ledger.down,
            self._message,
            only,
            self.switch.wanted,
            self.front,
            self.switch.halted,
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
        return Taken(
            self.pads_taken(), [other.source.had for other in others if other.pad is None and other.source.had]
        )

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
        if not self.signs:
            self.close_menus(self._clock())

    def note_signs(self) -> None:
        """Marks the state that signs show as changed."""
        for feed in self.signs:
            feed.note()

    def _count(self, seat: Seat, live: bool, now_us: int) -> None:
        """Counts moves while live, and keeps the count of a session that has ended."""
        ended = seat.play(live, now_us)
        if ended is not None and self.keep_recap is not None:
            self.keep_recap(*ended)

    def send(self, seat: Seat, outputs: list[Output]) -> None:
        """Sends what a seat gave back."""
        if not outputs:
            return
        if self.switch.live:
            try:
                self.output.send(outputs)
            except OutputError as error:
                self.switch.lose_output(error.message)
        for feed in seat.feeds:
            feed.note_outputs(outputs)
        for output in outputs:
            if type(output) is ProfileRequest:
                self.profile_requests.requested.append((seat, output.title))

    def _start_over(self) -> None:
        """Nothing that the engines believe can be trusted any more: they begin anew, in rehearsal."""
        self.ledger = Ledger()
        for seat in self.seats:
            seat.start_over()
        self.switch.wanted = False
        self.switch.lose_output(Message(Code.PLAY_FAILED))
