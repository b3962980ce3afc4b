"""What is connected, as plain values."""

from __future__ import annotations

from dataclasses import dataclass

from nub_shift.model.problems import ProfileError
from nub_shift.pads.cards import known_as
from nub_shift.pads.finding import find_pads


@dataclass(frozen=True)
class Connected:
    """A device that is a pad, or that cannot be looked at.

    Attributes:
        controls: canonical names of what it has.
        missing: what keeps it from being used, with the remedy; empty if nothing does.
    """

    path: str
    name: str
    controls: tuple[str, ...]
    missing: str


def connected_pads() -> list[Connected]:
    """All pads of this machine, in the order of their device numbers."""
    found = []
    for pad in find_pads():
        if pad.description is None:
            found.append(Connected(pad.path, "", (), pad.missing))
        else:
            try:
                name, wiring = known_as(pad.description)
            except ProfileError as error:
                found.append(Connected(pad.path, pad.description.name, (), str(error)))
                continue
            controls = (*wiring.controls, *(["motion"] if pad.motion else []))
            found.append(Connected(pad.path, name, controls, ""))
    return found
