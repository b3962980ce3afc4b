"""Present state of pad and game."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from nub_shift.editing.words.messages import message_words
from nub_shift.model.controls import Finger
from nub_shift.model.profile.profile import BASE_LAYER
from nub_shift.protocol.messages import SeatState, State, Telemetry
from nub_shift.translation import tr


class Live(QObject):
    """Present state by telemetry.

    Attributes:
        values: channel to value.
        slots: pressed slots.
        layers: ids of the active layers.
        toggles: slots whose toggle is on.
        is_automatic: whether the movements come from a demo or a recording.
        state: the runner's last state, or None.
        seat: number of our seat.

    Signals:
        changed(): values, slots or layers have changed.
        touched(str): a person has pressed a slot; never by a demo.
        state_changed(): the state has changed.
    """

    changed = pyqtSignal()
    touched = pyqtSignal(str)
    state_changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.values: dict[str, float] = {}
        self.slots: frozenset[str] = frozenset()
        self.layers: tuple[str, ...] = (BASE_LAYER,)
        self.toggles: tuple[str, ...] = ()
        self.is_automatic = False
        self.state: State | None = None
        self.seat: SeatState | None = None

    @property
    def missing_pad(self) -> str:
        """Reason of a missing pad in words, with an unused pad to offer; empty with a pad."""
        pad = self.seat.pad if self.seat is not None else None
        if pad is None or pad.name or pad.missing is None:
            return ""
        missing = message_words(pad.missing)
        if pad.spare is None:
            return missing
        return tr("{missing}. {pad} is here: click it at the top left to use it", missing=missing, pad=pad.spare.name)

    @property
    def pad_key(self) -> str:
        """Key of our pad; empty while there is none."""
        return self.seat.pad.key if self.seat is not None else ""

    @property
    def printed(self) -> dict[str, str]:
        """Labels printed on our pad's controls, where they are not the positions."""
        return self.seat.pad.printed if self.seat is not None else {}

    @property
    def fingers(self) -> dict[str, Finger]:
        """Fingers of our pad's controls, where they are not the usual ones."""
        return self.seat.pad.fingers if self.seat is not None else {}

    def take_telemetry(self, packet: Telemetry) -> None:
        """Processes a packet."""
        self.values.update(packet.values)
        self.layers, self.toggles, self.is_automatic = packet.layers, packet.toggles, packet.is_automatic
        before, self.slots = self.slots, frozenset(packet.slots)
        for slot in packet.slots if not packet.is_automatic else ():
            if slot not in before:
                self.touched.emit(slot)
        self.changed.emit()

    def take_state(self, state: State) -> None:
        """Processes the runner's state."""
        self.state = state
        seat = self.seat = state.seats[0]
        self.layers, self.toggles, self.is_automatic = seat.layers, seat.toggles, seat.pad.is_automatic
        self.slots = frozenset(seat.slots)
        if not seat.pad.name:
            self.values.clear()
        self.state_changed.emit()
        self.changed.emit()
