"""Every text can be read, and every colour that means something is told from the others, with any colour vision."""

from __future__ import annotations

import itertools
from math import atan2, cos, degrees, exp, hypot, radians, sin, sqrt

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QGuiApplication
from PyQt6.QtWidgets import QApplication

from nub_shift.ui import app
from nub_shift.ui.look.desktop import Desktop
from nub_shift.ui.look.theme import DAY, DAY_CONTRAST, LOOKS, NIGHT, NIGHT_CONTRAST, Look
from nub_shift.ui.shown_window import ShownWindow
from tests.ui.conftest import Bench

Lab = tuple[float, float, float]

# What the eye makes of linear red, green and blue, after Machado, Oliveira and Fernandes (2009), at full severity.
SIGHT = {
    "usual": ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)),
    "protan": ((0.152286, 1.052583, -0.204868), (0.114503, 0.786281, 0.099216), (-0.003882, -0.048116, 1.051998)),
    "deutan": ((0.367322, 0.860646, -0.227968), (0.280085, 0.672501, 0.047413), (-0.011820, 0.042940, 0.968881)),
    "tritan": ((1.255528, -0.076749, -0.178779), (-0.078411, 0.930809, 0.147602), (0.004733, 0.691367, 0.303900)),
}
LEAST_TEXT, LEAST_GRAPHICS, LEAST_DIFFERENCE = 4.5, 3.0, 10.0
HIGH_TEXT, HIGH_GRAPHICS = 7.0, 4.5


def linear(colour: str) -> list[float]:
    parts = QColor(colour).getRgbF()[:3]
    return [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts if part is not None]


def contrast(one: str, other: str) -> float:
    """By the web content accessibility guidelines 2.1."""
    lights = sorted(0.2126 * r + 0.7152 * g + 0.0722 * b for r, g, b in (linear(one), linear(other)))
    return (lights[1] + 0.05) / (lights[0] + 0.05)


def lab(colour: str, sight: str) -> Lab:
    """In CIE L*a*b*, under daylight (D65)."""
    found = linear(colour)
    r, g, b = (min(1.0, max(0.0, sum(a * c for a, c in zip(row, found, strict=True)))) for row in SIGHT[sight])
    xyz = (
        (0.4124 * r + 0.3576 * g + 0.1805 * b) / 0.95047,
        0.2126 * r + 0.7152 * g + 0.0722 * b,
        (0.0193 * r + 0.1192 * g + 0.9505 * b) / 1.08883,
    )
    x, y, z = (t ** (1 / 3) if t > 216 / 24389 else (24389 / 27 * t + 16) / 116 for t in xyz)
    return 116 * y - 16, 500 * (x - y), 200 * (y - z)


def difference(one: Lab, other: Lab) -> float:
    """CIEDE2000, after Sharma, Wu and Dalal (2005)."""
    mean = (hypot(*one[1:]) + hypot(*other[1:])) / 2
    stretch = 1.5 - 0.5 * sqrt(mean**7 / (mean**7 + 25**7))
    c1, c2 = hypot(one[1] * stretch, one[2]), hypot(other[1] * stretch, other[2])
    h1, h2 = (degrees(atan2(b, a * stretch)) % 360 for _, a, b in (one, other))
    turn = (h2 - h1 + 180) % 360 - 180 if c1 * c2 else 0.0
    hue = (h1 + turn / 2) % 360 if c1 * c2 else h1 + h2
    light, chroma = (one[0] + other[0]) / 2, (c1 + c2) / 2
    t = 1 - 0.17 * cos(radians(hue - 30)) + 0.24 * cos(radians(2 * hue))
    t += 0.32 * cos(radians(3 * hue + 6)) - 0.2 * cos(radians(4 * hue - 63))
    by_light = (other[0] - one[0]) / (1 + 0.015 * (light - 50) ** 2 / sqrt(20 + (light - 50) ** 2))
    by_chroma = (c2 - c1) / (1 + 0.045 * chroma)
    by_hue = 2 * sqrt(c1 * c2) * sin(radians(turn) / 2) / (1 + 0.015 * chroma * t)
    skew = -sin(radians(60 * exp(-(((hue - 275) / 25) ** 2)))) * 2 * sqrt(chroma**7 / (chroma**7 + 25**7))
    return sqrt(by_light**2 + by_chroma**2 + by_hue**2 + skew * by_chroma * by_hue)


def test_the_difference_is_that_of_the_published_data() -> None:
    assert difference((50, 2.6772, -79.7751), (50, 0, -82.7485)) == pytest.approx(2.0425, abs=1e-4)
    assert difference((22.7233, 20.0904, -46.6940), (23.0331, 14.9730, -42.5619)) == pytest.approx(2.0373, abs=1e-4)
    assert difference((50, 2.5, 0), (58, 24, 15)) == pytest.approx(19.4535, abs=1e-4)


@pytest.mark.parametrize("look", LOOKS, ids=lambda look: look.name)
def test_texts_and_edges_stand_out_from_their_ground(look: Look) -> None:
    high = look in (DAY_CONTRAST, NIGHT_CONTRAST)
    least = HIGH_TEXT if high else LEAST_TEXT
    for text in (look.ink, look.muted, look.pad, look.game, *look.hues):
        assert min(contrast(text, ground) for ground in (look.sheet, look.raised)) >= least, text
    for text, ground in ((look.muted, look.grid), (look.pad, look.pad_soft), (look.game, look.game_soft)):
        assert contrast(text, ground) >= least, text
    assert contrast(look.sheet, look.hues[1]) >= LEAST_TEXT  # what is selected
    for edge in (look.edge, look.line) if high else (look.edge,):
        assert min(contrast(edge, ground) for ground in (look.sheet, look.raised)) >= (
            HIGH_GRAPHICS if high else LEAST_GRAPHICS
        )


@pytest.mark.parametrize("sight", SIGHT)
@pytest.mark.parametrize("look", LOOKS, ids=lambda look: look.name)
def test_what_means_something_by_its_colour_is_told_apart(look: Look, sight: str) -> None:
    seen = [lab(colour, sight) for colour in (look.pad, look.game, *look.hues)]
    assert min(difference(one, other) for one, other in itertools.combinations(seen, 2)) >= LEAST_DIFFERENCE


def test_day_and_night_follow_the_desktop_while_the_window_is_open(
    application: QApplication, bench: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    hints = QGuiApplication.styleHints()
    assert hints is not None
    window = bench.window
    app.follow_desktop(
        application, window.theme, ShownWindow(application, window.theme, bench.document, lambda: window)
    )
    for scheme, look in (
        (Qt.ColorScheme.Dark, NIGHT),
        (Qt.ColorScheme.Dark, NIGHT_CONTRAST),
        (Qt.ColorScheme.Light, DAY),
    ):
        monkeypatch.setattr(Desktop, "look", lambda _self, look=look: look)  # what this platform cannot be told
        hints.colorSchemeChanged.emit(scheme)
        corner = window.grab().toImage().pixelColor(2, window.bar.height() + 3).name()
        assert corner in (look.sheet, look.grid)
        tape = window.tape.grab().toImage()
        assert tape.pixelColor(tape.width() // 2 + 9, 8).name() == look.raised
