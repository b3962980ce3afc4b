"""Settings of the signs on the screen during play, with a preview."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from nub_shift.editing.document import Document
from nub_shift.editing.edits.signs import change_signs, show_kind, show_layer_sign
from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.signs import (
    MAX_LASTS_MS,
    MAX_SIZE,
    MIN_LASTS_MS,
    MIN_OPACITY,
    MIN_SIZE,
    Corner,
    Place,
    SignKind,
)
from nub_shift.translation import inside, tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.play.signs_preview import SignsPreview
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.flow import Flow
from nub_shift.ui.widgets.help_mark import HelpMark
from nub_shift.ui.widgets.layouts import quiet_scroll
from nub_shift.ui.widgets.plain import PlainLabel
from nub_shift.ui.widgets.spins import DecimalSpin, ScrollSafeChoice, show_number
from nub_shift.ui.widgets.wrapping_row import Turning

_KINDS = {
    SignKind.LAYER: (tr("Layers"), tr("Which layer comes on or goes")),
    SignKind.PROFILE: (tr("Profile"), tr("Which profile begins to play")),
    SignKind.LIVE: (tr("Live and pause"), tr("Whether the game gets what you press")),
    SignKind.TOGGLE: (tr("Toggles"), tr("What a toggle switches on or off")),
    SignKind.CAROUSEL: (tr("Carousels"), tr("Where a list of moves is, with the moves before and after")),
    SignKind.PACE: (tr("Look speed"), tr("When looking becomes slower or faster")),
    SignKind.BATTERY: (tr("Battery"), tr("When the battery of the pad is low")),
    SignKind.PAD: (tr("Pad"), tr("When the pad goes or comes back")),
}
_PLACES = {
    Place.TOP_LEFT: tr("Top left"),
    Place.TOP: tr("Top"),
    Place.TOP_RIGHT: tr("Top right"),
    Place.MIDDLE: tr("Below the middle"),
    Place.BOTTOM_LEFT: tr("Bottom left"),
    Place.BOTTOM: tr("Bottom"),
    Place.BOTTOM_RIGHT: tr("Bottom right"),
}
_CORNERS = {
    Corner.NONE: tr("Nowhere"),
    Corner.TOP_LEFT: tr("Top left"),
    Corner.TOP_RIGHT: tr("Top right"),
    Corner.BOTTOM_LEFT: tr("Bottom left"),
    Corner.BOTTOM_RIGHT: tr("Bottom right"),
}


class SignsPanel(QWidget):
    """Settings at the left, a small screen at the right."""

    def __init__(self, theme: Theme, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme = theme
        self._document = document
        self._layers: dict[str, TextButton] = {}
        settings = QWidget()
        column = QVBoxLayout(settings)
        column.setContentsMargins(0, 0, theme.px(8), 0)
        column.setSpacing(theme.px(6))
        self.shown = self._switch(
            tr("Show signs while you play"), tr("Short lines above the game; they take no clicks and no keys")
        )
        self.shown.clicked.connect(lambda on: self._edit(_on_off(tr("Signs"), on), shown=on))
        column.addWidget(self.shown)
        column.addWidget(self._head(tr("What signs show")))
        self.kinds: dict[SignKind, TextButton] = {}
        column.addWidget(self._kind_buttons())
        self._layers_head = self._head(tr("Layers shown"))
        column.addWidget(self._layers_head)
        chips = QWidget()
        self._chips = Flow(theme.px(5), chips, grows=True)
        column.addWidget(chips)
        column.addWidget(self._head(tr("How signs look")))
        column.addLayout(self._make_look())
        column.addStretch(1)
        self.rumble = self._switch(tr("Rumble too"), tr("The pad rumbles in short patterns, if it has motors"))
        self.rumble.clicked.connect(lambda on: self._edit(_on_off(tr("Rumble"), on), rumble=on))
        self.sound = self._switch(tr("Sound too"), tr("Plays a short sound for each change"))
        self.sound.clicked.connect(lambda on: self._edit(_on_off(tr("Sound"), on), sound=on))
        others = Flow(theme.px(5), other := QWidget(), grows=True)
        others.addWidget(self.rumble)
        others.addWidget(self.sound)
        column.insertWidget(1, other)
        self.preview = SignsPreview(theme, document.layout)
        row = Turning(theme.px(14))
        room = quiet_scroll(settings)
        room.setMinimumWidth(theme.px(330))
        row.box.addWidget(room, 1)
        row.box.addWidget(self.preview, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(row)
        document.on_change(self._on_changed)
        self.show_profile()

    def show_profile(self) -> None:
        """Shows the settings of the profile."""
        profile, signs = self._document.profile, self._document.profile.signs
        self.shown.setChecked(signs.shown)
        for kind, button in self.kinds.items():
            button.setChecked(kind not in signs.silent)
            button.setEnabled(signs.shown)
        self.rings.setChecked(signs.rings)
        self.rumble.setChecked(signs.rumble)
        self.sound.setChecked(signs.sound)
        self._show_layers(profile)
        self.place.setCurrentIndex(list(_PLACES).index(signs.place))
        self.badge.setCurrentIndex(list(_CORNERS).index(signs.badge))
        show_number(self.size_of, signs.size * 100)
        show_number(self.opacity, signs.opacity * 100)
        show_number(self.lasts, signs.lasts_ms / 1000)
        for field in (self.rings, self.place, self.badge, self.size_of, self.opacity, self.lasts):
            field.setEnabled(signs.shown)
        self.preview.show_profile(profile)

    @property
    def layers(self) -> dict[str, TextButton]:
        """A switch for each layer except the base layer, by its id."""
        return self._layers

    def _on_changed(self) -> None:
        if self.isVisible():
            self.show_profile()

    def _head(self, text: str) -> PlainLabel:
        label = PlainLabel(text)
        label.setFont(self._theme.font(1.0, bold=True))
        label.setContentsMargins(0, self._theme.px(8), 0, 0)
        return label

    def _switch(self, text: str, help_text: str) -> TextButton:
        button = TextButton(self._theme, text, help_text)
        button.setCheckable(True)
        return button

    def _kind_buttons(self) -> QWidget:
        box = QWidget()
        flow = Flow(self._theme.px(5), box, grows=True)
        for kind, (text, help_text) in _KINDS.items():
            button = self.kinds[kind] = self._switch(text, help_text)
            button.clicked.connect(partial(self._on_kind, kind))
            flow.addWidget(button)
        self.rings = self._switch(
            tr("Rings and grids"), tr("Drawn in the middle of the screen while open, with your stick in them")
        )
        self.rings.clicked.connect(lambda on: self._edit(_on_off(tr("Rings on the screen"), on), rings=on))
        flow.addWidget(self.rings)
        return box

    def _make_look(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(self._theme.px(8))
        grid.setVerticalSpacing(self._theme.px(5))
        self.place = ScrollSafeChoice(tr("Place of signs"), list(_PLACES.values()))
        self.place.activated.connect(lambda row: self._edit(tr("Place of signs"), place=list(_PLACES)[row]))
        self.badge = ScrollSafeChoice(tr("Badge in a corner"), list(_CORNERS.values()))
        self.badge.activated.connect(lambda row: self._edit(tr("Badge"), badge=list(_CORNERS)[row]))
        self.size_of = DecimalSpin(tr("Size of signs"), MIN_SIZE * 100, MAX_SIZE * 100, 10, 0, " %")
        self.size_of.valueChanged.connect(lambda value: self._edit(tr("Size of signs"), size=value / 100))
        self.opacity = DecimalSpin(tr("Opacity of signs"), MIN_OPACITY * 100, 100, 5, 0, " %")
        self.opacity.valueChanged.connect(lambda value: self._edit(tr("Opacity of signs"), opacity=value / 100))
        self.lasts = DecimalSpin(tr("How long signs stay"), MIN_LASTS_MS / 1000, MAX_LASTS_MS / 1000, 0.1, 1, " s")
        self.lasts.valueChanged.connect(
            lambda value: self._edit(tr("How long signs stay"), lasts_ms=round(value * 1000))
        )
        rows = (
            (tr("Where"), self.place, tr("Where signs come on the screen.")),
            (tr("Size"), self.size_of, tr("More: they can be read from further away, and cover more of the game.")),
            (tr("Opacity"), self.opacity, tr("Less: more of the game shines through.")),
            (tr("Shown for"), self.lasts, tr("How long a sign stays before it goes.")),
            (
                tr("Badge in a corner"),
                self.badge,
                tr("A small mark that always shows which layers and toggles are on."),
            ),
        )
        for number, (text, field, help_text) in enumerate(rows):
            field.setFixedWidth(self._theme.px(150))
            label = PlainLabel(text)
            label.setBuddy(field)
            grid.addWidget(label, number, 0)
            grid.addWidget(field, number, 1)
            grid.addWidget(HelpMark(self._theme, text, help_text, field), number, 2)
        grid.setColumnStretch(3, 1)
        return grid

    def _show_layers(self, profile: Profile) -> None:
        layers = {layer.id: layer for layer in profile.layers[1:]}
        if list(layers) != list(self._layers) or any(self._layers[key].text() != layers[key].label for key in layers):
            while (item := self._chips.takeAt(0)) is not None:
                gone = item.widget()
                if gone is not None:
                    gone.hide()
                    gone.deleteLater()
            self._layers = {}
            for layer_id, layer in layers.items():
                button = self._layers[layer_id] = self._switch(layer.label, "")
                button.clicked.connect(partial(self._on_layer, layer_id))
                self._chips.addWidget(button)
        for layer_id, button in self._layers.items():
            button.setChecked(not layers[layer_id].silent)
            button.setEnabled(profile.signs.shown and SignKind.LAYER not in profile.signs.silent)
        self._layers_head.setVisible(bool(layers))

    def _on_kind(self, kind: SignKind, on: bool) -> None:
        self._do(
            _on_off(tr("Signs of {kind}", kind=inside(_KINDS[kind][0])), on),
            lambda profile: show_kind(profile, kind, on),
        )

    def _on_layer(self, layer_id: str, on: bool) -> None:
        label = self._layers[layer_id].text()
        self._do(
            _on_off(tr("Sign of {label}", label=label), on),
            lambda profile: show_layer_sign(profile, layer_id, on),
        )

    def _edit(self, label: str, **settings: object) -> None:
        self._do(label, lambda profile: change_signs(profile, **settings))

    def _do(self, label: str, change: Callable[[Profile], Profile]) -> None:
        if change(self._document.profile) != self._document.profile:
            self._document.edit(label, change)
        self.show_profile()


def _on_off(what: str, on: bool) -> str:
    return tr("{what} on", what=what) if on else tr("{what} off", what=what)
