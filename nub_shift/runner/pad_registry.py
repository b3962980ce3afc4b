"""All pads within reach: those of the kernel, the made-up ones that are plugged in, and what is joined of them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable
from dataclasses import dataclass

from nub_shift.model.card import PadCard
from nub_shift.model.controls import CONTROL_OF_CHANNEL
from nub_shift.model.problems import ProfileError
from nub_shift.pads.cards import Known, Source, identities_of, known_as, own_identity
from nub_shift.pads.description import Description
from nub_shift.pads.gamepad import is_motion, is_surface
from nub_shift.pads.made_up.pad import SimulatedPad
from nub_shift.pads.made_up.shapes import SIMULATED, simulated_key, simulated_pad
from nub_shift.pads.pad import Pad, PadError
from nub_shift.pads.power import Battery, battery_of
from nub_shift.pads.spec import PadKind, PadSpec
from nub_shift.protocol.clock import monotonic_us
from nub_shift.protocol.messages import PadInfo, PadPart
from nub_shift.store.card_files import joining_cards

LOW_PERCENT = 15
NOT_KNOWN = "nothing knows this pad: introduce it, or keep what its codes suggest"


@dataclass(frozen=True)
class SinglePad:
    """One pad of its own, or a device that cannot be looked at, or a card with a fault: then `missing` says so."""

    key: str
    description: Description | None = None
    motion: tuple[str, ...] = ()
    missing: str = ""
    parent: str = ""
    surfaces: tuple[str, ...] = ()
    simulated: SimulatedPad | None = None

    @property
    def identities(self) -> tuple[str, ...]:
        """What its card may be called, the most particular first."""
        return identities_of(self.description) if self.description is not None else ()

    def open(self) -> Pad:
        """Opens it; raises PadError if it cannot be used."""
        if self.simulated is not None:
            try:
                self.simulated.wire()
            except ProfileError as error:
                raise PadError(str(error)) from None
            return self.simulated
        from nub_shift.pads.evdev_pad import open_found
        from nub_shift.pads.finding import Found

        return open_found(Found(self.key, self.description, self.motion, "", self.parent, self.surfaces))


@dataclass(frozen=True)
class PadEntry:
    """A pad on the shelf: one of its own, or several that a card joins."""

    singles: tuple[SinglePad, ...]
    card: PadCard | None = None

    @property
    def key(self) -> str:
        """Where it is."""
        return self.card.identity if self.card is not None else self.singles[0].key

    @property
    def identities(self) -> tuple[str, ...]:
        """What it may be called again when it comes back."""
        return (self.card.identity,) if self.card is not None else self.singles[0].identities

    def fits(self, match: str) -> bool:
        """Whether what a person wrote means this one."""
        wanted = match.casefold()
        names = [self.card.name] if self.card is not None else []
        names += [text for single in self.singles if single.description for text in (single.key, _names(single))]
        return any(wanted in name.casefold() for name in names)

    def open(self) -> Pad:
        """Opens it; raises PadError if it, or a part of it, cannot be used."""
        if self.card is None:
            return self.singles[0].open()
        from nub_shift.pads.joined import JoinedPad

        parts: list[Pad] = []
        try:
            parts.extend(single.open() for single in self.singles)
        except PadError:
            for part in parts:
                part.close()
            raise
        return JoinedPad(self.key, self.card.name, parts, self._moving())

    def _moving(self) -> int:
        """Which part's motion counts: the one that the card says, else the first that has some."""
        assert self.card is not None
        chosen = [place for place, single in enumerate(self.singles) if self.card.motion in single.identities]
        able = [place for place, single in enumerate(self.singles) if _has_motion(single)]
        return (chosen or able or [0])[0]

    def info(self, seat: int, has_twin: bool) -> PadInfo:
        """What is to be told of it."""
        known: list[Known] = []
        wrong = [single.missing for single in self.singles if single.missing]
        for single in self.singles:
            if single.description is not None:
                try:
                    known.append(known_as(single.description))
                except ProfileError as error:
                    wrong.append(str(error))
        first = self.singles[0]
        if len(known) < len(self.singles):
            return PadInfo(self.key, _names(first), _names(first), seat=seat, wrong=tuple(wrong))
        if any(one.source is Source.GUESS for one in known):
            wrong.append(NOT_KNOWN)
        wrong += _fed_twice(known)
        batteries = [battery for single in self.singles if (battery := _battery(single)) is not None]
        lowest = min(batteries, key=lambda battery: battery.percent, default=None)
        if lowest is not None and lowest.percent <= LOW_PERCENT and not lowest.charging:
            wrong.append(f"the battery is down to {lowest.percent} %")
        names = {control for one in known for control in one.wiring.controls}
        if any(_has_motion(single) for single in self.singles):
            names.add("motion")
        if any(single.surfaces for single in self.singles):
            names.add("surface")
        marks = own_identity(first.description, has_twin) if first.description is not None else ""
        card = self.card
        return PadInfo(
            self.key,
            card.name if card is not None else known[0].name,
            _names(first),
            self.identities[0],
            tuple(name for name in _ORDER if name in names),
            "card" if card is not None else known[0].source.value,
            card.identity if card is not None else marks,
            card.identity if card is not None else first.identities[-1],
            _colour(card.colour if card is not None else known[0].colour),
            {control: text for one in known for control, text in one.printed.items()},
            tuple(_part(single, one) for single, one in zip(self.singles, known, strict=True)) if card else (),
            self.singles[self._moving()].identities[0] if card is not None else "",
            lowest.percent if lowest is not None else -1,
            lowest is not None and lowest.charging,
            seat,
            all(single.simulated is not None for single in self.singles),
            any(single.simulated is not None and single.simulated.by_hand is not None for single in self.singles),
            tuple(wrong),
        )


class PadRegistry:
    """Finds pads, opens them, and keeps the made-up ones."""

    def __init__(self) -> None:
        self._simulated: dict[str, SimulatedPad] = {}

    def plug(self, name: str) -> None:
        """Plugs a made-up pad in; one that is there stays as it is.

        Raises:
            PadError: there is no such pad, or its card has faults.
        """
        key = simulated_key(name)
        if key not in self._simulated:
            try:
                self._simulated[key] = simulated_pad(key, monotonic_us())
            except ProfileError as error:
                raise PadError(str(error)) from None

    def unplug(self, name: str) -> None:
        """Pulls a made-up pad out; whoever plays with it learns of it like of any other.

        Raises:
            PadError: it is not plugged in.
        """
        self._made_up(name).plugged = False
        del self._simulated[simulated_key(name.removeprefix("simulated:"))]

    def hold(self, name: str, values: dict[str, float]) -> bool:
        """Works a made-up pad by hand; returns whether it performed until now. Raises PadError as `unplug` does."""
        pads = self._made_up_parts(name)
        began = any(pad.by_hand is None for pad in pads)
        for pad in pads:
            pad.hold(values)
        return began

    def perform(self, name: str) -> None:
        """Has a made-up pad go on with its performance; raises PadError as `unplug` does."""
        for pad in self._made_up_parts(name):
            pad.perform()

    @property
    def unplugged(self) -> dict[str, str]:
        """The made-up pads that could be plugged in, name by key."""
        return {key: name for key, name in SIMULATED.items() if key not in self._simulated}

    def items(self, kinds: Collection[PadKind] = tuple(PadKind)) -> list[PadEntry]:
        """All pads within reach, of the kernel first, in the order of their device numbers; joined ones as one."""
        singles: list[SinglePad] = []
        if PadKind.EVDEV in kinds:
            from nub_shift.pads.finding import find_pads

            singles += [
                SinglePad(pad.path, pad.description, pad.motion, pad.missing, pad.parent, pad.surfaces)
                for pad in find_pads()
            ]
        if PadKind.SIMULATED in kinds:
            singles += [_simulated_single(pad) for pad in self._simulated.values()]
        try:
            cards = joining_cards()
        except ProfileError as error:
            return [
                *(PadEntry((single,)) for single in singles),
                PadEntry((SinglePad(error.source, missing=str(error)),)),
            ]
        items = []
        for card in cards:
            parts = [_of_identity(singles, identity) for identity in card.parts]
            found = [part for part in parts if part is not None]
            if len(found) == len(parts):
                items.append(PadEntry(tuple(found), card))
                singles = [single for single in singles if single not in found]
        return [*items, *(PadEntry((single,)) for single in singles)]

    def find(self, spec: PadSpec, taken: Collection[str]) -> Pad:
        """Opens the first pad that is meant and has no seat yet; raises PadError as `meant` does, or if it fails."""
        return self.meant(spec, taken).open()

    def meant(self, spec: PadSpec, taken: Collection[str] = ()) -> PadEntry:
        """The first pad that is meant and has no seat yet.

        Raises:
            PadError: there is none, or it may not be read.
        """
        items = self.items((spec.kind,))
        free = [item for item in items if item.key not in taken]
        if spec.kind is PadKind.SIMULATED:
            key = simulated_key(spec.match)
            free = [item for item in free if any(single.key == f"simulated:{key}" for single in item.singles)]
            if not free:
                raise PadError(f"{SIMULATED[key]} is not plugged in")
            return free[0]
        able = [item for item in free if not any(single.missing for single in item.singles)]
        item = next((item for item in able if item.fits(spec.match)), None)
        if item is not None:
            return item
        closed = next((single for item in items for single in item.singles if single.missing), None)
        if closed is not None:
            raise PadError(f"{closed.key}: {closed.missing}")
        wanted = f' named "{spec.match}"' if spec.match else ""
        other = "other " if taken else ""
        raise PadError(f"no {other}pad{wanted} is connected; plug one in, or use --pad simulated")

    def find_again(self, identities: Iterable[str], name: str, taken: Collection[str]) -> Pad:
        """Opens the pad that was chosen once, wherever it is plugged in now.

        Raises:
            PadError: it is not there, or it cannot be used.
        """
        items = [item for item in self.items() if item.key not in taken]
        for identity in identities:
            for item in items:
                if identity in item.identities:
                    return item.open()
        raise PadError(f"{name} is not connected")

    def item(self, key: str) -> PadEntry:
        """The pad of that key; raises PadError if it is not there."""
        item = next((item for item in self.items() if item.key == key), None)
        if item is None:
            raise PadError(f"there is no pad {key!r}")
        return item

    def _made_up_parts(self, name: str) -> list[SimulatedPad]:
        """A made-up pad, or those that a pad of that key is joined of."""
        if name.startswith("joined-"):
            singles = [
                single for item in self.items((PadKind.SIMULATED,)) if item.key == name for single in item.singles
            ]
            return [single.simulated for single in singles if single.simulated is not None]
        return [self._made_up(name)]

    def _made_up(self, name: str) -> SimulatedPad:
        key = simulated_key(name.removeprefix("simulated:"))
        if key not in self._simulated:
            raise PadError(f"{SIMULATED[key]} is not plugged in")
        return self._simulated[key]


def pad_infos(items: Collection[PadEntry], seats: dict[str, int]) -> tuple[PadInfo, ...]:
    """What is to be told of pads; `seats` is the number of the seat by a pad's key."""
    kinds = Counter(item.identities[-1] for item in items if item.identities)
    return tuple(
        item.info(seats.get(item.key, -1), bool(item.identities) and kinds[item.identities[-1]] > 1) for item in items
    )


_ORDER = tuple(dict.fromkeys(control.name for control in CONTROL_OF_CHANNEL.values()))


def _simulated_single(pad: SimulatedPad) -> SinglePad:
    motion = tuple(part.name for part in pad.descriptions[1:] if is_motion(part))
    surfaces = tuple(part.name for part in pad.descriptions[1:] if is_surface(part))
    return SinglePad(pad.key, pad.descriptions[0], motion, surfaces=surfaces, simulated=pad)


def _of_identity(singles: Iterable[SinglePad], identity: str) -> SinglePad | None:
    return next((single for single in singles if identity in single.identities), None)


def _has_motion(single: SinglePad) -> bool:
    return bool(single.motion)


def _names(single: SinglePad) -> str:
    return single.description.name if single.description is not None else single.key


def _battery(single: SinglePad) -> Battery | None:
    if single.simulated is not None:
        return Battery(single.simulated.battery, False) if single.simulated.battery >= 0 else None
    return battery_of(single.parent)


def _colour(colour: object) -> str:
    return str(getattr(colour, "value", ""))


def _part(single: SinglePad, known: Known) -> PadPart:
    return PadPart(single.key, known.name, single.identities[0], _has_motion(single))


def _fed_twice(known: list[Known]) -> list[str]:
    """What several parts of a joined pad report."""
    counted = Counter(channel for one in known for channel in one.wiring.channels)
    twice = sorted({CONTROL_OF_CHANNEL[channel].label.lower() for channel, count in counted.items() if count > 1})
    return [f"both parts have {', '.join(twice)}: take them apart and introduce one of them"] if twice else []
