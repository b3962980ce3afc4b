"""SDL's controller mapping strings, one line per pad: reading into a wiring, and writing.

A line contains the pad's id, its name, and pairs `control:source`. Sources count the device's own buttons, axes and
hats in the order of that library on Linux: buttons from BTN_JOYSTICK up, then those below; hats, which are pairs of hat
axes with the values -1, 0 and 1; and all other axes, including triggers on hat axes.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from nub_shift.pads.description import Description
from nub_shift.pads.input_codes import ABS_HAT0X
from nub_shift.pads.known.wiring import AxisUse, Wiring
from nub_shift.translation import tr

_BTN_JOYSTICK = 0x120
_KEY_MAX = 0x2FF
_ABS_MAX = 0x3F
_HAT_PAIRS = range(ABS_HAT0X, ABS_HAT0X + 8, 2)

_BUTTONS = {
    **{"a": "south", "b": "east", "x": "west", "y": "north"},
    **{"back": "select", "guide": "home", "start": "start"},
    **{"leftshoulder": "left_shoulder", "rightshoulder": "right_shoulder"},
    **{"leftstick": "left_stick.click", "rightstick": "right_stick.click"},
    **{"dpup": "dpad.up", "dpdown": "dpad.down", "dpleft": "dpad.left", "dpright": "dpad.right"},
    **{"paddle1": "grip_2", "paddle2": "grip_1", "paddle3": "grip_4", "paddle4": "grip_3"},
    **{"lefttrigger": "left_trigger", "righttrigger": "right_trigger"},
}
_STICKS = {
    **{"leftx": "left_stick.x", "lefty": "left_stick.y"},
    **{"rightx": "right_stick.x", "righty": "right_stick.y"},
}
_SOURCE = re.compile(
    r"(?P<half>[+-]?)(?:b(?P<button>\d{1,4})|a(?P<axis>\d{1,4})(?P<turned>~?)|h(?P<hat>\d{1,4})\.(?P<way>[1248]))"
)
# Directions of a hat: up and left are below its middle.
_WAYS = {"1": (1, False), "4": (1, True), "8": (0, False), "2": (0, True)}


class MappingError(ValueError):
    """A line is no mapping, or not of this pad; the text says what is wrong and what would be right."""


def read_mapping(line: str, description: Description) -> tuple[str, Wiring]:
    """Returns the pad's name in a mapping line, and the wiring for a device.

    Raises:
        MappingError: not a mapping line, or a source that the device does not have.
    """
    identity, *rest = [part.strip() for part in line.strip().rstrip(",").split(",")]
    if not rest or not re.fullmatch(r"[0-9a-fA-F]{32}", identity):
        raise MappingError(tr("this is no mapping: expected an id of 32 hexadecimal digits, a name, and pairs"))
    wiring = Wiring({}, {})
    for pair in rest[1:]:
        control, _, source = pair.partition(":")
        if control in ("platform", "crc", "hint", "type", "face", "sdk>=", "sdk<="):
            continue
        _wire(wiring, control, source, description)
    return rest[0], wiring


def write_mapping(name: str, description: Description, wiring: Wiring) -> str:
    """A mapping line for a wiring; what that format cannot say (sliders, motion) is left out."""
    numbers = (description.bus, 0, description.vendor, 0, description.product, 0, description.version, 0)
    identity = b"".join(number.to_bytes(2, "little") for number in numbers).hex()
    pairs = ",".join(sorted(_pairs(description, wiring)))
    return f"{identity},{name.replace(',', ' ')},{pairs},platform:Linux,"


def _wire(wiring: Wiring, control: str, source: str, description: Description) -> None:
    found = _SOURCE.fullmatch(source)
    half = control[0] if control[:1] in ("+", "-") else ""
    name = control.removeprefix(half) if half else control
    if found is None:
        raise MappingError(
            tr(
                "{control}:{source} is no pair: expected a source as b0, a1, +a2, a3~ or h0.1",
                control=control,
                source=source,
            )
        )
    channel = _BUTTONS.get(name) or _STICKS.get(name)
    if channel is None:
        return  # a control of pads that this product does not support
    if found["button"] is not None:
        wiring.buttons[_nth(_button_codes(description), int(found["button"]), control, source)] = channel
    elif found["hat"] is not None:
        axis, above = _WAYS[found["way"]]
        code = _nth(iter(_hats(description)), int(found["hat"]), control, source) + axis
        _side(wiring, code, channel, above, description)
    else:
        code = _nth(_axis_codes(description), int(found["axis"]), control, source)
        if name in _STICKS and not half:
            axis_of = description.axes[code]
            ends = (axis_of.minimum, axis_of.maximum)
            low, high = ends if not found["turned"] else ends[::-1]
            wiring.axes[code] = AxisUse(channel, channel, low, sum(ends) / 2, high)
        elif found["half"]:
            _side(wiring, code, channel, found["half"] == "+", description)
        else:
            axis_of = description.axes[code]
            low, high = (axis_of.maximum, axis_of.minimum) if found["turned"] else (axis_of.minimum, axis_of.maximum)
            wiring.axes[code] = AxisUse(channel, "", low, low, high)


def _side(wiring: Wiring, code: int, channel: str, above: bool, description: Description) -> None:
    """Adds one side of an axis; the other side may have been added before."""
    axis = description.axes[code]
    use = wiring.axes.get(code) or AxisUse("", "", axis.minimum, (axis.minimum + axis.maximum) / 2, axis.maximum)
    wiring.axes[code] = replace(use, above=channel) if above else replace(use, below=channel)


def _pairs(description: Description, wiring: Wiring) -> Iterator[str]:
    buttons, axes, hats = list(_button_codes(description)), list(_axis_codes(description)), _hats(description)
    named = {channel: name for name, channel in (_BUTTONS | _STICKS).items()}
    for code, channel in wiring.buttons.items():
        if code in buttons and channel in named:
            yield f"{named[channel]}:b{buttons.index(code)}"
    for code, use in wiring.axes.items():
        turned = "~" if use.high < use.low else ""
        pair = code & ~1
        if pair in hats:
            hat, axis = hats.index(pair), code - pair
            for channel, above in ((use.above, True), (use.below, False)):
                way = next(way for way, found in _WAYS.items() if found == (axis, above))
                if channel in named:
                    yield f"{named[channel]}:h{hat}.{way}"
        elif code in axes and (use.signed or use.rest == use.low) and use.above in named:
            yield f"{named[use.above]}:a{axes.index(code)}{turned}"
        elif code in axes:
            for channel, mark in ((use.above, "+-"[bool(turned)]), (use.below, "-+"[bool(turned)])):
                if channel in named:
                    yield f"{named[channel]}:{mark}a{axes.index(code)}"


def _button_codes(description: Description) -> Iterator[int]:
    yield from (code for code in range(_BTN_JOYSTICK, _KEY_MAX) if code in description.keys)
    yield from (code for code in range(_BTN_JOYSTICK) if code in description.keys)


def _hats(description: Description) -> list[int]:
    """Returns the first code of each hat."""
    return [
        pair
        for pair in _HAT_PAIRS
        if all(
            axis is not None and (axis.minimum, axis.maximum) == (-1, 1)
            for axis in (description.axes.get(pair), description.axes.get(pair + 1))
        )
    ]


def _axis_codes(description: Description) -> Iterator[int]:
    hats = _hats(description)
    return (code for code in range(_ABS_MAX) if code in description.axes and code & ~1 not in hats)


def _nth(codes: Iterator[int], number: int, control: str, source: str) -> int:
    found = list(codes)
    if number >= len(found):
        raise MappingError(
            tr(
                "{control}:{source}: this pad has only {count} of those",
                control=control,
                source=source,
                count=len(found),
            )
        )
    return found[number]
