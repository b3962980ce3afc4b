"""Plays frames through an engine in virtual time, for tests.

The clock starts high, so that a stray real or relative time shows at once.
"""

from __future__ import annotations

from nub_shift.engine.engine import Engine
from nub_shift.engine.ledger import Ledger
from nub_shift.engine.program import Program
from nub_shift.engine.values import Frame, Key, Output, Pointer, ProfileRequest, Wheel
from nub_shift.keyboard.layout import LayoutSource, us_layout
from nub_shift.store.profile_files import parse_profile

START_US = 7_000_000_000_000


def profile_text(slots: str, layer_slots: str = "", rest: str = "", shortest_ms: int = 0) -> str:
    """A small profile: slots of the base layer, of a layer `shift`, and any further tables."""
    return f"""
schema = 4
title = "Test"
[game]
shortest_key_ms = {shortest_ms}
shortest_gap_ms = {shortest_ms}
counts_per_turn = 3600
[[moves]]
id = "walk"
label = "Walk"
keys = ["KEY_W"]
[[moves]]
id = "next"
label = "Next"
wheel = "down"
[[layers]]
id = "base"
label = "Base"
[layers.slots]
{slots}
[[layers]]
id = "shift"
label = "Shift"
[layers.slots]
{layer_slots}
{rest}
"""


class Player:
    """An engine, the time, and everything it has put out."""

    def __init__(
        self,
        slots: str,
        layer_slots: str = "",
        rest: str = "",
        shortest_ms: int = 0,
        layout: LayoutSource = us_layout,
        ledger: Ledger | None = None,
    ) -> None:
        profile = parse_profile(profile_text(slots, layer_slots, rest, shortest_ms), layout=layout)
        self.engine = Engine(Program(profile, layout), ledger)
        self.now_us = START_US
        self.outputs: list[Output] = []

    def feed(self, **values: float) -> list[Output]:
        """One frame now; `left_stick__x` stands for the channel `left_stick.x`."""
        frame = Frame(self.now_us, {name.replace("__", "."): value for name, value in values.items()})
        return self._keep(self.engine.feed(frame))

    def wait(self, ms: float) -> list[Output]:
        """Time passes, with `advance` called at each deadline."""
        end_us = self.now_us + round(ms * 1000)
        made: list[Output] = []
        while (deadline := self.engine.deadline()) is not None and deadline <= end_us:
            made += self._keep(self.engine.advance(deadline))
        self.now_us = end_us
        return made

    def stop(self) -> list[Output]:
        """Everything is released."""
        return self._keep(self.engine.stop(self.now_us))

    def _keep(self, outputs: list[Output]) -> list[Output]:
        self.outputs += outputs
        return outputs


def brief(outputs: list[Output]) -> str:
    """Outputs as people write them: "+W -W <3,0> wheel(0,-120)"."""
    words = []
    for output in outputs:
        match output:
            case Key(_, code, down):
                words.append(("+" if down else "-") + code.removeprefix("KEY_"))
            case Pointer(_, dx, dy):
                words.append(f"<{dx},{dy}>")
            case Wheel(_, x, y):
                words.append(f"wheel({x},{y})")
            case ProfileRequest(_, title):
                words.append(f"profile({title})")
    return " ".join(words)
