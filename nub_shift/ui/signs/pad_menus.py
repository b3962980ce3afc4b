"""Open pad menus, drawn above the game and worked by the runner's reports of their pads.

Modules for profiles are imported when a menu is opened, to keep this process small.
"""

from __future__ import annotations

import logging
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QObject, QTimer

from nub_shift.keyboard.session import SessionLayout
from nub_shift.model.controls import CONTROL_BY_NAME, WAYS
from nub_shift.model.halting import halt_chord
from nub_shift.model.pad.pad_menu import BACK, DO, button_words, opener_of
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.profile import Profile
from nub_shift.protocol.calls import Call, GetState, LoadProfile, OpenMenu
from nub_shift.protocol.client import Answered, Reply
from nub_shift.protocol.messages import MenuLook, PadState, SignsNews, State
from nub_shift.translation import tr
from nub_shift.ui.signs.board import Screen, Spot
from nub_shift.ui.signs.painting import MenuSheet, SignPainter, sign_theme

if TYPE_CHECKING:
    from nub_shift.editing.document import Document
    from nub_shift.ui.signs.menu import Act, Kind, Menu, Titled

log = logging.getLogger("nub_shift.ui")

# Delay of key repeat for a held direction, then its interval.
WAIT_MS: Final = 400
AGAIN_MS: Final = 130
_NOT_REPEATED: Final = (DO, BACK)

Ask = Callable[[Call, Answered | None], None]


class PadMenus(QObject):
    """At most one menu for each player."""

    def __init__(self, screen: Screen, layout: SessionLayout, call: Ask) -> None:
        """`call` sends a call to the runner."""
        super().__init__()
        self._screen = screen
        self._layout = layout
        self._ask = call
        self._open: dict[int, _OpenMenu] = {}

    def take(self, news: SignsNews, profiles: dict[int, Profile]) -> None:
        """Processes the state of the pads in their menus."""
        for seat, state in enumerate(news.seats):
            if state.menu is None:
                self._close(seat)
            elif seat not in self._open:
                made = self._open[seat] = _OpenMenu(seat, len(news.seats), state.battery, self._act, self._draw)
                made.take(state.menu)
                self._ask(GetState(), partial(self._on_state, made, profiles[seat], state.menu.motion))
            else:
                self._open[seat].take(state.menu)
        for seat in [seat for seat in self._open if seat >= len(news.seats)]:
            self._close(seat)

    def clear(self) -> None:
        """Closes all menus, since the runner has gone."""
        for seat in list(self._open):
            self._close(seat)

    def _on_state(self, menu: _OpenMenu, profile: Profile, gyro: bool, reply: Reply) -> None:
        if reply.state is None or menu.seat >= len(reply.state.seats) or self._open.get(menu.seat) is not menu:
            return
        from nub_shift.ui.signs.menu import Menu

        menu.begin(reply.state, Menu(menu.seat, reply.state, profile, _library(), gyro))

    def _close(self, seat: int) -> None:
        menu = self._open.pop(seat, None)
        if menu is not None:
            menu.end()
            self._screen.hide(f"menu {seat}")

    def _draw(self, menu: _OpenMenu) -> None:
        if menu.sheet is not None:
            painter = SignPainter(sign_theme(1.0), 0.96 if self._screen.blends else 1.0, self._screen.scale)
            across = (menu.seat + 0.5) / menu.players
            self._screen.show(f"menu {menu.seat}", painter.menu(menu.sheet), Spot(across, 0.5))

    def _act(self, menu: _OpenMenu, act: Act) -> None:
        from nub_shift.editing.feel.speeds import scale_gyro, scale_look
        from nub_shift.ui.signs.menu import ChangeSpeed, Kind, PlayProfile

        match act:
            case PlayProfile(path):
                try:
                    self._ask(LoadProfile(path.read_text("utf-8"), menu.seat, str(path)), None)
                except (OSError, ValueError) as error:
                    log.warning("%s: %s", path, error)
            case ChangeSpeed(kind, factor):
                document = menu.document(self._layout)
                if document is not None:
                    scaled = scale_look if kind is Kind.LOOK else scale_gyro
                    document.edit(menu.label_of(kind), lambda profile: scaled(profile, factor))
                    self._ask(LoadProfile(document.text, menu.seat, str(document.path)), None)
                    menu.notify(document.fault)
            case _:
                self._ask(act, None)


class _OpenMenu(QObject):
    """The menu of one player, from its request on.

    Attributes:
        sheet: content, once known.
    """

    def __init__(
        self,
        seat: int,
        players: int,
        battery: int,
        act: Callable[[_OpenMenu, Act], None],
        draw: Callable[[_OpenMenu], None],
    ) -> None:
        super().__init__()
        self.seat = seat
        self.players = players
        self.sheet: MenuSheet | None = None
        self._battery = battery
        self._act = act
        self._draw = draw
        self._menu: Menu | None = None
        self._state: State | None = None
        self._document: Document | None = None
        self._counts: dict[str, int] = {}
        self._held: tuple[str, ...] = ()
        self._fault = ""
        self._again = QTimer(self)
        self._again.timeout.connect(self._on_again)

    def begin(self, state: State, menu: Menu) -> None:
        """Shows the content."""
        self._state, self._menu = state, menu
        self._show()

    def take(self, look: MenuLook) -> None:
        """Processes the state of its pad: each new press has an effect."""
        before, self._counts = self._counts, look.counts
        self._held = tuple(word for word in look.pressed if word not in _NOT_REPEATED)
        pressed = False
        for word in (*WAYS, DO, BACK):
            for _ in range(look.counts.get(word, 0) - before.get(word, 0)):
                pressed = True
                self._press(word)
        if pressed and self._held:
            self._again.start(WAIT_MS)
        elif not self._held:
            self._again.stop()

    def notify(self, fault: str) -> None:
        """Shows beside the hints that a change could not be saved; empty if it was."""
        self._fault = fault
        self._show()

    def end(self) -> None:
        """Closes the menu."""
        self._again.stop()
        if self._document is not None:
            self._document.finish()

    def document(self, layout: SessionLayout) -> Document | None:
        """Returns the document of the profile in play; None if unreadable."""
        from nub_shift.editing.document import Document
        from nub_shift.store.profile_files import read_profile

        if self._document is None and self._state is not None:
            path = Path(self._state.seats[self.seat].file)
            try:
                self._document = Document(path, read_profile(path, layout), layout)
            except (OSError, ProfileError) as error:
                log.warning("%s: %s", path, error)
        return self._document

    def label_of(self, kind: Kind) -> str:
        """Returns the label of an edit of a row's value."""
        assert self._menu is not None
        return next(
            tr("{row} {value} of before", row=row.label, value=row.value) for row in self._menu.rows if row.kind is kind
        )

    def _on_again(self) -> None:
        self._again.setInterval(AGAIN_MS)
        for word in self._held:
            self._press(word)

    def _press(self, word: str) -> None:
        if self._menu is None:  # not shown yet
            if word == BACK:
                self._act(self, OpenMenu(False, self.seat))
            return
        for act in self._menu.press(word):
            self._act(self, act)
        self._show()

    def _show(self) -> None:
        if self._menu is None or self._state is None:
            return
        pad = self._state.seats[self.seat].pad
        battery = f" · {self._battery} %" if self._battery >= 0 else ""
        player = tr("Player {number}: ", number=self.seat + 1) if self.players > 1 else ""
        rows = tuple((row.label, row.value, row.turns) for row in self._menu.rows)
        not_saved = (tr("Not saved: {why}", why=self._fault),) if self._fault else ()
        self.sheet = MenuSheet(f"{player}{pad.name}{battery}", rows, self._menu.index, (*not_saved, *hints(pad)))
        self._draw(self)


def hints(pad: PadState) -> tuple[str, ...]:
    """Returns the functions of buttons in the menu of a pad."""

    def called(name: str) -> str:
        return pad.printed.get(name) or CONTROL_BY_NAME[name].label

    opener = opener_of(pad.controls, pad.menu)
    buttons = button_words(pad.controls, opener)
    words = {word: name for name, word in reversed(buttons.items())}
    does = [f"{called(words[word])}: {act}" for word, act in ((DO, tr("choose")), (BACK, tr("close"))) if word in words]
    found = [" · ".join([tr("Left and right: change"), *does])]
    chord = halt_chord(pad.controls, opener)
    if chord:
        found.append(tr("Stop everything: hold {one} and {other}", one=called(chord[0]), other=called(chord[1])))
    return tuple(found)


def _library() -> list[Titled]:
    from nub_shift.model.profile.activation import ActivationRules
    from nub_shift.store.library import library_folder, rules_in, titled_profiles
    from nub_shift.ui.signs.menu import Titled

    folders = [library_folder()]
    rules = {path: comes_on for path, _, comes_on in rules_in(folders)}
    return [Titled(title, path, rules.get(path, ActivationRules())) for title, path in titled_profiles(folders)]
