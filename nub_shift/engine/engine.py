"""The engine: takes frames and the time, returns outputs. Without I/O; equal input gives equal output."""

from __future__ import annotations

import logging
from math import prod
from typing import Final

from nub_shift.engine.agenda import earlier
from nub_shift.engine.control_readers import ControlReaders
from nub_shift.engine.drive import Drive
from nub_shift.engine.effect_context import Effect, EffectContext, Slot
from nub_shift.engine.effects.manners import TurboRun, toggles_on
from nub_shift.engine.effects.plain import NOTHING
from nub_shift.engine.layer_runs import LayerRuns
from nub_shift.engine.ledger import KeyTimes, Ledger, drop_empty_presses
from nub_shift.engine.pointer import GAP_US
from nub_shift.engine.program import Program
from nub_shift.engine.regained import RegainedToggles
from nub_shift.engine.shaping.bias import Vector
from nub_shift.engine.shaping.motion import Sensors
from nub_shift.engine.tally import Tally, count
from nub_shift.engine.values import EngineState, Frame, Output
from nub_shift.model.controls import AT_REST, MOTION_CHANNELS
from nub_shift.model.pad.trim import PadTrim

log = logging.getLogger("nub_shift.engine")

NEVER_US: Final = 1 << 62
# Owner id of the motion switch before any effect sets it.
_OURS: Final = NOTHING
# More passes than an accepted profile can need: the number of its layers and of slots held together.
MAX_PASSES: Final = 200


class Engine:
    """Turns the frames of one pad into outputs, by one profile.

    Every call takes the present time, or a frame with a time, and returns the outputs in order. Time never goes back:
    an earlier time counts as the time of the last call. A long gap between calls counts as a suspension, for which
    nothing is made up.
    """

    def __init__(self, program: Program, ledger: Ledger | None = None, trim: PadTrim | None = None) -> None:
        self._context = EffectContext(ledger if ledger is not None else Ledger())
        self._drive = Drive()
        self._pressed = self._context.pressed  # in the order of presses
        self._layer_runs = LayerRuns(self._context)
        self._now_us = 0
        self._quiet_until_us = 0  # nothing is known to be due before this time
        self._sensors = Sensors()
        self._trim = trim if trim is not None else PadTrim()
        self._regained = RegainedToggles()
        self._stayed = 0
        self._resuming = False  # controls already held do not count as pressed
        self._set_program(program)

    def feed(self, frame: Frame) -> list[Output]:
        """Processes a pad frame, after everything that is due before it."""
        t_us = frame.t_us
        if self._now_us <= t_us < self._quiet_until_us:  # fast path of nearly all frames
            self._quiet_until_us = 0
            self._now_us = t_us
            out: list[Output] = []
            self._context.out = out
        else:
            out = self._step(t_us)
        readers, sensor_us = self._readers, frame.sensor_us
        readers.motion.sensor_us = sensor_us
        if readers.read(frame.values, self._reported, self._now_us, sensor_us is not None):
            self._note_moved()
        if readers.changed:
            self._process_changes()
        if self._context.stale:
            self._settle()
        return out

    def advance(self, now_us: int) -> list[Output]:
        """Advances the time."""
        return self._step(now_us)

    def deadline(self) -> int | None:
        """Returns when `advance` has to be called next, in microseconds; None if time alone changes nothing."""
        due = self._drive.due_us()
        if self._context.agenda.timers or self._context.ledger.waiting:
            due = earlier(due, self._other_due_us())
        self._quiet_until_us = due if due is not None else NEVER_US
        return due

    def stop(self, now_us: int) -> list[Output]:
        """Releases everything held by this engine. Held controls have no effect until `resume` or the next press."""
        out = self._step(now_us)
        context = self._context
        self._stayed = context.layers.staying
        self._regained.note(context)
        for slot in reversed(self._pressed):
            run = slot.run
            slot.run = slot.effect = None
            if run is not None:
                run.cut(context, self._now_us)
        self._drive.release_all(context, self._now_us)
        self._layer_runs.cut(self._now_us)
        for run in reversed(list(context.detached)):  # last, since the cuts above may have detached runs
            run.cut(context, self._now_us)
        self._readers.motion.rest()
        context.layers.stay(0)
        context.ledger.settle(self._now_us, context.times, out)
        drop_empty_presses(out)
        context.agenda.clear()
        context.memory.clear()
        context.waiting.clear()
        context.layers.changed = False
        self._turn_to(context.layers.on)
        context.stale = True
        self._drive.halt(self._now_us, out)
        return out

    def resume(self, now_us: int) -> list[Output]:
        """Resumes after `stop`. Sticks and triggers act by their present position; the layer that stayed and regained
        toggles are activated again; held buttons wait for the next press.
        """
        out = self._step(now_us)
        self._context.layers.stay(self._stayed)
        self._regained.switch_on(self._context, self._now_us)
        self._stayed = 0
        self._context.layers.changed = self._context.stale = True
        self._resuming = True
        self._settle()
        self._resuming = False
        return out

    def stay_on(self, layer_id: str) -> None:
        """Chooses the layer that `resume` activates to stay; the base layer stands for none.

        Raises:
            ValueError: unknown layer.
        """
        self._stayed = self._program.layer_ids.index(layer_id)

    def new_tally(self) -> Tally:
        """Replaces the tally; returns the new one."""
        self._context.tally = Tally()
        return self._context.tally

    @property
    def motion_allowed(self) -> bool:
        """Whether motion may move the pointer at all."""
        return _OURS not in self._context.motion_switches

    def allow_motion(self, on: bool) -> None:
        """Permits motion to move the pointer, or forbids it whatever the profile says."""
        if on:
            self._context.motion_switches.pop(_OURS, None)
        else:
            self._context.motion_switches[_OURS] = False
        self._context.stale = True

    def leave_game(self, now_us: int) -> list[Output]:
        """Releases the toggles that are regained later, since another window is in front."""
        out = self._step(now_us)
        for run in self._regained.note(self._context):
            run.cut(self._context, self._now_us)
        for last in [run for run in self._context.detached if isinstance(run, TurboRun)]:
            last.cut(self._context, self._now_us)  # no turbo press is completed in another window
        self._settle()
        return out

    def regain_game(self, now_us: int) -> list[Output]:
        """Switches the toggles released by `leave_game` on again."""
        out = self._step(now_us)
        self._regained.switch_on(self._context, self._now_us)
        self._settle()
        return out

    @property
    def awaits_game(self) -> bool:
        """Whether toggles wait for `regain_game`."""
        return bool(self._regained)

    @property
    def program(self) -> Program:
        """Program in play."""
        return self._program

    def catch_up(self, values: dict[str, float]) -> None:
        """Takes pad values between `stop` and `resume` without any effect; held controls count from `resume` on.

        Args:
            values: values of all channels; a missing channel is at rest. Motion sensors are skipped, since their values
                describe the past.
        """
        now = AT_REST | values
        self._read({name: value for name, value in now.items() if name not in MOTION_CHANNELS})
        self._readers.settle()
        for slot in self._readers.changed:
            if slot.down:
                slot.note_press(self._now_us)
                self._pressed[slot] = None
            else:
                self._pressed.pop(slot, None)
        self._readers.changed.clear()

    def replace(self, program: Program, now_us: int, resumes: bool = True) -> list[Output]:
        """Changes to another program: releases everything, then sticks and triggers act by the new program.

        Without `resumes`, nothing acts until `resume`, as after `stop`.
        """
        out = self.stop(now_us)
        self._forget_paused()
        standing = self.standing
        self._set_program(program)
        # Without the motion sensors: their last sample has been read, and stands for a span of time.
        self._read({name: value for name, value in standing.items() if name not in MOTION_CHANNELS})
        self._readers.settle()
        for slot in self._readers.changed:
            slot.note_press(self._now_us)
            self._pressed[slot] = None
        self._readers.changed.clear()
        return out + self.resume(now_us) if resumes else out

    def retune(self, program: Program, now_us: int) -> list[Output]:
        """Changes to a program that differs in feels alone (`Program.retuned`); held controls stay in force.

        Zones, curves and speeds apply at once, thresholds from the next move of their control on.
        """
        out = self._step(now_us)
        self._program = program
        self._turn_to(self._context.layers.on)
        self._context.stale = True
        self._settle()
        return out

    def forget_pad(self, now_us: int) -> list[Output]:
        """Releases everything and takes every control to be at rest, since the pad is gone."""
        out = self.stop(now_us)
        self._forget_paused()
        self._sensors = Sensors()
        self._set_program(self._program)
        return out

    @property
    def standing(self) -> dict[str, float]:
        """The last reported values of all channels; rest by default."""
        return self._reported | dict.fromkeys(self._readers.down, 1.0)

    def fit(self, trim: PadTrim) -> None:
        """Sets the correction for a newly connected pad, before its first frame."""
        if trim != self._trim:
            self._trim = trim
            self._readers.fit(trim)
            self._readers.turn_to(self._sheet)

    def set_bias(self, bias: Vector | None) -> None:
        """Takes the known bias of the connected pad's gyro, in degrees a second."""
        self._sensors = Sensors(bias)
        self._set_program(self._program)

    @property
    def learned_bias(self) -> Vector | None:
        """Bias of the gyro, learned while the pad lay still; None before."""
        bias = self._sensors.bias
        return bias.bias if bias.settled else None

    def state(self) -> EngineState:
        """Returns a snapshot of the engine's state."""
        context = self._context
        ids = self._program.layer_ids
        toggles = tuple(run.slot.name for run in toggles_on(context))
        positions = {name: wheel.index(context, self._now_us) for name, wheel in self._program.carousels.items()}
        return EngineState(
            tuple(ids[index] for index in (0, *context.layers.on)),
            tuple(slot.name for slot in self._pressed),
            context.ledger.down,
            toggles,
            positions,
            self._drive.chosen_entries(),
            self._drive.open_rings(self._program.sheet(())),
            prod(pace.factor for pace in context.paces.values()),
        )

    def _set_program(self, program: Program) -> None:
        self._program = program
        self._enders = program.enders
        self._context.times = KeyTimes(program.shortest_us, program.gap_us)
        self._pressed.clear()
        self._reported = AT_REST.copy()
        self._readers = ControlReaders(program, self._sensors, self._context, self._trim)
        self._turn_to(())

    def _turn_to(self, stack: tuple[int, ...]) -> None:
        """Applies the sheet for these layers."""
        self._sheet = self._program.sheet(stack)
        self._readers.turn_to(self._sheet)

    def _forget_paused(self) -> None:
        """Forgets the state that a stop keeps for `resume`."""
        self._stayed = 0
        self._regained.forget()

    def _other_due_us(self) -> int | None:
        """Returns when ledger or agenda are due next."""
        context = self._context
        agenda = context.agenda.due_us() if context.agenda.timers else None
        ledger = context.ledger.due_us() if context.ledger.waiting else None
        return earlier(agenda, ledger)

    def _step(self, t_us: int) -> list[Output]:
        """Begins a step: runs everything due until `t_us` in order, then sets the time."""
        now_us = self._now_us = t_us if t_us > self._now_us else self._now_us
        out: list[Output] = []
        self._context.out = out
        self._quiet_until_us = 0
        self._drive.advance(now_us, out)
        if self._context.agenda.timers or self._context.ledger.waiting:
            while (other := self._other_due_us()) is not None and other <= now_us:
                self._run_due(other)
        return out

    def _run_due(self, due_us: int) -> None:
        """Runs the next due item of ledger or agenda, stamped with the present time: no output is dated back.

        After a suspension all other items are postponed by its length.
        """
        context, now_us = self._context, self._now_us
        if now_us - due_us > GAP_US:
            context.agenda.postpone(now_us - due_us)
            due_us = now_us
        context.ledger.advance(due_us, now_us, context.out)
        agenda_due = context.agenda.due_us()
        if agenda_due is not None and agenda_due <= due_us:
            context.agenda.pop().act(self._now_us)
            if context.layers.changed or context.stale:
                self._settle()

    def _read(self, values: dict[str, float]) -> None:
        """Passes channel values to the readers."""
        if self._readers.read(values, self._reported, self._now_us):
            self._note_moved()

    def _note_moved(self) -> None:
        """Notes a change of depth, which sets the rate of some effects."""
        context = self._context
        if context.glides or context.scrolls or context.paces:
            context.stale = True

    def _process_changes(self) -> None:
        """Processes the slots changed by a frame."""
        changed, pressed, layers = self._readers.changed, self._pressed, self._context.layers
        if len(changed) > 1:
            shifts = self._sheet.shifts
            for slot in changed:
                if slot.down and slot.name in shifts:
                    # A layer pressed in the same frame as a button applies to this button.
                    changed.sort(key=lambda slot: not (slot.down and slot.name in shifts))
                    break
        context, now_us = self._context, self._now_us
        for slot in changed:
            if slot.down is (slot in pressed):
                continue  # withheld in the same step
            if slot.down:
                pressed[slot] = None
                if slot.name in self._enders:
                    self._end_toggles(slot)
                effect = slot.effect = self._sheet.effects.get(slot.name)
                slot.pressed_us = now_us
                if slot.continuous:
                    slot.note_press(now_us)
                    slot.begun.clear()
                    if effect is not None:
                        slot.begun.add(effect)
                slot.run = None if effect is None else effect.begin(context, now_us, slot)
            else:
                del pressed[slot]
                run = slot.run
                slot.run = slot.effect = None
                if run is not None:
                    run.end(context, now_us)
                if now_us - slot.pressed_us < self._program.frame_us:
                    count(context.tally.short, slot.name)
            if layers.changed:
                self._resolve_layers()
        changed.clear()
        if self._drive.takes_click:
            context.stale = True

    def _resolve_layers(self) -> None:
        """Applies changes of layers until they settle.

        Each pass that changes layers begins an effect that owns its slot, and such a slot is not resolved again before
        its release; so the passes end. If they do not, that is a fault of the engine, and the layers stay.
        """
        passes = 0
        while self._context.layers.changed:
            self._context.layers.changed = False
            passes += 1
            if passes > MAX_PASSES:
                log.error("layers did not settle: %s", self._context.layers.on)
                return
            self._context.stale = True
            log.debug("layers: %s", self._context.layers.on)
            self._layer_runs.count_activated(self._program)
            self._turn_to(self._context.layers.on)
            self._drive.turn_to(self._sheet, self._readers.sources, self._context, self._now_us)
            if self._program.enters or self._program.leaves:
                self._layer_runs.follow(self._program, self._now_us, self._resuming)
            for slot in self._pressed:
                if slot.continuous and slot.down and (slot.run is None or not slot.run.owns_slot):
                    self._resolve(slot, self._sheet.effects.get(slot.name))

    def _end_toggles(self, slot: Slot) -> None:
        """Ends the toggles that name this slot as their end."""
        for run in toggles_on(self._context):
            if slot.name in run.toggle.ended_by and run.slot.name != slot.name:
                run.switch_off(self._context, self._now_us)

    def _resolve(self, slot: Slot, effect: Effect | None) -> None:
        """Gives a held stick or trigger another effect. The new one begins first, so that a shared key stays down."""
        if effect is slot.effect:
            return
        before = slot.run
        slot.effect = effect
        slot.run = None
        if effect is not None:
            again = self._resuming or effect in slot.begun
            slot.begun.add(effect)
            slot.run = effect.resume(self._context, self._now_us, slot, again)
        if before is not None:
            before.leave(self._context, self._now_us)

    def _settle(self) -> None:
        """Settles layers and sticks, until neither changes the other.

        A ring may activate a layer, and a layer may end a ring; each ring acts once per position of its stick, so the
        passes end.
        """
        context = self._context
        passes = 0
        while context.stale or context.layers.changed or self._readers.changed:
            passes += 1
            if passes > MAX_PASSES:
                log.error("layers and sticks did not settle: %s", context.layers.on)
                context.stale = context.layers.changed = False
                return
            if context.layers.changed:
                self._resolve_layers()
            if self._readers.changed:  # a stick has been withheld
                self._process_changes()
            context.stale = False
            self._drive.move(self._sheet, self._readers.sources, context, self._now_us)
