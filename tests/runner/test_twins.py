"""Equal pads keep their seats over unplugging: by serial number, else by plug, else the person is told."""

from __future__ import annotations

from collections.abc import Collection

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nub_shift.engine.program import Program
from nub_shift.model.kinds import OutputKind, PadKind
from nub_shift.model.messages import Code, Message
from nub_shift.pads.description import Description
from nub_shift.pads.kernel import evdev_pad, finding
from nub_shift.pads.kernel.finding import Found
from nub_shift.pads.pad import Pad, PadError
from nub_shift.pads.spec import PadSpec
from nub_shift.runner.pads.pad_registry import PadRegistry
from nub_shift.runner.pads.pad_search import PadSearch
from nub_shift.runner.seats.pad_events import PadEvents
from nub_shift.runner.seats.seat import Seat
from nub_shift.runner.seats.session import Session
from nub_shift.store.profile_files import parse_profile
from tests.engine.playing import START_US, profile_text
from tests.runner.fakes import FakeOutput, FakePad, FakeSource

ANY = PadSpec(PadKind.EVDEV, "")
SECOND_US = 1_000_000


class Desk:
    """Pads that are plugged in and out, and a session that plays with them."""

    def __init__(self, patch: pytest.MonkeyPatch) -> None:
        self.found: dict[str, Found] = {}
        self.pads: dict[str, FakePad] = {}
        self.told: list[Code] = []
        self.registry = PadRegistry()
        self._now_us = START_US
        self._count = 0
        patch.setattr(finding, "find_pads", lambda: list(self.found.values()))
        patch.setattr(evdev_pad, "open_found", self._open)
        self.session = Session(
            FakeOutput, OutputKind.PRINT, self._notify, PadEvents(), FakeSource(), lambda: self._now_us
        )

    def plug(self, name: str, serial: str = "", plug: str = "") -> None:
        """A pad comes, at the next device number."""
        self._count += 1
        path = f"/dev/input/event{self._count}"
        description = Description(
            "Twin", 3, 1, 2, 3, phys=f"{plug}/input0" if plug else "", uniq=serial, keys=frozenset({0x130})
        )
        self.found[name] = Found(path, description)
        self.work()

    def unplug(self, name: str) -> None:
        path = self.found.pop(name).path
        if path in self.pads:
            self.pads.pop(path).unplugged = True
        self.work()

    def work(self) -> None:
        """Long enough for seats to look."""
        self._now_us += SECOND_US
        self.session.work(self._now_us)

    def sit(self, requested: str = "") -> Seat:
        search = PadSearch(self.registry, PadSpec(PadKind.EVDEV, requested))
        seat = self.session.add(Program(parse_profile(profile_text("", ""))), search, pad_returns=True)
        self.work()
        return seat

    def seated(self) -> list[str]:
        """The names of the pads that the seats have."""
        names = {found.path: name for name, found in self.found.items()}
        return [names[seat.pad.key] if seat.pad is not None else "" for seat in self.session.seats]

    def _open(self, found: Found) -> Pad:
        return self.pads.setdefault(found.path, FakePad(found.path))

    def _notify(self, message: Message) -> None:
        self.told.append(message.code)


@pytest.fixture
def desk(monkeypatch: pytest.MonkeyPatch) -> Desk:
    return Desk(monkeypatch)


@given(
    moves=st.lists(st.sampled_from("abc"), max_size=16),
    told_by=st.sampled_from(("serial", "plug")),
)
def test_whatever_is_pulled_out_and_plugged_in_each_seat_has_its_own_pad(moves: Collection[str], told_by: str) -> None:
    with pytest.MonkeyPatch.context() as patch:
        desk = Desk(patch)
        for name in "abc":
            desk.plug(name, **{told_by: f"{name}-1"})
            desk.sit()
        for name in moves:
            if name in desk.found:
                desk.unplug(name)
            else:
                desk.plug(name, **{told_by: f"{name}-1"})
        assert desk.seated() == [name if name in desk.found else "" for name in "abc"]
        assert Code.PAD_MAY_BE_ANOTHER not in desk.told


def test_a_pad_at_another_plug_is_taken_and_that_is_said_since_it_may_be_its_twin(desk: Desk) -> None:
    desk.plug("a", plug="usb-1")
    desk.plug("b", plug="usb-2")
    first = desk.sit()
    desk.session.assign_pad(first, PadSearch(desk.registry, desk.registry.entry("/dev/input/event1")), "", START_US)
    desk.unplug("a")
    assert desk.seated() == [""], "the other one lay there all the time"
    desk.plug("a", plug="usb-3")
    assert desk.seated() == ["a"] and desk.told[-1] is Code.PAD_MAY_BE_ANOTHER


def test_pads_that_nothing_tells_apart_are_taken_as_they_come_and_that_is_said(desk: Desk) -> None:
    for name in "ab":
        desk.plug(name)
        desk.sit()
    for name in "ab":
        desk.unplug(name)
    desk.plug("b")
    assert desk.seated() == ["b", ""] and Code.PAD_MAY_BE_ANOTHER in desk.told
    desk.plug("a")
    assert desk.seated() == ["b", "a"]


def test_a_pad_given_to_another_player_is_not_waited_for_any_more(desk: Desk) -> None:
    desk.plug("a", serial="1")
    first, second = desk.sit(), desk.sit()
    desk.session.assign_pad(second, PadSearch(desk.registry, desk.registry.entry("/dev/input/event1")), "", START_US)
    assert desk.seated() == ["a", ""], "that key was not named, so the first keeps it"
    second_search = PadSearch(desk.registry, desk.registry.entry("/dev/input/event1"))
    desk.session.assign_pad(second, second_search, "/dev/input/event1", START_US)
    assert desk.seated() == ["", "a"]
    desk.plug("b", serial="2")
    assert desk.seated() == ["b", "a"]
    assert first.source.former == second.source.former[:-1] + "2"


@pytest.mark.parametrize("requested", ["serial-1", "USB-1", "event1", "/dev/input/event1"])
def test_a_pad_is_named_by_serial_plug_or_device_and_the_full_name_counts_first(desk: Desk, requested: str) -> None:
    desk.plug("b", "serial-10", "usb-1.2")
    desk.found["b"] = Found("/dev/input/event10", desk.found["b"].description)
    desk._count = 0
    desk.plug("a", "serial-1", "usb-1")
    desk.sit(requested)
    assert desk.seated() == ["a"]
    with pytest.raises(PadError):
        PadSearch(desk.registry, PadSpec(PadKind.EVDEV, "serial-2")).look()
