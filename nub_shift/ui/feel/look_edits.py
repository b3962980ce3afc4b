"""Looking speed and full turn as edits, from the row below the curve."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from nub_shift.editing.feel.look_speed import copy_from_game, set_speed, set_turn
from nub_shift.editing.pad_view import PadView
from nub_shift.model.problems import ProfileError
from nub_shift.protocol.messages import Telemetry
from nub_shift.store.library import titled_profiles
from nub_shift.store.profile_files import read_profile
from nub_shift.translation import tr
from nub_shift.ui.feel.edits import FeelEdits
from nub_shift.ui.feel.settings.turn_row import TurnRow
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.mouse_counts import MouseCounts


class LookEdits(QObject):
    """Applies the requests of its row.

    Signals:
        said(str): a line for the person.
    """

    said = pyqtSignal(str)

    def __init__(
        self, row: TurnRow, view: PadView, edits: FeelEdits, link: RunnerLink, parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self._row = row
        self._view = view
        self._edits = edits
        row.speed_typed.connect(self._on_speed)
        row.counts_typed.connect(self._on_counts)
        row.menu_requested.connect(self._on_menu)
        row.same_requested.connect(self._on_same)
        row.said.connect(self.said)
        link.telemetry.connect(self._on_telemetry)
        self._mouse = MouseCounts(self)
        self._mouse.moved.connect(self._on_mouse)
        row.measuring_changed.connect(self._on_measuring)

    def _on_telemetry(self, packet: Telemetry) -> None:
        if packet.seat == 0:
            self._row.take(packet.outputs)

    def _on_measuring(self, on: bool) -> None:
        self._row.counts_mouse = on and self._mouse.start()
        if not on:
            self._mouse.stop()

    def _on_mouse(self, counts: float) -> None:
        """Counts mouse motion outside our own window, where the mouse turns no view."""
        if not self._row.isActiveWindow():
            self._row.take_mouse(counts)

    def _on_speed(self, across: float, down: float) -> None:
        layer_id, control = self._edits.layer_id, self._edits.control
        x, y = float(round(across)), float(round(down))
        edit = partial(set_speed, layer_id=layer_id, control=control, across=x, down=y)
        self._edits.edit(tr("{across:.0f} × {down:.0f} counts a second", across=across, down=down), edit)

    def _on_counts(self, counts: int) -> None:
        self._view.edit(tr("Game: {counts} counts a turn", counts=counts), partial(set_turn, counts=float(counts)))

    def _others(self) -> dict[str, Path]:
        """Returns the other profiles of the library, by title."""
        path = self._view.path
        return {title: other for title, other in titled_profiles([path.parent]) if other != path}

    def _on_menu(self) -> None:
        self._row.offer(sorted(self._others()))

    def _on_same(self, title: str) -> None:
        try:
            other = read_profile(self._others()[title], self._view.layout)
        except KeyError:
            self.said.emit(tr("{title} is not in the library any more", title=title))
        except ProfileError as error:
            self.said.emit(tr("{title} cannot be read: {error}", title=title, error=error))
        else:
            edit = partial(copy_from_game, other=other, layer_id=self._edits.layer_id, control=self._edits.control)
            self._edits.edit(tr("as in {title}", title=title), edit)
