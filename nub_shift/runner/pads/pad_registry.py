"""All available pads: those of the kernel, simulated ones that are plugged in, and combinations of both."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import assert_never

from nub_shift.model.controls import CONTROL_OF_CHANNEL
from nub_shift.model.kinds import PadKind
from nub_shift.model.messages import Code, Message
from nub_shift.model.pad.card import PadCard
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.signs import LOW_BATTERY
from nub_shift.pads.description import Description
from nub_shift.pads.kernel.power import Battery, battery_of
from nub_shift.pads.known.cards import Known, identities_of, known_as, own_identity
from nub_shift.pads.known.gamepad import is_motion, is_surface
from nub_shift.pads.made_up.pad import SimulatedPad
from nub_shift.pads.made_up.shapes import SIMULATED, simulated_key, simulated_pad
from nub_shift.pads.pad import Pad, PadError
from nub_shift.protocol.clock import monotonic_us
from nub_shift.protocol.messages import PadInfo, PadPart
from nub_shift.store.card_files import joining_cards


@dataclass(frozen=True)
class SinglePad:
    """One single pad, an unreadable device, or a faulty card; `missing` gives the reason in the latter cases."""

    key: str
    description: Description | None = None
    motion: tuple[str, ...] = ()
    missing: Message | None = None
    parent: str = ""
    surfaces: tuple[str, ...] = ()
    simulated: SimulatedPad | None = None

    @property
    def identities(self) -> tuple[str, ...]:
        """Identities that the card may have, the most specific first."""
        return identities_of(self.description) if self.description is not None else ()

    @property
    def serial(self) -> str:
        """Serial number, if reported."""
        return self.description.uniq if self.description is not None else ""

    @property
    def plug(self) -> str:
        """Port of the pad, if the kernel reports one."""
        return self.description.plug if self.description is not None else ""

    def open(self) -> Pad:
        """Opens the pad.

        Raises:
            PadError: the pad cannot be used.
        """
        if self.simulated is not None:
            try:
                self.simulated.wire()
            except ProfileError as error:
                raise PadError(Code.FILE_FAULTY, why=str(error)) from None
            return self.simulated
        from nub_shift.pads.kernel.evdev_pad import open_found
        from nub_shift.pads.kernel.finding import Found

        return open_found(Found(self.key, self.description, self.motion, None, self.parent, self.surfaces))


@dataclass(frozen=True)
class PadEntry:
    """An available pad: a single one, or a combination of several."""

    singles: tuple[SinglePad, ...]
    card: PadCard | None = None

    @property
    def key(self) -> str:
        """Key of the pad."""
        return self.card.identity if self.card is not None else self.singles[0].key

    @property
    def identities(self) -> tuple[str, ...]:
        """Identities by which the pad is recognised when it returns."""
        return (self.card.identity,) if self.card is not None else self.singles[0].identities

    @property
    def requested(self) -> str:
        """Text after `--pad` that finds such a pad."""
        made_up = next((single.key for single in self.singles if single.simulated is not None), None)
        return made_up if made_up is not None else PadKind.EVDEV.word

    @property
    def serial(self) -> str:
        """Serial number, or empty; a combination has none."""
        return self.singles[0].serial if self.card is None else ""

    def matches(self, match: str) -> bool:
        """Returns whether a text is part of one of the pad's names."""
        return any(match.casefold() in text.casefold() for text in self._called())

    def has_name(self, match: str) -> bool:
        """Returns whether a text is one of the pad's names in full."""
        return any(match.casefold() == text.casefold() for text in self._called())

    def _called(self) -> Iterator[str]:
        """Yields the pad's names, serial numbers, plugs and devices."""
        if self.card is not None:
            yield self.card.name
        for single in self.singles:
            if single.description is not None:
                yield from (single.key, Path(single.key).name, _names(single), single.serial, single.plug)

    def open(self) -> Pad:
        """Opens the pad.

        Raises:
            PadError: the pad, or a part of it, cannot be used.
        """
        if self.card is None:
            return self.singles[0].open()
        from nub_shift.pads.combined.joined import JoinedPad

        parts: list[Pad] = []
        try:
            parts.extend(single.open() for single in self.singles)
        except PadError:
            for part in parts:
                part.close()
            raise
        return JoinedPad(self.key, self.card.name, parts, self._moving(), self.card.trim)

    def _moving(self) -> int:
        """Returns the part whose motion sensors count: the one named in the card, else the first with sensors."""
        assert self.card is not None
        chosen = [index for index, single in enumerate(self.singles) if self.card.motion in single.identities]
        able = [index for index, single in enumerate(self.singles) if _has_motion(single)]
        return (chosen or able or [0])[0]

    @property
    def battery(self) -> Battery | None:
        """Charge of the emptiest part; None if unknown."""
        batteries = [battery for single in self.singles if (battery := _battery(single)) is not None]
        return min(batteries, key=lambda battery: battery.percent, default=None)

    def info(self, seats: tuple[int, ...], has_twin: bool) -> PadInfo:
        """Returns the description of the pad."""
        known: list[Known] = []
        wrong = [single.missing for single in self.singles if single.missing]
        for single in self.singles:
            if single.description is not None:
                try:
                    known.append(known_as(single.description))
                except ProfileError as error:
                    wrong.append(Message(Code.FILE_FAULTY, {"why": str(error)}))
        first = self.singles[0]
        if len(known) < len(self.singles):
            return PadInfo(key=self.key, name=_names(first), device=_names(first), seats=seats, wrong=tuple(wrong))
        if any(one.is_guessed for one in known):
            wrong.append(Message(Code.PAD_NOT_KNOWN))
        wrong += _fed_twice(known)
        lowest = self.battery
        if lowest is not None and lowest.percent <= LOW_BATTERY and not lowest.charging:
            wrong.append(Message(Code.BATTERY_LOW, {"percent": lowest.percent}))
        names = {control for one in known for control in one.wiring.controls}
        if any(_has_motion(single) for single in self.singles):
            names.add("motion")
        if any(single.surfaces for single in self.singles):
            names.add("surface")
        marks = own_identity(first.description, has_twin) if first.description is not None else ""
        card = self.card
        parts = tuple(_part(single, one) for single, one in zip(self.singles, known, strict=True))
        made_up = [single.simulated for single in self.singles if single.simulated is not None]
        return PadInfo(
            key=self.key,
            name=card.name if card is not None else known[0].name,
            device=_names(first),
            identity=self.identities[0],
            serial=first.serial,
            plug=first.plug,
            controls=tuple(name for name in _ORDER if name in names),
            source="card" if card is not None else known[0].source.value,
            marks=card.identity if card is not None else marks,
            wiring=card.identity if card is not None else first.identities[-1],
            colour=_colour(card.colour if card is not None else known[0].colour),
            printed={control: text for one in known for control, text in one.printed.items()},
            fingers=dict(pair for pad in made_up for pair in pad.traits.fingers)
            | {control: finger for one in known for control, finger in one.fingers.items()},
            menu=next((one.menu for one in known if one.menu), ""),
            parts=parts if card is not None else (),
            moving=self.singles[self._moving()].identities[0] if card is not None else "",
            battery=lowest.percent if lowest is not None else -1,
            charging=lowest is not None and lowest.charging,
            seats=seats,
            simulated=len(made_up) == len(self.singles),
            by_hand=any(pad.by_hand is not None for pad in made_up),
            wrong=tuple(wrong),
        )


class PadRegistry:
    """Finds and opens pads, and keeps the simulated ones."""

    def __init__(self, clock: Callable[[], int] = monotonic_us) -> None:
        """`clock` gives the time in microseconds, for simulated pads."""
        self._clock = clock
        self._simulated: dict[str, SimulatedPad] = {}

    def plug(self, name: str) -> bool:
        """Plugs a simulated pad in; returns whether it was unplugged before.

        Raises:
            PadError: unknown pad, or its card has faults.
        """
        key = simulated_key(name)
        if key in self._simulated:
            return False
        try:
            self._simulated[key] = simulated_pad(key, self._clock())
        except ProfileError as error:
            raise PadError(Code.FILE_FAULTY, why=str(error)) from None
        return True

    def unplug(self, name: str) -> None:
        """Unplugs a simulated pad; its seat handles that as for any other pad.

        Raises:
            PadError: the pad is not plugged in.
        """
        self._made_up(name).plugged = False
        del self._simulated[simulated_key(name.removeprefix("simulated:"))]

    def work_by_hand(self, name: str, values: dict[str, float]) -> bool:
        """Sets a simulated pad by hand; returns whether the demo was playing.

        Raises:
            PadError: the pad is not plugged in.
        """
        pads = self._made_up_parts(name)
        began = any(pad.by_hand is None for pad in pads)
        for pad in pads:
            pad.hold(values)
        return began

    def play_demo(self, name: str) -> None:
        """Continues the demo of a simulated pad.

        Raises:
            PadError: the pad is not plugged in.
        """
        for pad in self._made_up_parts(name):
            pad.resume_demo()

    @property
    def plugged(self) -> tuple[str, ...]:
        """Names of the plugged simulated pads."""
        return tuple(self._simulated)

    @property
    def unplugged(self) -> dict[str, str]:
        """Simulated pads that could be plugged in, name by key."""
        return {key: name for key, name in SIMULATED.items() if key not in self._simulated}

    def entries(self, kinds: Collection[PadKind] = tuple(PadKind)) -> list[PadEntry]:
        """Returns all available pads, those of the kernel first, in the order of their device numbers; a combination
        counts as one.
        """
        first = sorted(kinds, key=lambda kind: kind is not PadKind.EVDEV)
        singles = [single for kind in first for single in self._singles(kind)]
        try:
            cards = joining_cards()
        except ProfileError as error:
            return [
                *(PadEntry((single,)) for single in singles),
                PadEntry((SinglePad(error.source, missing=Message(Code.FILE_FAULTY, {"why": str(error)})),)),
            ]
        entries = []
        for card in cards:
            parts = [_of_identity(singles, identity) for identity in card.parts]
            found = [part for part in parts if part is not None]
            if len(found) == len(parts):
                entries.append(PadEntry(tuple(found), card))
                singles = [single for single in singles if single not in found]
        return [*entries, *(PadEntry((single,)) for single in singles)]

    def _singles(self, kind: PadKind) -> list[SinglePad]:
        match kind:
            case PadKind.EVDEV:
                from nub_shift.pads.kernel.finding import find_pads

                return [
                    SinglePad(pad.path, pad.description, pad.motion, pad.missing, pad.parent, pad.surfaces)
                    for pad in find_pads()
                ]
            case PadKind.SIMULATED:
                return [_simulated_single(pad) for pad in self._simulated.values()]
            case PadKind.RECORDED:
                return []  # a recording is a file, and available only by name
            case _:
                assert_never(kind)

    def batteries(self) -> dict[str, int]:
        """Returns the percentages of batteries that are not being charged, by key of pad."""
        known = ((entry.key, entry.battery) for entry in self.entries())
        return {key: battery.percent for key, battery in known if battery is not None and not battery.charging}

    def entry(self, key: str) -> PadEntry:
        """Returns the pad of a key.

        Raises:
            PadError: there is no such pad.
        """
        entry = next((entry for entry in self.entries() if entry.key == key), None)
        if entry is None:
            raise PadError(Code.NO_SUCH_PAD, pad=key)
        return entry

    def _made_up_parts(self, name: str) -> list[SimulatedPad]:
        """Returns the simulated pad of a name, or the parts of a simulated combination."""
        if name.startswith("joined-"):
            singles = [
                single for entry in self.entries((PadKind.SIMULATED,)) if entry.key == name for single in entry.singles
            ]
            return [single.simulated for single in singles if single.simulated is not None]
        return [self._made_up(name)]

    def _made_up(self, name: str) -> SimulatedPad:
        key = simulated_key(name.removeprefix("simulated:"))
        if key not in self._simulated:
            raise PadError(Code.NOT_PLUGGED_IN, pad=SIMULATED[key])
        return self._simulated[key]


def pad_infos(entries: Collection[PadEntry], seats: Mapping[str, tuple[int, ...]]) -> tuple[PadInfo, ...]:
    """Returns the descriptions of pads; `seats` has the numbers of each pad's seats, by key."""
    kinds = Counter(entry.identities[-1] for entry in entries if entry.identities)
    twins = {entry.key for entry in entries if entry.identities and kinds[entry.identities[-1]] > 1}
    return tuple(entry.info(seats.get(entry.key, ()), entry.key in twins) for entry in entries)


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


def _fed_twice(known: list[Known]) -> list[Message]:
    """Returns a fault if several parts of a combined pad report the same channels."""
    counted = Counter(channel for one in known for channel in one.wiring.channels)
    twice = sorted(channel for channel, count in counted.items() if count > 1)
    return [Message(Code.FED_TWICE, {"channels": twice})] if twice else []
