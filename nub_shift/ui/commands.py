"""The window's commands as Qt actions: text, shortcut and help of each."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import Enum

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QWidget

from nub_shift.translation import tr
from nub_shift.ui.widgets.plain import set_tooltip


class Station(Enum):
    """The stations in the order of work."""

    PADS = "pads"
    MAP = "map"
    FEEL = "feel"
    TRY = "try"
    PLAY = "play"
    LIBRARY = "library"


class Command(Enum):
    """Commands of the window itself."""

    UNDO = "undo"
    REDO = "redo"
    LIVE = "live"
    PADS = "pads"
    MAP = "map"
    FEEL = "feel"
    TRY = "try"
    PLAY = "play"
    LIBRARY = "library"
    FOLLOW = "follow"
    FIND = "find"
    STOP_LISTENING = "stop_listening"
    PAUSE = "pause"
    FLIP = "flip"
    HAND_PAD = "hand_pad"
    NEXT_AREA = "next_area"
    PREVIOUS_AREA = "previous_area"
    GUIDE = "guide"
    SETTINGS = "settings"
    QUIT = "quit"


@dataclass(frozen=True)
class CommandText:
    """Texts of a command.

    Attributes:
        shortcut: in Qt's English form; shown in the desktop's form.
    """

    text: str
    shortcut: str
    help: str = ""
    checkable: bool = False


TEXTS: dict[Command, CommandText] = {
    Command.UNDO: CommandText(tr("Undo"), "Ctrl+Z"),
    Command.REDO: CommandText(tr("Redo"), "Ctrl+Shift+Z"),
    Command.LIVE: CommandText(tr("Live"), "Ctrl+L"),
    Command.PADS: CommandText(tr("Pads"), "Ctrl+1"),
    Command.MAP: CommandText(tr("Map"), "Ctrl+2"),
    Command.FEEL: CommandText(tr("Feel"), "Ctrl+3"),
    Command.TRY: CommandText(tr("Try"), "Ctrl+4"),
    Command.PLAY: CommandText(tr("Play"), "Ctrl+5"),
    Command.LIBRARY: CommandText(tr("Library"), "Ctrl+O"),
    Command.FOLLOW: CommandText(
        tr("Follow presses"), "Ctrl+T", tr("Pressing a control on the pad opens it here"), checkable=True
    ),
    Command.FIND: CommandText(tr("Find a move"), "Ctrl+F", tr("Enter then chooses the first move found")),
    Command.STOP_LISTENING: CommandText(
        tr("Stop listening"), "Ctrl+Backspace", tr("Stops waiting for a key or control")
    ),
    Command.PAUSE: CommandText(
        tr("Pause the tape"), "Ctrl+P", tr("Holds the tape still so that you can read it"), checkable=True
    ),
    Command.FLIP: CommandText(
        tr("Flip A and B"), "Ctrl+B", tr("Switches between the two feels of the control in Feel")
    ),
    Command.HAND_PAD: CommandText(
        tr("Simulated pad"), "Ctrl+J", tr("Opens the simulated pad above all windows, to press it by hand")
    ),
    Command.NEXT_AREA: CommandText(tr("Next area"), "F6", tr("Goes from one area of the window to the next")),
    Command.PREVIOUS_AREA: CommandText(
        tr("Previous area"), "Shift+F6", tr("Goes from one area of the window to the one before")
    ),
    Command.GUIDE: CommandText(tr("Guide"), "F1", tr("Opens the guide at what you are working on")),
    Command.SETTINGS: CommandText(tr("Settings"), "Ctrl+,", tr("Look, text size, waiting time and the like")),
    Command.QUIT: CommandText(tr("Quit"), "Ctrl+Q"),
}
COMMAND_OF_STATION = {
    Station.PADS: Command.PADS,
    Station.MAP: Command.MAP,
    Station.FEEL: Command.FEEL,
    Station.TRY: Command.TRY,
    Station.PLAY: Command.PLAY,
    Station.LIBRARY: Command.LIBRARY,
}


def set_action_tooltip(action: QAction, command: Command, what: str) -> None:
    """Shows in the tooltip of an action what the action would do now."""
    _hint(action, f"{TEXTS[command].text}: {what}" if what else "")


def _hint(action: QAction, words: str) -> None:
    """Returns the words, if any, with the shortcut in the desktop's form."""
    shown = action.shortcut().toString(QKeySequence.SequenceFormat.NativeText)
    set_tooltip(action, f"{words} ({shown})" if words else shown)


def make_actions(window: QWidget, does: Mapping[Command, Callable[[], object]]) -> dict[Command, QAction]:
    """Returns the commands as actions of a window, whose shortcuts work for any focus."""
    actions = {}
    for command, words in TEXTS.items():
        made = QAction(words.text, window)
        made.setShortcut(QKeySequence(words.shortcut))
        _hint(made, words.help)
        made.setCheckable(words.checkable)
        made.triggered.connect(lambda _checked, do=does[command]: do())
        window.addAction(made)
        actions[command] = made
    return actions
