"""Activation rules of the profile, made by choosing windows, and the action when they are left."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from nub_shift.editing.document import Document
from nub_shift.editing.edits.activation import add_rule, remove_rule, set_leaving
from nub_shift.editing.rule_parts import RulePart, fitting, parts_of, rule_of
from nub_shift.editing.words.activation import FIELD_WORDS, rule_line, rule_words
from nub_shift.model.profile.activation import MAX_RULES, Front, Leaving, Rule
from nub_shift.protocol.messages import State
from nub_shift.translation import beginning, inside, tr, trn
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.play.session_windows import SessionWindows
from nub_shift.ui.widgets.buttons import Choice, TextButton
from nub_shift.ui.widgets.entry_rows import EntryPainter
from nub_shift.ui.widgets.help_mark import HelpMark
from nub_shift.ui.widgets.layouts import keep_room, quiet_scroll
from nub_shift.ui.widgets.plain import FittedLabel, PlainLabel, set_tooltip
from nub_shift.ui.widgets.wrapping_row import Turning, WrappingRow

_LEAVING = {
    Leaving.PAUSE: (tr("Pause"), tr("Nothing acts until the game is back; another program may have the pad")),
    Leaving.STAY: (tr("Play on"), tr("The profile goes on in whatever window is in front")),
    Leaving.BACK: (tr("Go back"), tr("To the profile that was chosen by hand before")),
    Leaving.OTHER: (tr("Go to …"), tr("To another profile of the library")),
}
# Width of the choice of conditions.
_CHOICE = 330
# Number of possible conditions, and of those always visible: usual ones come first.
_MOST_PARTS, _PARTS_SEEN = 5, 4
_WAITING = tr("Switch to your game now, then come back. Its window is noted.")
_NOT_TOLD = tr(
    "This session does not tell which windows are open. Write rules into the profile file, or choose by hand."
)


class RulesPanel(QWidget):
    """Shows and edits activation rules.

    Signals:
        said(str): a line for the person.
        tried(Front): window to treat as in front for a trial.
    """

    said = pyqtSignal(str)
    tried = pyqtSignal(object)

    def __init__(
        self, theme: Theme, document: Document, titles: Callable[[], list[str]], parent: QWidget | None = None
    ) -> None:
        """`titles` returns the titles of existing profiles."""
        super().__init__(parent)
        self._theme = theme
        self._document = document
        self._titles = titles
        self._fronts: list[Front] = []
        self._known_titles: list[str] = []
        self._parts: list[tuple[TextButton, RulePart]] = []
        self._follows = True
        self.windows = SessionWindows(self)
        self.windows.listed.connect(self._on_listed)
        self.windows.came.connect(self._on_came)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(6))
        self._head = PlainLabel()
        self._head.setFont(theme.font(1.05, bold=True))
        column.addWidget(self._head)
        rules = QWidget()
        self._rules = QVBoxLayout(rules)
        self._rules.setContentsMargins(0, 0, 0, 0)
        self._rules.setSpacing(theme.px(2))
        room = quiet_scroll(rules)
        room.setFixedHeight(theme.px(80))  # constant, so that nothing below moves
        column.addWidget(room)
        column.addWidget(self._make_leaving())
        self._adding = PlainLabel(tr("Add a window"))
        self._adding.setFont(theme.font(1.05, bold=True))
        self._adding.setContentsMargins(0, theme.px(10), 0, 0)
        column.addWidget(self._adding)
        column.addLayout(self._make_pointing())
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Open windows"))
        self.list.setItemDelegate(EntryPainter(theme, self.list))
        self.list.currentRowChanged.connect(self._show_parts)
        self.list.setMinimumHeight(theme.px(140))
        row = Turning(theme.px(12))
        row.box.addWidget(self.list, 1)
        row.box.addLayout(self._make_choice())
        column.addWidget(row, 1)
        document.on_change(self._on_changed)
        self._show()
        self._show_parts()

    @property
    def removers(self) -> list[TextButton]:
        """Buttons that remove a rule, one for each."""
        return [button for button in self.findChildren(TextButton) if button.objectName() == "remove"]

    @property
    def parts(self) -> dict[str, TextButton]:
        """Buttons of the chosen window's conditions, by the rule's field."""
        return {part.field: button for button, part in self._parts}

    def begin(self) -> None:
        """Lists the open windows and reads the library, when the station is shown."""
        self._known_titles = self._titles()
        self._show()
        self.windows.list()

    def end(self) -> None:
        """Stops listing, when the station is left."""
        self.windows.stop()
        self._print_waiting(False)

    def follow(self, state: State | None) -> None:
        """Shows the state of the runner: whether windows are reported in this session."""
        follows = state is None or state.follows
        if follows is not self._follows:
            self._follows = follows
            self._show()
            self._print_waiting(self.next.isChecked())
        self._show_count()

    def _make_leaving(self) -> QWidget:
        theme = self._theme
        row = WrappingRow(theme.px(6))
        row.head.addWidget(PlainLabel(tr("In other windows:")))
        self.leaving: dict[Leaving, Choice] = {}
        group = QButtonGroup(self)
        for leaving, (text, tip) in _LEAVING.items():
            choice = self.leaving[leaving] = Choice(theme, text, tip)
            group.addButton(choice)
            choice.clicked.connect(partial(self._on_leaving, leaving))
            row.head.addWidget(choice)
        self.other = QComboBox()
        self.other.setAccessibleName(tr("The profile to go to"))
        self.other.activated.connect(self._on_other)
        is_available = tr("What the profile does while another window than its game's is in front.")
        row.head.addWidget(HelpMark(theme, tr("In other windows:").rstrip(":"), is_available, self.other))
        row.head.addStretch(1)
        self.other.setFixedWidth(theme.px(170))
        keep_room(self.other)
        row.tail.addWidget(self.other)
        return row

    def _make_pointing(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(self._theme.px(6))
        self.next = TextButton(self._theme, tr("Next window in front"), tr("Notes the window that you switch to next"))
        self.next.setCheckable(True)
        self.next.clicked.connect(self._on_next)
        row.addWidget(self.next)
        self.refresh = TextButton(self._theme, tr("List again"), tr("Lists the windows that are open now"))
        self.refresh.clicked.connect(self.windows.list)
        row.addWidget(self.refresh)
        self._hint = PlainLabel()
        self._hint.setWordWrap(True)
        row.addWidget(self._hint, 1)
        return row

    def _make_choice(self) -> QVBoxLayout:
        """Returns the choice of conditions of the chosen window."""
        theme = self._theme
        column = QVBoxLayout()
        column.setSpacing(theme.px(4))
        head = QHBoxLayout()
        head.addWidget(PlainLabel(tr("What has to match:")))
        is_available = tr("The less you choose, the more windows fit: the program alone takes all of its windows.")
        head.addWidget(HelpMark(theme, tr("What has to match:").rstrip(":"), is_available))
        head.addStretch(1)
        column.addLayout(head)
        matching = QWidget()
        self._matching = QVBoxLayout(matching)
        self._matching.setContentsMargins(0, 0, 0, 0)
        self._matching.setSpacing(theme.px(4))
        self._matching.setAlignment(Qt.AlignmentFlag.AlignTop)
        room = quiet_scroll(matching)
        # Constant height for any window, so that the button below does not move.
        high = self.refresh.sizeHint().height() + theme.px(4)
        room.setMinimumHeight(_PARTS_SEEN * high)
        room.setMaximumHeight(_MOST_PARTS * high)
        column.addWidget(room, 1)
        column.addStretch()
        self._count = FittedLabel(theme.px(_CHOICE))
        column.addWidget(self._count)
        self.test = TextButton(
            theme,
            tr("Test with this window now"),
            tr("Shows for some seconds, at the left, what plays while that window is in front. Nothing is sent"),
        )
        self.test.clicked.connect(self._on_test)
        column.addWidget(self.test)
        self.add = TextButton(theme, tr("Add this window"), tr("The profile comes on with windows like this one"))
        self.add.clicked.connect(self._on_add)
        self.add.set_main(True)
        column.addWidget(self.add)
        return column

    def _show(self) -> None:
        """Shows what the profile says."""
        comes_on = self._document.profile.comes_on
        while (item := self._rules.takeAt(0)) is not None:
            gone = item.widget()
            if gone is not None:
                gone.hide()
                gone.deleteLater()
        for rule in comes_on.rules:
            self._rules.addWidget(self._rule_row(rule))
        if not comes_on.rules:
            self._rules.addWidget(PlainLabel(tr("Add the game's window below, and the profile comes on with it.")))
        self._rules.addStretch(1)
        title = self._document.profile.title
        if not comes_on.rules:
            self._head.setText(tr("{title} is chosen by hand", title=title))
        elif self._follows:
            self._head.setText(tr("{title} comes on by itself", title=title))
        else:
            self._head.setText(tr("{title} cannot come on by itself here", title=title))
        for leaving, choice in self.leaving.items():
            choice.setChecked(comes_on.when_left is leaving)
            choice.setEnabled(bool(comes_on.rules))
        others = [other for other in self._known_titles if other != title]
        self.other.clear()
        self.other.addItems(others)
        if comes_on.other and comes_on.other not in others:
            self.other.addItem(comes_on.other)
        self.other.setCurrentText(comes_on.other)
        self.other.setVisible(comes_on.when_left is Leaving.OTHER and bool(comes_on.rules))
        self.leaving[Leaving.OTHER].setEnabled(bool(comes_on.rules) and bool(others))

    def _on_changed(self) -> None:
        if self.isVisible():  # otherwise updated when the station is shown
            self._show()

    def _rule_row(self, rule: Rule) -> QWidget:
        theme = self._theme
        box = QWidget()
        row = QHBoxLayout(box)
        row.setContentsMargins(theme.px(8), 0, 0, 0)
        words = rule_words(rule)
        label = PlainLabel(rule_line(rule))
        set_tooltip(label, self._fit_words(rule))
        row.addWidget(label, 1)
        remove = TextButton(theme, tr("Remove"), tr("The profile no longer comes on with {words}", words=words))
        remove.setObjectName("remove")
        remove.setAccessibleName(tr("Remove: {words}", words=words))
        remove.clicked.connect(partial(self._on_remove, rule))
        row.addWidget(remove)
        return box

    def _fit_words(self, rule: Rule) -> str:
        return trn("Matches {count} open window", "Matches {count} open windows", len(fitting(rule, self._fronts)))

    def _on_remove(self, rule: Rule) -> None:
        self._document.edit(
            tr("No longer with {rule}", rule=rule_words(rule)), lambda profile: remove_rule(profile, rule)
        )

    def _on_leaving(self, leaving: Leaving) -> None:
        others = [other for other in self._known_titles if other != self._document.profile.title]
        other = others[0] if leaving is Leaving.OTHER else ""
        self._leave(leaving, other)

    def _on_other(self) -> None:
        self._leave(Leaving.OTHER, self.other.currentText())

    def _leave(self, leaving: Leaving, other: str) -> None:
        words = other if leaving is Leaving.OTHER else inside(_LEAVING[leaving][0])
        self._document.edit(
            tr("In other windows: {words}", words=words), lambda profile: set_leaving(profile, leaving, other)
        )

    def _on_next(self) -> None:
        waits = self.next.isChecked() and self.windows.await_next()
        if not waits:
            self.windows.stop()
        self._print_waiting(waits)

    def _print_waiting(self, waits: bool) -> None:
        self.next.setChecked(waits)
        self._hint.setText(_WAITING if waits else "" if self.windows.is_available and self._follows else _NOT_TOLD)

    def _on_came(self, front: Front) -> None:
        self._print_waiting(False)
        self._fronts = [front, *(other for other in self._fronts if other.window != front.window)]
        self._fill(front.window)
        self.said.emit(tr("Noted: {front}", front=front.title or tr("a window without a title")))

    def _on_listed(self, fronts: list[Front]) -> None:
        chosen = self._chosen
        self._fronts = fronts
        self._fill(chosen.window if chosen is not None else 0)
        if not self.next.isChecked():
            self._print_waiting(False)

    @property
    def _chosen(self) -> Front | None:
        row = self.list.currentRow()
        return self._fronts[row] if 0 <= row < len(self._fronts) else None

    def _fill(self, chosen: int) -> None:
        self.list.blockSignals(True)
        self.list.clear()
        for front in self._fronts:
            called = " · ".join(dict.fromkeys((*front.names[:1], *front.programs[-1:])))
            self.list.addItem(QListWidgetItem(f"{front.title or tr('No title')}\n{called}"))
        self.list.blockSignals(False)
        rows = [row for row, front in enumerate(self._fronts) if front.window == chosen]
        self.list.setCurrentRow(rows[0] if rows else -1)
        self._show_parts()
        self._show()

    def _show_parts(self) -> None:
        """Shows the possible conditions of the chosen window, each as a checkable button."""
        for button, _ in self._parts:
            button.hide()
            button.deleteLater()
        self._parts = []
        front = self._chosen
        for part in sorted(parts_of(front), key=lambda part: not part.usual) if front is not None else ():
            words = f"{beginning(FIELD_WORDS[part.field])}: {part.pattern}"
            room = self._theme.px(_CHOICE - 40)
            fits = QFontMetricsF(self._theme.font()).elidedText(words, Qt.TextElideMode.ElideMiddle, room)
            button = TextButton(self._theme, fits, words)
            button.setAccessibleName(words)
            button.setCheckable(True)
            button.setChecked(part.usual)
            button.clicked.connect(self._show_count)
            self._matching.addWidget(button)
            self._parts.append((button, part))
        self._show_count()

    @property
    def _rule(self) -> Rule:
        return rule_of(part for button, part in self._parts if button.isChecked())

    def _show_count(self) -> None:
        rule, front = self._rule, self._chosen
        full = len(self._document.profile.comes_on.rules) >= MAX_RULES
        self.add.setEnabled(bool(rule.patterns) and not full and rule not in self._document.profile.comes_on.rules)
        self.test.setEnabled(front is not None and self._follows)
        if front is None:
            words = tr("Choose a window in the list") if self._fronts else ""
        elif not rule.patterns:
            words = tr("Choose what has to match")
        else:
            others = len([other for other in fitting(rule, self._fronts) if other.window != front.window])
            words = (
                trn("Matches this window and {count} other", "Matches this window and {count} others", others)
                if others
                else tr("Matches only this window")
            )
        self._count.show_text(words)

    def _on_test(self) -> None:
        if self._chosen is not None:
            self.tried.emit(self._chosen)

    def _on_add(self) -> None:
        rule = self._rule
        self._document.edit(tr("Comes on with {rule}", rule=rule_words(rule)), lambda profile: add_rule(profile, rule))
        self._show_count()
