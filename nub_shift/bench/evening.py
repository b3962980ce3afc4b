"""An evening in virtual time: held controls, changing games, lost pads, locked screens.

Session, seats and activation are the runner's own; clock, pad, library and output are stand-ins.
"""

from __future__ import annotations

import gc
import random
from collections import Counter
from dataclasses import dataclass, field

from nub_shift.bench.figures import Figure
from nub_shift.bench.ready_library import ReadyLibrary
from nub_shift.engine.program import Program
from nub_shift.engine.values import Key, Output
from nub_shift.model.kinds import OutputKind
from nub_shift.model.messages import Code, Message
from nub_shift.model.profile.activation import Away, Front
from nub_shift.outputs.output import DownKeys, OutputDevice
from nub_shift.pads.made_up.pad import SimulatedPad
from nub_shift.pads.made_up.shapes import simulated_pad
from nub_shift.pads.pad import Pad, PadError
from nub_shift.runner.profiles.by_game import ByGame
from nub_shift.runner.seats.pad_events import PadEvents
from nub_shift.runner.seats.pad_source import Taken
from nub_shift.runner.seats.session import Session
from nub_shift.runner.seats.signs_feed import SignsFeed
from nub_shift.store.profile_files import parse_profile

SWITCHES = 2_000
# Keys of each game's slots: walk, fire, toggle, turbo. Fire is a button: held across a change of games, it acts only
# where it was pressed.
KEYS = {
    "tide": ("KEY_A", "KEY_B", "KEY_C", "KEY_D"),
    "dust": ("KEY_E", "KEY_F", "KEY_G", "KEY_H"),
    "salt": ("KEY_I", "KEY_J", "KEY_K", "KEY_L"),
}
GAMES = tuple(KEYS)
# A window without a rule.
DESK = "desk"
_PROFILE = """
schema = 4
title = "{name}"
[[layers]]
id = "base"
label = "Base"
[layers.slots]
"left_stick.up" = {{ keys = ["{keys[0]}"] }}
east = {{ keys = ["{keys[2]}"], manner = "toggle", regain = true }}
"right_trigger.light" = {{ keys = ["{keys[3]}"], manner = "turbo", rate_hz = 8 }}
left_shoulder = {{ keys = ["{keys[1]}"] }}
[[comes_on.rules]]
window = "{name}"
"""
_HOLDS = ({"left_stick.y": -1.0}, {"right_trigger": 0.4}, {"left_shoulder": 1.0})
_HELD_US = 150_000
_SETTLED_US = 250_000
_STEP_US = 4_000


@dataclass
class Evening:
    """Results of an evening.

    Attributes:
        switches: number of changes of the window in front.
        stray: keys pressed in a window without a rule, of another game, or while the seat was paused.
        repeated: held keys and toggles that were not pressed exactly once when their game came to the front.
        left_down: keys down at the end.
        presses: number of presses.
        grown: Python objects present at the end but not after a tenth of the time.
    """

    switches: int = 0
    stray: int = 0
    repeated: int = 0
    left_down: int = 0
    presses: int = 0
    grown: int = 0


def evening_figures(quick: bool) -> list[Figure]:
    """Returns the figures of 2,000 changes of the window in front, or of 100."""
    evening = run_evening(100 if quick else SWITCHES)
    unseen = "" if evening.presses > evening.switches else f"{evening.presses} keys in {evening.switches} switches"
    name = f"evening of {evening.switches} game switches"
    return [
        Figure(f"{name}: keys where none may be pressed", evening.stray, "", 0.0, unseen=unseen),
        Figure(f"{name}: held keys and toggles not pressed once", evening.repeated, "", 0.0, unseen=unseen),
        Figure(f"{name}: keys that stay down", evening.left_down, "", 0.0, unseen=unseen),
        Figure(f"{name}: objects more than after a tenth of it", evening.grown, "", 50.0, unseen=unseen),
    ]


def run_evening(switches: int, seed: int = 1) -> Evening:
    """Plays an evening with random events from a seed."""
    table = _Table(random.Random(seed))
    found = Evening(switches)
    objects = 0
    for number in range(switches):
        table.move_hands()
        table.meet_trouble(found)
        table.change_window(found)
        if number == switches // 10:
            gc.collect()
            objects = len(gc.get_objects())
    gc.collect()
    found.grown = len(gc.get_objects()) - objects
    table.end()
    found.left_down = len(table.output.keys.releases())
    found.presses = table.output.presses
    return found


@dataclass
class _Output:
    """Counts presses."""

    presses: int = 0
    went_down: Counter[str] = field(default_factory=Counter)
    keys: DownKeys = field(default_factory=DownKeys)

    def send(self, outputs: list[Output]) -> None:
        self.keys.note(outputs)
        for output in outputs:
            if isinstance(output, Key) and output.down:
                self.presses += 1
                self.went_down[output.code] += 1

    @property
    def holds(self) -> bool:
        return bool(self.keys)

    def beat(self) -> None:
        """Does nothing: there is no watcher."""

    def fileno(self) -> int:
        return -1

    def check(self) -> None:
        """Does nothing: the output does not go away."""

    def close(self) -> None:
        """Does nothing: the output is opened again unchanged."""


class _Source:
    """Source of a pad, unless unplugged."""

    requested = former = "simulated:tern"
    identities: tuple[str, ...] = ()
    unsure = False
    spare = None

    def __init__(self, pad: SimulatedPad) -> None:
        self._pad = pad

    def open(self, taken: Taken) -> Pad:  # noqa: ARG002 - nobody else plays
        if not self._pad.plugged:
            raise PadError(Code.NO_PAD_YET)
        return self._pad

    def forget(self) -> None:
        """Does nothing: there is no other pad."""


class _Table:
    """A session with one seat, the hands at its pad, and the windows."""

    def __init__(self, chance: random.Random) -> None:
        self.output = _Output()
        self._chance = chance
        self._now_us = 0
        self._pad = simulated_pad("tern", 0)
        texts = (_PROFILE.format(name=name, keys=keys) for name, keys in KEYS.items())
        library = ReadyLibrary(dict(zip(GAMES, map(parse_profile, texts), strict=True)))
        self._held: dict[str, float] = {}
        self._toggled: set[str] = set()  # games whose toggle is on
        self._name = DESK
        self._window = 0
        self.session = Session(self._open_output, OutputKind.PRINT, _ignore, PadEvents(), library, lambda: self._now_us)
        self.session.subscribe_signs(SignsFeed(), on=True)  # enables the menu
        self._seat = self.session.add(
            Program(library.profiles["tide"]), _Source(self._pad), pad_returns=True, file="tide"
        )
        self._by_game = ByGame(self.session, library, library, (), lambda: self._now_us)
        self._by_game.start()
        self._pad.hold({})
        self._run(_HELD_US)
        self._come_to_front(DESK)
        self.session.switch.go(True, self._now_us)

    def move_hands(self) -> None:
        """Changes the held controls, and sometimes the toggle."""
        plays = self._name in GAMES
        if self._chance.random() < 0.3:
            self._hold({"east": 1.0})
            self._hold({})
            if plays:
                self._toggled ^= {self._name}
        self._hold(dict(pair for held in _HOLDS if self._chance.random() < 0.6 for pair in held.items()))

    def meet_trouble(self, found: Evening) -> None:
        """Sometimes unplugs the pad, locks the screen, or opens the menu for a while."""
        match self._chance.randrange(12):
            case 0:
                self._pad.plugged = False
                self._go_without(found)
                self._pad = simulated_pad("tern", self._now_us)
                self._pad.hold({})  # held controls of a new pad have no effect before their release
                self._seat.assign_pad(_Source(self._pad), self._now_us)
                self._toggled.discard(self._seat.file)
                self._hold(self._held)
            case 1:
                self.session.set_away(Away.LOCKED, self._now_us)
                self._go_without(found)
                self.session.set_away(Away.NO, self._now_us)
            case 2:
                self.session.open_menu(self._seat, True, self._now_us)
                self._go_without(found)
                self.session.open_menu(self._seat, False, self._now_us)
            case _:
                return
        self._run(_SETTLED_US)

    def change_window(self, found: Evening) -> None:
        """Brings a known or new window to the front, and compares the presses with the held controls."""
        name = self._chance.choice([name for name in (*GAMES, DESK) if name != self._name])
        self.output.went_down.clear()
        self._come_to_front(name)
        went, wanted = self.output.went_down, Counter[str]()
        if name in GAMES:
            walk, _, toggle, turbo = KEYS[name]
            if "left_stick.y" in self._held:
                wanted[walk] = 1
            if name in self._toggled:
                wanted[toggle] = 1
            if "right_trigger" in self._held:
                wanted[turbo] = max(1, went[turbo])
        allowed = set(KEYS.get(name, ()))
        found.stray += sum(count for code, count in went.items() if code not in allowed)
        found.repeated += sum(went[code] != wanted[code] for code in allowed)
        if name == DESK:
            found.stray += len(self.session.ledger.down)

    def end(self) -> None:
        """Returns to rehearsal, after which held controls send nothing."""
        self.session.switch.go(False, self._now_us)
        self._run(_SETTLED_US)
        self.session.close(self._now_us)

    def _go_without(self, found: Evening) -> None:
        """Passes time in which nothing may be sent."""
        self._run(_SETTLED_US)
        self.output.went_down.clear()
        self._run(_SETTLED_US)
        found.stray += self.output.went_down.total() + len(self.session.ledger.down)

    def _come_to_front(self, name: str) -> None:
        self._name = name
        self._window += 1
        self._by_game.on_front(Front(self._window, (name,)))
        self._run(_SETTLED_US)

    def _hold(self, values: dict[str, float]) -> None:
        self._held = values
        self._pad.hold(values)
        self._run(_HELD_US)

    def _run(self, for_us: int) -> None:
        end_us = self._now_us + for_us
        while self._now_us < end_us:
            self._now_us += _STEP_US
            self.session.work(self._now_us)
            self._by_game.work(self._now_us)

    def _open_output(self) -> OutputDevice:
        return self.output


def _ignore(_message: Message) -> None:
    """Ignores the session's messages to people."""
