"""Page of station Feel in the window."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QVBoxLayout, QWidget

if TYPE_CHECKING:
    from nub_shift.ui.feel.station import FeelStation


class FeelPage(QWidget):
    """Creates its station at first use, since the station imports NumPy, which takes time.

    Attributes:
        made: the station, or None before it is created.
    """

    def __init__(self, make: Callable[[], FeelStation]) -> None:
        super().__init__()
        self.made: FeelStation | None = None
        self._make = make
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)

    @property
    def station(self) -> FeelStation:
        """The station, created if necessary."""
        if self.made is None:
            self.made = self._make()
            self._column.addWidget(self.made)
        return self.made
