"""A page of the window whose content is created at first use."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

from PyQt6.QtWidgets import QVBoxLayout, QWidget

S = TypeVar("S", bound=QWidget)


class LazyPage(QWidget, Generic[S]):
    """Creates a station at first use, since importing and creating it takes time.

    Attributes:
        made: the station, or None before it is created.
    """

    def __init__(self, make: Callable[[], S]) -> None:
        super().__init__()
        self.made: S | None = None
        self._make = make
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)

    @property
    def station(self) -> S:
        """The station, created if necessary."""
        if self.made is None:
            self.made = self._make()
            self._column.addWidget(self.made)
        return self.made
