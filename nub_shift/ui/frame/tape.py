"""The tape: pad input and game output, scrolling at the foot of the window."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import TypeVar

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QLabel, QSizePolicy, QWidget

from nub_shift.editing.preview.tape_track import SPAN_US, TapeTrack
from nub_shift.keyboard.keys import KEY_BY_CODE
from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.pad.labels import control_title
from nub_shift.protocol.clock import monotonic_us
from nub_shift.protocol.messages import Telemetry
from nub_shift.translation import beginning, tr
from nub_shift.ui.frame.tape_strip import POINTER, PadRows, Rows, TapeStrip
from nub_shift.ui.look.theme import Theme

Name = TypeVar("Name")

FRAME_MS = 40
STEP_MS = 1000  # with less motion
_MAX_ROWS = 6


# Least heights of the tape, in a low window and in any other.
LOW_TAPE, LEAST_TAPE = 46, 96


class Tape(QLabel):
    """Two bands on one time axis, with the present at the right edge. Scrolls only while there is activity.

    Attributes:
        track: content.
        strip: the moving part, as a picture.
        live: whether the game gets the outputs.
        printed: labels on each player's controls, where they are not the position.

    Signals:
        clicked(): clicked, to pause or continue.
    """

    clicked = pyqtSignal()

    def __init__(self, theme: Theme, layout: LayoutSource, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._layout = layout
        self.track = TapeTrack()
        self.live = False
        self.printed: list[dict[str, str]] = [{}]
        self.strip = TapeStrip(theme, self.track)
        self._ground = QPixmap()
        self._shown: object = None
        self._still: QPixmap | None = None  # shown while paused
        self._low = False
        self._timer = QTimer(self)
        self._timer.setInterval(FRAME_MS)
        self._timer.timeout.connect(self._on_tick)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Maximum)
        self.setAccessibleName(tr("Tape: what the pad did and what the game got in the last seconds"))

    def set_live(self, live: bool) -> None:
        """Sets whether outputs go to the game."""
        if live is not self.live:
            self.live = live
            self.update()

    def set_low(self, low: bool) -> None:
        """Reduces the tape in a low window to one row each for pad and game, without seconds."""
        if low is not self._low:
            self._low = low
            self._shown = None
            self.updateGeometry()

    def take(self, packet: Telemetry) -> None:
        """Adds a packet."""
        self.track.take(packet)
        if not self._timer.isActive() and monotonic_us() - self.track.last_us < SPAN_US:
            self._timer.start()

    def pause(self, on: bool) -> None:
        """Freezes the view while paused; the track continues to record."""
        self._still = self.grab() if on else None
        self.setAccessibleDescription(tr("Paused") if on else "")
        self.update()

    def set_less_motion(self, less: bool) -> None:
        """Sets whether the tape moves by steps of a second in place of scrolling."""
        self._timer.setInterval(STEP_MS if less else FRAME_MS)

    def mousePressEvent(self, _event: QMouseEvent | None) -> None:
        self.clicked.emit()

    def rest(self) -> None:
        """Stops scrolling until the next packet, while the window is invisible."""
        self._timer.stop()

    def sizeHint(self) -> QSize:
        return QSize(400, self.theme.px(LOW_TAPE if self._low else 172))

    def minimumSizeHint(self) -> QSize:
        return QSize(400, self.theme.px(LOW_TAPE if self._low else LEAST_TAPE))

    def _on_tick(self) -> None:
        if monotonic_us() - self.track.last_us > SPAN_US:
            self._timer.stop()
        if self.isVisible():
            self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        if self._still is not None:
            self._paint_still(self._still)
            return
        now_us = monotonic_us()
        rect = QRectF(self.rect())
        below = self.theme.px(3 if self._low else 16)
        area = rect.adjusted(self.theme.px(118), self.theme.px(4), -self.theme.px(14), -below)
        controls, keys = self.track.active_controls(now_us), self.track.active_keys(now_us)
        if self.track.pointer and now_us - self.track.pointer[-1][0] < SPAN_US:
            keys = {POINTER: set(), **keys}
        half = QRectF(0, 0, area.width(), area.height() / 2 - 2)
        game_half = half.translated(0, area.height() / 2 + 2)
        pad = _rows(controls, half, self.theme.px(12))
        game = _rows(list(keys), game_half, self.theme.px(12))
        painter = QPainter(self)
        lacks = len(controls) - len(pad), len(keys) - len(game)
        self._paint_ground(painter, area, pad, game, keys, lacks)
        strip = self.strip.picture(area.size().toSize(), self.devicePixelRatioF(), pad, game, now_us)
        painter.drawPixmap(area.topLeft(), strip)
        for band, count, role in zip((half, game_half), lacks, ("pad", "game"), strict=True):
            self._paint_left_out(painter, band.translated(area.topLeft()), count, role)

    def _paint_left_out(self, painter: QPainter, band: QRectF, count: int, role: str) -> None:
        """Paints the number of rows without room in a half; the newest rows are shown."""
        if count <= 0:
            return
        text = _more(count)
        painter.setFont(self.theme.font(0.8, bold=True))
        width = painter.fontMetrics().horizontalAdvance(text) + self.theme.px(8)
        plate = QRectF(band.x(), band.y(), width, self.theme.px(13))
        painter.fillRect(plate, self.theme.colour("raised"))
        painter.setPen(self.theme.colour(role))
        painter.drawText(plate, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_still(self, still: QPixmap) -> None:
        painter = QPainter(self)
        painter.drawPixmap(0, 0, still)
        painter.setFont(self.theme.font(1.0, bold=True))
        painter.setPen(self.theme.colour("ink"))
        room = self.rect().adjusted(0, self.theme.px(4), -self.theme.px(20), 0)
        flags = Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignRight
        painter.drawText(room, flags, tr("Paused. Click it, or press Ctrl+P, to go on"))

    def _paint_ground(
        self,
        painter: QPainter,
        area: QRectF,
        pad: PadRows,
        game: Rows,
        senders: Mapping[str, Collection[int]],
        lacks: tuple[int, int],
    ) -> None:
        """Draws the still parts once, until the rows change. `senders` are the seats that sent each row of the game.

        `lacks` is the number of rows without room in each half.
        """
        ratio, layout = self.devicePixelRatioF(), self._layout()
        controls = [(self._control_label(*line), row) for line, row in pad]
        keys = [(self._key_label(name, senders[name]), row) for name, row in game]
        names = [[name for name, _ in rows] for rows in (controls, keys)]
        names = [[*known, _more(count)] if count else known for known, count in zip(names, lacks, strict=True)]
        shown = (self.size(), ratio, self.theme.look, self.live, layout.name, names)
        if shown != self._shown:
            self._shown = shown
            self._ground = QPixmap(self.size() * ratio)
            self._ground.setDevicePixelRatio(ratio)
            drawing = QPainter(self._ground)
            self._draw_ground(drawing, area, controls, keys)
            drawing.end()
            self._notify(*names)
        painter.drawPixmap(0, 0, self._ground)

    def _control_label(self, seat: int, control: str) -> str:
        """Returns the label of a control's row, with the player's number if there are several."""
        printed = self.printed[seat] if seat < len(self.printed) else {}
        title = control_title(control, printed)
        return title if len(self.printed) == 1 else f"{seat + 1}: {title}"

    def _key_label(self, name: str, seats: Collection[int]) -> str:
        """Returns the label of a key's row, with the numbers of its senders."""
        label = self._layout().label(name) if name in KEY_BY_CODE else name
        if len(self.printed) == 1 or not seats:
            return label
        return f"{'+'.join(str(seat + 1) for seat in sorted(seats))}: {label}"

    def _notify(self, pad: Sequence[str], game: Sequence[str]) -> None:
        """Describes the tape for assistive tools."""
        controls, keys = (", ".join(names) or tr("nothing") for names in (pad, game))
        title = tr("game") if self.live else tr("game, rehearsed")
        self.setAccessibleName(
            tr(
                "Tape of the last seconds. Pad: {controls}. {title}: {keys}",
                controls=controls,
                title=beginning(title),
                keys=keys,
            )
        )

    def _draw_ground(self, painter: QPainter, area: QRectF, pad: Rows, game: Rows) -> None:
        theme = self.theme
        rect = QRectF(self.rect())
        painter.fillRect(rect, theme.colour("raised"))
        painter.setPen(QPen(theme.colour("ink"), 1))
        painter.drawLine(rect.topLeft(), rect.topRight())
        self._paint_seconds(painter, area)
        middle = area.y() + area.height() / 2
        painter.setPen(QPen(theme.colour("line"), 1))
        painter.drawLine(QPointF(theme.px(8), middle), QPointF(rect.right(), middle))
        half = QRectF(area.x(), area.y(), area.width(), area.height() / 2 - 2)
        if not pad:
            self._paint_title(painter, half, tr("Pad"), "pad")
        if not game:
            title = tr("Game") if self.live else tr("Game, rehearsed")
            self._paint_title(painter, half.translated(0, area.height() / 2 + 2), title, "game")
        for name, row in pad:
            self._label(painter, row.translated(area.topLeft()), name, "pad")
        for name, row in game:
            self._label(painter, row.translated(area.topLeft()), name, "game")

    def _paint_seconds(self, painter: QPainter, area: QRectF) -> None:
        theme = self.theme
        painter.setFont(theme.font(0.78))
        for seconds in range(9):
            x = area.right() - seconds / (SPAN_US / 1e6) * area.width()
            painter.setPen(QPen(theme.colour("grid"), 1))
            painter.drawLine(QPointF(x, area.y()), QPointF(x, area.bottom()))
            if self._low:
                continue
            painter.setPen(theme.colour("muted"))
            text = tr("now") if seconds == 0 else f"{seconds} s"
            spot = QRectF(x - 30, area.bottom() + 1, 42 if seconds == 0 else 60, theme.px(14))
            flags = Qt.AlignmentFlag.AlignRight if seconds == 0 else Qt.AlignmentFlag.AlignHCenter
            painter.drawText(spot, flags, text)

    def _paint_title(self, painter: QPainter, band: QRectF, text: str, role: str) -> None:
        painter.setFont(self.theme.font(0.92))
        painter.setPen(self.theme.colour(role))
        painter.drawText(QRectF(self.theme.px(12), band.y(), 400, band.height()), Qt.AlignmentFlag.AlignVCenter, text)

    def _label(self, painter: QPainter, row: QRectF, text: str, role: str) -> None:
        painter.setFont(self.theme.font(0.8))
        painter.setPen(self.theme.colour(role))
        room = QRectF(self.theme.px(12), row.y(), row.x() - self.theme.px(16), row.height())
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, text)


def _more(count: int) -> str:
    return tr("+{count} more", count=count)


def _rows(names: list[Name], band: QRectF, least: float) -> list[tuple[Name, QRectF]]:
    """Returns a rectangle for each of the last names, of equal height and at least `least`."""
    most = max(1, min(_MAX_ROWS, int(band.height() / least)))
    shown = names[-most:]
    height = band.height() / max(min(4, most), len(shown))
    return [(name, QRectF(band.x(), band.y() + i * height, band.width(), height)) for i, name in enumerate(shown)]
