"""What the window waits for, by the table."""

from __future__ import annotations

import pytest

from nub_shift.demo.games import demo_profile_text
from nub_shift.editing.waiting import LISTEN_MS, TRANSITIONS, Awaited, Wait, WaitEvent, Waiting
from nub_shift.editing.words.waiting import waiting_words
from nub_shift.keyboard.layout import us_layout
from nub_shift.store.profile_files import parse_profile


class Clock:
    """Does not run on its own."""

    now = 1_000_000

    def __call__(self) -> int:
        return self.now


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def waiting(clock: Clock) -> Waiting:
    return Waiting(clock)


def test_every_wait_can_be_cancelled_and_is_said() -> None:
    profile = parse_profile(demo_profile_text("tidefold"))
    said = set()
    for awaited in Awaited:
        assert TRANSITIONS[awaited][WaitEvent.CANCELLED] is Awaited.NOTHING
        said.add(waiting_words(profile, Wait(awaited, "base", "south", "east", label="Jump"), True, False, us_layout()))
    assert len(said) == len(Awaited)


def test_keys_are_listened_to_for_a_while(waiting: Waiting, clock: Clock) -> None:
    looks = []
    waiting.on_change(lambda: looks.append(waiting.time_left))
    waiting.handle_event(WaitEvent.CONTROL, "south", "base")
    assert waiting.listens_for("base", "south") and not waiting.listens_for("lamp", "south")
    clock.now += LISTEN_MS // 4
    waiting.check_time()
    assert looks == [1.0, 0.75]
    waiting.extend()
    clock.now += LISTEN_MS - 1
    waiting.check_time()
    assert waiting.listens_for("base", "south")
    clock.now += 1
    waiting.check_time()
    assert waiting.wait == Wait() and not waiting.timed


def test_a_pair_of_slots_still_gets_a_move_when_keys_are_no_longer_heard(waiting: Waiting) -> None:
    waiting.begin(Wait(Awaited.PARTNER, "base", "south"))
    waiting.handle_event(WaitEvent.CONTROL, "south", "base")  # no slot is its own partner
    assert waiting.wait.awaited is Awaited.PARTNER
    waiting.handle_event(WaitEvent.CONTROL, "east", "base")
    waiting.handle_event(WaitEvent.LEFT)
    assert waiting.wait == Wait(Awaited.PAIR_MOVE, "base", "east", partner="south")
    assert not waiting.listens_for("base", "east")
    assert waiting.handle_event(WaitEvent.GIVEN).partner == "south"
    assert waiting.wait == Wait()


def test_a_control_that_was_waited_for_is_given_once(waiting: Waiting) -> None:
    given = []
    waiting.on_control(lambda wait, slot: given.append((wait.layer, slot)))
    waiting.begin(Wait(Awaited.LAYER_CONTROL, "lamp"))
    for slot in ("south", "east"):
        waiting.handle_event(WaitEvent.CONTROL, slot, "base")
    assert given == [("lamp", "south")]
    assert waiting.listens_for("base", "east")
