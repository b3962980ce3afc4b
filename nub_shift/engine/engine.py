"""The engine: feed it frames, let time pass, get outputs. The only state is its own; the same input gives the same."""

from __future__ import annotations

from dataclasses import dataclass

from nub_shift.engine.effects import Desk, Effect, LayerEffect, Run
from nub_shift.engine.layers import LayerStack
from nub_shift.engine.ledger import Ledger
from nub_shift.engine.pointer import PointerMotion
from nub_shift.engine.program import Program
from nub_shift.engine.readers import ButtonReader, Edge, StageReader, StickReader, Take
from nub_shift.engine.values import Frame, Output
from nub_shift.model.controls import CONTINUOUS_SLOTS, CONTROLS, Kind
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


@dataclass
class _Pressed:
    """A slot that is down. After a stop nothing runs until the slot is pressed again."""

    effect: Effect | None = None
    run: Run | None = None


class Engine:
    """Turns the frames of one pad into outputs, by one profile.

    Every call takes the present time, or a frame that has one, and returns the outputs that follow, in order. Time
    never goes back: what claims to be earlier than the last call is taken to be now.
    """

    def __init__(self, program: Program, ledger: Ledger | None = None) -> None:
        self._desk = Desk(ledger if ledger is not None else Ledger(), LayerStack(), [])
        self._pointer = PointerMotion()
        self._pressed: dict[str, _Pressed] = {}
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
        for pressed in reversed(self._pressed.values()):
            self._end(pressed)
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
        self._pressed.update((edge.slot, _Pressed()) for edge in self._edges)
        self._edges.clear()
        self._touched.clear()
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
        return EngineState(layers, tuple(self._pressed), self._desk.ledger.down)

    def _set_program(self, program: Program) -> None:
        self._program = program
        self._sheet = program.sheet(())
        self._pressed.clear()
        self._edges: list[Edge] = []
        self._touched: list[StickReader] = []
        self._sticks: list[StickReader] = []
        self._takes = self._make_readers(program.profile.feel)

    def _make_readers(self, feel: Feel) -> dict[str, Take]:
        takes: dict[str, Take] = {}
        for control in CONTROLS:
            match control.kind:
                case Kind.STICK:
                    stick = StickReader(control.name, getattr(feel, control.name), self._edges, self._touched)
                    self._sticks.append(stick)
                    takes[f"{control.name}.x"] = stick.take_x
                    takes[f"{control.name}.y"] = stick.take_y
                    click = f"{control.name}.click"
                    takes[click] = ButtonReader(click, self._edges).take
                case Kind.TRIGGER:
                    stage = getattr(feel, control.name).light
                    takes[control.name] = StageReader(f"{control.name}.light", stage, self._edges).take
                case Kind.BUTTON | Kind.PAD_CROSS:
                    takes.update((channel, ButtonReader(channel, self._edges).take) for channel in control.channels)
                case Kind.MOTION:
                    pass  # no slot follows motion yet
        return takes

    def _step(self, t_us: int) -> list[Output]:
        """Begins a step: time moves on to `t_us`, and what was due by then happens."""
        self._now_us = max(self._now_us, t_us)
        out: list[Output] = []
        self._desk.out = out
        self._pointer.advance(self._now_us, out)
        return out

    def _read(self, values: dict[str, float]) -> None:
        takes = self._takes
        for channel, value in values.items():
            take = takes.get(channel)
            if take is not None:
                take(value)
        for stick in self._touched:
            stick.settle()

    def _act(self) -> None:
        """Acts on the edges of a frame, then moves the pointer as the sticks stand."""
        edges = self._edges
        if len(edges) > 1:
            # A layer that is pressed in the same frame as a button applies to that button already.
            edges.sort(key=self._brings_no_layer)
        for edge in edges:
            if edge.down:
                self._press(edge.slot)
            else:
                self._release(edge.slot)
            if self._desk.layers.changed:
                self._resolve_layers()
        edges.clear()
        self._touched.clear()
        self._move_pointer()

    def _brings_no_layer(self, edge: Edge) -> bool:
        return not (edge.down and isinstance(self._sheet.effects.get(edge.slot), LayerEffect))

    def _press(self, slot: str) -> None:
        pressed = self._pressed[slot] = _Pressed()
        self._begin(pressed, self._sheet.effects.get(slot))

    def _release(self, slot: str) -> None:
        self._end(self._pressed.pop(slot))

    def _begin(self, pressed: _Pressed, effect: Effect | None) -> None:
        pressed.effect = effect
        pressed.run = effect.begin(self._desk, self._now_us) if effect is not None else None

    def _end(self, pressed: _Pressed) -> None:
        run, pressed.run, pressed.effect = pressed.run, None, None
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
        for slot, pressed in self._pressed.items():
            if slot not in CONTINUOUS_SLOTS or (pressed.effect is not None and pressed.effect.owns_slot):
                continue
            effect = self._sheet.effects.get(slot)
            if effect is not pressed.effect:
                old = _Pressed(pressed.effect, pressed.run)
                # The new one first: a key that both hold stays down.
                self._begin(pressed, effect)
                self._end(old)

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
