"""Rows for all settings of a control's feel, each with its effect on the hand."""

from __future__ import annotations

from functools import partial
from math import inf

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QSizePolicy, QWidget

from nub_shift.editing.edits import feel as feel_edits
from nub_shift.editing.edits.feel import ChoiceKind, NumberKind, Setting
from nub_shift.editing.words.feel_help import FeelHelp, feel_help
from nub_shift.model.profile.feel import LEAST_STEP
from nub_shift.model.profile.profile import Profile
from nub_shift.translation import beginning, tr, trn
from nub_shift.ui.feel.pictures.choice_pictures import SIDE, choice_icon
from nub_shift.ui.feel.settings.more_less import MoreLess
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.plain import PlainLabel, set_tooltip
from nub_shift.ui.widgets.spins import DecimalSpin, ScrollSafeChoice, show_number, show_range

_NONE = "none"
_WIDEST = 250  # width of a list
# Numbers that must be below others, by the ends of their paths.
_BELOW = (("off", "on"), ("off_degrees", "on_degrees"), ("slow_dps", "fast_dps"), ("dead_degrees", "full_degrees"))

_Path = tuple[str, ...]


class Numbers(QWidget):
    """Rows of one control. Values changed by the shown layer stand out.

    Attributes:
        fields: by the path of their setting.

    Signals:
        edited(str, Edit): description and edit of a changed setting.
    """

    edited = pyqtSignal(str, object)

    def __init__(self, theme: Theme, control: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.fields: dict[_Path, DecimalSpin | ScrollSafeChoice] = {}
        self._control = control
        self._layer_id = ""
        self._settings: dict[_Path, Setting] = {}
        self._rows: dict[_Path, tuple[QWidget, ...]] = {}
        self._names: dict[_Path, PlainLabel] = {}
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, theme.px(4), 0)
        self._grid.setHorizontalSpacing(theme.px(8))
        self._grid.setVerticalSpacing(theme.px(2))
        self._grid.setColumnStretch(0, 1)
        self.setAccessibleName(tr("Numbers of the feel"))

    def show_profile(self, profile: Profile, layer_id: str) -> None:
        """Shows a profile after an edit, or another layer."""
        self._layer_id = layer_id
        found = {setting.path: setting for setting in feel_edits.settings(profile, layer_id, self._control)}
        before, self._settings = self._settings, found
        if list(before) != list(found):
            self._make_rows()
        for path, setting in found.items():
            self._show(path, setting)

    def _make_rows(self) -> None:
        """Makes a row for each setting; rows of remaining settings are kept, since one may have the focus."""
        for path in [path for path in self._rows if path not in self._settings]:
            for widget in self._rows.pop(path):
                self._grid.removeWidget(widget)
                widget.hide()
                widget.deleteLater()
            self.fields.pop(path, None)
            self._names.pop(path, None)
        for number, (path, setting) in enumerate(self._settings.items()):
            if path not in self._rows:
                self._rows[path] = self._make_row(setting)
            name, help_line, *rest = self._rows[path]
            self._grid.addWidget(name, 2 * number, 0)
            self._grid.addWidget(help_line, 2 * number + 1, 0)
            for column, widget in enumerate(rest, 1):
                columns = 2 if len(rest) == 1 else 1
                self._grid.addWidget(widget, 2 * number, column, 2, columns, Qt.AlignmentFlag.AlignVCenter)
        self._grid.setRowStretch(2 * len(self._settings), 1)

    def _make_row(self, setting: Setting) -> tuple[QWidget, ...]:
        about = feel_help(self._control, setting.path)
        name = self._names[setting.path] = PlainLabel(setting.label)
        says = PlainLabel(about.text)
        says.setFont(self.theme.font(0.8))
        for label in (name, says):
            label.setWordWrap(True)
            label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        field = self._make_field(setting, about)
        if field is None:
            return name, says, PlainLabel(), MoreLess(self.theme, about.drawn)
        expected = setting.expected if isinstance(field, DecimalSpin) else ""
        if expected and isinstance(setting.kind, NumberKind) and setting.kind.may_be_none:
            expected = tr("not set, or {expected}", expected=expected)
        set_tooltip(field, beginning(expected))
        field.setAccessibleDescription(f"{about.text} {expected}".strip())
        self.fields[setting.path] = field
        if isinstance(field, ScrollSafeChoice):  # has icons of its own
            return name, says, field
        return name, says, field, MoreLess(self.theme, about.drawn)

    def _make_field(self, setting: Setting, about: FeelHelp) -> DecimalSpin | ScrollSafeChoice | None:
        """Returns the widget for a setting; None for points, which are dragged in the curve."""
        match setting.kind:
            case NumberKind(low, high, whole, may_be_none):
                decimals = 0 if whole else 3
                field = DecimalSpin(
                    setting.label, low, high, max(about.step, 1.0 if whole else 0.0), decimals, about.unit
                )
                if may_be_none:  # the value below the range stands for None
                    field.setRange(low - about.step, high)
                    field.setSpecialValueText(tr("Not set"))
                field.setFixedWidth(self.theme.px(96))
                field.valueChanged.connect(partial(self._on_number, setting.path))
                return field
            case ChoiceKind(words, names):
                choice = ScrollSafeChoice(setting.label, names)
                side = self.theme.px(SIDE)
                choice.setIconSize(QSize(side, side))
                for index, word in enumerate(words):
                    choice.setItemIcon(index, choice_icon(self.theme, setting.path[-1], word))
                choice.setFixedWidth(min(choice.sizeHint().width(), self.theme.px(_WIDEST)))
                choice.show_whole_list()
                choice.activated.connect(partial(self._on_choice, setting.path))
                return choice
            case _:
                return None

    def _show(self, path: _Path, setting: Setting) -> None:
        name, field = self._names[path], self.fields.get(path)
        name.setFont(self.theme.font(0.92, bold=setting.own))
        if isinstance(field, DecimalSpin) and isinstance(setting.kind, NumberKind):
            low, high = self._range(path, setting.kind)
            show_range(field, low, high, field.decimals())
            show_number(field, low if setting.text == _NONE else float(setting.text))
        elif isinstance(field, ScrollSafeChoice) and isinstance(setting.kind, ChoiceKind):
            field.setCurrentIndex(setting.kind.words.index(setting.text))
        else:
            value_label = self._rows[path][2]
            if isinstance(value_label, PlainLabel):
                value_label.setText(
                    tr("none")
                    if setting.text == "[]"
                    else trn("{count} point", "{count} points", setting.text.count("[") - 1)
                )

    def _range(self, path: _Path, kind: NumberKind) -> tuple[float, float]:
        """Returns the limits of a number given the others."""
        low, high = kind.low, kind.high
        for below, above in _BELOW:
            if path[-1] == below:
                high = min(high, self._number((*path[:-1], above), inf) - LEAST_STEP)
            if path[-1] == above:
                low = max(low, self._number((*path[:-1], below), -inf) + LEAST_STEP)
        if kind.may_be_none:
            low -= feel_help(self._control, path).step
        return low, high

    def _number(self, path: _Path, otherwise: float) -> float:
        setting = self._settings.get(path)
        return float(setting.text) if setting is not None and setting.text != _NONE else otherwise

    def _on_number(self, path: _Path, value: float) -> None:
        kind = self._settings[path].kind
        none = isinstance(kind, NumberKind) and kind.may_be_none and value < kind.low
        self._give(path, _NONE if none else f"{value:g}")

    def _on_choice(self, path: _Path, index: int) -> None:
        kind = self._settings[path].kind
        if isinstance(kind, ChoiceKind):
            self._give(path, kind.words[index])

    def _give(self, path: _Path, text: str) -> None:
        setting, layer_id, control = self._settings[path], self._layer_id, self._control
        if text == setting.text:
            return
        said = f"{setting.label} {text}"
        edit = partial(feel_edits.set_setting, layer_id=layer_id, control=control, path=path, text=text)
        self.edited.emit(said, edit)
