"""The made-up pads, by name."""

from __future__ import annotations

from nub_shift.demo.performances import SALTGLASS_SECONDS, saltglass
from nub_shift.pads.pad import PadError, with_name
from nub_shift.pads.simulated import SimulatedPad, Traits

TERN = Traits(
    name="Tern two-stick pad",
    controls=(
        "left_trigger",
        "left_shoulder",
        "left_stick",
        "dpad",
        "select",
        "start",
        "home",
        "south",
        "east",
        "west",
        "north",
        "right_stick",
        "right_trigger",
        "right_shoulder",
        "motion",
    ),
    # Its left stick rests a little to the right and its right stick a little high, as used ones do.
    rest=(("left_stick.x", 0.035), ("right_stick.y", -0.022), ("motion.accel_y", 1.0)),
)

_SETS = {"tern": (TERN, saltglass, SALTGLASS_SECONDS)}


def simulated_pad(name: str, start_us: int, once: bool = False) -> SimulatedPad:
    """The made-up pad whose key or name contains `name`, about to perform from `start_us` on.

    Raises:
        PadError: there is none.
    """
    key = with_name([(key, traits.name) for key, (traits, _, _) in _SETS.items()], name)
    if key is None:
        raise PadError(f'there is no simulated pad "{name}", expected one of {", ".join(_SETS)}')
    traits, gestures, seconds = _SETS[key]
    return SimulatedPad(traits, gestures(), seconds, start_us, once)
