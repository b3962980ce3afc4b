"""Signs on the screen: what they say, and that they are seen above games, and take neither focus nor clicks."""

from __future__ import annotations

import os
import struct
import subprocess
import sys
import wave
from collections.abc import Callable, Iterator
from contextlib import closing, suppress
from functools import partial
from pathlib import Path

import msgspec
import pytest
from PyQt6.QtCore import QRect, QSize
from PyQt6.QtGui import QImage
from pywayland.protocol.wayland import WlOutput
from Xlib import X, display, error
from Xlib.ext import shape

from nub_shift.front.foreign_toplevel import ACTIVATED, ToplevelManager
from nub_shift.front.offers import LAYERS
from nub_shift.keyboard.layout import us_layout
from nub_shift.model.profile.profile import Profile
from nub_shift.model.profile.signs import SignKind
from nub_shift.protocol.calls import (
    AssignPad,
    LoadProfile,
    PlugIn,
    Rumble,
    SetLive,
    Stop,
    WorkByHand,
    decode_call,
    method_of,
    params_of,
)
from nub_shift.protocol.client import RunnerClient
from nub_shift.protocol.messages import SeatSigns, SignsNews
from nub_shift.store.profile_files import parse_profile
from nub_shift.ui.signs.app import screen_of_session
from nub_shift.ui.signs.game_output import GameOutputs
from nub_shift.ui.signs.painting import Picture, within
from nub_shift.ui.signs.sign_kinds import PATTERNS, signs
from nub_shift.ui.signs.sounds import Sounds
from nub_shift.ui.signs.x11_screen import X11Screen, screen_with_most
from tests.runner.resident import Home, until
from tests.xserver import window_manager

LIMIT_S = 30.0
GAME = Path(__file__).parents[1] / "game_window.py"
PAD = "simulated:tern"
PROFILE = """
schema = 4
title = "Keeper"

[[moves]]
id = "run"
label = "Run"
keys = ["KEY_LEFTSHIFT"]

[[layers]]
id = "base"
label = "Base"

[layers.slots]
"left_trigger.light" = { layer = "aim" }
"right_trigger.light" = { layer = "choose" }
south = { keys = ["KEY_A"] }
east = { move = "run", manner = "toggle" }
west = { carousel = { id = "tools" } }
north = { pace = 0.5 }
select = { keys = ["KEY_Y"], manner = "toggle" }

[[layers]]
id = "aim"
label = "Aiming"

[[layers]]
id = "choose"
label = "Choosing"
silent = true

[layers.slots]
left_stick = { ring = "signals" }

[[rings]]
id = "signals"
label = "Signals"
entries = [{ label = "Wait", keys = ["KEY_1"] }, { label = "Come", keys = ["KEY_2"] }, { keys = ["KEY_3"] }]

[[carousels]]
id = "tools"
label = "Tools"
entries = [{ keys = ["KEY_1"] }, { keys = ["KEY_2"] }, { keys = ["KEY_3"] }]

[signs]
badge = "top_right"
lasts_ms = 1000
"""


@pytest.mark.parametrize(
    ("window", "number"),
    [((10, 10, 800, 600), 0), ((1930, 0, 1280, 720), 1), ((1500, 0, 1280, 720), 1), ((5000, 5000, 10, 10), 0)],
)
def test_signs_stand_on_the_screen_that_has_most_of_the_game(window: tuple[int, int, int, int], number: int) -> None:
    rooms = [QRect(0, 0, 1920, 1080), QRect(1920, 0, 1280, 720)]  # the second has twice as many pixels
    assert screen_with_most(QRect(*window), rooms, (1.0, 2.0)) == number


def seat(**changes: object) -> SeatSigns:
    """How a seat stands in which nothing is on, but for this."""
    usual = SeatSigns("Tern", ("base",), (), {"tools": 0}, (), 1.0, False)
    return msgspec.structs.replace(usual, **changes)


@pytest.mark.parametrize(
    ("before", "after", "said"),
    [
        ({}, {"layers": ("base", "aim")}, ["Aiming"]),
        ({"layers": ("base", "aim")}, {}, ["Aiming off"]),
        ({}, {"layers": ("base", "choose")}, []),
        ({}, {"toggles": ("east",)}, ["Run: on"]),
        ({"toggles": ("east",)}, {}, ["Run: off"]),
        ({}, {"carousels": {"tools": 2}}, ["2 < 3 > 1"]),
        ({}, {"pace": 0.5}, ["Look speed 50\N{NO-BREAK SPACE}%"]),
        ({}, {"pad": ""}, ["Tern is gone"]),
        ({"pad": ""}, {}, ["Tern is here"]),
        ({}, {"paused": True, "layers": ("base", "aim")}, ["Paused"]),
        ({"battery": 20}, {"battery": 15}, ["Battery 15\N{NO-BREAK SPACE}%"]),
        ({"battery": 15}, {"battery": 14}, []),
    ],
)
def test_what_signs_say(before: dict[str, object], after: dict[str, object], said: list[str]) -> None:
    profile = parse_profile(PROFILE)
    was, now = (SignsNews(True, True, False, (seat(**changes),), {}) for changes in (before, after))
    assert told(was, now, profile) == said


def told(was: SignsNews, now: SignsNews, profile: Profile) -> list[str]:
    """What signs say, with what stands beside it."""
    found = signs(was, now, {0: profile}, {0: profile}, us_layout())
    return [f"{sign.before} < {sign.text} > {sign.after}" if sign.after else sign.text for sign in found]


def test_in_rehearsal_only_its_reason_is_said_and_nothing_of_what_is_silent() -> None:
    profile = parse_profile(PROFILE)
    off = SignsNews(False, False, False, (seat(),), {})
    aiming = seat(layers=("base", "aim"))
    assert told(off, SignsNews(False, False, False, (aiming,), {}), profile) == []
    pressed = SignsNews(False, False, False, (seat(rehearsed_press=True),), {})
    why = ["Rehearsal: the game gets nothing. Live is in the pad's menu."]
    assert told(off, pressed, profile) == why and told(pressed, pressed, profile) == [], (
        "why the game gets nothing, once"
    )
    assert [sign.text for sign in signs(None, pressed, {}, {0: profile}, us_layout())] == why
    assert told(off, SignsNews(True, True, False, (aiming,), {}), profile) == ["Live"]
    on = SignsNews(True, True, False, (seat(),), {})
    assert told(on, SignsNews(False, True, False, (seat(),), {}), profile) == [], "our window is in front"
    assert told(on, SignsNews(False, False, True, (seat(),), {}), profile) == ["Everything stopped"]
    quiet = msgspec.structs.replace(profile, signs=msgspec.structs.replace(profile.signs, silent=(SignKind.LAYER,)))
    assert told(on, SignsNews(True, True, False, (aiming,), {}), quiet) == []
    other = msgspec.structs.replace(profile, title="Other")
    assert [sign.text for sign in signs(on, on, {0: profile}, {0: other}, us_layout())] == ["Other"]


class Playing:
    """The session's runner, live with a made-up pad, on a display."""

    def __init__(self, folder: Path, profiles: dict[str, str], **environment: str) -> None:
        self.home = Home(folder, **environment)
        self.home.environment.pop("QT_QPA_PLATFORM", None)
        self.home.profiles.mkdir(parents=True)
        for name, text in profiles.items():
            (self.home.profiles / f"{name}.toml").write_text(text)
        self.home.start()
        first = next(iter(profiles))
        path = self.home.profiles / f"{first}.toml"
        self.home.call(PlugIn("tern"), AssignPad(PAD), LoadProfile(profiles[first], 0, str(path)), SetLive(True))

    def press(self, **values: float) -> None:
        """Works the pad: everything else is let go."""
        self.home.call(WorkByHand(PAD, {name.replace("__", "."): value for name, value in values.items()}))

    def end(self) -> None:
        """Ends it."""
        with closing(RunnerClient(self.home.socket)) as client:
            client.call(Stop())
        self.home.ended()


def ended(process: subprocess.Popen[bytes]) -> None:
    """Ends a process and what led to it."""
    process.terminate()
    process.wait(LIMIT_S)
    for pipe in (process.stdin, process.stdout):
        if pipe is not None:
            pipe.close()


class Shown:
    """What an X server shows of signs."""

    def __init__(self, name: str) -> None:
        self.display = display.Display(name)
        self.root = self.display.screen().root

    def panes(self) -> list[object]:
        """The windows of signs that can be seen, the topmost last."""
        found = []
        for window in self.root.query_tree().children:
            try:
                if window.get_wm_name() == "Nub Shift sign" and window.get_attributes().map_state == X.IsViewable:
                    found.append(window)
            except error.XError:  # it has gone meanwhile
                continue
        return found

    def sizes(self) -> list[tuple[int, int]]:
        """How large they are."""
        found = []
        for pane in self.panes():
            with suppress(error.XError):  # it has gone meanwhile
                found.append(pane.get_geometry())  # type: ignore[attr-defined]
        return [(geometry.width, geometry.height) for geometry in found]


@pytest.fixture
def on_x11(tmp_path: Path, x_server: str, monkeypatch: pytest.MonkeyPatch) -> Iterator[tuple[Playing, Shown, int]]:
    """A runner and a full-screen game on a real X server with a window manager."""
    monkeypatch.delenv("XKB_DEFAULT_LAYOUT", raising=False)  # the server says which one it is
    where = {**os.environ, "DISPLAY": x_server}
    with window_manager(x_server):
        game = subprocess.Popen(
            [sys.executable, GAME, "tern", "A game", "full"], env=where, stdin=subprocess.PIPE, stdout=subprocess.PIPE
        )
        assert game.stdout is not None
        window = int(game.stdout.readline())
        playing = Playing(tmp_path, {"keeper": PROFILE}, DISPLAY=x_server)
        shown = Shown(x_server)
        yield playing, shown, window
        playing.end()
        shown.display.close()
        ended(game)


def test_signs_are_above_a_full_screen_game_and_take_neither_focus_nor_clicks(
    on_x11: tuple[Playing, Shown, int],
) -> None:
    playing, shown, game = on_x11
    until(lambda: getattr(shown.display.get_input_focus().focus, "id", 0) == game)  # not the window manager's own
    focus = shown.display.get_input_focus().focus
    until(shown.panes)  # what plays is said first
    until(lambda: not shown.panes())
    playing.press(left_trigger=1.0)
    until(lambda: len(shown.panes()) == 2)  # the sign, and the badge
    for pane in shown.panes():
        assert pane.get_attributes().override_redirect  # type: ignore[attr-defined]
        assert pane.shape_get_rectangles(shape.SK.Input).rectangles == []  # type: ignore[attr-defined]
    order = [window.id for window in shown.root.query_tree().children]
    full = next(window for window in shown.root.query_tree().children if window.id == game or holds(window, game))
    assert full.get_geometry().width == 800, "the game fills the screen"
    assert all(order.index(pane.id) > order.index(full.id) for pane in shown.panes())  # type: ignore[attr-defined]
    assert shown.display.get_input_focus().focus == focus
    until(lambda: len(shown.panes()) == 1)  # the sign has had its time; the layer is still on
    playing.press()
    until(shown.panes)
    until(lambda: not shown.panes())
    playing.press(south=1.0)
    pause = ["xdotool", "key", "Pause"]
    subprocess.run(pause, env={**os.environ, "DISPLAY": shown.display.get_display_name()}, check=True, timeout=LIMIT_S)
    playing.home.await_state(lambda state: state.halted and not state.live and state.down == ())
    assert shown.display.get_input_focus().focus == focus


def holds(window: object, game: int) -> bool:
    """Whether it is the frame of that window."""
    return any(child.id == game for child in window.query_tree().children)  # type: ignore[attr-defined]


def test_a_ring_is_drawn_while_it_is_open(on_x11: tuple[Playing, Shown, int]) -> None:
    playing, shown, _ = on_x11
    playing.press(right_trigger=1.0)
    until(lambda: any(width >= 300 for width, _ in shown.sizes()))
    playing.press(right_trigger=1.0, left_stick__y=-1.0)
    assert any(width >= 300 for width, _ in shown.sizes())
    playing.press()
    until(lambda: not any(width >= 300 for width, _ in shown.sizes()))


def test_keys_are_named_by_another_keyboard_layout_while_the_sign_stays(on_x11: tuple[Playing, Shown, int]) -> None:
    playing, shown, _ = on_x11
    layout = partial(subprocess.run, env={**os.environ, "DISPLAY": shown.display.get_display_name()}, check=True)

    def badge() -> bytes:
        while True:
            (pane,) = shown.panes()
            room = pane.get_geometry()  # type: ignore[attr-defined]
            with suppress(error.BadMatch):  # it has become smaller since it was measured
                return bytes(pane.get_image(0, 0, room.width, room.height, X.ZPixmap, 0xFFFFFFFF).data)  # type: ignore[attr-defined]

    layout(["setxkbmap", "us"])
    until(lambda: len(shown.panes()) == 0)
    playing.press(select=1.0)
    playing.press()
    until(lambda: len(shown.panes()) == 2)
    until(lambda: len(shown.panes()) == 1)  # the badge names the toggle by its key
    try:
        named_y = badge()
        layout(["setxkbmap", "de"])
        until(lambda: badge() != named_y)
    finally:
        layout(["setxkbmap", "us"])
    until(lambda: badge() == named_y)


NATIVE = """
import sys
from PyQt6.QtWidgets import QApplication, QLabel
application = QApplication(sys.argv[:1])
application.setDesktopFileName("org.salt.Glass")
window = QLabel("a game")
window.setWindowTitle("Saltglass")
window.showFullScreen()
application.exec()
"""
BLUE = (0x7D, 0xA9, 0xD7)  # the hue of layer B, which nothing else here has
BY_APP = '\n[[comes_on.rules]]\nwindow = "org.salt.Glass"\n'
BY_ARGUMENT = '\n[[comes_on.rules]]\nargument = "Dustwake"\n'


@pytest.fixture
def wayland() -> Iterator[dict[str, str]]:
    """A real Wayland session without a screen."""
    tool = Path(__file__).parents[2] / "tools" / "wayland-session"
    words = [str(tool), "--", "sh", "-c", 'echo "$WAYLAND_DISPLAY"; echo "$DISPLAY"; echo "$SWAYSOCK"; read -r _']
    session = subprocess.Popen(words, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
    assert session.stdin is not None and session.stdout is not None
    names = [session.stdout.readline().strip() for _ in range(3)]
    assert all(names), "the session did not come up"
    yield {"WAYLAND_DISPLAY": names[0], "DISPLAY": names[1], "SWAYSOCK": names[2]}
    session.stdin.close()
    session.wait(LIMIT_S)
    session.stdout.close()


def colours(where: dict[str, str], picture: Path, *output: str) -> set[tuple[int, int, int]]:
    """The colours that are seen on a Wayland session's outputs, or on the one after `-o`."""
    subprocess.run(["grim", "-t", "ppm", *output, picture], env={**os.environ, **where}, check=True, timeout=LIMIT_S)
    data = picture.read_bytes().split(b"\n", 3)[3]
    return set(zip(data[0::3], data[1::3], data[2::3], strict=True))


def test_profile_and_signs_follow_native_windows_and_those_of_xwayland(tmp_path: Path, wayland: dict[str, str]) -> None:
    where = {**os.environ, **wayland}
    profiles = {
        "keeper": PROFILE + BY_APP,
        "dust": PROFILE.replace("Keeper", "Dustwake") + BY_ARGUMENT,
    }
    playing = Playing(tmp_path, profiles, **wayland)
    games = []

    def started(*words: str, **more: str) -> subprocess.Popen[bytes]:
        games.append(subprocess.Popen([sys.executable, *words], env={**where, **more}, stdin=subprocess.PIPE))
        return games[-1]

    try:
        started(str(GAME), "loader", "Dustwake")
        playing.home.await_state(lambda state: state.seats[0].title == "Dustwake" and not state.seats[0].paused)
        native = started("-c", NATIVE, QT_QPA_PLATFORM="wayland")
        playing.home.await_state(lambda state: state.seats[0].title == "Keeper")
        playing.press(left_trigger=1.0)
        until(lambda: BLUE in colours(wayland, tmp_path / "seen.ppm"))
        playing.press(south=1.0)
        until(lambda: BLUE not in colours(wayland, tmp_path / "seen.ppm"))
        native.terminate()
        state = playing.home.await_state(lambda state: state.seats[0].title == "Dustwake")
        assert state.down == ()
        playing.press()
    finally:
        playing.end()
        for game in games:
            ended(game)


def test_signs_go_with_the_game_to_another_output_and_back(tmp_path: Path, wayland: dict[str, str]) -> None:
    where = {**os.environ, **wayland}
    first, second = "HEADLESS-1", "HEADLESS-2"

    def compositor(*words: str) -> None:
        subprocess.run(["swaymsg", *words], env=where, check=True, timeout=LIMIT_S, stdout=subprocess.DEVNULL)

    def on(output: str) -> bool:
        return BLUE in colours(wayland, tmp_path / "seen.ppm", "-o", output)

    compositor("create_output")
    compositor("output", second, "resolution", "900x600", "position", "1280", "0")
    compositor("focus", "output", first)
    playing = Playing(tmp_path, {"keeper": PROFILE + BY_APP}, **wayland)
    game = subprocess.Popen(
        [sys.executable, "-c", NATIVE], env={**where, "QT_QPA_PLATFORM": "wayland"}, stdin=subprocess.PIPE
    )
    try:
        playing.home.await_state(lambda state: state.seats[0].rule is not None and not state.seats[0].paused)
        playing.press(left_trigger=1.0)
        until(lambda: on(first) and not on(second))
        for to, away in ((second, first), (first, second)):
            compositor("move", "container", "to", "output", to)
            compositor("focus", "output", to)
            until(lambda: on(to) and not on(away))  # noqa: B023 - called at once
    finally:
        playing.end()
        ended(game)


class Told:
    """Stands in for an object of the compositor: what it tells is called by its name."""

    def __init__(self) -> None:
        self.dispatcher: dict[str, Callable[..., None]] = {}

    def bind(self, *_args: object) -> Told:
        """The one that was bound last."""
        self.bound = Told()
        return self.bound

    def notify(self, event: str, *args: object) -> None:
        """An event comes."""
        self.dispatcher[event](self, *args)


def test_the_output_of_the_game_is_known_until_it_goes() -> None:
    outputs, registry = GameOutputs(), Told()

    def name() -> str:
        return outputs.of_game.name if outputs.of_game is not None else ""

    outputs.take_global(registry, 9, ToplevelManager.name, 3)
    manager, proxies = registry.bound, []
    for number in (11, 12):
        outputs.take_global(registry, number, WlOutput.name, 4)
        proxies.append(registry.bound)
        registry.bound.notify("name", f"OUT-{number}")
    game, other = Told(), Told()
    for window, state in ((other, b""), (game, struct.pack("I", ACTIVATED))):
        manager.notify("toplevel", window)
        window.notify("output_enter", proxies[0])
        window.notify("state", state)
        window.notify("done")
    assert name() == "OUT-11"
    count = outputs.count
    game.notify("output_enter", proxies[1])
    game.notify("output_leave", proxies[0])
    game.notify("done")
    assert name() == "OUT-12" and outputs.count > count
    game.notify("state", b"")
    game.notify("done")
    assert name() == "OUT-12", "the desktop has no output of its own"
    outputs.drop_global(registry, 12)
    assert name() == ""
    other.notify("state", struct.pack("I", ACTIVATED))
    other.notify("done")
    assert name() == "OUT-11"


@pytest.mark.parametrize("scale", [1.0, 1.5, 2.0])
def test_a_picture_keeps_within_the_screen_at_every_scale(scale: float) -> None:
    image = QImage(round(900 * scale), round(500 * scale), QImage.Format.Format_ARGB32_Premultiplied)
    image.setDevicePixelRatio(scale)
    picture = Picture(image, "outline")
    assert within(picture, QSize(900, 900)) is picture
    made = within(picture, QSize(600, 900))
    assert (made.size, made.image.devicePixelRatio()) == (QSize(600, 333), scale)


def test_each_kind_of_sign_is_felt_in_a_way_of_its_own_that_the_runner_takes() -> None:
    assert set(PATTERNS) == set(SignKind)
    assert len({came for came, _ in PATTERNS.values()}) == len(PATTERNS)
    for pattern in (pattern for both in PATTERNS.values() for pattern in both):
        call = Rumble(pattern)
        assert decode_call(method_of(call), msgspec.Raw(msgspec.json.encode(params_of(call)))) == call


def test_each_kind_of_sign_has_a_sound_of_its_own_that_is_played_one_at_a_time(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    player = tmp_path / "pw-play"
    player.write_text(f'#!/bin/sh\necho "$1" >>{tmp_path}/heard\nsleep 0.2\n')
    player.chmod(0o755)
    monkeypatch.setenv("PATH", f"{tmp_path}:{os.environ['PATH']}")
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    sounds = Sounds()
    handle_event = tmp_path / "heard"
    for kind in SignKind:
        until(lambda: sounds._playing is None or sounds._playing.poll() is not None)
        sounds.play(kind, True)
        sounds.play(kind, False)  # while the first is heard
    until(lambda: handle_event.exists() and len(handle_event.read_text().splitlines()) == len(SignKind))
    until(lambda: sounds._playing is not None and sounds._playing.poll() is not None)
    made = [Path(line).read_bytes() for line in handle_event.read_text().splitlines()]
    assert len(set(made)) == len(SignKind)
    with wave.open(handle_event.read_text().splitlines()[0]) as sound:
        assert 0.05 < sound.getnframes() / sound.getframerate() < 0.5
        assert any(sound.readframes(1000))


def test_where_the_library_for_layers_is_not_to_be_had_signs_go_through_the_x_server(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setitem(sys.modules, "nub_shift.ui.signs.layer_screen", None)
    monkeypatch.setenv("WAYLAND_DISPLAY", "wayland-0")
    monkeypatch.setenv("DISPLAY", ":7")
    monkeypatch.setenv("QT_QPA_PLATFORM", "wayland")
    assert screen_of_session({LAYERS}) is X11Screen
    assert os.environ["QT_QPA_PLATFORM"] == "xcb"
