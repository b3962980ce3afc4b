"""Page of motion: its pictures, its switches, its known bias, and two tests by hand."""

from __future__ import annotations

from collections.abc import Iterable
from enum import Enum
from math import hypot

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from nub_shift.analysis.turning import Turning
from nub_shift.editing.feel.motion_numbers import motion_feel, motion_sentence
from nub_shift.engine.values import Frame
from nub_shift.model.profile.profile import Profile
from nub_shift.translation import number_text, tr
from nub_shift.ui.feel.pictures.motion import Horizon, MotionPicture, RateStrip, RatioCurve
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.plain import PlainLabel

TEST_S = 5.0
# One in so many samples is drawn, and the text is updated at this interval.
_SHOWN_OF = 4
_SHOWN_US = 60_000
# Least angle of a turn, in degrees.
_LEAST_TURN = 3.0


class HandTest(Enum):
    """A test, with its button and instruction."""

    SLOW = (tr("Test a slow turn"), tr("Turn the pad slowly to one side until the test ends"))
    SHAKE = (tr("Test pressing"), tr("Hold the pad still and press buttons, as you play"))


class MotionPage(QWidget):
    """Shows motion in one layer.

    Attributes:
        turning: present rates and bias, updated all the time.
        strip, horizon, curve: its pictures.
        tests: buttons of the tests.

    Signals:
        previewed(MotionNumber, float), chosen(MotionNumber, float): as for its pictures.
    """

    previewed = pyqtSignal(object, float)
    chosen = pyqtSignal(object, float)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self.turning = Turning()
        self._ratio = 1.0
        self._samples = 0
        self._shown_us = 0
        self._test: HandTest | None = None
        self.strip, self.horizon, self.curve = RateStrip(theme), Horizon(theme), RatioCurve(theme)
        self._pictures: tuple[MotionPicture, ...] = (self.strip, self.horizon, self.curve)
        for picture in self._pictures:
            picture.previewed.connect(self.previewed)
            picture.chosen.connect(self.chosen)
        self._sentence, self._rest, self._says = (PlainLabel() for _ in range(3))
        self._sentence.setFont(theme.font(1.0, bold=True))
        words = QVBoxLayout()
        words.setSpacing(theme.px(6))
        for label in (self._sentence, self._rest, self._says):
            label.setWordWrap(True)
            label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            label.setFixedHeight(theme.px(54))  # reserves the room of its text
            words.addWidget(label)
        self.tests: dict[HandTest, TextButton] = {}
        row = QHBoxLayout()
        for test in HandTest:
            button = self.tests[test] = TextButton(theme, test.value[0], test.value[1])
            button.clicked.connect(lambda _checked, test=test: self._begin(test))
            row.addWidget(button)
        row.addStretch(1)
        words.insertLayout(2, row)
        words.addStretch(1)
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.addWidget(self.strip, 0, 0)
        grid.addWidget(self.curve, 0, 1)
        grid.addWidget(self.horizon, 1, 0)
        grid.addLayout(words, 1, 1)
        for place in (0, 1):
            grid.setRowStretch(place, 1)
            grid.setColumnStretch(place, 1)

    def show_profile(self, profile: Profile, layer_id: str) -> None:
        """Shows the motion of a profile while a layer is active."""
        feel = motion_feel(profile, layer_id)
        self._ratio = feel.ratio
        self.turning.use(feel)
        for picture in self._pictures:
            picture.show_feel(feel)
        _say(self._sentence, motion_sentence(profile, layer_id))

    @property
    def known_bias(self) -> tuple[float, float, float] | None:
        """Bias of the gyro, if known."""
        return self.turning.bias if self.turning.sure_to_dps is not None else None

    def forget(self) -> None:
        """Forgets the pad."""
        self.turning = Turning()
        self.strip.forget()

    def take(self, frames: Iterable[Frame]) -> None:
        """Processes frames of the pad."""
        turning = self.turning
        for frame in frames:
            if turning.take(frame):
                self._samples += 1
                if self._samples % _SHOWN_OF == 0:
                    self.strip.follow(frame.t_us, turning.raw[0], turning.steady[0])
        now_us = turning.at_us
        if not self.isVisible() or 0 <= now_us - self._shown_us < _SHOWN_US:
            return
        self._shown_us = now_us
        self.horizon.follow(*turning.tilt)
        self.curve.follow(hypot(*turning.raw))
        for picture in self._pictures:
            picture.update()
        self._say_rest()
        if self._test is not None:
            self._go_on(self._test)

    def _say_rest(self) -> None:
        sure = self.turning.sure_to_dps
        if sure is None:
            _say(self._rest, tr("The gyro's rest is not known yet: lay the pad down for a second."))
            return
        shows = ", ".join(number_text(round(rate, 2) + 0.0, ".2f") for rate in self.turning.bias)  # avoids -0.00
        _say(
            self._rest,
            tr(
                "At rest the gyro shows {shows}°/s, give or take {sure:.2f}. This is subtracted.",
                shows=shows,
                sure=sure,
            ),
        )

    def _begin(self, test: HandTest) -> None:
        self._test = test
        self.turning.begin()
        _say(self._says, test.value[1])

    def _go_on(self, test: HandTest) -> None:
        turning = self.turning
        if turning.seconds < TEST_S:
            _say(self._says, tr("{test}: {seconds:.0f} s more", test=test.value[1], seconds=TEST_S - turning.seconds))
            return
        self._test = None
        if test is HandTest.SHAKE:
            shaken = turning.moved * self._ratio / turning.seconds
            _say(
                self._says,
                tr(
                    "The view shook by {shaken:.2f} degrees a second. Raise “Counts as still below” if that is too "
                    "much.",
                    shaken=shaken,
                ),
            )
        elif abs(turning.raw_way) < _LEAST_TURN:
            _say(self._says, tr("That turn was too small or too fast. Try again, slowly and without a stop."))
        else:
            part = turning.steady_way / turning.raw_way
            _say(
                self._says,
                tr(
                    "{part:.0%} of your slow turn came through. Lower “Counts as still below” if that is too little.",
                    part=part,
                ),
            )


def _say(label: PlainLabel, text: str) -> None:
    """Sets a changed text; setting an equal one would cause a layout."""
    if label.text() != text:
        label.setText(text)
