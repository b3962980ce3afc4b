"""Action of the selected slot as a sentence: when, how, what. Common words are buttons, rare ones in menus."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from functools import partial

from PyQt6.QtWidgets import QAbstractButton, QButtonGroup, QGridLayout, QWidget

from nub_shift.editing.edits import shared_parts as part_edits
from nub_shift.editing.words.effects import Menu, uses_label
from nub_shift.editing.words.frame_rate import seen_words, shortest_words
from nub_shift.editing.words.labels import (
    MANNER_HELP,
    MANNER_WORDS,
    REACTION_HELP,
    REACTION_WORDS,
    action_label,
)
from nub_shift.keyboard.layout import Layout
from nub_shift.model.profile.actions import REPEATS, Manner
from nub_shift.model.profile.effects import Silence
from nub_shift.model.profile.reactions import Reaction, time_of, waiting_ms
from nub_shift.model.references.assignments import action_of
from nub_shift.model.references.walk import sent_keys
from nub_shift.translation import inside, tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.editor.amounts import Amounts
from nub_shift.ui.map.editor.cell_edits import CellEdits
from nub_shift.ui.map.editor.effect_menu import EffectMenu
from nub_shift.ui.map.editor.pair_menu import HOW_HELP, possible_manners
from nub_shift.ui.map.editor.place import Place
from nub_shift.ui.map.editor.written_line import WrittenLine
from nub_shift.ui.widgets.buttons import Choice, TextButton
from nub_shift.ui.widgets.flow import Flow
from nub_shift.ui.widgets.help_mark import HelpMark
from nub_shift.ui.widgets.layouts import keep_room
from nub_shift.ui.widgets.menus import add_entry, passing_menu
from nub_shift.ui.widgets.plain import FittedLabel, PlainLabel, set_tooltip
from nub_shift.ui.widgets.spins import make_spin, show_number

# Reactions with a button; the others are in a menu.
_USUAL_REACTIONS = (Reaction.PRESS, Reaction.TAP, Reaction.HOLD)
_USUAL_MANNERS = (Manner.HELD, Manner.TOGGLE, Manner.TURBO)
_MOVE_HERE = tr("Move here")
# Labels of the buttons that open menus.
_OTHER_TIMES, _OTHER_WAYS, _OTHER_ACTIONS = tr("Twice, long …"), tr("Once, pulse …"), tr("Wheel, steps …")


class ActionBar(QWidget):
    """The sentence. Each row keeps its place when empty.

    Attributes:
        reactions, manners: buttons by their choice; rare ones are in the menus of the next two.
        take_over: moves the action of another reaction here.
        other_reactions, other_manners: menus of rare choices, which show a chosen one.
        does: present action of the slot.
        layer, other, whole: menus of effects other than plain keys.
        amounts: numbers and switches of the effect.
        widest: width with all content.
    """

    def __init__(
        self,
        theme: Theme,
        edits: CellEdits,
        titles: Callable[[], list[str]],
        written: WrittenLine,
        parent: QWidget | None = None,
    ) -> None:
        """`titles` lists the profiles that a slot can change to; keys and sequences are written in `written`."""
        super().__init__(parent)
        self.theme = theme
        self._place: Place | None = None
        self._edits = edits
        self._titles = titles
        self.reactions = {one: Choice(theme, REACTION_WORDS[one], REACTION_HELP[one]) for one in _USUAL_REACTIONS}
        self.manners = {one: Choice(theme, MANNER_WORDS[one]) for one in _USUAL_MANNERS}
        self.other_reactions = Choice(theme, _OTHER_TIMES, tr("Two or three taps, a long hold, or when you let go"))
        self.other_manners = Choice(theme, _OTHER_WAYS, tr("Once, pulse, and more"))
        self.layer = TextButton(theme, tr("Layer …"), tr("Turns a layer on"))
        self.other = TextButton(theme, _OTHER_ACTIONS, tr("Wheel, steps, sequences, gyro and more"))
        self.whole = TextButton(theme, tr("The whole …"), tr("What the whole control does at once"))
        self.empty = TextButton(
            theme, tr("Clear"), tr("Remove what this slot does; the layer below shows through (Delete)")
        )
        self.silence = TextButton(theme, tr("Do nothing"), tr("This slot does nothing, whatever the layer below does"))
        self.take_over = TextButton(theme, _MOVE_HERE)  # in place of the slot's action, which is then empty
        self.take_over.setFixedWidth(theme.px(150))
        self.take_over.hide()
        self._from: Reaction | None = None
        self._acts = PlainLabel(tr("As long as you move the control"))
        self.does = FittedLabel(theme.px(150))
        self._waits = FittedLabel(theme.px(96))
        self._seen = FittedLabel(theme.px(150))
        for small in (self._waits, self._seen):
            small.setFont(theme.font(0.85))
        for text in (self._acts, self.does, self._waits):
            text.setFixedHeight(theme.px(28))
        self.rate = make_spin(tr("times a second"), 1, 60, tr(" /s"))
        self.time = make_spin(tr("milliseconds"), 20, 5000, " ms")
        self.time.setSingleStep(10)
        self.amounts = Amounts(theme)
        waits = tr(
            "How short a tap must be, how soon the next tap comes, or how long you hold until something happens."
        )
        self.amounts.add(tr("Waiting time"), self.time, waits)
        self.amounts.add(tr("Rate"), self.rate, tr("How many presses there are in a second."), self._seen)
        # constant for any choice
        self.other_manners.setFixedWidth(max(theme.px(92), self.other_manners.sizeHint().width()))
        rarely = [_marked(one, True) for one in Reaction if one not in _USUAL_REACTIONS]
        self.other_reactions.setFixedWidth(max(Choice(theme, text).sizeHint().width() for text in rarely))
        self._connect()
        for reaction, button in self.reactions.items():
            _set_text(button, _marked(reaction, True))
            button.setFixedWidth(button.sizeHint().width())
        self._flows: list[Flow] = []
        self._rows = QGridLayout(self)
        self._rows.setContentsMargins(0, 0, 0, 0)
        self._rows.setSpacing(theme.px(3))
        self._rows.setColumnStretch(1, 1)
        self._row(
            tr("When"),
            [self._acts, *self.reactions.values(), self.other_reactions, self._waits],
            tr("One control can do several things, told apart by how you press: short, long, twice, or letting go."),
        )
        self._how = self._row(
            tr("How"),
            [*self.manners.values(), self.other_manners],
            HOW_HELP,
        )
        self._row(
            tr("What"),
            [self.does, self.take_over, written],
            tr("A key, a move of the list, or more: a layer, the wheel, a sequence, another speed, the gyro."),
        )
        self._row("", [self.other, self.whole, self.empty, self.silence, self.layer, written.record])
        number = self._rows.rowCount()
        self._rows.addWidget(self.amounts, number, 0, 1, 3)
        self._rows.setRowStretch(self._rows.rowCount(), 1)
        for opens in (self.other, self.whole):  # only one of the two is shown
            opens.setFixedWidth(max(self.other.sizeHint().width(), self.whole.sizeHint().width()))
        self.whole.hide()
        self._acts.hide()
        for widget in self._how:
            keep_room(widget)  # keeps the height of its row
        self.fit(narrow=True)
        self.widest = self.sizeHint().width()

    def _connect(self) -> None:
        self._groups = [QButtonGroup(self), QButtonGroup(self)]
        for group, buttons in zip(
            self._groups,
            ([*self.reactions.values(), self.other_reactions], [*self.manners.values(), self.other_manners]),
            strict=True,
        ):
            for button in buttons:
                group.addButton(button)
        for reaction, button in self.reactions.items():
            button.clicked.connect(partial(self._on_reaction, reaction))
        for manner, button in self.manners.items():
            button.clicked.connect(partial(self._on_manner, manner))
        self.other_reactions.clicked.connect(self._offer_reactions)
        self.other_manners.clicked.connect(self._offer_manners)
        self.layer.clicked.connect(partial(self._offer, self.layer, Menu.LAYER))
        self.whole.clicked.connect(partial(self._offer, self.whole, Menu.WHOLE))
        self.other.clicked.connect(partial(self._offer, self.other, None))
        self.empty.clicked.connect(self._edits.empty)
        self.silence.clicked.connect(lambda: self._edits.give_effect(Silence()))
        self.rate.valueChanged.connect(self._on_rate)
        self.time.valueChanged.connect(self._edits.set_time)
        self.amounts.changed.connect(self._edits.set_amounts)
        self.take_over.clicked.connect(self._on_move)

    def fit(self, narrow: bool) -> None:
        """Wraps its rows in a narrow place, else has a constant width."""
        for row in (*self._flows, self.amounts.flow):
            row.grows = narrow
            row.invalidate()
        self.setMinimumWidth(0 if narrow else self.widest)

    def show_place(self, place: Place, layout: Layout) -> None:
        """Shows the action of the selected slot in a layer; keys are named by `layout`."""
        if self._place is None or place.slot != self._place.slot or place.is_entry:
            self._edits.reaction = Reaction.PRESS
        place = self._place = replace(place, reaction=self._edits.reaction)
        assignment = place.assignment
        found = action_of(assignment, self._edits.reaction)
        self._layout = layout
        uses = assignment.uses if place.whole and assignment is not None else ()
        if uses:
            self.does.show_text(uses_label(place.profile, uses))
        else:
            self.does.show_text(action_label(place.profile, found, layout) if found is not None else tr("Nothing yet"))
        self._show_when(place)
        self._show_how(place)
        waits_ms = time_of(assignment, self._edits.reaction) if assignment is not None and found is not None else None
        self.amounts.show_given(self.time, waits_ms is not None and not place.whole)
        if waits_ms is not None:
            self.time.setMinimum(0 if self._edits.reaction is Reaction.RELEASE else 20)
            show_number(self.time, waits_ms)
        for widget in (self.layer, self.other):
            widget.setVisible(not place.whole)
        self.whole.setVisible(place.whole)
        self._show_move(place)
        self.amounts.show_subjects(uses if place.whole else [found] if found is not None else [])

    def _show_when(self, place: Place) -> None:
        def text(reaction: Reaction) -> str:
            return _marked(reaction, action_of(place.assignment, reaction) is not None)

        _check(self._groups[0], self.reactions.get(self._edits.reaction, self.other_reactions))
        for reaction, button in self.reactions.items():
            _set_text(button, text(reaction))
            button.setVisible(not place.whole)
            button.setEnabled(not place.is_entry)
        rare = self._edits.reaction if self._edits.reaction not in self.reactions else None
        used = [other for other in Reaction if other not in self.reactions and action_of(place.assignment, other)]
        shown = rare or next(iter(used), None)
        _set_text(self.other_reactions, text(shown) if shown is not None else _OTHER_TIMES)
        self.other_reactions.setVisible(not place.whole)
        self.other_reactions.setEnabled(not place.is_entry)
        self._acts.setVisible(place.whole)
        for widget in self._how:
            widget.setVisible(not place.whole)
        waits = {}
        if place.assignment is not None and not place.whole:
            press_ms = part_edits.press_wait_ms(place.profile, place.layer, place.slot)
            waits = waiting_ms(place.assignment, press_ms)
        worst = max(waits.values(), default=0)
        game = place.profile.game
        found = action_of(place.assignment, self._edits.reaction)
        if worst:
            self._waits.show_text(tr("waits {worst} ms", worst=worst))
        elif game.key_ms and found is not None and sent_keys(place.profile, found):
            self._waits.show_text(tr("tap lasts {ms} ms", ms=game.key_ms))
            set_tooltip(self._waits, shortest_words(game))
        else:
            self._waits.show_text("")

    def _show_move(self, place: Place) -> None:
        """Offers to move the action of another reaction, while the selected one is empty."""
        others = [one for one in Reaction if action_of(place.assignment, one) is not None]
        fits = len(others) == 1 and others[0] is not self._edits.reaction and not place.whole
        action = action_of(place.assignment, others[0]) if fits else None
        fits = action is not None and not isinstance(action.effect, Silence)
        self._from = others[0] if fits else None
        self.take_over.setVisible(fits)
        self.does.setVisible(not fits)
        if fits and action is not None:
            text = tr("Move from “{gesture}”", gesture=REACTION_WORDS[others[0]])
            fitting = TextButton(self.theme, text).sizeHint().width() <= self.take_over.width()
            _set_text(self.take_over, text if fitting else _MOVE_HERE)
            self.take_over.setAccessibleName(text)
            set_tooltip(self.take_over, action_label(place.profile, action, self._layout))

    def _show_how(self, place: Place) -> None:
        found = action_of(place.assignment, self._edits.reaction)
        now = found.manner if found is not None else None
        possible = possible_manners(place.profile, found)
        for manner, button in self.manners.items():
            button.setEnabled(manner in possible)
            set_tooltip(button, _manner_tooltip(manner, possible))
            button.setVisible(not place.whole)
        rare = now if now not in self.manners else None
        _set_text(self.other_manners, MANNER_WORDS[rare] if rare is not None else _OTHER_WAYS)
        _check(self._groups[1], self.manners.get(now, self.other_manners) if now is not None else None)
        self.other_manners.setEnabled(bool(possible))
        self.other_manners.setVisible(not place.whole)
        show_number(self.rate, round(found.rate_hz) if found is not None else 10)
        self._seen.show_text(seen_words(place.profile, found) if found is not None else "")
        self.amounts.show_given(self.rate, now in REPEATS and not place.whole)

    def _row(self, word: str, widgets: Iterable[QWidget], help_text: str = "") -> list[QWidget]:
        """Adds a row of the sentence with a constant height; returns its word and mark."""
        number = self._rows.rowCount()
        label = PlainLabel(word)
        label.setFont(self.theme.font(0.92, bold=True))
        row = Flow(self.theme.px(3))
        self._flows.append(row)
        for widget in widgets:
            row.addWidget(widget)
        around: list[QWidget] = [label]
        self._rows.addWidget(label, number, 0)
        self._rows.addLayout(row, number, 1)
        if help_text:
            around.append(HelpMark(self.theme, word, help_text))
            self._rows.addWidget(around[-1], number, 2)
        self._rows.setRowMinimumHeight(number, self.theme.px(31))
        return around

    def _offer(self, button: TextButton, which: Menu | None) -> None:
        place = self._place
        if place is None:
            return
        menu = passing_menu(self)
        lists = EffectMenu(self.theme, place, self._edits, self._titles, self._layout)
        if which is None:
            lists.fill_all(menu)
        else:
            lists.fill(menu, which)
        menu.popup(button.mapToGlobal(button.rect().bottomLeft()))

    def _offer_reactions(self) -> None:
        _check(self._groups[0], self.reactions.get(self._edits.reaction, self.other_reactions))
        menu = passing_menu(self)
        for reaction in Reaction:
            if reaction not in self.reactions:
                text = f"{REACTION_WORDS[reaction]}: {inside(REACTION_HELP[reaction])}"
                add_entry(menu, text, partial(self._on_reaction, reaction), reaction is self._edits.reaction)
        if self._place is not None:
            menu.addSeparator()
            EffectMenu(self.theme, self._place, self._edits, self._titles, self._layout).fill_when(menu)
        menu.popup(self.other_reactions.mapToGlobal(self.other_reactions.rect().bottomLeft()))

    def _offer_manners(self) -> None:
        if self._place is None:
            return
        found = action_of(self._place.assignment, self._edits.reaction)
        possible = possible_manners(self._place.profile, found)
        _check(self._groups[1], self.manners.get(found.manner, self.other_manners) if found is not None else None)
        menu = passing_menu(self)
        for manner, word in MANNER_WORDS.items():
            if manner not in self.manners:
                text = f"{word}: {inside(_manner_tooltip(manner, possible))}"
                now = found is not None and found.manner is manner
                add_entry(menu, text, partial(self._on_manner, manner), now).setEnabled(manner in possible)
        menu.addSeparator()
        EffectMenu(self.theme, self._place, self._edits, self._titles, self._layout).fill_how(menu)
        menu.popup(self.other_manners.mapToGlobal(self.other_manners.rect().bottomLeft()))

    def _on_reaction(self, reaction: Reaction) -> None:
        self._edits.choose_reaction(reaction)
        if self._place is not None:
            self.show_place(self._place, self._layout)

    def _on_move(self) -> None:
        if self._from is not None:
            self._edits.move_from(self._from)

    def _on_manner(self, manner: Manner) -> None:
        self._edits.set_manner(manner, float(self.rate.value()))

    def _on_rate(self) -> None:
        found = action_of(self._place.assignment, self._edits.reaction) if self._place is not None else None
        if found is not None and found.manner in REPEATS:
            self._edits.set_manner(found.manner, float(self.rate.value()))


def _marked(reaction: Reaction, given: bool) -> str:
    """Returns the word of a reaction, marked if assigned."""
    return f"{REACTION_WORDS[reaction]} •" if given else REACTION_WORDS[reaction]


def _manner_tooltip(manner: Manner, possible: frozenset[Manner]) -> str:
    """Returns the help of a manner, or the reason why it is disabled."""
    if manner in possible:
        return MANNER_HELP[manner]
    return tr("Does not apply to what this slot does") if possible else tr("First choose what the slot does")


def _check(group: QButtonGroup, chosen: Choice | None) -> None:
    """Checks one of the buttons, or none."""
    if chosen is not None:
        chosen.setChecked(True)
        return
    group.setExclusive(False)
    for button in group.buttons():
        button.setChecked(False)
    group.setExclusive(True)


def _set_text(button: QAbstractButton, text: str) -> None:
    if text != button.text():
        button.setText(text)
        button.setAccessibleName(text)
        button.updateGeometry()
