"""Wishes about a control as edits: from the list, by the next press on the pad, or by a starting point."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import QObject, QPoint, pyqtSignal

from nub_shift.editing.feel.wishes import AS_IT_WAS, PressWish, Wish, original_wish, wishes
from nub_shift.editing.starting_points import STARTING_POINTS, start_from
from nub_shift.model.controls import slot_label
from nub_shift.model.pad.measures import Measured
from nub_shift.model.profile.profile import Profile
from nub_shift.translation import inside, tr
from nub_shift.ui.feel.edits import FeelEdits
from nub_shift.ui.feel.settings.known import known_line
from nub_shift.ui.feel.settings.wish_list import WishList
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.menus import add_entry, passing_menu


class WishEdits(QObject):
    """Connects the list of wishes with the edits of a control.

    Signals:
        said(str): a line for the person.
    """

    said = pyqtSignal(str)

    def __init__(self, shown: WishList, start: TextButton, edits: FeelEdits, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._shown = shown
        self._start = start
        self._edits = edits
        self._awaits: PressWish | None = None
        shown.wished.connect(self._on_wished)
        start.clicked.connect(self._on_start)

    def show_profile(self, profile: Profile, started: Profile, measured: Sequence[Measured]) -> None:
        """Shows the wishes for the control; `started` is the profile at the first change of it."""
        layer_id, control = self._edits.layer_id, self._edits.control
        back = original_wish(started, profile, layer_id, control)
        wanted = wishes(profile, layer_id, control)
        self._shown.show_note(known_line(measured, control))
        self._shown.show_wishes([*wanted, *([back] if back is not None else [])], AS_IT_WAS)

    def take_press(self, slot: str) -> bool:
        """Handles a press on the pad; returns whether it was awaited."""
        wish, self._awaits = self._awaits, None
        if wish is None:
            return False
        self._edits.edit(inside(wish.text).replace("…", inside(slot_label(slot))), wish.edit_of(slot))
        return True

    def _on_wished(self, wish: Wish | PressWish) -> None:
        if isinstance(wish, PressWish):
            self._awaits = wish
            self.said.emit(tr("Press the control on the pad that should do that"))
        else:
            self._edits.edit(inside(wish.text), wish.edit)

    def _on_start(self) -> None:
        """Offers starting points with their purpose."""
        menu = passing_menu(self._start)
        for point in STARTING_POINTS:
            edit = start_from(point, self._edits.layer_id, self._edits.control)
            add_entry(menu, f"{point.name}: {point.text}", partial(self._edits.edit, point.name, edit))
        menu.popup(self._start.mapToGlobal(QPoint(0, self._start.height())))
