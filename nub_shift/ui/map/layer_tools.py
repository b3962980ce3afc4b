"""Tools for layers: creation, and changes of the shown one."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPoint, pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QMenu, QSpinBox, QWidget, QWidgetAction

from nub_shift.editing.document import Document, Edit
from nub_shift.editing.edits import layers as layer_edits
from nub_shift.editing.edits.removal import remove
from nub_shift.editing.words.keys.key_names import codes_named, written_name
from nub_shift.editing.words.labels import action_label, layer_words
from nub_shift.editing.words.slot_views import HUE_NAMES, comes_on, layer_letter, layer_mark
from nub_shift.keyboard.layout import Layout
from nub_shift.model.profile.actions import Action
from nub_shift.model.profile.effects import DoMove, PlaySequence, PressKeys
from nub_shift.model.profile.profile import BASE_LAYER, MAX_LAYERS, Profile
from nub_shift.model.references.named import Kind, Reference
from nub_shift.translation import inside, tr
from nub_shift.ui.look.drawing import layer_icon
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.menu_help import add_choices, add_field
from nub_shift.ui.widgets.menus import add_entry, add_menu
from nub_shift.ui.widgets.spins import make_spin, show_number


class LayerTools(QWidget):
    """The tools for layers.

    Attributes:
        new, tools, table: buttons.
        name, pace, keys: fields for name, pointer speed, and keys at activation and deactivation of the shown layer,
            while the tools are open.

    Signals:
        layer_made(str): layer that awaits its activating control.
        compare_requested(str, str): two layers to compare.
        layer_shown(str): layer to show.
        refused(str): reason for a refused text.
        table_requested(bool): show or hide the table of all layers.
    """

    layer_made = pyqtSignal(str)
    layer_shown = pyqtSignal(str)
    refused = pyqtSignal(str)
    table_requested = pyqtSignal(bool)
    compare_requested = pyqtSignal(str, str)

    def __init__(self, theme: Theme, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.name: QLineEdit | None = None
        self.menu: QMenu | None = None
        self.pace: QSpinBox | None = None
        self.keys: dict[str, QLineEdit] = {}
        self._document = document
        self._layer_id = BASE_LAYER
        self.new = TextButton(theme, tr("New layer"), tr("Then press the control that turns it on while held"))
        self.new.clicked.connect(self._on_new)
        self.tools = TextButton(theme, tr("Layer …"), tr("Rename, copy, move, base or remove the layer that is shown"))
        self.tools.clicked.connect(lambda _checked: self.open_tools())
        self.table = TextButton(theme, tr("Side by side"), tr("All layers over all controls"))
        self.table.setCheckable(True)
        self.table.toggled.connect(self.table_requested)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.px(4))
        row.addWidget(self.table)
        row.addWidget(self.new)
        row.addWidget(self.tools)

    def show_layer(self, layer_id: str) -> None:
        """Sets the layer of the tools."""
        self._layer_id = layer_id

    def fill(self, menu: QMenu, opener: QWidget) -> None:
        """Adds the buttons' functions to a menu opened by `opener`, for a window without room for the buttons."""
        add_entry(menu, self.table.text(), self.table.toggle, self.table.isChecked())
        add_entry(menu, self.new.text(), self._on_new)
        add_entry(menu, self.tools.text(), partial(self.open_tools, opener))

    def open_tools(self, opener: QWidget | None = None) -> None:
        """Shows the tools as a menu, the layer's name at its top."""
        profile, layer_id = self._document.profile, self._layer_id
        layer = profile.layer(layer_id)
        if layer is None:
            return
        menu = self.menu = QMenu(self)
        self.name = QLineEdit(layer.label)
        self.name.setMaxLength(60)
        self.name.setAccessibleName(tr("Name of the layer {layer}", layer=layer.label))
        self.name.returnPressed.connect(self._on_renamed)
        line = QWidgetAction(menu)
        line.setDefaultWidget(self.name)
        menu.addAction(line)
        add_entry(menu, tr("A copy above it"), self._on_copy)
        if layer_id != BASE_LAYER:
            for words in comes_on(profile, layer_id) or [tr("No control turns it on")]:
                add_entry(menu, words, menu.close).setEnabled(False)
            add_entry(menu, tr("Turn it on with …"), lambda: self.layer_made.emit(layer_id))
            self._add_edit(menu, tr("Further up"), tr("moved up"), partial(layer_edits.move, layer_id=layer_id, by=1))
            self._add_edit(
                menu, tr("Further down"), tr("moved down"), partial(layer_edits.move, layer_id=layer_id, by=-1)
            )
            self._add_hues(menu, profile, layer_id, layer.hue)
            self._add_bases(menu, profile, layer_id, layer.based_on)
            self._add_pace(menu, layer.pace)
            self._add_moves(add_menu(menu, tr("When the layer comes on")), profile, "enter", layer.enter)
            self._add_moves(add_menu(menu, tr("When the layer goes off")), profile, "leave", layer.leave)
            self._add_likes(menu, profile, layer_id)
            compares = add_menu(menu, tr("What differs from"))
            for other in profile.layers:
                if other.id != layer_id:
                    add_entry(compares, other.label, partial(self.compare_requested.emit, layer_id, other.id))
            add_entry(menu, tr("Remove this layer"), self._on_remove)
        opener = opener or self.tools
        menu.popup(opener.mapToGlobal(QPoint(0, opener.height())))
        self.name.setFocus()
        self.name.selectAll()

    def _add_bases(self, menu: QMenu, profile: Profile, layer_id: str, now: str | None) -> None:
        help_text = tr("Slots that this layer leaves empty are taken from that layer, and not from the one below.")
        bases = add_choices(menu, self.theme, tr("Based on"), help_text)
        nothing = partial(layer_edits.set_basis, layer_id=layer_id, basis=None)
        self._add_edit(bases, tr("Nothing"), tr("based on nothing"), nothing, now is None)
        for other in profile.layers:
            if other.id not in (layer_id, BASE_LAYER):
                based = partial(layer_edits.set_basis, layer_id=layer_id, basis=other.id)
                self._add_edit(bases, other.label, tr("based on another layer"), based, other.id == now)

    def _add_moves(self, menu: QMenu, profile: Profile, name: layer_edits.When, now: Action | None) -> None:
        """Adds the choice of a layer's action at activation or deactivation: written keys, a move or a sequence."""
        help_text = (
            tr("What you choose starts when the layer comes on, and ends when the layer goes off.")
            if name == "enter"
            else tr("What you choose happens once, when the layer goes off.")
        )
        key = self.keys[name] = QLineEdit(_written(now, self._document.layout()))
        key.setPlaceholderText(tr("Key, as F13 or Ctrl + C"))
        key.setAccessibleName(tr("Key as the layer comes on") if name == "enter" else tr("Key as the layer goes"))
        key.returnPressed.connect(partial(self._on_key, name))
        add_field(menu, self.theme, key, key.accessibleName(), help_text)
        if now is not None:
            words = action_label(profile, now, self._document.layout())
            add_entry(menu, tr("Steps: {words}", words=words), menu.close).setEnabled(False)
        actions: dict[str, Action | None] = {tr("Nothing"): None}
        actions |= {move.label: Action.of(DoMove(move.id)) for move in profile.moves if move.sent is not None}
        actions |= {found.label: Action.of(PlaySequence(found.id)) for found in profile.sequences}
        for label, action in actions.items():
            made = partial(layer_edits.set_transition, layer_id=self._layer_id, when=name, action=action)
            self._add_edit(menu, label, _done(label, name), made, now == action)

    def _on_key(self, name: layer_edits.When) -> None:
        """Handles keys written for a layer's activation or deactivation; an empty text removes the action."""
        text, layout = self.keys[name].text().strip(), self._document.layout()
        codes = codes_named(text, layout) if text else ()
        if self.menu is not None:
            self.menu.close()
        if codes is None:
            self.refused.emit(tr('"{words}" is no key: write it as F13 or Ctrl + C', words=text))
            return
        action = Action.of(PressKeys(codes)) if codes else None
        made = partial(layer_edits.set_transition, layer_id=self._layer_id, when=name, action=action)
        self._edit(_done(text or tr("Nothing"), name), made)

    def _add_likes(self, menu: QMenu, profile: Profile, layer_id: str) -> None:
        likes = add_menu(menu, tr("Make it like"))
        for other in profile.layers:
            if other.id != layer_id:
                like = partial(layer_edits.copy_content, layer_id=layer_id, other_id=other.id)
                self._add_edit(likes, other.label, tr("like another"), like)

    def _add_pace(self, menu: QMenu, now: float | None) -> None:
        self.pace = make_spin(tr("percent of the pointer speed while the layer is on"), 1, 2000, tr(" % look speed"))
        show_number(self.pace, round((now or 1.0) * 100))
        self.pace.editingFinished.connect(self._on_pace)
        help_text = tr("How fast the view and the pointer move while this layer is on. 100 % is as fast as without it.")
        add_field(menu, self.theme, self.pace, tr("look speed"), help_text)

    def _on_pace(self) -> None:
        if self.pace is not None:
            pace = self.pace.value() / 100
            paced = partial(layer_edits.set_pace, layer_id=self._layer_id, pace=pace if pace != 1.0 else None)
            self._edit(tr("{value} % look speed", value=self.pace.value()), paced)

    def _add_hues(self, menu: QMenu, profile: Profile, layer_id: str, now: int | None) -> None:
        help_text = tr("The colour of this layer in the window and on the screen while you play.")
        hues = add_choices(menu, self.theme, tr("Colour"), help_text)
        by_place = partial(layer_edits.set_hue, layer_id=layer_id, hue=None)
        self._add_edit(hues, tr("Automatic"), tr("automatic hue"), by_place, now is None)
        for number, name in enumerate(HUE_NAMES, 1):
            hued = partial(layer_edits.set_hue, layer_id=layer_id, hue=number)
            entry = self._add_edit(hues, name, inside(name), hued, number == now)
            entry.setIcon(layer_icon(self.theme, layer_mark(profile, layer_id).letter, number))

    def _add_edit(self, menu: QMenu, text: str, what: str, edit: Edit, checked: bool | None = None) -> QAction:
        return add_entry(menu, text, partial(self._edit, what, edit), checked)

    def _on_new(self) -> None:
        profile = self._document.profile
        if len(profile.layers) >= MAX_LAYERS:
            return
        label = tr("Layer {letter}", letter=layer_letter(len(profile.layers)))
        layer_id = layer_edits.new_id(profile, label)
        self._document.edit(tr("New layer"), partial(layer_edits.add, layer_id=layer_id, label=label))
        self.layer_made.emit(layer_id)

    def _on_copy(self) -> None:
        profile, layer_id = self._document.profile, self._layer_id
        copy_id = layer_edits.new_id(profile, layer_edits.copy_label(profile, layer_id))
        self._document.edit(tr("Copied layer"), partial(layer_edits.duplicate, layer_id=layer_id, copy_id=copy_id))
        self.layer_shown.emit(copy_id)

    def _on_remove(self) -> None:
        self._edit(tr("removed"), partial(remove, reference=Reference(Kind.LAYER, self._layer_id)))

    def _on_renamed(self) -> None:
        if self.name is not None and self.menu is not None:
            text = self.name.text().strip()
            self.menu.close()
            if text:
                self._edit(
                    tr("named {words}", words=text), partial(layer_edits.rename, layer_id=self._layer_id, label=text)
                )

    def _edit(self, what: str, edit: Edit) -> None:
        layer = self._document.profile.layer(self._layer_id)
        self._document.edit(f"{layer_words(layer.label if layer is not None else '')}: {what}", edit)


def _done(label: str, when: layer_edits.When) -> str:
    """Returns the label of an edit of a layer's action at activation or deactivation."""
    if when == "enter":
        return tr("{label} as it comes on", label=label)
    return tr("{label} as it goes", label=label)


def _written(action: Action | None, layout: Layout) -> str:
    """Returns the written keys of an action; empty for other effects."""
    effect = action.effect if action is not None else None
    return " + ".join(written_name(code, layout) for code in effect.keys) if isinstance(effect, PressKeys) else ""
