"""Game-specific settings: grip, reading of pads, shortest times of keys."""

from __future__ import annotations

from functools import partial
from typing import Any

from msgspec.structs import replace
from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu, QSpinBox, QWidget

from nub_shift.editing.document import Document
from nub_shift.editing.words.frame_rate import rate_words, shortest_words
from nub_shift.model.profile.game import LEAST_RATE_HZ, MOST_RATE_HZ, Game, Grip
from nub_shift.translation import inside, tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.menu_help import add_choices, add_field, add_help
from nub_shift.ui.widgets.menus import add_entry
from nub_shift.ui.widgets.spins import make_spin, show_number
from nub_shift.ui.widgets.turn_field import FULL_TURN_HELP, make_turn_spin

_GRIPS = {
    Grip.INDEX: tr("Index fingers on shoulders and triggers"),
    Grip.INDEX_AND_MIDDLE: tr("Middle fingers on the triggers"),
    Grip.INDEX_ON_FACE: tr("Right index on the face buttons"),
}
_SHORTEST_MS = (0, 20, 35, 50, 100)
_RATES_HZ = (30, 60, 120)


class GameTools(TextButton):
    """A button with a menu.

    Attributes:
        menu: the menu, once opened.
        counts: counts of a full turn, in that menu.
        rate: frame rate at which the game reads its keys, in a submenu.
    """

    def __init__(self, theme: Theme, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(theme, tr("Game …"), tr("How you hold the pad in this game, and what the game reads"), parent)
        self.menu: QMenu | None = None
        self.counts: QSpinBox | None = None
        self.rate: QSpinBox | None = None
        self._document = document
        self.clicked.connect(self.open_tools)

    def open_tools(self) -> None:
        """Shows the menu."""
        game = self._document.profile.game
        menu = self.menu = QMenu(self)
        held = add_choices(
            menu,
            self.theme,
            tr("The pad is held with"),
            tr("Map warns of moves that need the same finger at the same time. This says which finger is where."),
        )
        for grip, words in _GRIPS.items():
            add_entry(held, words, partial(self._edit, words, grip=grip), game.grip is grip)
        self._add_rates(menu, game)
        shortest = add_choices(
            menu,
            self.theme,
            tr("Hold each key for at least"),
            tr("Some games miss a key that is down for a moment only. A short press then lasts this long."),
        )
        for milliseconds in _durations(game.shortest_key_ms):
            words = _duration_words(game, milliseconds, tr("No shortest time"))
            chosen = game.shortest_key_ms == milliseconds
            add_entry(shortest, words, partial(self._edit, words, shortest_key_ms=milliseconds), chosen)
        gap = add_choices(
            menu,
            self.theme,
            tr("Pause between presses for at least"),
            tr("Some games miss a press that follows too soon. The same key then waits this long before the next one."),
        )
        for milliseconds in _durations(game.shortest_gap_ms):
            words = _duration_words(game, milliseconds, tr("No shortest pause"))
            chosen = game.shortest_gap_ms == milliseconds
            add_entry(gap, words, partial(self._edit, words, shortest_gap_ms=milliseconds), chosen)
        self.counts = make_turn_spin(tr(" counts a turn"))
        show_number(self.counts, round(game.counts_per_turn))
        self.counts.editingFinished.connect(self._on_counts)
        add_field(menu, self.theme, self.counts, tr("full turn"), FULL_TURN_HELP)
        menu.addSeparator()
        words = tr("The game also reads the pad itself")
        help_text = tr(
            "The game then gets the pad as well as keys and mouse. Otherwise it does not see the pad while you play."
        )
        add_entry(menu, words, partial(self._edit, words, reads_pads=not game.reads_pads), game.reads_pads)
        add_help(menu, self.theme, words, help_text)
        menu.popup(self.mapToGlobal(QPoint(0, self.height())))

    def _add_rates(self, menu: QMenu, game: Game) -> None:
        help_text = tr("A game reads its keys once a frame and can miss a shorter press.")
        rates = add_choices(menu, self.theme, tr("Frame rate of the game"), f"{help_text} {shortest_words(game)}")
        for rate in (None, *_RATES_HZ):
            words = rate_words(rate)
            add_entry(rates, words, partial(self._edit, words, frame_rate_hz=rate), game.frame_rate_hz == rate)
        self.rate = make_spin(tr("frames a second"), LEAST_RATE_HZ, MOST_RATE_HZ, tr(" frames a second"))
        show_number(self.rate, game.rate_hz)
        self.rate.editingFinished.connect(self._on_rate)
        add_field(rates, self.theme, self.rate, tr("frame rate"), tr("Type any other rate here."))

    def _on_rate(self) -> None:
        if self.rate is not None and self.rate.value() != self._document.profile.game.rate_hz:
            self._edit(rate_words(self.rate.value()), frame_rate_hz=self.rate.value())

    def _on_counts(self) -> None:
        if self.counts is not None and self.counts.value() != round(self._document.profile.game.counts_per_turn):
            counts = self.counts.value()
            self._edit(tr("{counts} counts a turn", counts=counts), counts_per_turn=float(counts))

    def _edit(self, what: str, **values: Any) -> None:
        self._document.edit(
            tr("Game: {what}", what=inside(what)),
            lambda profile: replace(profile, game=replace(profile.game, **values)),
        )


def _durations(chosen_ms: int | None) -> list[int | None]:
    """Returns the choices of a shortest time; None is one frame of the game."""
    numbers = {*_SHORTEST_MS, *(() if chosen_ms is None else (chosen_ms,))}
    return [None, *sorted(numbers)]


def _duration_words(game: Game, milliseconds: int | None, none: str) -> str:
    if milliseconds is None:
        return tr("One frame ({ms} ms)", ms=game.frame_ms)
    return tr("{ms} ms", ms=milliseconds) if milliseconds else none
