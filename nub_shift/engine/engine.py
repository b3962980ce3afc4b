"""The engine: feed it frames, let time pass, get outputs. The only state is its own; the same input gives the same."""

from __future__ import annotations

from dataclasses import dataclass

from nub_shift.engine.effects import Desk, Effect
from nub_shift.engine.layers import LayerStack
from nub_shift.engine.ledger import Ledger
from nub_shift.engine.pointer import PointerMotion
from nub_shift.engine.program import Program
from nub_shift.engine.readers import Slot, StageReader, StickReader, Take
from nub_shift.engine.values import Frame, Output
from nub_shift.model.controls import CONTROLS, Kind
from nub_shift.model.profile import Feel


@dataclass(frozen=True)
class EngineState:
    """A look at the engine.

    Attributes:
        layers: ids of the layers that are on, the base layer first, the topmost last.
        slots: the slots that are pressed.
        down: the keys that are down, of all engines on the same ledger.
    """

    layers: tuple[str, ...]
    slots: tuple[str, ...]
    down: tuple[str, ...]


class Engine:
    """Turns the frames of one pad into outputs, by one profile.

    Every call takes the present time, or a frame that has one, and returns the outputs that follow, in order. Time
    never goes back: what claims to be earlier than the last call is taken to be now.
    """

    def __init__(self, program: Program, ledger: Ledger | None = None) -> None:
        self._desk = Desk(ledger if ledger is not None else Ledger(), LayerStack(), [])
        self._pointer = PointerMotion()
        self._pressed: dict[Slot, None] = {}  # in the order in which they were pressed
        self._values: dict[str, float] = {}
        self._now_us = 0
        self._set_program(program)

    def feed(self, frame: Frame) -> list[Output]:
        """Takes one pad frame. What is due before it happens first."""
        out = self._step(frame.t_us)
        self._values.update(frame.values)
        self._read(frame.values)
        self._act()
        return out

    def advance(self, now_us: int) -> list[Output]:
        """Lets time pass."""
        return self._step(now_us)

    def deadline(self) -> int | None:
        """When `advance` wants to be called next, in microseconds; None when time alone changes nothing."""
        return self._pointer.due_us

    def stop(self, now_us: int) -> list[Output]:
        """Releases all that this engine holds. Held controls do nothing until `resume` or until pressed again."""
        out = self._step(now_us)
        for slot in reversed(self._pressed):
            self._end(slot)
        self._desk.layers.changed = False
        self._sheet = self._program.sheet(self._desk.layers.on)
        self._pointer.set_velocity(0.0, 0.0, self._now_us, out)
        return out

    def resume(self, now_us: int) -> list[Output]:
        """After `stop`: sticks and triggers act again as they stand now; held buttons wait for the next press."""
        out = self._step(now_us)
        self._desk.layers.changed = True
        self._resolve_layers()
        self._move_pointer()
        return out

    def replace(self, program: Program, now_us: int) -> list[Output]:
        """Goes on with another program: everything is released, then sticks and triggers act by the new one."""
        out = self.stop(now_us)
        self._set_program(program)
        self._read(self._values)
        self._pressed.update(dict.fromkeys(self._changed))
        self._changed.clear()
        self._moved.clear()
        return out + self.resume(now_us)

    def forget_pad(self, now_us: int) -> list[Output]:
        """The pad is gone: releases everything, and takes every control to be at rest."""
        out = self.stop(now_us)
        self._values.clear()
        self._set_program(self._program)
        return out

    def state(self) -> EngineState:
        """A look at the engine; changes nothing."""
        on = (0, *self._desk.layers.on)
        layers = tuple(self._program.layer_ids[index] for index in on)
        return EngineState(layers, tuple(slot.name for slot in self._pressed), self._desk.ledger.down)

    def _set_program(self, program: Program) -> None:
        self._program = program
        self._sheet = program.sheet(())
        self._pressed.clear()
        self._changed: list[Slot] = []
        self._moved: list[StickReader] = []
        self._sticks: list[StickReader] = []
        self._buttons: dict[str, Slot] = {}
        self._takes: dict[str, Take] = {}
        self._make_readers(program.profile.feel)

    def _make_readers(self, feel: Feel) -> None:
        takes = self._takes
        for control in CONTROLS:
            match control.kind:
                case Kind.STICK:
                    stick = StickReader(control.name, getattr(feel, control.name), self._changed, self._moved)
                    self._sticks.append(stick)
                    takes[f"{control.name}.x"] = stick.take_x
                    takes[f"{control.name}.y"] = stick.take_y
                    click = f"{control.name}.click"
                    self._buttons[click] = Slot(click)
                case Kind.TRIGGER:
                    stage = getattr(feel, control.name).light
                    takes[control.name] = StageReader(Slot(f"{control.name}.light"), stage, self._changed).take
                case Kind.BUTTON | Kind.PAD_CROSS:
                    self._buttons.update((channel, Slot(channel)) for channel in control.channels)
                case Kind.MOTION:
                    pass  # no slot follows motion yet

    def _step(self, t_us: int) -> list[Output]:
        """Begins a step: time moves on to `t_us`, and what was due by then happens."""
        self._now_us = max(self._now_us, t_us)
        out: list[Output] = []
        self._desk.out = out
        self._pointer.advance(self._now_us, out)
        return out

    def _read(self, values: dict[str, float]) -> None:
        """Notes in `_changed` what a frame changes. Buttons are dealt with here: they are most of a frame."""
        buttons, takes, changed = self._buttons, self._takes, self._changed
        for channel, value in values.items():
            slot = buttons.get(channel)
            if slot is not None:
                down = value > 0.5
                if down is not slot.down:
                    slot.down = down
                    changed.append(slot)
            elif channel in takes:
                takes[channel](value)
        for stick in self._moved:
            stick.settle()

    def _act(self) -> None:
        """Acts on the slots that a frame changed, then moves the pointer as the sticks stand."""
        changed, pressed, layers = self._changed, self._pressed, self._desk.layers
        if len(changed) > 1:
            shifts = self._sheet.shifts
            # A layer that is pressed in the same frame as a button applies to that button already.
            first = [slot for slot in changed if slot.down and slot.name in shifts]
            if first:
                changed.sort(key=lambda slot: slot not in first)
        desk, now_us = self._desk, self._now_us
        for slot in changed:  # `_begin` and `_end` written out: this is the engine's innermost loop
            if slot.down:
                pressed[slot] = None
                effect = slot.effect = self._sheet.effects.get(slot.name)
                slot.run = None if effect is None else effect.begin(desk, now_us)
            else:
                del pressed[slot]
                run = slot.run
                slot.run = slot.effect = None
                if run is not None:
                    run.end(desk, now_us)
            if layers.changed:
                self._resolve_layers()
        changed.clear()
        self._moved.clear()
        self._move_pointer()

    def _begin(self, slot: Slot, effect: Effect | None) -> None:
        slot.effect = effect
        slot.run = effect.begin(self._desk, self._now_us) if effect is not None else None

    def _end(self, slot: Slot) -> None:
        run = slot.run
        slot.run = slot.effect = None
        if run is not None:
            run.end(self._desk, self._now_us)

    def _resolve_layers(self) -> None:
        """Follows changes of the layers until they settle.

        They do: each pass that changes layers again has begun a layer effect, and a slot that holds one is not resolved
        again before its release.
        """
        while self._desk.layers.changed:
            self._desk.layers.changed = False
            self._sheet = self._program.sheet(self._desk.layers.on)
            self._resolve_continuous()

    def _resolve_continuous(self) -> None:
        for slot in self._pressed:
            if not slot.continuous or (slot.effect is not None and slot.effect.owns_slot):
                continue
            effect = self._sheet.effects.get(slot.name)
            if effect is not slot.effect:
                before = slot.run
                # The new one first: a key that both hold stays down.
                self._begin(slot, effect)
                if before is not None:
                    before.end(self._desk, self._now_us)

    def _move_pointer(self) -> None:
        vx = vy = 0.0
        pointers = self._sheet.pointers
        if pointers:
            for stick in self._sticks:
                speed = pointers.get(stick.name)
                if speed is not None:
                    x, y = stick.position
                    vx += x * speed.x
                    vy += y * speed.y
        self._pointer.set_velocity(vx, vy, self._now_us, self._desk.out)
