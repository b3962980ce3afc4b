"""Demos of simulated pads: about a minute of play with every kind of movement."""

from __future__ import annotations

from nub_shift.pads.made_up.pad import Gesture, Press, Push, Sweep

LEFT = ("left_stick.x", "left_stick.y")
RIGHT = ("right_stick.x", "right_stick.y")
SALTGLASS_SECONDS = 60.0


def _tap(channel: str, at_s: float, for_s: float = 0.14) -> Press:
    return Press(channel, at_s, at_s + for_s)


def saltglass() -> list[Gesture]:
    """Returns an evening at the lighthouse, 0 s to 60 s."""
    return [
        # Walk out, look about, leap.
        Push("left_stick.y", -0.95, 0.8, 4.6),
        Push("right_stick.x", 0.55, 1.6, 2.6),
        _tap("south", 2.2),
        _tap("south", 3.1),
        Push("left_stick.x", 0.7, 3.2, 5.6),
        Push("right_stick.x", -0.7, 3.6, 4.4),
        # A full circle with the left stick, a figure with the right one.
        Sweep(LEFT, 0.97, 1.0, 6.4, 9.8),
        Sweep(RIGHT, 0.8, 1.0, 7.0, 8.6),
        Sweep(RIGHT, 0.8, -1.0, 8.6, 10.2),
        # Throw light: the trigger slowly through its stage, then short.
        Push("right_trigger", 0.9, 11.0, 12.6, 0.5),
        Push("right_trigger", 0.8, 13.0, 13.35, 0.1),
        Push("right_trigger", 0.8, 13.6, 13.95, 0.1),
        Push("left_trigger", 1.0, 14.2, 15.4, 0.2),
        # The face buttons and the D-pad in the base layer.
        _tap("west", 16.0),
        _tap("north", 16.5),
        _tap("east", 17.0, 0.5),
        _tap("dpad.up", 17.9),
        _tap("dpad.right", 18.4),
        _tap("dpad.right", 18.8),
        _tap("dpad.left", 19.2),
        _tap("dpad.down", 19.7),
        # Hurry forward; the layer is activated while the stick is held and the light is thrown.
        Press("right_shoulder", 20.6, 23.4),
        Push("left_stick.y", -1.0, 20.8, 27.4),
        Push("right_trigger", 0.9, 22.2, 25.0, 0.15),
        Press("left_shoulder", 23.8, 31.6),
        Push("right_stick.x", 0.9, 24.4, 26.0, 0.3),
        Push("right_stick.y", -0.6, 25.2, 26.4, 0.3),
        _tap("south", 26.8),
        _tap("west", 27.6),
        _tap("north", 28.4),
        _tap("east", 29.0),
        _tap("dpad.down", 29.6),
        # A button pressed in the layer and released after its end: the layer's effect ends with the release.
        Press("south", 30.9, 32.4),
        # Sidesteps along a border between two directions, tilting the pad.
        Sweep(LEFT, 0.9, 0.125, 33.4, 35.4, from_degrees=0),
        Sweep(LEFT, 0.9, -0.125, 35.6, 37.6, from_degrees=90),
        Push("motion.gyro_y", 60.0, 34.0, 35.2, 0.4),
        Push("motion.gyro_y", -60.0, 35.6, 36.8, 0.4),
        Push("motion.gyro_x", 35.0, 37.0, 38.0, 0.3),
        Push("motion.gyro_x", -35.0, 38.0, 39.0, 0.3),
        _tap("left_stick.click", 38.4, 0.3),
        _tap("right_stick.click", 39.1, 0.3),
        _tap("select", 40.0),
        _tap("select", 41.0),
        _tap("start", 41.8),
        _tap("start", 42.8),
        _tap("home", 43.4),
        # A busy end: everything at once.
        Sweep(LEFT, 1.0, 2.0, 44.6, 52.6),
        Sweep(RIGHT, 0.9, -3.0, 45.0, 53.0),
        *(_tap("south", 45.4 + 0.45 * count, 0.16) for count in range(8)),
        *(Push("right_trigger", 1.0, 46.0 + 0.5 * count, 46.3 + 0.5 * count, 0.08) for count in range(10)),
        Press("left_shoulder", 49.4, 51.6),
        Push("motion.gyro_y", 90.0, 50.0, 51.0, 0.3),
        Push("motion.gyro_y", -90.0, 51.0, 52.0, 0.3),
        _tap("west", 53.4),
        _tap("north", 53.9),
        Push("left_stick.y", 0.8, 54.6, 57.2, 0.4),
        Push("right_stick.y", 0.35, 55.0, 57.0, 0.4),
    ]


def looking_round() -> list[Gesture]:
    """Returns a hand that looks: rests, turns fast and too far, follows something slowly, rests. 24 s."""
    turns = [
        Push("right_stick.x", way, start, start + 0.7, 0.09)
        for start, way in ((3.0, 1.0), (4.6, -1.0), (6.2, 1.0), (7.8, -1.0), (9.4, 1.0))
    ]
    back = [
        Push("right_stick.x", way, start, start + 0.2, 0.06)
        for start, way in ((3.75, -0.4), (5.35, 0.4), (6.95, -0.4), (8.55, 0.4), (10.15, -0.4))
    ]
    return [
        *turns,
        *back,
        Push("right_stick.x", 0.3, 11.5, 14.0, 0.4),
        Push("right_stick.x", -0.25, 14.4, 17.0, 0.4),
        Sweep(RIGHT, 1.0, 1.0, 17.6, 19.6),
        Push("left_stick.y", -1.0, 11.5, 15.0),
        Sweep(LEFT, 1.0, 1.0, 15.4, 18.4),
        _tap("south", 20.4),
        Push("right_trigger", 0.9, 21.0, 21.6, 0.1),
    ]


def sitting_back() -> list[Gesture]:
    """Returns a pointer worked by mouth: stick, breath and lips. 20 s."""
    return [
        Sweep(LEFT, 0.7, 1.0, 0.6, 3.2),
        Push("slider_1", 0.5, 3.6, 4.2, 0.1),
        Push("left_stick.x", 0.9, 4.6, 6.2, 0.3),
        Push("slider_1", 0.95, 5.0, 7.4, 0.4),
        Sweep(LEFT, 0.35, 1.0, 6.6, 8.4),
        # Sip for the ring, push towards a fold, back, let go.
        Push("slider_1", -0.6, 9.0, 12.4, 0.15),
        Push("left_stick.y", -0.9, 9.6, 10.4),
        Push("left_stick.x", 0.9, 11.0, 11.8),
        _tap("south", 13.0),
        Press("south", 13.6, 14.5),
        _tap("east", 15.0),
        _tap("east", 15.25),
        _tap("west", 16.2),
        _tap("west", 16.8),
        Press("dpad.up", 17.2, 18.2),
        Press("dpad.down", 18.4, 19.2),
        _tap("left_stick.click", 19.4, 0.2),
    ]


def driving() -> list[Gesture]:
    """Returns steering by pulses and looking by turning the pad. 24 s."""
    return [
        Push("right_trigger", 1.0, 0.6, 8.0, 1.5),
        Push("left_stick.x", 0.4, 1.6, 3.0, 0.3),
        Push("left_stick.x", -0.8, 3.4, 5.0, 0.4),
        Push("left_stick.x", 1.0, 5.4, 6.6, 0.5),
        _tap("south", 4.2),
        _tap("south", 6.0),
        Press("left_shoulder", 7.0, 7.4),
        Press("right_shoulder", 7.03, 7.5),
        Push("left_trigger", 1.0, 8.6, 16.0, 0.2),
        Push("motion.gyro_y", -70.0, 9.0, 10.6, 0.4),
        Push("motion.gyro_y", 70.0, 10.8, 12.4, 0.4),
        Push("motion.gyro_x", 25.0, 11.0, 12.0, 0.3),
        Push("right_trigger", 0.9, 12.2, 13.6, 0.1),
        Press("right_shoulder", 13.8, 15.0),
        Push("motion.gyro_y", -60.0, 14.0, 14.8, 0.2),
        _tap("east", 16.6),
        _tap("west", 17.4, 0.1),
        Press("west", 18.0, 18.8),
        _tap("east", 19.4),
        Push("left_stick.y", 0.9, 20.0, 21.0),
        Push("motion.accel_x", 0.6, 21.4, 23.4, 0.3),
    ]


def drumming() -> list[Gesture]:
    """Returns buttons and a D-pad in quick changes, for pads with little else. 16 s."""
    beats = ("south", "east", "west", "north", "left_shoulder")
    played = [Press(beats[beat % len(beats)], 0.6 + 0.28 * beat, 0.8 + 0.28 * beat) for beat in range(48)]
    struck = [_tap(("dpad.up", "dpad.down")[beat % 2], 0.62 + 0.28 * beat, 0.1) for beat in range(48)]
    pushed = [
        Push("left_stick.y", (-1.0, 1.0)[beat % 2], 0.6 + 1.4 * beat, 1.7 + 1.4 * beat, 0.02) for beat in range(10)
    ]
    bent = [Push("slider_1", 0.9, 1.0 + 2.8 * beat, 2.2 + 2.8 * beat, 0.3) for beat in range(5)]
    return [*played, *struck, *pushed, *bent, _tap("select", 14.6), _tap("start", 15.2)]
