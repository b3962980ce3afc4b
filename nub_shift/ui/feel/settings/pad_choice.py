"""Choice between the feel for all pads and the changes for one pad."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPoint, pyqtSignal
from PyQt6.QtWidgets import QWidget

from nub_shift.editing.pad_view import PadView
from nub_shift.protocol.messages import PadInfo
from nub_shift.translation import tr
from nub_shift.ui.frame.live import Live
from nub_shift.ui.frame.pads_live import PadsLive
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.menus import add_entry, passing_menu
from nub_shift.ui.widgets.plain import set_tooltip

_FOR_ALL = tr("For all pads")
_HELP = tr("Sets this feel for all pads, or for one pad that differs")
_LAYERS = tr("What a layer changes applies to all pads")
WHICH_PADS_HELP = f"{_HELP}. {_LAYERS}."


class PadChoice(TextButton):
    """Shows the chosen pad, and offers the others.

    Signals:
        chosen(): another pad was chosen.
    """

    chosen = pyqtSignal()

    def __init__(self, theme: Theme, view: PadView, live: Live, pads: PadsLive, parent: QWidget | None = None) -> None:
        super().__init__(theme, _FOR_ALL, _HELP, parent)
        self._view = view
        self._live = live
        self._pads = pads
        self.clicked.connect(self._on_clicked)

    @property
    def key(self) -> str:
        """Key of the pad whose movements are shown: the chosen one, else ours."""
        one = self._one
        return one.key if one is not None else self._live.pad_key

    @property
    def is_ours(self) -> bool:
        """Whether the shown pad is that of the first player."""
        return self.key == self._live.pad_key

    @property
    def values(self) -> dict[str, float]:
        """Present values of the chosen pad."""
        return self._live.values if self.is_ours else self._pads.values.get(self.key, {})

    @property
    def controls(self) -> tuple[str, ...]:
        """Controls of the chosen pad; none while the pad is away."""
        one, seat = self._one, self._live.seat
        if one is not None:
            return one.controls
        return seat.pad.controls if seat is not None else ()

    @property
    def _one(self) -> PadInfo | None:
        """The chosen pad, if connected; of several candidates, ours."""
        alike = [pad for pad in self._pads.pads if self._view.identity and pad.marks == self._view.identity]
        return next((pad for pad in alike if pad.key == self._live.pad_key), alike[0] if alike else None)

    def show_layer(self, is_base: bool) -> None:
        """Enables the choice for the base layer; a layer's changes apply to all pads."""
        self.setEnabled(is_base)
        self.setText(tr("For {name} only", name=self._view.name) if self._view.identity else _FOR_ALL)
        self.setAccessibleName(self.text())
        set_tooltip(self, _HELP if is_base else _LAYERS)

    def choose(self, identity: str, name: str) -> None:
        """Chooses one pad, or all pads by empty texts."""
        if identity != self._view.identity:
            self._view.identity, self._view.name = identity, name
            self.chosen.emit()

    def _on_clicked(self) -> None:
        menu = passing_menu(self)
        known = {pad.identity: pad.name for pad in self._view.profile.pads}
        known |= {pad.marks: pad.name for pad in self._pads.pads if pad.marks}
        add_entry(menu, _FOR_ALL, partial(self.choose, "", ""), not self._view.identity)
        for identity, name in known.items():
            add_entry(
                menu,
                tr("For {name} only", name=name),
                partial(self.choose, identity, name),
                identity == self._view.identity,
            )
        menu.popup(self.mapToGlobal(QPoint(0, self.height())))
