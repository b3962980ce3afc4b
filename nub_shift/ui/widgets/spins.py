"""Numbers that are typed, or stepped with the arrow keys."""

from __future__ import annotations

from PyQt6.QtWidgets import QSpinBox

from nub_shift.ui.widgets.plain import set_tip


def make_spin(name: str, low: int, high: int, unit: str) -> QSpinBox:
    """A field for a whole number; nothing follows from it before it is typed to its end."""
    spin = QSpinBox()
    spin.setRange(low, high)
    spin.setSuffix(unit)
    spin.setAccessibleName(name)
    line = spin.lineEdit()
    if line is not None:
        line.setAccessibleName(name)
    spin.setKeyboardTracking(False)
    spin.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
    set_tip(spin, f"{name}: type it, or use the arrow keys")
    return spin


def show_number(spin: QSpinBox, value: int) -> None:
    """Shows a number that the person has not typed."""
    spin.blockSignals(True)
    spin.setValue(value)
    spin.blockSignals(False)
