"""The switch between rehearsal and live, and the reasons that keep outputs from the system."""

from __future__ import annotations

import logging
from typing import Protocol

from nub_shift.engine.ledger import Ledger
from nub_shift.model.messages import Code, Message
from nub_shift.outputs.output import OutputError
from nub_shift.runner.live.live_output import LiveOutput

log = logging.getLogger("nub_shift.runner")


class SwitchHost(Protocol):
    """Members of the session that the switch uses.

    Attributes:
        ledger: keys that are down.
        output: the output, opened while live.
    """

    ledger: Ledger
    output: LiveOutput

    def release(self, now_us: int) -> None:
        """Releases everything held by seats."""

    def play_on(self, now_us: int) -> None:
        """Resumes the seats after `release`, and counts moves while live."""

    def grab_pads(self) -> None:
        """Grabs the pads while live, and ungrabs them otherwise."""

    def close_menus(self, now_us: int) -> None:
        """Closes the menus of all pads."""

    def show_signs(self) -> None:
        """Shows signs, if any profile has them."""

    def forget_rehearsed_presses(self) -> None:
        """Forgets presses that reached no game."""

    def note_change(self) -> None:
        """Marks the state as changed."""

    def say(self, message: Message) -> None:
        """Sends a message to the person."""


class LiveSwitch:
    """Opens and closes the path of outputs to the system.

    Attributes:
        live: outputs go to the system.
        wanted: the person has chosen live; a client may still hold outputs back.
        halted: a person has stopped everything, from the pad or the keyboard.
        rehearses: nothing goes out by the person's choice, as opposed to a window of ours in front.
    """

    def __init__(self, host: SwitchHost) -> None:
        self.live = self.wanted = self.halted = False
        self.rehearses = True
        self._host = host
        self._held_back = False

    def go(self, live: bool, now_us: int) -> None:
        """Changes to live or rehearsal, after releasing everything that is down.

        Raises:
            OutputError: the output cannot be opened; the session stays in rehearsal.
        """
        self.wanted = live
        self.halted = False
        self._update_requested(now_us)

    def halt(self, now_us: int, key: str = "") -> None:
        """Releases everything and stops; if already halted, continues.

        Args:
            key: the pressed halt key, or empty; ignored if a profile presses the key itself.

        Raises:
            OutputError: the output cannot be reopened.
        """
        if key and key in self._host.ledger.down:
            return
        self._host.close_menus(now_us)
        halts = not self.halted
        if halts and not self.wanted:
            return  # nothing goes to the system, for a reason other than a halt
        self.wanted = not halts
        self.halted = halts
        log.info("%s", "halted" if halts else "on again")
        self._update_requested(now_us)
        self._host.say(Message(Code.HALTED if halts else Code.GOES_ON))

    def hold_back(self, on: bool, now_us: int) -> None:
        """Keeps outputs from the system, whatever is chosen, until called with False."""
        self._held_back = on
        try:
            self._update_requested(now_us)
        except OutputError as error:
            self._host.say(error.message)

    def lose_output(self, why: Message) -> None:
        """Changes to rehearsal after the loss of the receiver; after the end of a display `wanted` stays."""
        self.live = False
        self.wanted = self._host.output.lose(self.wanted, why.code)
        self._host.grab_pads()
        self._host.note_change()
        self._host.say(Message(Code.DISPLAY_GONE if self.wanted else Code.BACK_TO_REHEARSAL, {"why": why}))

    def regain_output(self, now_us: int) -> bool:
        """Goes live again if the receiver is back and live is still chosen; returns whether no retry is needed."""
        output = self._host.output
        if not output.is_lost:
            return True
        try:
            self._update_requested(now_us, keeps_requested=True)
        except OutputError:
            return False
        output.is_lost = False
        self._host.say(Message(Code.PLAYS_AGAIN))
        return True

    def _update_requested(self, now_us: int, keeps_requested: bool = False) -> None:
        host = self._host
        live = self.wanted and not self._held_back
        self.rehearses = not (self.wanted or self._held_back or self.halted)
        if not self.rehearses:
            host.forget_rehearsed_presses()
        if not self.wanted:
            host.output.is_lost = False
        if live is self.live:
            host.note_change()
            return
        if live:
            try:
                host.output.open()
            except OutputError:
                self.wanted = keeps_requested
                raise
        host.release(now_us)
        log.info("%s", "live" if live else "rehearsal")
        self.live = live
        host.play_on(now_us)
        host.note_change()
        if live:
            host.show_signs()
