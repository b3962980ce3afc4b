"""Preview of signs on a small screen."""

from __future__ import annotations

from typing import Final

from PyQt6.QtCore import QPointF, QRectF, QSize
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from nub_shift.editing.words.slot_views import layer_mark
from nub_shift.engine.values import RingLook
from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.signs import Corner, SignKind
from nub_shift.translation import tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.signs.board import CORNERS, MARGIN, SPOTS, Spot
from nub_shift.ui.signs.painting import BadgeRow, Picture, SignPainter, sign_theme
from nub_shift.ui.signs.sign_kinds import Sign, ring_words

# A common screen, in pixels.
SCREEN: Final = QSize(1920, 1080)


class SignsPreview(QWidget):
    """Shows a sign, a ring and the badge of a profile at their places and relative sizes."""

    def __init__(self, theme: Theme, layout: LayoutSource, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme = theme
        self._layout = layout
        self._profile: Profile | None = None
        self._sample: Picture | None = None
        self._pieces: list[tuple[Picture, Spot]] = []
        self.setAccessibleName(tr("How signs look on a screen"))
        self.setMinimumSize(theme.px(320), theme.px(180))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def show_profile(self, profile: Profile) -> None:
        """Shows the signs of a profile."""
        if profile is self._profile:
            return
        self._profile = profile
        self._pieces = self._made(profile)
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        factor = min((self.width() - 2) / SCREEN.width(), (self.height() - 2) / SCREEN.height())
        room = QRectF(1, 1, SCREEN.width() * factor, SCREEN.height() * factor)
        painter.setPen(QPen(self._theme.colour("edge"), 1.4))
        painter.setBrush(self._theme.colour("grid"))
        painter.drawRoundedRect(room, self._theme.px(4), self._theme.px(4))
        painter.setClipRect(room)
        painter.translate(room.topLeft())
        painter.scale(factor, factor)
        for picture, spot in self._pieces:
            size = picture.size
            left = MARGIN + (SCREEN.width() - size.width() - 2 * MARGIN) * spot.x
            above = MARGIN + (SCREEN.height() - size.height() - 2 * MARGIN) * spot.y
            painter.drawImage(QPointF(left, above), picture.image)
        painter.resetTransform()
        painter.setClipping(False)
        if self._sample is not None:
            painter.setPen(self._theme.colour("muted"))
            line = QRectF(0, room.bottom() + self._theme.px(14), self.width(), self._theme.px(20))
            painter.drawText(line, tr("A sign at its full size"))
            painter.drawImage(line.bottomLeft() + QPointF(0, self._theme.px(6)), self._sample.image)
        painter.end()

    def _made(self, profile: Profile) -> list[tuple[Picture, Spot]]:
        signs = profile.signs
        self._sample = None
        if not signs.shown:
            return []
        painter = SignPainter(sign_theme(signs.size), signs.opacity, 1.0)
        pieces = []
        if signs.rings and profile.rings:
            ring = profile.rings[0]
            look = RingLook("left_stick", ring.id, 0.0, -0.8, 0)
            words = ring_words(profile, ring, self._layout())
            pieces.append((painter.ring(ring, words, look), Spot(0.5, 0.5)))
        if sample := _samples(profile):
            self._sample = painter.stack(sample, 1)
            pieces.append((self._sample, SPOTS[signs.place]))
        layers = [layer.id for layer in profile.layers[1:] if not layer.silent][:1]
        if signs.badge is not Corner.NONE and layers:
            row = BadgeRow(0, (layer_mark(profile, layers[0]),), "")
            pieces.append((painter.badge([row], 1), CORNERS[signs.badge]))
        return pieces


def _samples(profile: Profile) -> list[Sign]:
    """Returns an example of a sign, unless all are silent."""
    layers = [layer for layer in profile.layers[1:] if not layer.silent]
    found = [Sign(SignKind.LAYER, 0, layer.label, layer_mark(profile, layer.id)) for layer in layers[:1]]
    found.append(Sign(SignKind.PROFILE, 0, profile.title))
    found += [Sign(SignKind.LIVE, 0, tr("Live")), Sign(SignKind.PAD, 0, tr("The pad is here"))]
    return [sign for sign in found if sign.kind not in profile.signs.silent][:1]
