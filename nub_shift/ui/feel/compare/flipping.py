"""Flipping between two feels of the control that is shown: by the row above the picture, by a key, or from the pad."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from nub_shift.editing.feel.two_feels import TwoFeels, said_differences, with_feel_of
from nub_shift.editing.pad_view import PadView
from nub_shift.model.controls import CONTROL_BY_NAME, slot_label
from nub_shift.translation import tr
from nub_shift.ui.feel.compare.two_feels import TwoFeelsRow

# A profile's file, one of its layers, and a control.
# File, layer, control, and the identity of the one pad that is meant, if one is.
Key = tuple[Path, str, str, str]


class Flipping(QObject):
    """Keeps both feels of each control of which there are two.

    Attributes:
        slot: what flips on the pad, or empty.

    Signals:
        changed(): they are to be shown anew, though the profile may be the same.
        said(str): a line for the person.
    """

    changed = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, view: PadView, row: TwoFeelsRow, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.slot = ""
        self._view = view
        self._row = row
        self._awaits_slot = False
        self._two: dict[Key, TwoFeels] = {}
        self._key: Key = (view.path, "", "", "")
        row.flipped.connect(self.flip)
        row.named.connect(self._on_named)
        row.kept.connect(self._on_kept)
        row.pad_wanted.connect(self._on_pad_wanted)

    def show_control(self, key: Key) -> None:
        """Shows both feels of a control in a layer."""
        self._key = key
        _, layer_id, control, _ = key
        two = self._two.get(key)
        differences = None
        if two is not None and two.other is not None:
            both = (self._view.profile, two.other)
            differences = said_differences(*(both if two.shown == 0 else both[::-1]), layer_id, control)
        flips = tr("The next control you press") if self._awaits_slot else ""
        flips = flips or (slot_label(self.slot) if self.slot else "")
        self._row.show_feels(two or TwoFeels(), differences, flips)

    def flip(self) -> None:
        """The other one is on; the second begins as the first."""
        two = self._two.setdefault(self._key, TwoFeels())
        _, layer_id, control, _ = self._key
        profile = self._view.profile
        made = two.change_over(profile, layer_id, control)
        label = f"{CONTROL_BY_NAME[control].label}: {two.labels[two.shown]}"
        if made == profile:
            self.changed.emit()  # the second has just begun, or both are the same
        else:
            self._view.edit(label, partial(with_feel_of, source=made, layer_id=layer_id, control=control))
        self.said.emit(label)

    def take_press(self, slot: str) -> bool:
        """A person presses a slot on the pad; returns whether that was meant for this."""
        if self._awaits_slot:
            self._awaits_slot, self.slot = False, slot
            self.changed.emit()
            return True
        if slot == self.slot:
            self.flip()
            return True
        return False

    def _on_named(self, name: str) -> None:
        two = self._two.get(self._key)
        if two is not None and two.names[two.shown] != name:
            two.names[two.shown] = name
            self.changed.emit()

    def _on_kept(self) -> None:
        self._two.pop(self._key, None)
        self._awaits_slot, self.slot = False, ""
        self.changed.emit()

    def _on_pad_wanted(self) -> None:
        self._awaits_slot, self.slot = not (self._awaits_slot or self.slot), ""
        self.changed.emit()
