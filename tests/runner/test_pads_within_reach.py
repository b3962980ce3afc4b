"""The pads that a runner tells of: plugged in and out, worked by hand, introduced, joined, and given seats."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from click.testing import CliRunner

from nub_shift.cli.main import main
from nub_shift.engine.values import Key
from nub_shift.model.messages import Code, Message
from nub_shift.model.pad.card import PadCard, joined_identity
from nub_shift.model.pad.labels import LabelStyle
from nub_shift.protocol.calls import (
    AnswerIntroduction,
    AssignPad,
    EndSeat,
    GetState,
    Introduce,
    PlugIn,
    ReloadCards,
    Subscribe,
    Unplug,
    WatchPads,
    WorkByHand,
)
from nub_shift.protocol.client import RunnerClient, RunnerError
from nub_shift.protocol.messages import ConnectedPads, PadInfo, PadsNews, SparePad
from nub_shift.store.card_files import keep_card, parse_card
from tests.engine.playing import profile_text
from tests.runner.processes import RunnerProcess
from tests.runner.resident import until


class Looker:
    """A client that looks at all pads."""

    def __init__(self, client: RunnerClient) -> None:
        self.client = client
        self.connected: ConnectedPads | None = None
        self.values: dict[str, dict[str, float]] = {}
        client.call(WatchPads(hz=100))

    def until(self, true: Callable[[], bool]) -> PadsNews:
        """Takes packets until something is true; the socket's timeout is the limit."""
        while True:
            news = self.client.pads_news()
            self.connected = news.connected or self.connected
            for pad, values in news.values.items():
                self.values.setdefault(pad, {}).update(values)
            if true():
                return news

    def pad(self, key: str) -> PadInfo | None:
        pads = self.connected.pads if self.connected is not None else ()
        return next((pad for pad in pads if pad.key == key), None)

    def status(self, channel: str) -> str:
        """What an introduction knows of a channel."""
        course = self.connected.introducing if self.connected is not None else None
        return course.status.get(channel, "") if course is not None else ""

    def until_pad(self, key: str, true: Callable[[PadInfo], bool] = lambda _pad: True) -> PadInfo:
        self.until(lambda: (pad := self.pad(key)) is not None and true(pad))
        found = self.pad(key)
        assert found is not None
        return found


@pytest.fixture
def runner(tmp_path: Path) -> Iterator[RunnerProcess]:
    tmp_path.chmod(0o700)
    made = RunnerProcess(tmp_path, "--pad", "simulated:tern", "--output", "print", "--rehearse")
    yield made
    if made.process.poll() is None:
        made.end()


@pytest.fixture
def looker(runner: RunnerProcess) -> Iterator[Looker]:
    client = runner.client()
    yield Looker(client)
    client.close()


def test_pads_come_and_go_and_are_told_alive(runner: RunnerProcess, looker: Looker) -> None:
    tern = looker.until_pad("simulated:tern")
    assert (tern.seats, tern.source, tern.simulated, tern.wrong) == ((0,), "document", True, ())
    done = CliRunner().invoke(main, ["plug", "plank", "--socket", str(runner.socket)])
    assert done.exit_code == 0, done.output
    plank = looker.until_pad("simulated:plank")
    assert (plank.seats, plank.source) == ((), "guess")
    assert plank.wrong[0].code is Code.PAD_NOT_KNOWN
    looker.client.call(WorkByHand(pad="simulated:plank", values={"north": 1.0}))
    # By its codes alone it is mistaken for another button.
    looker.until(lambda: looker.values.get("simulated:plank", {}).get("right_shoulder") == 1.0)
    CliRunner().invoke(main, ["plug", "plank", "--out", "--socket", str(runner.socket)])
    looker.until(lambda: looker.pad("simulated:plank") is None)
    refused = CliRunner().invoke(main, ["plug", "plank", "--out", "--socket", str(runner.socket)])
    assert (refused.exit_code, "Plank arcade stick is not plugged in" in refused.output) == (1, True)


def test_a_pad_that_is_pulled_out_lets_go_and_plays_on_when_it_is_back(looker: Looker) -> None:
    client = looker.client
    client.call(Subscribe(hz=100))
    client.call(WorkByHand(pad="simulated:tern", values={"south": 1.0}))
    keys: list[Key] = []
    while not any(key.down for key in keys):
        keys += [output for output in client.telemetry().outputs if isinstance(output, Key)]
    client.call(Unplug(pad="tern"))
    while keys[-1].down:
        keys += [output for output in client.telemetry().outputs if isinstance(output, Key)]
    assert client.call(GetState()).seats[0].pad.missing == Message(Code.UNPLUGGED, {"pad": "Tern two-stick pad"})
    client.call(PlugIn(pad="plank"))
    looker.until_pad("simulated:plank")
    spare = SparePad("simulated:plank", "Plank arcade stick")
    until(lambda: client.call(GetState()).seats[0].pad.spare == spare)
    client.call(Unplug(pad="plank"))
    until(lambda: client.call(GetState()).seats[0].pad.spare is None)
    client.call(PlugIn(pad="tern"))
    looker.until_pad("simulated:tern", lambda pad: pad.seats == (0,))


def test_an_introduction_goes_on_from_the_pad_and_ends_in_a_card(looker: Looker) -> None:
    client = looker.client
    client.call(PlugIn(pad="fretwork"))
    looker.until_pad("simulated:fretwork")
    client.call(WorkByHand(pad="simulated:fretwork", values={}))
    client.call(Introduce(pad="simulated:fretwork"))
    looker.until(lambda: looker.connected is not None and looker.connected.introducing is not None)
    for channel in ("south", "east"):
        looker.values.clear()
        client.call(WorkByHand(pad="simulated:fretwork", values={channel: 1.0}))
        looker.until(lambda: 1.0 in looker.values.get("simulated:fretwork", {}).values())  # whatever it was taken for
        client.call(WorkByHand(pad="simulated:fretwork", values={}))
        looker.until(lambda: looker.status(channel) == "understood")  # noqa: B023 - it is called at once
    # Unplugged and plugged in again, it goes on where it was.
    client.call(Unplug(pad="fretwork"))
    looker.until(lambda: looker.pad("simulated:fretwork") is None)
    client.call(PlugIn(pad="fretwork"))
    looker.until_pad("simulated:fretwork")
    assert looker.status("south") == "understood"
    client.call(WorkByHand(pad="simulated:fretwork", values={}))
    client.call(AnswerIntroduction(do="back"))
    looker.until(lambda: looker.status("east") != "understood")
    assert looker.connected is not None and looker.connected.introducing is not None
    card = parse_card(looker.connected.introducing.card)
    assert card.buttons["0x121"] == "south"
    keep_card(card)
    client.call(Introduce())
    client.call(ReloadCards())
    assert looker.until_pad("simulated:fretwork", lambda pad: pad.source == "card").wrong == ()
    with pytest.raises(RunnerError, match="nothing_introduced"):
        client.call(AnswerIntroduction(do="skip"))


def test_two_halves_become_one_pad_and_come_apart_again(looker: Looker) -> None:
    client = looker.client
    for half in ("left", "right"):
        client.call(PlugIn(pad=half))
    parts = tuple(looker.until_pad(f"simulated:{half}").identity for half in ("left", "right"))
    card = PadCard(schema=1, identity=joined_identity(parts), name="Pair", parts=parts, motion=parts[1])
    path = keep_card(card)
    client.call(ReloadCards())
    pair = looker.until_pad(card.identity)
    assert {"left_stick", "right_stick", "south", "grip_1", "grip_2", "motion"} <= set(pair.controls)
    assert (pair.moving, [part.name for part in pair.parts]) == (parts[1], ["Wren left half", "Wren right half"])
    assert looker.pad("simulated:left") is None
    client.call(AssignPad(pad=card.identity))
    state = client.call(GetState())
    assert state.seats[0].pad.name == "Pair"
    client.call(WorkByHand(pad=card.identity, values={"motion.gyro_x": 50.0, "south": 1.0}))
    looker.until(lambda: looker.values.get(card.identity, {}).get("south") == 1.0)
    client.call(Unplug(pad="left"))
    looker.until_pad("simulated:right")
    client.call(PlugIn(pad="left"))
    looker.until_pad(card.identity, lambda pad: pad.seats == (0,))
    path.unlink()
    client.call(ReloadCards())
    looker.until_pad("simulated:left")


def test_a_second_seat_plays_a_profile_of_its_own_and_leaves(looker: Looker) -> None:
    client = looker.client
    client.call(PlugIn(pad="reed"))
    looker.until_pad("simulated:reed")
    state = client.call(AssignPad(pad="simulated:reed", toml=profile_text('south = { keys = ["KEY_A"] }')))
    assert [(seat.title, seat.pad.name) for seat in state.seats] == [
        ("Saltglass Keeper", "Tern two-stick pad"),
        ("Test", "Reed mouth pad"),
    ]
    client.call(WorkByHand(pad="simulated:reed", values={"south": 1.0}))
    while "KEY_A" not in client.call(GetState()).down:
        pass
    left = client.call(EndSeat(seat=1))
    assert (len(left.seats), left.down) == (1, tuple(key for key in left.down if key != "KEY_A"))
    with pytest.raises(RunnerError, match="only_seat"):
        client.call(EndSeat(seat=0))
    with pytest.raises(RunnerError, match=r"no_such_pad.*nowhere"):
        client.call(AssignPad(pad="nowhere"))


def test_what_is_printed_on_a_pad_goes_with_it(looker: Looker) -> None:
    tern = looker.until_pad("simulated:tern")
    marks = PadCard(
        schema=1, identity=tern.marks, name="Old one", labels=LabelStyle.LETTERS, own_labels={"home": "Moon"}
    )
    keep_card(marks)
    looker.client.call(ReloadCards())
    named = looker.until_pad("simulated:tern", lambda pad: pad.name == "Old one")
    assert (named.printed["south"], named.printed["home"], named.source) == ("A", "Moon", "document")
    assert looker.client.call(GetState()).seats[0].pad.printed == named.printed
