"""Base of pictures with draggable numbers."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable
from typing import Generic, Protocol, TypeVar

from PyQt6.QtCore import QPointF, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from nub_shift.ui.feel.pictures.knob import Knob, knobs_for
from nub_shift.ui.look.theme import Theme


class Numbered(Protocol):
    """A number with a knob."""

    @property
    def label(self) -> str:
        """Name of the number."""

    @property
    def step(self) -> float:
        """Change by an arrow key."""

    def held(self, value: float) -> float:
        """Returns a value within the limits, rounded."""


N = TypeVar("N", bound=Numbered)


class KnobPicture(QWidget, Generic[N]):
    """Has a knob for each of its numbers.

    Attributes:
        numbers, knobs: by the label of the number.
        dragged: number being dragged and its value, or None.

    Signals:
        previewed(N, float): value during a drag.
        chosen(N, float): new value of a number.
    """

    previewed = pyqtSignal(object, float)
    chosen = pyqtSignal(object, float)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.numbers: dict[str, N] = {}
        self.knobs: dict[str, Knob] = {}
        self.dragged: tuple[N, float] | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def show_numbers(self, numbers: Iterable[N]) -> None:
        """Shows these numbers; a drag in progress ends."""
        self.numbers = {number.label: number for number in numbers}
        self.dragged = None
        self.knobs = knobs_for(
            {label: number.step for label, number in self.numbers.items()},
            self.knobs,
            self,
            self.theme,
            dragged=self._on_dragged,
            drag_ended=self._on_let_go,
            stepped=self._on_stepped,
        )
        self.lay_out()

    @abstractmethod
    def lay_out(self) -> None:
        """Moves the knobs to the positions of their numbers, and repaints."""

    @abstractmethod
    def value_at(self, number: N, place: QPointF) -> float:
        """Returns the value at a dragged position, unclamped."""

    @property
    def focused_label(self) -> str:
        """Label of the number whose knob is dragged, has the focus, or lies under the mouse; or empty."""
        if self.dragged is not None:
            return self.dragged[0].label
        return next((label for label, knob in self.knobs.items() if knob.hasFocus() or knob.underMouse()), "")

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.lay_out()

    def _on_dragged(self, label: str, place: QPointF) -> None:
        number = self.numbers[label]
        value = number.held(self.value_at(number, place))
        self.dragged = number, value
        self.lay_out()
        self.previewed.emit(number, value)

    def _on_let_go(self) -> None:
        if self.dragged is not None:
            (number, value), self.dragged = self.dragged, None
            self.chosen.emit(number, value)

    def _on_stepped(self, label: str, steps: int) -> None:
        number = self.numbers[label]
        self.chosen.emit(number, number.held(steps * number.step))
