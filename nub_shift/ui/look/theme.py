"""The look: day and night, two signal colours, layer hues, fonts, spacing."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache, lru_cache
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QGuiApplication, QPalette

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QApplication  # painting alone needs no widgets

FONT_FAMILIES = ["Inter", "Noto Sans", "DejaVu Sans"]
BASE_POINTS = 10.0
# Assumed frame of a window, unknown before the window is shown.
_FRAME = QSize(8, 40)


@dataclass(frozen=True)
class Look:
    """Colours of one look.

    `pad` marks everything from the pad, `game` everything to the game; both are used for nothing else. `hues` are layer
    colours, the base layer first. All of these are distinct for any colour vision, by lightness too. `edge` surrounds
    what can be pressed or written in, `line` everything else.
    """

    name: str
    sheet: str
    raised: str
    grid: str
    line: str
    edge: str
    ink: str
    muted: str
    pad: str
    pad_soft: str
    game: str
    game_soft: str
    hues: tuple[str, ...]


DAY = Look(
    name="day",
    sheet="#f3efe4",
    raised="#fbf9f3",
    grid="#e2dccb",
    line="#c9c1ac",
    edge="#857e69",
    ink="#26252e",
    muted="#605d4f",
    pad="#004d4a",
    pad_soft="#dceae5",
    game="#b5440c",
    game_soft="#f7e6da",
    hues=("#605d4f", "#1d70ad", "#a2517c", "#4b3e0f", "#0c3dc1", "#432e72"),
)

NIGHT = Look(
    name="night",
    sheet="#171a22",
    raised="#20242f",
    grid="#222733",
    line="#3b4252",
    edge="#6d7689",
    ink="#ece7da",
    muted="#9c978c",
    pad="#56cfb7",
    pad_soft="#1a3533",
    game="#eb975c",
    game_soft="#3c2b1f",
    hues=("#9c978c", "#7da9d7", "#c07ea7", "#e6d95c", "#9183ff", "#cecefe"),
)

# For high contrast: texts at least 7:1, edges and lines at least 4.5:1.
DAY_CONTRAST = Look(
    name="day, high contrast",
    sheet="#ffffff",
    raised="#ffffff",
    grid="#ececec",
    line="#6e6e6e",
    edge="#000000",
    ink="#000000",
    muted="#3a3a3a",
    pad="#002232",
    pad_soft="#dff3ef",
    game="#a70000",
    game_soft="#fdf1ee",
    hues=("#513e54", "#4a07d7", "#943b46", "#6a0c27", "#6e0e73", "#0a014d"),
)

NIGHT_CONTRAST = Look(
    name="night, high contrast",
    sheet="#000000",
    raised="#0a0a0a",
    grid="#262626",
    line="#8f8f8f",
    edge="#ffffff",
    ink="#ffffff",
    muted="#d0d0d0",
    pad="#63f5f8",
    pad_soft="#06302f",
    game="#e6ab2b",
    game_soft="#332405",
    hues=("#cdcac3", "#9590ff", "#fafb21", "#a9e7ac", "#f175ac", "#2dc5cf"),
)

LOOKS = (DAY, NIGHT, DAY_CONTRAST, NIGHT_CONTRAST)


class Theme:
    """A look at a scale. Sizes are in pixels at the normal font size, converted by `px`."""

    def __init__(self, look: Look, points: float = BASE_POINTS) -> None:
        self.look = look
        self.points = points

    def px(self, size: float) -> int:
        """Returns a length scaled with the font."""
        return round(size * self.points / BASE_POINTS)

    def colour(self, role: str, alpha: int = 255) -> QColor:
        """Returns the colour of a role of `Look`, such as "pad"."""
        return _colour(getattr(self.look, role), alpha)

    def hue(self, number: int) -> QColor:
        """Returns a layer's colour; 0 is the base layer's."""
        return QColor(self.look.hues[number])

    def font(self, factor: float = 1.0, bold: bool = False) -> QFont:
        """Returns the interface's font at `factor` times the normal size."""
        return _font(self.points * factor, bold)

    def text_width(self, text: str, factor: float = 1.0, bold: bool = False) -> float:
        """Returns the width of a text in a font of `font`, in pixels."""
        return _text_width(self.points * factor, bold, text)

    def apply(self, application: QApplication) -> None:
        """Styles everything not drawn by ourselves: palette, font, and the few widgets painted by Qt."""
        look = self.look
        palette = QPalette()
        roles = {
            QPalette.ColorRole.Window: look.sheet,
            QPalette.ColorRole.Base: look.raised,
            QPalette.ColorRole.AlternateBase: look.sheet,
            QPalette.ColorRole.Button: look.raised,
            QPalette.ColorRole.WindowText: look.ink,
            QPalette.ColorRole.Text: look.ink,
            QPalette.ColorRole.ButtonText: look.ink,
            QPalette.ColorRole.PlaceholderText: look.muted,
            QPalette.ColorRole.Highlight: look.hues[1],
            QPalette.ColorRole.HighlightedText: look.sheet,
            QPalette.ColorRole.ToolTipBase: look.raised,
            QPalette.ColorRole.ToolTipText: look.ink,
        }
        for role, colour in roles.items():
            palette.setColor(role, QColor(colour))
        application.setPalette(palette)
        application.setFont(self.font())
        sizes = {"r": 4, "p": 5, "q": 10, "bar": 9, "wide": 30, "tall": 20}
        application.setStyleSheet(_SHEET.format(look=look, **{name: self.px(size) for name, size in sizes.items()}))


def fitting(theme: Theme, size: tuple[int, int]) -> QSize:
    """Returns a size for a text size, no larger than the free screen below a title bar."""
    wanted, screen = QSize(*(theme.px(side) for side in size)), QGuiApplication.primaryScreen()
    return wanted.boundedTo(screen.availableSize() - _FRAME) if screen is not None else wanted


# Painting calls these thousands of times a second. Results must not be changed.
@cache
def _colour(name: str, alpha: int) -> QColor:
    found = QColor(name)
    found.setAlpha(alpha)
    return found


@lru_cache(4000)
def _text_width(points: float, bold: bool, text: str) -> float:
    return QFontMetricsF(_font(points, bold)).horizontalAdvance(text)


@cache
def _font(points: float, bold: bool) -> QFont:
    font = QFont(FONT_FAMILIES)
    font.setPointSizeF(points)
    font.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    return font


_SHEET = """
QToolTip {{ background: {look.raised}; color: {look.ink}; border: 1px solid {look.line}; padding: {p}px; }}
QLineEdit, QPlainTextEdit {{ background: {look.raised}; border: 1px solid {look.edge}; border-radius: {r}px; }}
QLineEdit, QPlainTextEdit {{ padding: {p}px; }}
QLineEdit:focus, QPlainTextEdit:focus {{ border: 2px solid {look.ink}; }}
QListWidget {{ background: transparent; border: 2px solid transparent; }}
QListWidget#plain::item {{ padding: {p}px {q}px; border-left: {r}px solid transparent; }}
QListWidget#plain::item:selected {{
    background: {look.raised}; color: {look.ink}; border-left: {r}px solid {look.game};
}}
QTableWidget {{ background: transparent; border: 2px solid transparent; }}
QTableWidget::item {{ padding: {p}px; }}
QTableWidget::item:selected {{ border: 2px dashed {look.ink}; color: {look.ink}; background: {look.raised}; }}
QHeaderView::section {{ background: {look.sheet}; border: none; border-bottom: 2px solid {look.line}; padding: {p}px; }}
QTableCornerButton::section {{ background: {look.sheet}; border: none; }}
QTextBrowser {{ background: {look.raised}; border: 2px solid transparent; border-radius: {r}px; padding: {q}px; }}
QMenu {{ background: {look.raised}; color: {look.ink}; border: 1px solid {look.line}; padding: {p}px; }}
QMenu::item {{ padding: {p}px {wide}px {p}px {q}px; border-radius: {r}px; }}
QMenu::item:disabled {{ color: {look.muted}; }}
QMenu::item:selected {{ background: {look.grid}; color: {look.ink}; }}
QAbstractSpinBox {{ background: {look.raised}; border: 1px solid {look.edge}; border-radius: {r}px; padding: 2px; }}
QAbstractSpinBox {{ min-height: {tall}px; }}
QAbstractSpinBox:focus, QListWidget:focus, QTextBrowser:focus, QTableWidget:focus {{ border: 2px solid {look.ink}; }}
QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
QScrollBar:vertical {{ background: transparent; width: {bar}px; margin: 0; }}
QScrollBar:horizontal {{ background: transparent; height: {bar}px; margin: 0; }}
QScrollBar::handle {{ background: {look.edge}; border-radius: {r}px; min-height: {q}px; min-width: {q}px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
"""
