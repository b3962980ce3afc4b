"""Outcome of recorded movements before a change and with it: two paths in one picture, and figures."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF, QShowEvent, QTransform
from PyQt6.QtWidgets import QButtonGroup, QFileDialog, QGridLayout, QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from nub_shift.analysis.hands import CHANNELS, Hands, Piece
from nub_shift.analysis.reshaping import depends_on_time
from nub_shift.editing.feel_uses import FeelUse, LookUse, TurningUse, WalkUse
from nub_shift.model.controls import CONTROL_BY_NAME, MOTION_SLOT, STICK_SLOTS
from nub_shift.model.plain_text import system_fault
from nub_shift.model.profile.feel import MotionFeel, StickFeel
from nub_shift.model.slot_names import slot_name
from nub_shift.tasks.keep_piece import keep_piece
from nub_shift.translation import inside, tr
from nub_shift.ui.feel.compare.outcome import Bias, Figure, Outcome, PartFeel, outcome
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import Choice, TextButton
from nub_shift.ui.widgets.help_mark import HelpMark
from nub_shift.ui.widgets.plain import PlainLabel, set_tooltip
from nub_shift.ui.widgets.still import CachedPart

# Use of a control, and its feel.
Shaped = tuple[FeelUse | None, PartFeel]

_LENGTHS_S = {"10 s": 10, "30 s": 30, "60 s": 60}
# Interval of renewing the piece while the hands continue.
_FRESH_MS = 2_000
# Delay of outcomes with smoothing, which need the engine's own steps, until no drag is in progress.
_LATER_MS = 150
# Number of rows of figures for a stick or trigger, and for the gyro, laid out before the figures are known.
MOST_ROWS, TURN_ROWS = 6, 3
_MOST_TURNING_S = 10
# Line width of the earlier outcome.
_THIN = 1.5
# Widths of the columns: name, before, now, better or worse.
_COLUMNS = (10, 5, 5, 3)


class OutcomePanel(QWidget):
    """Shows one control's outcome before and now.

    Attributes:
        bias: known bias of the gyro.
        rows: name, before and now of each figure.
        lengths: choice of the piece's length.

    Signals:
        refreshed(): the piece has been renewed.
        said(str): a line for the person.
        basis_changed(): the present state is the new basis of comparison.
    """

    basis_changed = pyqtSignal()
    said = pyqtSignal(str)
    refreshed = pyqtSignal()

    def __init__(self, theme: Theme, hands: Hands, rows: int = MOST_ROWS, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._hands = hands
        self._control = "left_stick"
        self._does: tuple[FeelUse | None, FeelUse | None] = (None, None)
        self._feels: tuple[PartFeel, PartFeel] = (StickFeel(), StickFeel())
        self._piece: Piece | None = None
        self.bias: Bias | None = None
        self._seen = 0  # number of recorded rows at the last outcome
        self._seconds = 30
        self._before: tuple[object, Outcome] | None = None  # cached: input and outcome
        title = PlainLabel(tr("What your hands just did"))
        title.setFont(theme.font(0.92, bold=True))
        head = QHBoxLayout()
        head.addWidget(title, 1)
        self.keep = TextButton(theme, tr("Keep …"), tr("Saves the seconds shown here to a file, as a recording"))
        self.keep.clicked.connect(self._on_keep)
        head.addWidget(self.keep)
        self.lengths: dict[str, Choice] = {}
        group = QButtonGroup(self)
        for text, seconds in _LENGTHS_S.items():
            choice = self.lengths[text] = Choice(theme, text, tr("Shows the last {seconds} seconds", seconds=seconds))
            choice.setChecked(seconds == self._seconds)
            choice.clicked.connect(partial(self._on_length, seconds))
            group.addButton(choice)
        lengths = QHBoxLayout()
        for choice in self.lengths.values():
            lengths.addWidget(choice)
        help_text = tr("How much of what your hands just did is drawn and counted here.")
        lengths.addWidget(HelpMark(theme, tr("the length of time"), help_text))
        lengths.addStretch(1)
        self.anew = TextButton(theme, tr("Compare from now"), tr("Compares later changes with the feel as it is now"))
        self.anew.clicked.connect(self.basis_changed)
        lengths.addWidget(self.anew)
        self.picture = WayPicture(theme)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(theme.px(8))
        self._grid.setVerticalSpacing(theme.px(2))
        self._heads = [PlainLabel(text) for text in ("", tr("Before"), tr("Now"), "")]
        self.rows = [[PlainLabel() for _ in range(4)] for _ in range(rows)]
        for number, labels in enumerate([self._heads, *self.rows]):
            for place, label in enumerate(labels):
                label.setFont(theme.font(0.85, bold=place == 2 or number == 0))
                # Long numbers must not move their neighbours.
                label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
                label.setFixedHeight(theme.px(17))
                self._grid.addWidget(label, number, place)
        for place, part in enumerate(_COLUMNS):
            self._grid.setColumnStretch(place, part)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(4))
        column.addLayout(head)
        column.addWidget(self.picture, 1)
        column.addLayout(self._grid)
        column.addLayout(lengths)
        self._fresh = QTimer(self)
        self._fresh.setInterval(_FRESH_MS)
        self._fresh.timeout.connect(self._on_time)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._work_out)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(330), self.theme.px(200))

    def show_feels(self, control: str, before: Shaped, now: Shaped, at_once: bool = False) -> None:
        """Shows the outcome of a control before and now; `at_once` if something is dragged."""
        if control != self._control:
            self._piece = None
        self._control = control
        self._does, self._feels = (before[0], now[0]), (before[1], now[1])
        self.refresh(at_once)

    def refresh(self, at_once: bool = False) -> None:
        """Recomputes the outcome when idle: at once if requested and fast, otherwise after a delay."""
        slow = any(
            isinstance(feel, MotionFeel) or (isinstance(feel, StickFeel) and depends_on_time(feel))
            for feel in self._feels
        )
        if at_once and not slow:
            self._later.stop()
            self._work_out()
        else:
            self._later.start(_LATER_MS if slow else 0)

    @property
    def settled(self) -> bool:
        """Whether the shown figures belong to the latest feels."""
        return not self._later.isActive()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._fresh.start()

    def _on_time(self) -> None:
        if not self.isVisible():
            self._fresh.stop()
            return
        if self._hands.count == self._seen:  # no new movements, or an invisible window without packets
            return
        self._seen = self._hands.count
        self._piece = None
        self.refresh()
        self.refreshed.emit()

    def _on_length(self, seconds: int, _checked: bool = False) -> None:
        self._seconds = seconds
        self._piece = None
        self.refresh()

    def _on_keep(self) -> None:
        dialog = QFileDialog(self, tr("Keep what your hands just did"), "", tr("Recordings (*.txt)"))
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.setDefaultSuffix("txt")
        dialog.fileSelected.connect(lambda name: self.keep_as(Path(name)))
        dialog.open()

    def keep_as(self, path: Path) -> None:
        """Writes the piece to a file."""
        piece = self._hands.piece(CHANNELS, self._seconds)
        rows = (dict(zip(CHANNELS, row, strict=True)) for row in piece.values.tolist())
        try:
            keep_piece(path, tr("What hands did"), zip(piece.t_us.tolist(), rows, strict=True))
        except OSError as error:
            self.said.emit(tr("{path} cannot be written: {why}", path=path.name, why=system_fault(error)))
        else:
            self.said.emit(
                tr(
                    "Written: {path}, {seconds:.0f} s. “nub-shift replay” plays it again",
                    path=path,
                    seconds=piece.seconds,
                )
            )

    @property
    def piece(self) -> Piece:
        """The piece of recorded movements; constant during a drag."""
        if self._piece is None:
            channels: Sequence[str] = (self._control,)
            if self._control in STICK_SLOTS:
                channels = [slot_name(self._control, axis) for axis in "xy"]
            elif self._control == MOTION_SLOT:
                channels = CONTROL_BY_NAME[MOTION_SLOT].channels
            # Limits the time of the engine's steps, a third of a second for a minute of sensors.
            most = _MOST_TURNING_S if self._control == MOTION_SLOT else self._seconds
            self._piece = self._hands.piece(channels, min(self._seconds, most))
        return self._piece

    def _work_out(self) -> None:
        does_before, does = self._does
        piece = self.piece
        if does is None or does_before is None or len(piece.t_us) < 2:
            label = inside(CONTROL_BY_NAME[self._control].label)
            self._show(
                None,
                None,
                piece,
                tr("Use the {label} for a while", label=label)
                if does
                else tr("The {label} does nothing here", label=label),
            )
            return
        made_of = (id(piece), does_before, self._feels[0])
        if self._before is None or self._before[0] != made_of:
            self._before = made_of, outcome(does_before, self._feels[0], piece, self.bias)
        before = self._before[1]
        same = (does_before, self._feels[0]) == (does, self._feels[1])
        self._show(before, before if same else outcome(does, self._feels[1], piece, self.bias), piece, "")

    def _show(self, before: Outcome | None, now: Outcome | None, piece: Piece, why_not: str) -> None:
        self.picture.show_outcomes(self._does[1], before, now, piece, why_not)
        found = list(zip(before.figures, now.figures, strict=False)) if before is not None and now is not None else []
        self._heads[1].setText(tr("Before") if found else "")
        self._heads[2].setText(tr("Now") if found else "")
        for labels, both in zip(self.rows, [*found, *[None] * len(self.rows)], strict=False):
            texts = (both[1].name, both[0].text, both[1].text, _judged(*both)) if both is not None else ("",) * 4
            for label, text in zip(labels, texts, strict=True):
                label.setText(text)
            labels[1].setAccessibleName(tr("{name}, before: {was}", name=texts[0], was=texts[1]))
            labels[2].setAccessibleName(tr("{name}, now: {now} {judged}", name=texts[0], now=texts[2], judged=texts[3]))
            set_tooltip(labels[0], texts[0])


def _judged(was: Figure, now: Figure) -> str:
    """Returns in words whether the new value is better."""
    if was.fault is None or now.fault is None or now.fault == was.fault:
        return ""
    return tr("better") if now.fault < was.fault else tr("worse")


class WayPicture(QWidget):
    """Paths, directions or presses: the earlier ones thin and grey, the present ones in the game's colour."""

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._does: FeelUse | None = None
        self._before: Outcome | None = None
        self._now: Outcome | None = None
        self._piece: Piece | None = None
        self._why_not = ""
        self._count = 0
        self._still = CachedPart(self, self._draw)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(tr("Figures before and now"))

    def minimumSizeHint(self) -> QSize:
        return QSize(self.theme.px(200), self.theme.px(100))

    def show_outcomes(
        self, does: FeelUse | None, before: Outcome | None, now: Outcome | None, piece: Piece, why_not: str
    ) -> None:
        """Shows two outcomes of a piece, or the reason why there is none."""
        self._does, self._before, self._now, self._piece, self._why_not = does, before, now, piece, why_not
        self._count += 1
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        self._still.paint(QPainter(self), (self._count, self.theme.look))

    def _draw(self, painter: QPainter) -> None:
        theme = self.theme
        area = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.setPen(QPen(theme.colour("line"), 1))
        painter.setBrush(theme.colour("raised"))
        painter.drawRect(area)
        area.adjust(theme.px(8), theme.px(8), -theme.px(8), -theme.px(8))
        if self._before is None or self._now is None:
            painter.setPen(theme.colour("muted"))
            painter.setFont(theme.font(0.92))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self._why_not)
            return
        both = (self._before, QPen(theme.colour("muted"), 1.2)), (self._now, QPen(theme.colour("game"), 2))
        if isinstance(self._does, LookUse | TurningUse):
            self._draw_ways(painter, area, [(made.way, pen) for made, pen in both])
        elif isinstance(self._does, WalkUse):
            self._draw_shares(painter, area, [(made.shares, pen) for made, pen in both])
        else:
            self._draw_presses(painter, area)

    def _draw_ways(self, painter: QPainter, area: QRectF, ways: list[tuple[list[tuple[float, float]], QPen]]) -> None:
        """Draws both paths on one scale. Lines of one pixel take a tenth of the time of wider ones."""
        shapes = [QPolygonF([QPointF(x, y) for x, y in way]) for way, _ in ways]
        bounds = shapes[0].boundingRect().united(shapes[1].boundingRect())
        scale = min(area.width() / max(bounds.width(), 1.0), area.height() / max(bounds.height(), 1.0))
        for shape, (_, pen) in zip(shapes, ways, strict=True):
            strong = pen.widthF() > _THIN
            placed = (
                QTransform.fromTranslate(area.center().x(), area.center().y())
                .scale(scale, scale)
                .map(shape.translated(-bounds.center()))
            )
            painter.setPen(QPen(pen.color(), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for beside in (0.0, 0.8) if strong else (0.0,):
                painter.drawPolyline(placed.translated(beside, beside))
            painter.setBrush(pen.color())
            painter.drawEllipse(placed.last(), self.theme.px(3), self.theme.px(3))
        wide, high = bounds.width(), bounds.height()
        size = (
            tr("{wide:.0f} × {high:.0f} degrees", wide=wide, high=high)
            if isinstance(self._does, TurningUse)
            else tr("{wide:.0f} × {high:.0f} counts", wide=wide, high=high)
        )
        self._words(painter, area, size)

    def _draw_shares(self, painter: QPainter, area: QRectF, shares: list[tuple[tuple[float, ...], QPen]]) -> None:
        """Draws a wedge for each direction, with its part of the time as radius."""
        most = max(0.01, *(max(found) for found, _ in shares))
        reach = min(area.width(), area.height()) / 2
        for found, pen in shares:
            now = pen.widthF() > _THIN
            painter.setPen(pen)
            painter.setBrush(self.theme.colour("game", 60) if now else Qt.BrushStyle.NoBrush)
            for sector, share in enumerate(found):
                radius = reach * (share / most) ** 0.5
                rect = QRectF(-radius, -radius, 2 * radius, 2 * radius).translated(area.center())
                if share:
                    painter.drawPie(rect, round((90 - sector * 45 - 20) * 16), 40 * 16)
        self._words(painter, area, tr("Time in each direction"))

    def _draw_presses(self, painter: QPainter, area: QRectF) -> None:
        """Draws the pull over time, and under it two lines for each stage: before and now."""
        piece, before, now = self._piece, self._before, self._now
        if piece is None or before is None or now is None:
            return
        start, span = int(piece.t_us[0]), max(int(piece.t_us[-1] - piece.t_us[0]), 1)
        row = self.theme.px(18)
        pulls = area.adjusted(0, 0, 0, -row * len(now.presses))
        pull = abs(piece.values[:, 0])
        step = max(1, len(pull) // 1_000)
        points = [
            QPointF(pulls.x() + pulls.width() * (int(t_us) - start) / span, pulls.bottom() - pulls.height() * value)
            for t_us, value in zip(piece.t_us[::step].tolist(), pull[::step].tolist(), strict=True)
        ]
        painter.setPen(QPen(self.theme.colour("pad"), 1.4))
        painter.drawPolyline(QPolygonF(points))
        painter.setPen(Qt.PenStyle.NoPen)
        for number, label in enumerate(now.presses):
            top = pulls.bottom() + number * row + self.theme.px(3)
            for line, (made, role) in enumerate(((before, "muted"), (now, "game"))):
                painter.setBrush(self.theme.colour(role))
                for begun, ended in made.presses.get(label, ()):
                    x = area.x() + area.width() * (begun - start) / span
                    width = max(area.width() * (ended - begun) / span, 2.0)
                    painter.drawRect(QRectF(x, top + line * self.theme.px(7), width, self.theme.px(6)))

    def _words(self, painter: QPainter, area: QRectF, text: str) -> None:
        painter.setFont(self.theme.font(0.8))
        painter.setPen(self.theme.colour("muted"))
        painter.drawText(area, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop, text)
