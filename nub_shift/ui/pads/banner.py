"""Head of the shown pad: its faults with remedies, or the question of a set-up."""

from __future__ import annotations

from enum import Enum

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from nub_shift.editing.words.introduction import instruction
from nub_shift.editing.words.messages import message_words
from nub_shift.protocol.messages import Introducing, PadInfo
from nub_shift.translation import beginning, tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.flow import Flow
from nub_shift.ui.widgets.plain import PlainLabel

_SOURCES = {
    "document": tr("All controls of this pad are known"),
    "card": tr("You have set up this pad"),
    "guess": tr("Guessed from its codes"),
}


class PadCommand(Enum):
    """Commands for the shown pad."""

    INTRODUCE = "introduce"
    KEEP_GUESS = "keep_guess"
    SKIP = "skip"
    BACK = "back"
    KEEP = "keep"
    STOP = "stop"
    PLAY_DEMO = "play_demo"
    REST = "rest"
    UNPLUG = "unplug"
    AT_HAND = "at_hand"


class PadBanner(QWidget):
    """Head of the shown pad.

    Attributes:
        words: faults, or the question.
        introduce, skip, back, keep, stop, unplug, at_hand, play_demo: buttons, shown when applicable.

    Signals:
        done(PadCommand): a pressed button.
    """

    done = pyqtSignal(object)

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = theme
        self._asking = False
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        self.words.setFont(theme.font(1.15, bold=True))
        self._note = PlainLabel()
        self._note.setWordWrap(True)
        self._note.setFont(theme.font(0.92))
        self.introduce = self._make(PadCommand.INTRODUCE, tr("Set up"), tr("Press its controls one after the other"))
        self.keep_guess = self._make(
            PadCommand.KEEP_GUESS, tr("This is right"), tr("Everything works as shown; no set-up needed")
        )
        self.skip = self._make(PadCommand.SKIP, tr("Not on this pad"), tr("This pad has no such control"))
        self.back = self._make(PadCommand.BACK, tr("Undo answer"), tr("Forget the last answer"))
        self.keep = self._make(PadCommand.KEEP, tr("Save and finish"), tr("Save what was set up"))
        self.stop = self._make(PadCommand.STOP, tr("Cancel"), tr("Stops without saving"))
        self.play_demo = self._make(PadCommand.PLAY_DEMO, tr("Play demo"), tr("The simulated pad moves by itself"))
        self.rest = self._make(PadCommand.REST, tr("Stop demo"), tr("The simulated pad rests until you work it"))
        self.at_hand = self._make(
            PadCommand.AT_HAND, tr("Keep at hand"), tr("Opens this pad above all windows, to press it in any station")
        )
        self.unplug = self._make(PadCommand.UNPLUG, tr("Unplug"), tr("Unplug this simulated pad"))
        # Below the words, so that longer questions do not move the buttons.
        does = QWidget()
        row = Flow(theme.px(5), does, grows=True)
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(12), theme.px(4), theme.px(8), theme.px(6))
        column.setSpacing(0)
        column.addWidget(self.words)
        column.addWidget(self._note)
        column.addStretch(1)
        column.addWidget(does, 0, Qt.AlignmentFlag.AlignRight)
        # No removing button takes the place of a set-up's last button.
        for button in (
            *(self.unplug, self.at_hand, self.play_demo, self.rest, self.keep_guess),
            *(self.skip, self.back, self.keep, self.stop, self.introduce),
        ):
            row.addWidget(button)
        # Room for two lines, a note and the buttons, so that nothing below moves.
        lines = 2 * self.words.fontMetrics().lineSpacing() + self._note.fontMetrics().lineSpacing()
        self.setMinimumHeight(lines + self.introduce.sizeHint().height() + theme.px(14))

    def show_pad(self, pad: PadInfo | None, course: Introducing | None) -> None:
        """Shows a pad, and the progress of its set-up."""
        self._asking = course is not None
        plain = pad is not None and course is None and bool(pad.device)
        began = course is not None and any(button.hasFocus() for button in (self.introduce, self.keep_guess))
        had_focus = any(button.hasFocus() for button in (self.skip, self.back, self.keep, self.stop))
        self.introduce.setVisible(plain and pad is not None and not pad.parts)
        self.introduce.setText(tr("Set up") if pad is not None and pad.source == "guess" else tr("Set up again"))
        self.keep_guess.setVisible(plain and pad is not None and pad.source == "guess" and not pad.parts)
        for button in (self.skip, self.back, self.keep, self.stop):
            button.setVisible(course is not None)
        for button in (self.skip, self.back, self.keep):
            button.setEnabled(pad is not None and course is not None)
        self.skip.setEnabled(pad is not None and course is not None and bool(course.requested))
        self.play_demo.setVisible(plain and pad is not None and pad.simulated and pad.by_hand)
        self.rest.setVisible(plain and pad is not None and pad.simulated and not pad.by_hand)
        self.at_hand.setVisible(plain and pad is not None and pad.simulated and 0 in pad.seats)
        self.unplug.setVisible(plain and pad is not None and pad.simulated and not pad.parts)
        if pad is None and course is not None:
            self.words.setText(tr("Plug the pad in again to go on with the set-up"))
            self._note.setText(message_words(course.note) if course.note is not None else "")
        elif pad is None:
            self.words.setText(tr("Plug in a pad, or one of the simulated pads on the left"))
            self._note.setText("")
        elif course is not None:
            self.words.setText(instruction(course.requested))
            any_order = (
                tr("Press a picture to answer, or click a control's name to set that one up next")
                if pad.simulated
                else tr("In any order: click a control here to set it up next, also one you left out")
            )
            self._note.setText(message_words(course.note) if course.note is not None else any_order)
        else:
            wrong = [message_words(message) for message in pad.wrong]
            first, *rest = [*wrong, ""] if wrong else [_SOURCES.get(pad.source, ""), ""]
            self.words.setText(beginning(first))
            note = [line for line in rest if line]
            if pad.simulated:
                note.append(tr("Simulated: work it with the mouse, or the space bar and arrow keys"))
            if pad.device != pad.name and not pad.parts:
                note.append(tr("It reports itself as {device}", device=pad.device))
            self._note.setText(". ".join(note))
        self.introduce.set_main(pad is not None and pad.source == "guess")
        self.keep.set_main(course is not None and not course.requested)
        for button in (self.introduce, self.keep):
            button.updateGeometry()
        if began:
            # harmless at the beginning; otherwise Qt would focus any button
            self.back.setFocus(Qt.FocusReason.OtherFocusReason)
        if had_focus and course is None:
            # otherwise Qt would focus the next one, which unplugs
            self.introduce.setFocus(Qt.FocusReason.OtherFocusReason)
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self.theme
        rect = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.setPen(QPen(theme.colour("pad" if self._asking else "line"), 2 if self._asking else 1))
        painter.setBrush(theme.colour("pad_soft" if self._asking else "raised"))
        painter.drawRoundedRect(rect, theme.px(5), theme.px(5))

    def _make(self, command: PadCommand, text: str, help_text: str) -> TextButton:
        button = TextButton(self.theme, text, help_text)
        button.clicked.connect(lambda: self.done.emit(command))
        button.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        return button
