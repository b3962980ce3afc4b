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
from nub_shift.model.profile.activation import Away, Front
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
    """The seats and their shared parts.

    Attributes:
        seats: in the order of addition.
        switch: switch between rehearsal and live.
        halt_key: name of the halt key, or empty while unknown.
        on_change: called when the state has changed.
        keep_recap: stores a recap with the profile of a file.
        on_live: called when signs are to be shown: outputs begin to go to the system, or a game gets none.
        pads_changed: a seat has got or lost a pad; reset by the loop that polls their descriptors.
        has_plug_events: udev reports new devices, so that seats need not search on their own.
        front: the window in front, as far as known.
        away: reason for sending nothing, or None.
        follows: whether windows in front are reported, so that profiles activate automatically.
        library_late: the last reading of the library was too slow, and is retried.
        output: output of the live session.
        needs_front: whether the window in front matters.
        pad_events: forwards events of the seats' pads.
        shared_pads: pads played by two seats.
        profile_requests: profiles requested from pads.
    """

    def __init__(
        self,
        open_output: Callable[[], OutputDevice],
        output: OutputKind,
        notify: Callable[[Message], None],
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
        self.needs_front = False
        self.has_plug_events = False
        self.signs: list[SignsFeed] = []
        self.front: Front | None = None
        self.pad_events = pad_events
        self.output = LiveOutput(open_output)
        self.switch = LiveSwitch(self)
        self._output_kind = output
        self._message: Message | None = None
        self._notify = notify
        self.shared_pads = SharedPads(self)
        self.profile_requests = ProfileRequests(self, loading, clock)
        self._clock = clock
        self._halt_asked = False
        self._menu_asked: tuple[Seat, bool] | None = None
        self._game = 0  # window whose toggles wait for its return
        self.away = Away.NO
        self.follows = self.library_late = False

    @property
    def over(self) -> bool:
        """Whether the pads of all seats have ended."""
        for seat in self.seats:  # noqa: SIM110 - as a generator it would be a good part of a wake-up
            if not seat.over:
                return False
        return True

    def add(self, program: Program, source: PadSource, pad_returns: bool, file: str = "") -> Seat:
        """Adds a pad with a profile and its file."""
        seat = Seat(self, program, source, pad_returns, file)
        seat.shows_signs = bool(self.signs)
        seat.set_away(self.away is not Away.NO, self._clock())
        self.seats.append(seat)
        self.needs_front = self.needs_front or program.regains
        return seat

    def remove(self, seat: Seat, now_us: int) -> None:
        """Removes a seat and releases what it holds."""
        self.seats.remove(seat)
        self._count(seat, False, now_us)
        self.send(seat, seat.close(now_us))
        self.shared_pads.end(seat, now_us)
        self.needs_front = any(seat.program.regains for seat in self.seats)
        self.note_pad(seat)

    def note_pad(self, seat: Seat) -> None:
        """Handles a seat that got or lost its pad."""
        if seat.companion is not None:
            seat.companion.rescan()
        if seat.pad is not None and seat in self.seats:
            seat.pad.show_player(self.seats.index(seat) + 1)
        if self.pad_events.listener is not None:
            self.pad_events.listener.on_pads()
        self.note_change()

    def take_pad(self, seat: Seat, fd: int) -> None:
        """Reads a seat's pad on a descriptor."""
        try:
            now_us = monotonic_us()
            if self.output.beat_us is not None and now_us - self.output.beat_us > STALLED_US:
                self._recover(now_us)
                return  # the pad's descriptors have changed
            self.send(seat, seat.take_pad(now_us, fd))
            seat.note_taken(now_us)
            if seat.companion is not None:
                self.send(seat.companion, seat.companion.take_pad(now_us))
                seat.companion.note_taken(now_us)
        except Exception:  # an unexpected fault in play itself
            log.exception("play")
            self._restart()

    def rescan(self) -> None:
        """Searches for devices that were plugged in or out."""
        for seat in self.seats:
            seat.rescan()

    def work(self, now_us: int) -> None:
        """Advances the time."""
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
        except Exception:  # an unexpected fault in play itself
            log.exception("play")
            self._restart()
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
        """Returns when `work` has to be called without a readable descriptor."""
        due_us = self.output.due_us()
        for seat in self.seats:
            due_us = earlier(due_us, seat.due_us())
        return due_us

    def _recover(self, now_us: int) -> None:
        """Releases everything and resumes after a suspension so long that the watcher has released the keys."""
        log.warning("play was held up for %.1f s", (now_us - (self.output.beat_us or now_us)) / US_PER_SECOND)
        self.output.beat_us = None
        self.release(now_us)
        self.resume(now_us)

    def request_halt(self) -> None:
        """Requests a halt, or its end, after the present step."""
        self._halt_asked = True

    def request_menu(self, seat: Seat, opens: bool) -> None:
        """Requests the menu of a seat's pad to be opened or closed, after the present step."""
        self._menu_asked = seat, opens

    def open_menu(self, seat: Seat, on: bool, now_us: int) -> None:
        """Opens the menu of a seat's pad if a process shows menus, or closes it."""
        if on is not seat.in_menu and ((self.signs and self.away is Away.NO) or not on):
            self.send(seat, seat.set_menu(on, now_us))
            self.note_change()

    def note_unwatched(self) -> None:
        """Handles the end of reports about windows in front."""
        self.follows = False
        self.say(Message(Code.WATCH_FAILS))
        self.note_change()

    def set_away(self, away: Away, now_us: int) -> None:
        """Pauses every seat while there is a reason for sending nothing, and resumes them afterwards."""
        self.away = away
        for seat in self.seats:
            if seat.in_menu and away is not Away.NO:
                self.open_menu(seat, False, now_us)
            self.send(seat, seat.set_away(away is not Away.NO, now_us))
        self.note_change()

    def pause_seat(self, seat: Seat, on: bool, now_us: int) -> None:
        """Pauses a seat while its game is not in front, or resumes it."""
        if on is not seat.paused:
            self.send(seat, seat.set_paused(on, now_us))
            self.note_change()

    def release(self, now_us: int) -> None:
        """Releases everything held by seats, before a change of the switch or a stop of the process."""
        for seat in self.seats:
            self.send(seat, seat.stop(now_us))

    def play_on(self, now_us: int) -> None:
        """Resumes the seats after `release`, and counts moves while live."""
        for seat in self.seats:
            self.send(seat, seat.resume(now_us))
            self._count(seat, self.switch.live, now_us)

    def resume(self, now_us: int) -> None:
        """Resumes after a stop of the process.

        Pads are reopened, so that presses during the stop are dropped.
        """
        for seat in self.seats:
            self.send(seat, seat.reopen(now_us))
            self.send(seat, seat.resume(now_us))

    def grab_pads(self) -> None:
        """Grabs the pads while live, and ungrabs them otherwise."""
        for seat in self.seats:
            seat.grab()

    def close_menus(self, now_us: int) -> None:
        """Closes the menus of all pads."""
        for seat in self.seats:
            self.open_menu(seat, False, now_us)

    def show_signs(self) -> None:
        """Shows signs, if any profile has them."""
        if self.on_live is not None and any(seat.has_signals for seat in self.seats):
            self.on_live()

    def forget_rehearsed_presses(self) -> None:
        """Forgets presses that reached no game."""
        for seat in self.seats:
            seat.rehearsed_press = False

    def note_rehearsed_press(self) -> None:
        """Shows a sign with the reason why the pressed control reaches no game."""
        self.show_signs()
        self.note_signs()

    def choose(self, seat: Seat) -> Choice:
        """Returns the choice of a profile that a person makes now."""
        return Choice(self.front.window if self.front is not None else 0, seat.auto_changes)

    def load(self, seat: Seat, program: Program, now_us: int, file: str = "", choice: Choice | None = None) -> None:
        """Gives a seat another profile with its file.

        Does nothing if the seat has changed its profile automatically since the `choice`: another game is in front now.
        """
        choice = choice or self.choose(seat)
        if file != seat.file:
            if choice.auto_changes != seat.auto_changes:
                return
            seat.file, seat.rule = file, None
            seat.chosen, seat.chosen_in = file, choice.window
        self.send(seat, seat.load(program, now_us))
        self._count(seat, self.switch.live, now_us)
        self.needs_front = any(seat.program.regains for seat in self.seats)
        self.note_change()

    def change_over(self, seat: Seat, program: Program, now_us: int, file: str) -> None:
        """Changes a seat to the profile of another file, in the state in which the seat left that profile."""
        self.send(seat, seat.change_over(program, file, now_us))
        self._count(seat, self.switch.live, now_us)
        self.needs_front = any(seat.program.regains for seat in self.seats)
        self.note_change()

    def assign_pad(self, seat: Seat, source: PadSource, key: str, now_us: int) -> None:
        """Gives a seat the pad of a key; a seat that had or awaited this pad searches for another.

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
            if other.pad is None and other.source.former == seat.source.former:
                other.source.forget()

    def reopen_pad(self, seat: Seat, now_us: int) -> None:
        """Closes a seat's pad and searches again."""
        self.send(seat, seat.reopen(now_us))

    def front_changed(self, window: int, before: int, now_us: int) -> None:
        """Handles another window in front: releases toggles to be regained, and regains those of the new window."""
        if self._game and window == self._game:
            self._game = 0
            for seat in self.seats:
                self.send(seat, seat.regain_game(now_us))
        elif not self._game:
            for seat in self.seats:
                self.send(seat, seat.leave_game(now_us))
            self._game = before if any(seat.engine.awaits_game for seat in self.seats) else 0

    def close(self, now_us: int) -> None:
        """Releases everything and closes pads and output, whatever fails on the way."""
        try:
            for seat in self.seats:
                self._count(seat, False, now_us)
                with suppress(OutputError):
                    self.send(seat, seat.close(now_us))
        finally:
            self.output.close()

    def state(self) -> State:
        """Returns the whole state."""
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
        """Returns the keys of pads that have a seat."""
        return [seat.pad.key for seat in self.seats if seat.pad is not None]

    def taken(self, seat: Seat) -> Taken:
        """Returns the pads that other seats have or await."""
        others = [other for other in self.seats if other is not seat]
        return Taken(
            self.pads_taken(), [other.source.former for other in others if other.pad is None and other.source.former]
        )

    def say(self, message: Message) -> None:
        """Sends a message to the person."""
        log.info("said: %s", message)
        self._message = message
        self._notify(message)

    def note_change(self) -> None:
        """Marks the state as changed."""
        for seat in self.seats:
            for feed in seat.feeds:
                feed.note_change()
        self.note_signs()
        if self.on_change is not None:
            self.on_change()

    def subscribe_signs(self, feed: SignsFeed, on: bool) -> None:
        """Subscribes a feed to the content of signs, or ends the subscription. Menus without a process to show them are
        closed.
        """
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
        """Counts moves while live, and stores the recap of an ended session."""
        ended = seat.play(live, now_us)
        if ended is not None and self.keep_recap is not None:
            self.keep_recap(*ended)

    def send(self, seat: Seat, outputs: list[Output]) -> None:
        """Sends the outputs of a seat."""
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

    def _restart(self) -> None:
        """Restarts all engines in rehearsal, since their state is unreliable after a fault."""
        self.ledger = Ledger()
        for seat in self.seats:
            seat.restart()
        self.switch.wanted = False
        self.switch.lose_output(Message(Code.PLAY_FAILED))
