"""State of the practice field: typed text, pointer trail, walker; without painting."""

from __future__ import annotations

from collections import deque
from math import hypot
from typing import assert_never

from nub_shift.engine.values import US_PER_SECOND, Key, Output, Place, PlaceBack, Pointer, ProfileRequest, Wheel
from nub_shift.keyboard.keys import MOUSE_BUTTONS
from nub_shift.keyboard.layout import LayoutSource
from nub_shift.model.profile.profile import Direction, Profile

MAX_TEXT = 400
MAX_TRAIL = 1500
SHORTCUT_KEYS = ("KEY_LEFTCTRL", "KEY_RIGHTCTRL", "KEY_LEFTALT", "KEY_LEFTMETA", "KEY_RIGHTMETA")
# Modifiers of a key's further characters, by their names in layouts.
LEVELS = {"KEY_LEFTSHIFT": ("KEY_LEFTSHIFT", "KEY_RIGHTSHIFT"), "KEY_RIGHTALT": ("KEY_RIGHTALT",)}
_VECTORS = {Direction.UP: (0, -1), Direction.DOWN: (0, 1), Direction.LEFT: (-1, 0), Direction.RIGHT: (1, 0)}


class TypedText:
    """Text typed by keys, and the keys that are down.

    Attributes:
        text: typed text.
        down: codes that are down, in the order of their presses.
    """

    def __init__(self, layout: LayoutSource) -> None:
        """`layout` returns the present keyboard layout."""
        self._layout = layout
        self.text = ""
        self.down: list[str] = []

    def take(self, outputs: list[Output]) -> None:
        """Processes outputs."""
        for output in outputs:
            match output:
                case Key(_, code, down):
                    self._take_key(code, down)
                case Pointer() | Place() | PlaceBack() | Wheel() | ProfileRequest():
                    pass  # no text
                case _:
                    assert_never(output)

    def _take_key(self, code: str, down: bool) -> None:
        if not down:
            if code in self.down:
                self.down.remove(code)
            return
        if code not in self.down:
            self.down.append(code)
        if code not in MOUSE_BUTTONS:
            self._type(code)

    def clear(self) -> None:
        """Empties the text."""
        self.text = ""

    @property
    def labels(self) -> tuple[str, ...]:
        """Labels of the keys that are down."""
        return tuple(self._layout().label(code) for code in self.down)

    def _type(self, code: str) -> None:
        if code == "KEY_BACKSPACE":
            self.text = self.text[:-1]
            return
        if any(held in self.down for held in SHORTCUT_KEYS):
            return  # a shortcut types nothing
        held = tuple(level for level, keys in LEVELS.items() if any(key in self.down for key in keys))
        self.text = (self.text + self._layout().character(held, code))[-MAX_TEXT:]


class PointerTrail:
    """Trail of the pointer on a square field from -1 to 1, wrapping at its edges.

    Attributes:
        points: (x, y, whether a new line begins), the newest last.
        clicks: presses of mouse buttons (x, y, code).
    """

    def __init__(self, counts_across: float = 1600.0) -> None:
        self._scale = 2.0 / counts_across
        self.points: deque[tuple[float, float, bool]] = deque([(0.0, 0.0, True)], maxlen=MAX_TRAIL)
        self.clicks: deque[tuple[float, float, str]] = deque(maxlen=12)
        self._was_at: tuple[float, float] | None = None  # position before a placement

    def move(self, dx: int, dy: int) -> None:
        """Moves the pointer by counts."""
        x, y, _ = self.points[-1]
        x, y = x + dx * self._scale, y + dy * self._scale
        wrapped = abs(x) > 1 or abs(y) > 1
        self.points.append(((x + 1) % 2 - 1, (y + 1) % 2 - 1, wrapped))

    def place(self, left: float, top: float) -> None:
        """Places the pointer, by parts of the width from the left and of the height from the top."""
        self._was_at = self.points[-1][:2]
        self.points.append((left * 2 - 1, top * 2 - 1, True))

    def go_back(self) -> None:
        """Returns the pointer to its position before the placement."""
        if self._was_at is not None:
            self.points.append((*self._was_at, True))
            self._was_at = None

    def click(self, code: str) -> None:
        """Adds the press of a mouse button."""
        x, y, _ = self.points[-1]
        self.clicks.append((x, y, code))

    def clear(self) -> None:
        """Returns the pointer to the middle and clears the trail."""
        self.points.clear()
        self.points.append((0.0, 0.0, True))
        self.clicks.clear()


class Walker:
    """Walks by the game's walking moves, seen from above.

    Attributes:
        x, y: position, -1 to 1, wrapping.
        heading: direction of the last step, a unit vector.
        steps: its trail.
    """

    SPEED = 0.45  # half fields a second

    def __init__(self, profile: Profile) -> None:
        self.x = self.y = 0.0
        self.heading = (0.0, -1.0)
        self.steps: deque[tuple[float, float]] = deque(maxlen=240)
        self._ways: dict[str, tuple[int, int]] = {}
        self._at_us: int | None = None
        self.follow(profile)

    def follow(self, profile: Profile) -> None:
        """Takes the walking keys from a profile."""
        self._ways = {
            code: _VECTORS[move.direction] for move in profile.moves if move.direction is not None for code in move.keys
        }

    @property
    def can_walk(self) -> bool:
        """Whether the game has walking moves."""
        return bool(self._ways)

    def velocity(self, down: list[str]) -> tuple[float, float]:
        """Returns the direction of these keys as a unit vector, or (0, 0)."""
        x = sum(self._ways[code][0] for code in down if code in self._ways)
        y = sum(self._ways[code][1] for code in down if code in self._ways)
        length = hypot(x, y)
        return (x / length, y / length) if length else (0.0, 0.0)

    def advance(self, now_us: int, down: list[str]) -> bool:
        """Walks up to now; returns whether the position changed."""
        before, self._at_us = self._at_us, now_us
        vx, vy = self.velocity(down)
        if before is None or (vx, vy) == (0.0, 0.0):
            return False
        way = self.SPEED * min(now_us - before, US_PER_SECOND // 4) / US_PER_SECOND
        self.heading = (vx, vy)
        self.x = (self.x + vx * way + 1) % 2 - 1
        self.y = (self.y + vy * way + 1) % 2 - 1
        if not self.steps or hypot(self.x - self.steps[-1][0], self.y - self.steps[-1][1]) > 0.04:
            self.steps.append((self.x, self.y))
        return True
