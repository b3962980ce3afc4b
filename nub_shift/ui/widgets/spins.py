"""Fields for numbers, typed or stepped with the arrow keys."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QLocale, Qt
from PyQt6.QtGui import QValidator, QWheelEvent
from PyQt6.QtWidgets import QAbstractSpinBox, QComboBox, QDoubleSpinBox, QSpinBox

from nub_shift.translation import tr
from nub_shift.ui.widgets.plain import set_tooltip


def make_spin(name: str, low: int, high: int, unit: str) -> QSpinBox:
    """Returns a field for a whole number, which reports typed values at the end of typing."""
    spin = QSpinBox()
    spin.setRange(low, high)
    spin.setSuffix(unit)
    _name(spin, name)
    spin.setKeyboardTracking(False)
    spin.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
    set_tooltip(spin, tr("{name}: type it, or use the arrow keys", name=name))
    return spin


class DecimalSpin(QDoubleSpinBox):
    """A field for a decimal number, typed with a comma or a point.

    Arrow keys and the wheel change it by a sensible step, with Ctrl by ten steps.
    """

    def __init__(self, name: str, low: float, high: float, step: float, decimals: int, unit: str = "") -> None:
        super().__init__()
        self.setDecimals(decimals)
        self.setRange(low, high)
        self.setSingleStep(step)
        self.setSuffix(unit)
        _name(self, name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setKeyboardTracking(False)
        self.setButtonSymbols(QAbstractSpinBox.ButtonSymbols.NoButtons)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Ignores the wheel without the focus, so that scrolling past changes nothing."""
        if event is not None and not self.hasFocus():
            event.ignore()
        else:
            super().wheelEvent(event)

    def textFromValue(self, value: float) -> str:
        """Returns the shortest text, with the decimal point of the reader's language."""
        text = self.locale().toString(value, "f", self.decimals())
        return text.rstrip("0").removesuffix(self.locale().decimalPoint()) if self.decimals() else text

    def valueFromText(self, text: str | None) -> float:
        try:
            return float(_bare(text or "", self.suffix()))
        except ValueError:
            return self.value()

    def validate(self, text: str | None, position: int) -> tuple[QValidator.State, str, int]:
        typed = text or ""
        bare = _bare(typed, self.suffix())
        try:
            value = float(bare)
        except ValueError:
            unfinished = bare in ("", "-", ".", "-.") or typed.strip() == self.suffix().strip()
            return QValidator.State.Intermediate if unfinished else QValidator.State.Invalid, typed, position
        fits = self.minimum() <= value <= self.maximum()
        return QValidator.State.Acceptable if fits else QValidator.State.Intermediate, typed, position

    def fixup(self, text: str | None) -> str:
        """Returns the nearest number within the range."""
        try:
            value = float(_bare(text or "", self.suffix()))
        except ValueError:
            value = self.value()
        return self.textFromValue(min(max(value, self.minimum()), self.maximum()))


class ScrollSafeChoice(QComboBox):
    """A list of choices that ignores the wheel while scrolling past."""

    def __init__(self, name: str, texts: Sequence[str]) -> None:
        super().__init__()
        self.addItems(texts)
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def show_whole_list(self) -> None:
        """Opens its list as wide as its longest line."""
        view = self.view()
        if view is not None:
            view.setMinimumWidth(view.sizeHintForColumn(0) + 2 * view.frameWidth())

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and not self.hasFocus():
            event.ignore()
        else:
            super().wheelEvent(event)


def _bare(text: str, unit: str) -> str:
    """Returns the typed text without the unit, in the form of a Python number."""
    text = text.strip()
    return (
        (text.removesuffix(unit.strip()).strip() if unit.strip() else text)
        .replace(QLocale().decimalPoint(), ".")
        .replace(",", ".")
    )


def _name(spin: QAbstractSpinBox, name: str) -> None:
    spin.setAccessibleName(name)
    line = spin.lineEdit()
    if line is not None:
        line.setAccessibleName(name)


def show_number(spin: QSpinBox | DecimalSpin, value: float) -> None:
    """Shows a number without reporting it as typed."""
    spin.blockSignals(True)
    if isinstance(spin, QSpinBox):
        spin.setValue(round(value))
    else:
        spin.setValue(value)
    spin.blockSignals(False)


def show_range(spin: DecimalSpin, low: float, high: float, decimals: int) -> None:
    """Sets another range, which may exclude the present number."""
    spin.blockSignals(True)
    spin.setDecimals(decimals)
    spin.setRange(low, high)
    spin.blockSignals(False)
