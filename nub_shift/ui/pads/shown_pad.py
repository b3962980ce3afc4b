"""Commands for the pad that station Pads shows."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from nub_shift.editing.card_book import CardBook
from nub_shift.model.problems import ProfileError
from nub_shift.protocol.calls import AssignPad, EndSeat, SharePad
from nub_shift.protocol.messages import PadInfo, State
from nub_shift.store.reading import read_bounded
from nub_shift.translation import tr
from nub_shift.ui.frame.pads_live import PadsLive
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.pads.card_edits import CardEdits


class ShownPad(QObject):
    """The shown pad, with commands that change its card and its players.

    Attributes:
        key: key of the pad, or empty.

    Signals:
        said(str): a line for the person.
        combined(str): key of a combination to show once it appears.
    """

    said = pyqtSignal(str)
    combined = pyqtSignal(str)

    def __init__(
        self,
        book: CardBook,
        cards: CardEdits,
        link: RunnerLink,
        pads: PadsLive,
        state: Callable[[], State | None],
        parent: QObject,
    ) -> None:
        """`state` returns the runner's state, if known."""
        super().__init__(parent)
        self.key = ""
        self._book = book
        self._cards = cards
        self._link = link
        self._pads = pads
        self._state = state

    @property
    def pad(self) -> PadInfo | None:
        """The pad, if available."""
        return self._pads.pad(self.key)

    @property
    def seconds(self) -> tuple[str, ...]:
        """Controls of the second of two players on a shared pad."""
        pad, state = self.pad, self._state()
        if pad is None or state is None or len(pad.seats) < 2 or pad.seats[1] >= len(state.seats):
            return ()
        return state.seats[pad.seats[1]].pad.controls

    def _edit(self, change: Callable[..., None], *values: str) -> None:
        """Applies one of the edits of `CardEdits` to the pad."""
        if self.pad is not None:
            change(self.pad, *values)

    def rename(self, name: str) -> None:
        """Renames the pad."""
        self._edit(self._cards.rename, name)

    def set_colour(self, colour: str) -> None:
        """Sets the colour; empty for none."""
        self._edit(self._cards.set_colour, colour)

    def set_style(self, style: str) -> None:
        """Sets the style of the labels."""
        self._edit(self._cards.set_style, style)

    def set_label(self, control: str, text: str) -> None:
        """Sets the label of a control."""
        self._edit(self._cards.set_label, control, text)

    def set_finger(self, control: str, finger: str) -> None:
        """Sets the finger of a control."""
        self._edit(self._cards.set_finger, control, finger)

    def set_menu(self, control: str) -> None:
        """Sets the button that opens the pad menu; empty for the usual one."""
        self._edit(self._cards.set_menu, control)

    def set_moving_part(self, part: str) -> None:
        """Sets the part whose motion sensors count, by its identity."""
        self._edit(self._cards.set_moving_part, part)

    def play(self) -> None:
        """Gives the pad to the first player."""
        self._link.call(AssignPad(self.key))

    def add_player(self, path: str, shares: bool = False) -> None:
        """Gives the pad, or with `shares` one half of it, to another player with the profile of a file."""
        try:
            self._link.call(AssignPad(self.key, toml=read_bounded(Path(path)), shares=shares, file=path))
        except ProfileError as error:
            self.said.emit(str(error))

    def set_player(self, control: str, player: int) -> None:
        """Gives a control of a shared pad to one of two players, 0 or 1."""
        pad = self.pad
        if pad is not None:
            rest = [name for name in self.seconds if name != control]
            self._link.call(SharePad(pad.key, (*rest, control) if player else tuple(rest)))

    def remove_player(self) -> None:
        """Takes the pad from its last player."""
        pad = self.pad
        if pad is not None and pad.seats:
            self._link.call(EndSeat(pad.seats[-1]))

    def combine(self, other: str) -> None:
        """Combines the pad with the one of another key."""
        pad, found = self.pad, self._pads.pad(other)
        if pad is not None and found is not None:
            self.combined.emit(self._cards.join(pad, found))

    def separate(self) -> None:
        """Separates the parts of a combination."""
        self._book.remove(tr("Separated"), self.key)
