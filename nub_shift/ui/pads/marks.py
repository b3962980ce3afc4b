"""Data of a pad given by the person: name, colour, labels, players, parts."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMenu,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from nub_shift.editing.words.players import player_words
from nub_shift.model.controls import CONTROL_BY_NAME, FINGER_LABELS, Kind
from nub_shift.model.pad.labels import LabelStyle
from nub_shift.model.pad.pad_menu import opener_of
from nub_shift.protocol.messages import PadInfo
from nub_shift.translation import inside, tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.pads.shown_pad import ShownPad
from nub_shift.ui.widgets.buttons import Choice, TextButton
from nub_shift.ui.widgets.colour_dots import ColourDots
from nub_shift.ui.widgets.flow import Flow
from nub_shift.ui.widgets.help_mark import HelpMark
from nub_shift.ui.widgets.layouts import keep_room
from nub_shift.ui.widgets.menus import add_entry
from nub_shift.ui.widgets.plain import PlainLabel, set_tooltip

_STYLES = {
    LabelStyle.POSITIONS: tr("Nothing"),
    LabelStyle.LETTERS: tr("A low, B right"),
    LabelStyle.LETTERS_SWAPPED: tr("B low, A right"),
    LabelStyle.SHAPES: tr("Shapes"),
    LabelStyle.NUMBERS: tr("Numbers"),
}


class PadMarks(QScrollArea):
    """Sections about the shown pad.

    Attributes:
        name: its name.
        colours, styles: its colour; buttons by label style.
        own, worked_by: label and finger of the selected control.
        play, beside, share, leave, join, apart: buttons.
        players: player of the selected control on a shared pad.
    """

    def __init__(
        self, theme: Theme, shown: ShownPad, profiles: Callable[[], Mapping[str, str]], parent: QWidget | None = None
    ) -> None:
        """`profiles` lists the profiles for a second seat: titles by file."""
        super().__init__(parent)
        self.theme = theme
        self._shown = shown
        self._pad: PadInfo | None = None
        self._profiles = profiles
        self._others: dict[str, str] = {}
        self._control = ""
        self._chosen = ""
        self._seconds: Collection[str] = ()
        inner = QWidget()
        self._column = QVBoxLayout(inner)
        self._column.setContentsMargins(theme.px(4), 0, theme.px(10), 0)
        self._column.setSpacing(theme.px(4))
        self.setWidget(inner)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.name = QLineEdit()
        self.name.setAccessibleName(tr("Name of the pad"))
        self.name.setMaxLength(60)
        self.name.editingFinished.connect(self._on_named)
        help_text = tr(
            "The name and colour of this pad everywhere in the window. They tell two pads of one kind apart."
        )
        self._add_explained(tr("Name and colour"), help_text)
        self._column.addWidget(self.name)
        self.colours = ColourDots(theme)
        self.colours.picked.connect(shown.set_colour)
        self._column.addWidget(self.colours)
        self._labels_heading, self._labels_help = self._add_explained(
            tr("Printed on its buttons"), tr("What the buttons of this pad are then called in all of the window.")
        )
        self.styles = {style: Choice(theme, text) for style, text in _STYLES.items()}
        self._column.addLayout(self._make_style_rows())
        self._own_label = PlainLabel()
        self._own_label.setFont(theme.font(0.92))
        self._own_label.setWordWrap(True)
        self._own_label.setMinimumHeight(2 * self._own_label.fontMetrics().lineSpacing())
        self.own = QLineEdit()
        self.own.setMaxLength(12)
        self.own.setAccessibleName(tr("Printed on the chosen control"))
        self.own.editingFinished.connect(self._on_labelled)
        row = QHBoxLayout()
        row.addWidget(self._own_label, 1)
        row.addWidget(self.own, 1)
        self._column.addLayout(row)
        self.worked_by = QComboBox()
        for finger, label in FINGER_LABELS.items():
            self.worked_by.addItem(label, finger.value)
        self.worked_by.activated.connect(self._on_finger)
        # Fits beside a scroll bar; the row gives it all remaining width.
        self.worked_by.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.worked_by.setMinimumContentsLength(10)
        self._worked_label = PlainLabel(tr("Worked by:"))
        self._worked_label.setFont(theme.font(0.92))
        row = QHBoxLayout()
        row.addWidget(self._worked_label)
        row.addWidget(self.worked_by, 1)
        fingers = tr("Map is laid out by it, and says which moves no two fingers can reach at the same time.")
        self._worked_help = HelpMark(theme, tr("worked by"), fingers, self.worked_by)
        row.addWidget(self._worked_help)
        self._column.addLayout(row)
        self.menu = TextButton(theme, tr("Opens the menu when held"), tr("The menu on the screen while you play"))
        self.menu.setCheckable(True)
        self.menu.clicked.connect(self._on_menu)
        self._column.addWidget(self.menu)
        for about_control in (self.own, self._worked_label, self.worked_by, self._worked_help, self.menu):
            keep_room(about_control)
        self._add_heading(tr("Who plays with it"))
        self._plays = PlainLabel()
        self._plays.setWordWrap(True)
        self._column.addWidget(self._plays)
        self.play = TextButton(theme, tr("Play the open profile with it"))
        self.play.clicked.connect(shown.play)
        self.beside = TextButton(
            theme, tr("Add as another player …"), tr("A second pad in the same game, with a profile of its own")
        )
        self.beside.clicked.connect(lambda: self._pop_up(self.beside, self._profiles(), shown.add_player))
        self.share = TextButton(
            theme,
            tr("Share with another player …"),
            tr("One pad for two people: each plays a profile on one half"),
        )
        self.share.clicked.connect(
            lambda: self._pop_up(self.share, self._profiles(), partial(shown.add_player, shares=True))
        )
        self.leave = TextButton(theme, tr("Stop playing with it"))
        self.leave.clicked.connect(shown.remove_player)
        for button in (self.play, self.beside, self.share, self.leave):
            self._column.addWidget(button)
        self._shared = PlainLabel()
        self._shared.setWordWrap(True)
        self._shared.setFont(theme.font(0.92))
        self._column.addWidget(self._shared)
        both = QWidget()
        self.players = (Choice(theme, player_words(0)), Choice(theme, player_words(1)))
        row = QHBoxLayout(both)
        row.setContentsMargins(0, 0, 0, 0)
        for at, choice in enumerate(self.players):
            choice.clicked.connect(partial(self._on_player, at))
            row.addWidget(choice)
        row.addStretch(1)
        self._both = both
        self._column.addWidget(both)
        self._parts_heading = self._add_heading(tr("One pad of several devices"))
        self._parts = QVBoxLayout()
        self._parts.setSpacing(0)
        self._column.addLayout(self._parts)
        self.join = TextButton(theme, tr("Combine with …"), tr("Two devices that you hold as one pad"))
        self.join.clicked.connect(lambda: self._pop_up(self.join, self._others, shown.combine))
        self.apart = TextButton(theme, tr("Separate"))
        self.apart.clicked.connect(shown.separate)
        for button in (self.join, self.apart):
            self._column.addWidget(button)
        self._column.addStretch(1)
        self.moving: dict[str, TextButton] = {}

    def show_pad(
        self, pad: PadInfo, style: LabelStyle, plays: Sequence[str], seconds: Collection[str], others: dict[str, str]
    ) -> None:
        """Shows a pad.

        Args:
            pad: the pad.
            style: style of its labels.
            plays: profiles of its seats.
            seconds: controls of the second of two players.
            others: pads to combine with, names by key.
        """
        self._pad = pad
        self._others = others
        self._seconds = seconds
        usable = bool(pad.controls)
        if not self.name.hasFocus():
            self.name.setText(pad.name)
        self.name.setEnabled(usable)
        self.colours.show_colour(pad.colour)
        self.styles[style].setChecked(True)
        for button in self.styles.values():
            button.setVisible(usable and not pad.parts)
        for widget in (self._labels_heading, self._labels_help, self._own_label):
            widget.setVisible(usable and not pad.parts)
        self.show_control(self._chosen if self._chosen in pad.controls else "", pad.printed)
        lines = [
            tr("{player} plays {title}", player=player_words(seat), title=title)
            for seat, title in zip(pad.seats, plays, strict=True)
        ]
        self._plays.setText("\n".join(lines) if lines else tr("Nobody plays with this pad"))
        shared = len(pad.seats) > 1
        self.play.setVisible(usable and not shared and 0 not in pad.seats)
        self.beside.setVisible(usable and not pad.seats)
        self.share.setVisible(usable and len(pad.seats) == 1)
        self.leave.setVisible(max(pad.seats, default=0) > 0)
        self.leave.setText(tr("Stop sharing it") if shared else tr("Stop playing with it"))
        for seat, choice in zip(pad.seats, self.players, strict=False):
            choice.setText(player_words(seat))
            choice.setAccessibleName(tr("{player} has the chosen control", player=player_words(seat)))
        self._show_player()
        self.join.setVisible(usable and not pad.parts and bool(others))
        self.apart.setVisible(bool(pad.parts))
        self._parts_heading.setVisible(bool(pad.parts or others))
        self._show_parts(pad)

    def begin_naming(self) -> None:
        """Focuses the label of the selected control."""
        if self.own.isVisible():
            self.own.setFocus(Qt.FocusReason.ShortcutFocusReason)
            self.own.selectAll()

    def show_control(self, control: str, printed: Mapping[str, str]) -> None:
        """Offers to label a control."""
        self._chosen = control
        able = self._pad is not None and not self._pad.parts and control in CONTROL_BY_NAME
        self._control = control if able else ""
        label = CONTROL_BY_NAME[control].label if able else ""
        self._own_label.setText(f"{label}:" if able else tr("Press or click a control to name it"))
        self.own.setVisible(able)
        self.own.setAccessibleName(tr("Printed on {label}", label=inside(label)))
        if not self.own.hasFocus():
            self.own.setText(printed.get(control, ""))
        for widget in (self.worked_by, self._worked_label, self._worked_help):
            widget.setVisible(able)
        self.worked_by.setAccessibleName(tr("{label} is worked by", label=label))
        button = able and CONTROL_BY_NAME[control].kind is Kind.BUTTON
        self.menu.setVisible(button)
        if button and self._pad is not None:
            self.menu.setChecked(control == opener_of(self._pad.controls, self._pad.menu))
        if able and self._pad is not None:
            finger = self._pad.fingers.get(control, CONTROL_BY_NAME[control].finger)
            self.worked_by.setCurrentText(FINGER_LABELS[finger])
        self._show_player()

    def _show_player(self) -> None:
        """Offers to give the selected control to the other one of two players."""
        shared = self._pad is not None and len(self._pad.seats) > 1
        chosen = self._chosen in CONTROL_BY_NAME
        label = CONTROL_BY_NAME[self._chosen].label if chosen else ""
        self._shared.setText(
            tr("{label} is for:", label=label) if chosen else tr("Press or click a control to choose its player")
        )
        self._shared.setVisible(shared)
        self._both.setVisible(shared)
        for choice in self.players:
            choice.setEnabled(chosen)
        self.players[int(self._chosen in self._seconds)].setChecked(True)

    def _on_finger(self) -> None:
        if self._control:
            self._shown.set_finger(self._control, self.worked_by.currentData())

    def _on_menu(self) -> None:
        """Sets the menu button, or resets it at a second press."""
        self._shown.set_menu(self._control if self.menu.isChecked() else "")

    def _on_player(self, at: int) -> None:
        if self._chosen:
            self._shown.set_player(self._chosen, at)

    def _show_parts(self, pad: PadInfo) -> None:
        if [part.identity for part in pad.parts] != list(self.moving):
            self._lay_out_parts(pad)
        for part in pad.parts:
            button = self.moving[part.identity]
            button.setChecked(part.identity == pad.moving)
            button.setEnabled(part.motion)

    def _lay_out_parts(self, pad: PadInfo) -> None:
        for button in self.moving.values():
            self._parts.removeWidget(button)
            button.deleteLater()
        self.moving = {}
        for part in pad.parts:
            button = TextButton(self.theme, part.name)
            button.setCheckable(True)
            set_tooltip(button, tr("Use the gyro of this part") if part.motion else tr("This part has no gyro"))
            button.setAccessibleName(tr("{part}: use its gyro", part=part.name))
            button.clicked.connect(lambda _checked, found=part.identity: self._shown.set_moving_part(found))
            self.moving[part.identity] = button
            self._parts.addWidget(button)

    def _add_explained(self, text: str, help_text: str) -> tuple[QLabel, HelpMark]:
        """Adds a heading with a question mark; returns both."""
        label = self._add_heading(text)
        self._column.removeWidget(label)
        mark = HelpMark(self.theme, text, help_text)
        row = QHBoxLayout()
        row.addWidget(label)
        row.addWidget(mark, 0, Qt.AlignmentFlag.AlignBottom)
        row.addStretch(1)
        self._column.addLayout(row)
        return label, mark

    def _add_heading(self, text: str) -> QLabel:
        label = PlainLabel(text)
        label.setFont(self.theme.font(0.92, bold=True))
        label.setContentsMargins(0, self.theme.px(8), 0, 0)
        self._column.addWidget(label)
        return label

    def _make_style_rows(self) -> Flow:
        rows = Flow(self.theme.px(2), grows=True)
        group = QButtonGroup(self)  # otherwise all nested radio buttons would belong to one group
        for style, button in self.styles.items():
            group.addButton(button)
            button.setAccessibleName(tr("Printed on its buttons: {button}", button=button.text()))
            button.clicked.connect(lambda _checked, found=style.value: self._shown.set_style(found))
            rows.addWidget(button)
        return rows

    def _pop_up(self, button: TextButton, choices: Mapping[str, str], chosen: Callable[[str], object]) -> None:
        menu = QMenu(self)
        for key, text in choices.items():
            add_entry(menu, text, partial(chosen, key))
        menu.popup(button.mapToGlobal(button.rect().bottomLeft()))

    def _on_named(self) -> None:
        text = self.name.text().strip()
        if self._pad is not None and text and text != self._pad.name:
            self._shown.rename(text)

    def _on_labelled(self) -> None:
        text = self.own.text().strip()
        if self._pad is not None and self._control and text != self._pad.printed.get(self._control, ""):
            self._shown.set_label(self._control, text)
