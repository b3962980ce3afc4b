"""Start of the application with its window."""

from __future__ import annotations

import signal
import socket
import sys
from collections.abc import Callable, Iterable
from importlib import import_module
from pathlib import Path
from threading import Thread

from PyQt6.QtCore import QSocketNotifier, QThreadPool, QTimer
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication
from PyQt6.sip import voidptr

from nub_shift.desktop import icon_path
from nub_shift.editing.document import Document
from nub_shift.keyboard.layout_watch import LayoutWatch
from nub_shift.keyboard.session import SessionLayout
from nub_shift.model.profile.activation import APP_ID
from nub_shift.store.library import note_used
from nub_shift.store.profile_files import read_profile
from nub_shift.ui.commands import Station
from nub_shift.ui.fault_note import NoteFault
from nub_shift.ui.language import speak
from nub_shift.ui.link import RunnerLink
from nub_shift.ui.look.desktop import Desktop, look_of
from nub_shift.ui.look.theme import BASE_POINTS, DAY, NIGHT, Look, Theme, fitting
from nub_shift.ui.runner_start import RunnerStart
from nub_shift.ui.settings import (
    MotionChoice,
    keep_view,
    last_view,
    look_choice,
    motion_choice,
    shows_first_steps,
    text_size,
    window_place,
)
from nub_shift.ui.shown_window import ShownWindow
from nub_shift.ui.single_instance import SingleInstance
from nub_shift.ui.window import Window
from nub_shift.ui.writing import WritingThread

SIZE = (1280, 800)
# Parts that the window does not begin with, imported in the background once it is shown and idle.
_LATER = ("nub_shift.ui.map.editor.control_editor", "nub_shift.ui.library.station", "nub_shift.ui.play.station")
_IDLE_MS = 500


def run_window(
    profile: Path,
    runner: Callable[[], RunnerStart],
    seconds: float | None,
    note_fault: NoteFault,
    look: str = "",
    is_only: bool = False,
    examples: Iterable[str] = (),
    given: Path | None = None,
    own_runner: Callable[[Path], RunnerStart] | None = None,
    named: bool = True,
) -> int:
    """Opens the window on a profile file and runs until it is closed; returns the exit status.

    `runner` starts the runner. `note_fault` logs an unexpected fault and returns the line for the person; the window
    continues. With `is_only`, a second start of the program shows this window. `examples` are texts of profiles to copy
    in the library, and `given` is a file from elsewhere to show there. With `own_runner` the person can change between
    the session's runner and one of the window's own. A newcomer (without a `named` profile, any moves or an earlier
    start) sees the welcome page.

    Raises:
        ProfileError: the file has faults.
    """
    layout = SessionLayout()
    writing = WritingThread()
    document = Document(profile, read_profile(profile, layout), layout, writing)
    note_used(profile)
    application = QApplication(sys.argv[:1])
    speak(application)
    application.setApplicationName("nub-shift")
    application.setApplicationDisplayName("Nub Shift")
    application.setDesktopFileName(APP_ID)
    application.setWindowIcon(QIcon(str(icon_path())))
    points = max(application.font().pointSizeF(), BASE_POINTS) * text_size() / 100
    theme = Theme(_chosen_look(look, look_of()), points)
    theme.apply(application)
    starting = runner()
    link = RunnerLink(starting)
    if starting.stays and named:
        link.load(document.text)  # the runner may play another profile
    shown = ShownWindow(
        application, theme, document, lambda: Window(theme, document, link, examples=examples, own_runner=own_runner)
    )
    window = shown.window
    window.resize(fitting(theme, SIZE))
    if is_only:
        _restore_view(window, newcomer=not named and not document.profile.moves)
        application.aboutToQuit.connect(lambda: _keep_view(shown.window))
    sys.excepthook = lambda kind, fault, trace: shown.window.say(note_fault(kind, fault, trace))
    wake = _stop_on_signals(shown)
    only = SingleInstance(shown.show_again, shown.close, shown) if is_only else None
    window.show()
    if given is not None:
        window.show_given(given)
    link.start()
    QTimer.singleShot(_IDLE_MS, Thread(target=_import_later_parts, daemon=True).start)
    follow_desktop(application, theme, shown, look)
    layout_news = _follow_layout(layout, shown)
    if seconds is not None:
        QTimer.singleShot(round(seconds * 1000), shown.close)
    try:
        return application.exec()
    finally:
        link.end()
        writing.close()
        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.waitForDone()  # background work reports to the window, which must still exist
        if only is not None:
            only.close()
        for notifier in (wake, layout_news):
            if notifier is not None:
                notifier.setEnabled(False)


def _import_later_parts() -> None:
    """Imports parts that are created at first use, in a thread, so that the first use does not have to."""
    for name in _LATER:
        import_module(name)


def _keep_view(window: Window) -> None:
    keep_view(window.saveGeometry(), window.station.value, window.map.layer_id)


def _follow_layout(layout: SessionLayout, shown: ShownWindow) -> QSocketNotifier | None:
    """Updates key names when the person changes the keyboard layout, where the session reports that."""
    news = LayoutWatch.connect()
    if news is None:
        return None
    notifier = QSocketNotifier(voidptr(news.fileno()), QSocketNotifier.Type.Read, shown)

    def on_news() -> None:
        try:
            if news.came() and layout.refresh():
                shown.window.update_layout()
        except OSError:
            notifier.setEnabled(False)

    notifier.activated.connect(on_news)
    return notifier


def follow_desktop(application: QApplication, theme: Theme, shown: ShownWindow, look: str = "") -> None:
    """Updates look, contrast and motion when the desktop or the settings change."""
    desktop = Desktop(shown)

    def on_news() -> None:
        now = _chosen_look(look, desktop.look())
        if now is not theme.look:
            theme.look = now
            theme.apply(application)
            shown.window.update_look()
        less = {MotionChoice.ALL: False, MotionChoice.LESS: True}.get(motion_choice(), desktop.less_motion)
        shown.window.tape.set_less_motion(less)

    desktop.look_changed.connect(on_news)
    desktop.motion_changed.connect(on_news)
    shown.settings_changed.connect(on_news)
    on_news()


def _chosen_look(name: str, desktop: Look) -> Look:
    """Returns the requested look, else that of the settings, else the desktop's."""
    return {"day": DAY, "night": NIGHT}.get(name or look_choice().value) or desktop


def _restore_view(window: Window, newcomer: bool) -> None:
    """Restores the window's last state and shows the first steps; a `newcomer` sees the welcome page."""
    station, layer = last_view()
    window.restoreGeometry(window_place())
    if any(known.value == station for known in Station):
        window.show_station(Station(station))
    if window.has_layer(layer):
        window.map.show_layer(layer)
    if shows_first_steps():
        window.begin_first_steps(newcomer=newcomer and not station)


def _stop_on_signals(shown: ShownWindow) -> QSocketNotifier:
    """Closes the window on SIGINT and SIGTERM: Python writes signals to a socket, which wakes Qt."""
    wake, woken = socket.socketpair()
    for end in (wake, woken):
        end.setblocking(False)
    signal.set_wakeup_fd(wake.detach())
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda _number, _frame: None)
    notifier = QSocketNotifier(voidptr(woken.detach()), QSocketNotifier.Type.Read, shown)
    notifier.activated.connect(shown.close)
    return notifier
