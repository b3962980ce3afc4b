"""Flipping between two versions of the shown control's feel: by the row above the picture, by a key, or from the
pad.
"""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from nub_shift.editing.feel.two_feels import TwoFeels, copy_feel, difference_words
from nub_shift.editing.pad_view import PadView
from nub_shift.model.controls import CONTROL_BY_NAME, slot_label
from nub_shift.translation import tr
from nub_shift.ui.feel.compare.two_feels import TwoFeelsRow

# File of the profile, layer, control, and identity of the pad in the view of one pad.
Key = tuple[Path, str, str, str]


class Flipping(QObject):
    """Keeps both versions of each control that has two.

    Attributes:
        slot: slot on the pad that flips, or empty.

    Signals:
        changed(): the versions have to be shown again, even for an unchanged profile.
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
        row.pad_requested.connect(self._on_pad_requested)

    def show_control(self, key: Key) -> None:
        """Shows both versions of a control in a layer."""
        self._key = key
        _, layer_id, control, _ = key
        two = self._two.get(key)
        differences = None
        if two is not None and two.other is not None:
            both = (self._view.profile, two.other)
            differences = difference_words(*(both if two.shown == 0 else both[::-1]), layer_id, control)
        flips = tr("The next control you press") if self._awaits_slot else ""
        flips = flips or (slot_label(self.slot) if self.slot else "")
        self._row.show_feels(two or TwoFeels(), differences, flips)

    def flip(self) -> None:
        """Changes to the other version; the second begins as a copy."""
        two = self._two.setdefault(self._key, TwoFeels())
        _, layer_id, control, _ = self._key
        profile = self._view.profile
        made = two.change_over(profile, layer_id, control)
        label = f"{CONTROL_BY_NAME[control].label}: {two.labels[two.shown]}"
        if made == profile:
            self.changed.emit()  # the second has just begun, or both are equal
        else:
            self._view.edit(label, partial(copy_feel, source=made, layer_id=layer_id, control=control))
        self.said.emit(label)

    def take_press(self, slot: str) -> bool:
        """Handles a press on the pad; returns whether it was used here."""
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

    def _on_pad_requested(self) -> None:
        self._awaits_slot, self.slot = not (self._awaits_slot or self.slot), ""
        self.changed.emit()
