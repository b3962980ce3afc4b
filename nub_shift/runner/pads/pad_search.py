"""Search for the pad of one seat: at first by the request, later for the same pad again."""

from __future__ import annotations

from collections.abc import Collection

from nub_shift.model.kinds import PadKind
from nub_shift.model.messages import Code
from nub_shift.pads.made_up.shapes import SIMULATED, simulated_key
from nub_shift.pads.pad import Pad, PadError
from nub_shift.pads.spec import PadSpec
from nub_shift.protocol.messages import SparePad
from nub_shift.runner.pads.pad_registry import PadEntry, PadRegistry
from nub_shift.runner.seats.pad_source import Taken

NOTHING = Taken()


class PadSearch:
    """Finds a kernel or simulated pad repeatedly; a PadSource.

    Equal pads are distinguished by serial number, or otherwise by plug. If neither is the same as before, the pad may
    be the same one at another plug.
    """

    def __init__(self, registry: PadRegistry, requested: PadSpec | PadEntry, former: str = "") -> None:
        """`requested` is a text that several pads may match, or the chosen pad.

        `former` is the most specific identity of the pad found by an earlier search, or empty.
        """
        self.requested = requested.text if isinstance(requested, PadSpec) else requested.requested
        self.former = former
        self.identities: tuple[str, ...] = ()
        self.unsure = False
        self.spare: SparePad | None = None
        self._registry = registry
        self._spec = requested if isinstance(requested, PadSpec) else None
        self._before = requested if isinstance(requested, PadEntry) else None
        self._name = requested.info((), has_twin=False).name if isinstance(requested, PadEntry) else ""  # read once
        self._others: Collection[str] = ()  # pads present beside it, none of which can be the same one

    def open(self, taken: Taken = NOTHING) -> Pad:
        """Opens the pad.

        Raises:
            PadError: the pad is missing or unreadable, or its card has faults.
        """
        entry = self.look(taken)
        pad = entry.open()
        self._before, self.former, self.identities = entry, entry.identities[0], entry.identities
        return pad

    def forget(self) -> None:
        """Accepts any matching pad again."""
        self.former, self.identities = "", ()
        self._before = None

    def look(self, taken: Taken = NOTHING) -> PadEntry:
        """Finds the pad without opening it.

        Raises:
            PadError: as for `open`.
        """
        spec = self._spec
        entries = self._registry.entries((spec.kind,)) if spec is not None else self._registry.entries()
        able = [entry for entry in entries if not any(single.missing for single in entry.singles)]
        free = [entry for entry in able if entry.key not in taken.keys]
        found = self._again(free, taken.awaited)
        if found is None:
            unclaimed = [entry for entry in free if entry.identities[0] not in taken.awaited]
            self.spare = next((_spare(entry) for entry in unclaimed), None)
            found = self._first(spec, entries, unclaimed, taken)
            self.unsure = False
        self.spare = None
        self._others = {entry.identities[0] for entry in able if entry is not found}
        return found

    def _again(self, free: Collection[PadEntry], awaited: Collection[str]) -> PadEntry | None:
        """Returns the pad from before, if present: certainly the same, or the same as far as can be told."""
        before = self._before
        former = before.identities[0] if before is not None else self.former
        same = [entry for entry in free if former and entry.identities[0] == former]
        if same:
            self.unsure = len(same) > 1 or former in awaited
            return same[0]
        if before is None or before.serial:
            return None
        known = {*awaited, *self._others}
        moved = [entry for entry in free if _is_alike(entry, before) and entry.identities[0] not in known]
        self.unsure = bool(moved)
        return moved[0] if moved else None

    def _first(
        self, spec: PadSpec | None, entries: Collection[PadEntry], free: Collection[PadEntry], taken: Taken
    ) -> PadEntry:
        """Returns the first pad that matches the request."""
        if spec is None:
            raise PadError(Code.NOT_CONNECTED, pad=self._name)
        if spec.kind is PadKind.SIMULATED:
            key = simulated_key(spec.match)
            for entry in free:
                if any(single.key == f"simulated:{key}" for single in entry.singles):
                    return entry
            raise PadError(Code.NOT_PLUGGED_IN, pad=SIMULATED[key])
        for matches in (PadEntry.has_name, PadEntry.matches):  # full names first: event1 is not event10 if both exist
            for entry in free:
                if matches(entry, spec.match):
                    return entry
        closed = next((single for entry in entries for single in entry.singles if single.missing), None)
        if closed is not None and closed.missing is not None:
            raise PadError.of(closed.missing)
        others = bool(taken.keys)
        if spec.match:
            raise PadError(Code.NO_OTHER_PAD_NAMED if others else Code.NO_PAD_NAMED, match=spec.match)
        raise PadError(Code.NO_OTHER_PAD_CONNECTED if others else Code.NO_PAD_CONNECTED)


def _spare(entry: PadEntry) -> SparePad:
    return SparePad(entry.key, entry.info((), has_twin=False).name)


def _is_alike(one: PadEntry, other: PadEntry) -> bool:
    """Returns whether two pads are of one kind, without serial numbers that distinguish them."""
    return one.identities[-1] == other.identities[-1] and not one.serial
