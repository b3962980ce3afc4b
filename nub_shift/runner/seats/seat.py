"""A pad with a profile in play."""

from __future__ import annotations

import logging
from collections.abc import Sequence

from nub_shift.engine.agenda import earlier
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Output
from nub_shift.model.controls import CONTROL_OF_CHANNEL
from nub_shift.model.messages import Code, Message
from nub_shift.model.pad.pad_menu import MIDDLE_BUTTONS
from nub_shift.model.pad.trim import PadTrim
from nub_shift.model.profile.activation import Rule
from nub_shift.pads.pad import Pad, PadError, PadGone
from nub_shift.runner.seats.opener_gate import OpenerGate
from nub_shift.runner.seats.pad_signals import PadSignals
from nub_shift.runner.seats.pad_source import PadSource
from nub_shift.runner.seats.pad_wait import RETRY_US, PadWait
from nub_shift.runner.seats.playing import Playing
from nub_shift.runner.seats.seat_engine import SeatEngine
from nub_shift.runner.seats.seat_host import SeatHost
from nub_shift.runner.seats.telemetry import TelemetryFeed
from nub_shift.store.played import Recap

log = logging.getLogger("nub_shift.runner")


class Seat:
    """Passes frames from a pad through an engine. Methods return the outputs for the session to send.

    Attributes:
        feeds: telemetry subscribers.
        over: the pad has ended and none will return, as at the end of a recording.
        pad: the connected pad, or None.
        trouble: fault of the pad, or None.
        source: source of the pad.
        file: file of the profile, or empty.
        playing: counts of the session while live.
        shows_signs: a process shows the seat's signs.
        taken: frames whose outputs are being sent, for `note_taken`.
        engine: plays the program; replaced at a change of profiles.
        acts: presses have effects: neither paused nor away nor in the menu.
        wait: state of the search for a missing pad.
        signals: menu and halt chord of the pad.
        in_menu: the menu is open: presses have no effect in the game, and the pad stays grabbed.
        paused: presses have no effect, and the pad is ungrabbed; values are still recorded.
        away: likewise, for a reason other than the window in front.
        rule: rule that activated the profile, or None.
        chosen_in: window in front at a person's choice of a profile, 0 if unknown; the choice stays in force there.
        chosen: file of the chosen profile.
        auto_changes: number of automatic changes of the profile.
        battery: percentage of the pad's battery; -1 if unknown.
        rehearsed_press: a person has pressed in a game during rehearsal.
        companion: the seat that plays the other half of the pad and gets the same frames.
    """

    def __init__(
        self, host: SeatHost[Seat], program: Program, source: PadSource, pad_returns: bool, file: str = ""
    ) -> None:
        self.feeds: list[TelemetryFeed] = []
        self.over = False
        self.pad: Pad | None = None
        self.trouble: Message | None = None
        self.companion: Seat | None = None
        self.file = file
        self.paused = self.away = False
        self.rule: Rule | None = None
        self.chosen_in = 0
        self.chosen = ""
        self.auto_changes = 0
        self.battery = -1
        self.playing: Playing | None = None
        self.signals = PadSignals()
        self._gate = OpenerGate()
        self._held_us: int | None = None  # end of a hold time of `signals`
        self.taken: list[Frame] = []
        self.shows_signs = self.rehearsed_press = False
        self.in_menu = False
        self.acts = True  # neither paused nor away nor in the menu
        self._missed: dict[str, float] = {}  # last values of a paused pad
        self._host = host
        self._engines = SeatEngine(program, host.ledger)
        self.engine = self._engines.engine
        self.source = source
        self._pad_returns = pad_returns
        self.wait = PadWait()
        self._pad_due_us: int | None = None  # from the last reading
        self._has_news = False

    def due_us(self) -> int | None:
        """Returns when `work` has to be called without a readable descriptor."""
        if self.pad is None:
            return None if self.over else self.wait.retry_us
        due_us = earlier(self.engine.deadline(), self._pad_due_us)
        return due_us if self._held_us is None else earlier(due_us, self._held_us)

    def take_pad(self, now_us: int, fd: int | None = None) -> list[Output]:
        """Reads the pad on one descriptor, or on all."""
        if self.pad is None:
            return []
        try:
            frames = self.pad.read(now_us, fd)
        except PadGone as gone:
            return self._lose_pad(now_us, gone.message)
        except Exception as error:  # an unexpected fault in reading this pad costs this pad, and play continues
            log.exception("%s", self.pad.key)
            why = Message(Code.DOES_NOT_ANSWER, {"pad": self.pad.name, "why": str(error)})
            return self._lose_pad(now_us, why)
        if fd is None:  # otherwise a pad is read by its descriptors
            self._pad_due_us = self.pad.due_us()
        outputs: list[Output] = []
        acts, held_back = self.acts, self._gate.channel
        for frame in frames:
            if not acts:
                self._missed.update(frame.values)
            elif held_back in frame.values:
                for passed in self._gate.take(frame):
                    outputs += self.engine.feed(passed)
            else:
                outputs += self.engine.feed(frame)
            for feed in self.feeds:
                feed.note_frame(frame)
        self.taken += frames
        return outputs

    def note_taken(self, now_us: int) -> None:
        """Handles menu, halt chord and signs of the frames taken. Called after their outputs have been sent."""
        frames = self.taken
        if not frames:
            return
        self.taken = []
        signals = self.signals
        for frame in frames:
            values = frame.values
            for channel in signals.channels:
                if channel in values:
                    signals.note(values, now_us, self.in_menu)
                    break
            if self.in_menu and signals.menu.steer(values):
                self._host.note_signs()
        self._held_us = signals.due_us
        if self._host.switch.rehearses and not self.rehearsed_press:
            self._detect_rehearsed_press()
        if self.shows_signs:
            self._host.note_signs()
        listener = self._host.pad_events.listener
        if listener is not None and self.pad is not None:
            listener.on_frames(self.pad.key, frames)

    def _detect_rehearsed_press(self) -> None:
        """Records a press during rehearsal while the game of an automatically activated profile is in front."""
        by_hand = self.pad is not None and not self.pad.is_automatic
        if by_hand and self.rule is not None and self.acts and self.engine.state().slots:
            self.rehearsed_press = True
            self._host.note_rehearsed_press()

    @property
    def values(self) -> dict[str, float]:
        """Present values of the pad's channels."""
        if self.pad is None:
            return {}
        has, standing = self.pad.controls, self.engine.standing | self._missed
        return {channel: value for channel, value in standing.items() if CONTROL_OF_CHANNEL[channel].name in has}

    def rescan(self) -> None:
        """Searches for a missing pad, or for further parts of the present pad, after a device was plugged in or out."""
        self.wait.retry_us = 0
        self._has_news = True

    def work(self, now_us: int) -> list[Output]:
        """Advances the time, and takes due frames of a time-driven pad."""
        if self.pad is None:
            return self._look_for_pad(now_us) if not self.over and self.wait.is_due(now_us) else []
        if self._held_us is not None and self._held_us <= now_us:
            self._take_signals(now_us)
        outputs: list[Output] | None = None
        if self._has_news:
            outputs = self._take_news(now_us)
        if self._pad_due_us is not None and self._pad_due_us <= now_us:
            outputs = (outputs or []) + self.take_pad(now_us)
        if self.shows_signs and (due_us := self.engine.deadline()) is not None and due_us <= now_us:
            self._host.note_signs()  # a layer may be activated by time alone
        passed = self.engine.advance(now_us) if self.pad is not None else []
        return outputs + passed if outputs else passed

    def _take_signals(self, now_us: int) -> None:
        halts, menu = self.signals.take(now_us)
        self._held_us = self.signals.due_us
        if halts:
            self._host.request_halt()
        if menu is not None:
            self._host.request_menu(self, menu)

    def stop(self, now_us: int) -> list[Output]:
        """Releases everything held by this seat."""
        return self.engine.stop(now_us) if self.acts else []

    def resume(self, now_us: int) -> list[Output]:
        """Resumes after `stop`; grabs the pad if the session is live."""
        self.grab()
        return self.engine.resume(now_us) if self.acts else []

    def set_paused(self, on: bool, now_us: int) -> list[Output]:
        """Pauses or resumes the seat. Resuming keeps toggles, and held buttons wait for the next press."""
        return self._be_still(on, self.away, self.in_menu, now_us)

    def set_away(self, on: bool, now_us: int) -> list[Output]:
        """Pauses or resumes the seat for a reason other than its profile."""
        return self._be_still(self.paused, on, self.in_menu, now_us)

    def set_menu(self, on: bool, now_us: int) -> list[Output]:
        """Opens or closes the menu, which pauses or resumes the seat."""
        if on:
            self.signals.menu.open(self.values)
            self._gate.forget()
        return self._be_still(self.paused, self.away, on, now_us)

    def _be_still(self, paused: bool, away: bool, in_menu: bool, now_us: int) -> list[Output]:
        acted = self.acts
        still = paused or away or in_menu
        if self.playing is not None:
            self.playing.pause(still, now_us)
        outputs = self.stop(now_us) if still else []
        self.paused, self.away, self.in_menu = paused, away, in_menu
        self.acts = not still
        if acted or not self.acts:
            self.grab()
            return outputs
        self.engine.catch_up(self.values)
        self._missed.clear()
        return self.resume(now_us)

    def stay_on(self, layer_id: str) -> None:
        """Activates a layer to stay once the menu is closed.

        Raises:
            ValueError: unknown layer.
        """
        if self.in_menu:
            self.engine.stay_on(layer_id)

    @property
    def has_signals(self) -> bool:
        """Whether the profile shows signs, rumbles or plays sounds."""
        signs = self.program.profile.signs
        return signs.shown or signs.rumble or signs.sound

    def rumble(self, pattern: Sequence[int]) -> None:
        """Plays a rumble pattern as a signal for a person who does not look."""
        if self.pad is not None:
            self.pad.rumble(pattern)

    def play(self, live: bool, now_us: int) -> tuple[str, Recap] | None:
        """Counts moves while `live`, if the profile requests a recap; returns the file and recap of an ended
        session.
        """
        wanted = live and bool(self.file) and self.program.profile.game.recap
        ended = None
        if self.playing is not None and (not wanted or self.playing.file != self.file):
            ended = self.playing.file, self.playing.recap(now_us, self.battery)
            self.playing = None
        if wanted and self.playing is None:
            self.playing = Playing(self.file, self.engine.new_tally(), now_us, self.battery)
            self.playing.pause(not self.acts, now_us)
        return ended

    @property
    def program(self) -> Program:
        """The loaded program."""
        return self._engines.program

    def change_over(self, program: Program, file: str, now_us: int) -> list[Output]:
        """Changes to the profile of another file, with its toggles and carousels as the seat left them."""
        self.auto_changes += 1
        before, values = self.program.profile.game, self.values
        outputs = self.stop(now_us)
        outputs += self._engines.change_over(program, file, self.file, self._identities, self._trim, now_us)
        self.file = file
        self.engine = self._engines.engine
        self._set_gate()
        self.engine.catch_up(values)
        if self.paused or program.profile.game.reads_pads is not before.reads_pads:
            self.grab()
        return outputs + (self.engine.resume(now_us) if self.acts else [])

    def load(self, program: Program, now_us: int) -> list[Output]:
        """Changes to another program. Frames of the pad wait in the kernel meanwhile.

        A program that differs in feels alone releases nothing, since feels are tuned while controls are held.
        """
        before = self.program.profile.game
        outputs = self._engines.load(program, self._identities, now_us, self.acts)
        if self.program is program:  # not only retuned
            self._set_gate()
            if program.profile.game.reads_pads is not before.reads_pads:
                self.grab()
        return outputs

    def restart(self) -> None:
        """Restarts on the host's ledger after a fault in play; the host releases all keys."""
        self._engines.restart(self._host.ledger, self._trim)
        self.engine = self._engines.engine

    def leave_game(self, now_us: int) -> list[Output]:
        """Releases the toggles to be regained, since another window is in front."""
        return self.engine.leave_game(now_us) if self.acts else []

    def regain_game(self, now_us: int) -> list[Output]:
        """Regains toggles, since the game is in front again."""
        return self.engine.regain_game(now_us) if self.acts else []

    def part_with_pad(self, now_us: int) -> list[Output]:
        """Gives the pad to another seat; the next search finds a different one."""
        self.source.forget()
        return self.close_pad(now_us)

    def assign_pad(self, source: PadSource, now_us: int) -> list[Output]:
        """Changes to another pad, which is awaited again after an unplug."""
        self.source = source
        self._pad_returns = True
        return self.reopen(now_us)

    def reopen(self, now_us: int) -> list[Output]:
        """Closes the pad and searches again, since its card has changed."""
        outputs = self.close_pad(now_us)
        self.over = False
        return outputs + self._look_for_pad(now_us)

    def close_pad(self, now_us: int) -> list[Output]:
        """Closes the pad, also for the companion; the next `work` searches again."""
        outputs = self.companion.close_pad(now_us) if self.companion is not None else []
        self.wait.retry_us = now_us
        return outputs + self._release_pad(now_us) if self.pad is not None else outputs

    def grab(self) -> None:
        """Grabs the pad while live, unless the game reads the pad too."""
        if self.pad is None:
            return
        try:
            plays = not self.paused and not self.away and not self.program.profile.game.reads_pads
            wanted = self._host.switch.live and (plays or self.in_menu)
            self.pad.set_grabbed(wanted)
            self.trouble = None
        except PadError as error:
            self.trouble = error.message
            self._host.say(error.message)

    def close(self, now_us: int) -> list[Output]:
        """Releases everything and closes the pad, whatever fails on the way."""
        try:
            outputs = self.stop(now_us)
            if self.pad is not None:
                self._engines.keep_bias(self.pad)
            return outputs
        finally:
            pad = self.pad
            self._set_pad(None)
            if pad is not None:
                pad.close()

    def _look_for_pad(self, now_us: int) -> list[Output]:
        try:
            pad = self.source.open(self._host.taken(self))
        except PadError as error:
            return self._wait_for_pad(now_us, error.message)
        except Exception as error:  # an unexpected fault in opening a pad costs this pad, and play continues
            log.exception("no pad")
            return self._wait_for_pad(now_us, Message(Code.PADS_FAIL, {"why": str(error)}))
        self._set_pad(pad)
        if self.wait.found():
            code = Code.PAD_MAY_BE_ANOTHER if self.source.unsure else Code.PAD_IS_HERE
            self._host.say(Message(code, {"pad": pad.name}))
        log.debug("pad: waiting -> %s", pad.key)
        self.grab()
        self._host.note_pad(self)
        outputs = self._engines.tune(self._identities, now_us, self.acts)
        self.engine.fit(pad.trim)
        if pad.gyro_bias is not None:
            self.engine.set_bias(pad.gyro_bias)
        outputs += self.take_pad(now_us)
        if self.pad is not None and pad.away:
            self._host.say(Message(Code.NOT_AT_REST, {"pad": pad.name, "controls": list(pad.away)}))
        return outputs

    @property
    def _trim(self) -> PadTrim:
        return self.pad.trim if self.pad is not None else PadTrim()

    @property
    def _identities(self) -> tuple[str, ...]:
        return self.source.identities if self.pad is not None else ()

    def _wait_for_pad(self, now_us: int, why: Message) -> list[Output]:
        if self.wait.note_missing(why, now_us, self._host.has_plug_events):
            self._host.say(Message(Code.WAITING_FOR_PAD, {"why": why}))
            self._host.note_change()
        if self.wait.note_spare(self.source.spare):
            self._host.note_change()
        return []

    def _set_pad(self, pad: Pad | None) -> None:
        self.pad = pad
        self.signals = PadSignals(pad.controls, pad.menu) if pad is not None else PadSignals()
        self._set_gate()
        self._held_us = None
        self._pad_due_us = None
        self._host.pads_changed = True

    def _set_gate(self) -> None:
        """Delays the opener's own key until its press is known not to open the menu, unless games use that button."""
        opener = self.signals.menu.opener
        self._gate = OpenerGate(opener if opener in MIDDLE_BUTTONS and opener in self.program.used else "")

    def _take_news(self, now_us: int) -> list[Output]:
        """Reopens the pad if further devices (motion sensors, surface, player lights) came after the buttons."""
        self._has_news = False
        if self.pad is not None and self.pad.has_grown():
            return self.reopen(now_us)
        self._host.note_pad(self)
        return []

    def _release_pad(self, now_us: int) -> list[Output]:
        pad = self.pad
        if pad is not None:
            self._engines.keep_bias(pad)
        self._set_pad(None)
        log.debug("pad: %s -> waiting", pad.key if pad is not None else "none")
        outputs = self.engine.forget_pad(now_us)
        self.in_menu = False  # no pad is left to close the menu
        self.acts = not self.paused and not self.away
        self._missed.clear()
        if pad is not None:
            pad.close()
        return outputs

    def _lose_pad(self, now_us: int, why: Message) -> list[Output]:
        if self.playing is not None:
            self.playing.losses += 1
        outputs = self._release_pad(now_us)
        self.wait.missing = why
        self.over = not self._pad_returns
        self.wait.retry_us = now_us + RETRY_US
        self._host.say(why)
        self._host.note_pad(self)
        return outputs
