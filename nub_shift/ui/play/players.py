"""Players with their pads and profiles, and the reasons."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from nub_shift.editing.words.activation import rule_words
from nub_shift.model.controls import CONTROL_BY_NAME
from nub_shift.model.halting import halt_chord
from nub_shift.model.pad.pad_menu import opener_of
from nub_shift.model.profile.activation import Away, Front
from nub_shift.protocol.messages import PadState, SeatState, State
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.plain import PlainLabel

MAX_SHOWN = 8


class Players(QWidget):
    """Three lines for each player: pad, profile, reason.

    Attributes:
        stopping: how to open the menu, and how to stop everything.
    """

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme = theme
        self.setAccessibleName(tr("Who plays"))
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(theme.px(2))
        self._lines: list[PlainLabel] = []
        self.stopping = PlainLabel()
        self.stopping.setWordWrap(True)
        self.stopping.setContentsMargins(0, theme.px(10), 0, 0)

    def show_state(self, state: State | None) -> None:
        """Shows a state."""
        seats = state.seats[:MAX_SHOWN] if state is not None else ()
        front = state.front if state is not None else None
        away = state.away if state is not None else Away.NO
        texts = [line for number, seat in enumerate(seats, start=1) for line in player_words(number, seat, front, away)]
        while len(self._lines) < len(texts):
            line = PlainLabel()
            line.setWordWrap(True)
            head = len(self._lines) % 3 == 0
            line.setFont(self._theme.font(1.05 if head else 0.95, bold=head))
            line.setContentsMargins(0, self._theme.px(8) if head and self._lines else 0, 0, 0)
            self._lines.append(line)
            self._column.addWidget(line)
        for line, text in zip(self._lines, texts, strict=False):
            line.setText(text)
        for index, line in enumerate(self._lines):
            line.setVisible(index < len(texts))
        self._column.removeWidget(self.stopping)
        self._column.addWidget(self.stopping)
        ways = (menu_words(state), halt_words(state), guess_words(state)) if state is not None else ()
        self.stopping.setText("\n\n".join(filter(None, ways)))


def menu_words(state: State) -> str:
    """Returns how to open the menu, from the first pad that can."""
    pad = next((seat.pad for seat in state.seats if opener_of(seat.pad.controls)), None)
    if pad is None:
        return ""
    opener = opener_of(pad.controls, pad.menu)
    return tr(
        "Menu on the screen while you play: hold {opener}.",
        opener=pad.printed.get(opener) or CONTROL_BY_NAME[opener].label,
    )


def guess_words(state: State) -> str:
    """Returns a warning if the named buttons are guessed, since their pad is not set up."""
    names = [seat.pad.name for seat in state.seats if seat.pad.is_guessed]
    if not names:
        return ""
    return tr("{pad} is not set up, so its button names are a guess. Set it up in Pads.", pad=names[0])


def _chord_of(pad: PadState) -> tuple[str, ...]:
    return halt_chord(pad.controls, opener_of(pad.controls, pad.menu))


def halt_words(state: State) -> str:
    """Returns how to stop everything, or how to continue."""
    ways = []
    pads = ((seat.pad, _chord_of(seat.pad)) for seat in state.seats)
    pad, chord = next(((pad, chord) for pad, chord in pads if chord), (None, ()))
    if pad is not None:
        one, other = (pad.printed.get(name) or CONTROL_BY_NAME[name].label for name in chord)
        ways.append(tr("hold {one} and {other} for a second", one=one, other=other))
    if state.halt_key:
        ways.append(tr("press {halt_key} on the keyboard", halt_key=state.halt_key))
    if not ways:
        return ""
    what = tr("Everything is stopped. To play on") if state.halted else tr("To stop everything at once")
    return f"{what}: {tr(', or ').join(ways)}."


_AWAY = {
    Away.LOCKED: tr("The screen is locked"),
    Away.NO_DISPLAY: tr("The display does not answer"),
    Away.TAKEN: tr("Another program has the keyboard"),
}


def player_words(
    number: int, seat: SeatState, front: Front | None = None, away: Away = Away.NO
) -> tuple[str, str, str]:
    """Returns pad, profile and reason."""
    head = tr("Player {number}: {pad}", number=number, pad=seat.pad.name or tr("no pad yet"))
    if away is not Away.NO:
        return head, tr("{title}, paused", title=seat.title), _AWAY[away]
    if seat.paused:
        return head, tr("{title}, paused", title=seat.title), tr("The game is not in front")
    if seat.rule is not None:
        window = (
            tr(", in front: {front}", front=front.title)
            if front is not None and front.title and not front.is_ours
            else ""
        )
        return head, seat.title, tr("Came on by itself: {rule}{window}", rule=rule_words(seat.rule), window=window)
    return head, seat.title, tr("Chosen by hand")
