"""Keyboard layouts: compiled by the system's library, found where this session keeps its own."""

from __future__ import annotations

import select
import subprocess

import pytest
from Xlib import Xatom, display

from nub_shift.engine.values import Key
from nub_shift.keyboard.layout import us_layout
from nub_shift.keyboard.layout_watch import LayoutWatch
from nub_shift.keyboard.session import SessionLayout
from nub_shift.keyboard.xkb import Names, XkbError, compile_layout
from nub_shift.model.problems import ProfileError
from nub_shift.outputs.x11 import X11Output
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import Player
from tests.xserver import XWindow

GREETING = """
[[sequences]]
id = "greet"
label = "Greet"
steps = [{ text = "Zö@\\n" }]
"""


def test_the_built_in_table_is_the_us_layout() -> None:
    compiled = compile_layout(Names(layout="us"))
    assert us_layout().characters.items() <= compiled.characters.items()
    assert us_layout().typed.keys() == compiled.typed.keys()


def test_other_layouts_type_and_print_their_own_characters() -> None:
    german = compile_layout(Names(layout="de,us", variant="nodeadkeys,"))
    assert german.name == "de nodeadkeys"
    assert german.label("KEY_Y") == "Z"
    assert german.label("KEY_MINUS") == "ß"
    assert german.label("KEY_ENTER") == "Enter"
    assert german.combination(("KEY_LEFTCTRL", "KEY_Z")) == "Ctrl + Y"
    assert german.typed["@"] == ("KEY_RIGHTALT", "KEY_Q")
    assert german.typed["Ö"] == ("KEY_LEFTSHIFT", "KEY_SEMICOLON")
    with pytest.raises(XkbError, match="there is no keyboard layout 'nowhere'"):
        compile_layout(Names(layout="nowhere"))


def test_a_character_that_the_layout_lacks_is_told_with_its_place() -> None:
    text = f'schema = 4\ntitle = "T"\n{GREETING}'
    parse_profile(text, layout=lambda: compile_layout(Names(layout="de")))
    with pytest.raises(ProfileError, match=r"steps\[0\]\.text: the keyboard layout us cannot type ö, leave those out"):
        parse_profile(text)


def test_a_text_arrives_in_a_window_as_its_keys_on_the_layout_that_the_server_is_set_to(
    x_server: str, x_window: XWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.delenv("XKB_DEFAULT_LAYOUT")
    monkeypatch.setenv("DISPLAY", x_server)
    layout = SessionLayout()
    assert layout().name == "us"
    news = LayoutWatch.connect()
    assert news is not None and not news.came()
    other = display.Display(x_server)
    other.screen().root.change_property(other.intern_atom("OTHER"), Xatom.STRING, 8, b"x")
    other.sync()
    other.close()
    assert select.select([news.fileno()], [], [], 10)[0] and not news.came()
    subprocess.run(["setxkbmap", "de"], check=True)
    try:
        assert select.select([news.fileno()], [], [], 10)[0] and news.came()
        assert layout.refresh() and layout().name == "de" and not layout.refresh()
        player = Player('south = { sequence = "greet" }', rest=GREETING, layout=layout)
        player.feed(south=1)
        player.wait(1000)
        output = X11Output(x_server)
        output.send(player.outputs)
        output.close()
        pressed = [key.code for key in player.outputs if isinstance(key, Key) and key.down]
        assert x_window.text(len(pressed)) == "Zö@\r"
    finally:
        news.close()
        subprocess.run(["setxkbmap", "us"], check=True)
