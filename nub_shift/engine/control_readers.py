"""All readers of one pad, which turn channels into pressed slots, stick positions and motion."""

from __future__ import annotations

from nub_shift.engine.effect_context import EffectContext, Slot
from nub_shift.engine.program import Program, Sheet
from nub_shift.engine.reader import Reader
from nub_shift.engine.readers import StickReader, SurfaceReader
from nub_shift.engine.shaping.motion import MotionReader, Sensors
from nub_shift.engine.stage_readers import SliderReader, TriggerReader
from nub_shift.engine.uses import Sources
from nub_shift.model.controls import CONTROLS, STICKS, Kind
from nub_shift.model.pad.trim import PadTrim, motion_feel_on
from nub_shift.model.profile.feel import Feel


class ControlReaders:
    """Readers for the controls that one program uses.

    Attributes:
        down: channels of the pressed buttons.
        changed: slots whose state has changed since the engine last processed them.
        motion: the reader of the motion sensors.
        sources: readers that uses draw on.
    """

    def __init__(self, program: Program, sensors: Sensors, context: EffectContext, trim: PadTrim) -> None:
        self.changed: list[Slot] = []
        self.motion = MotionReader(sensors, program.used, program.tilts, self.changed, context)
        self._counts_per_turn = program.profile.game.counts_per_turn
        self._sticks: dict[str, StickReader] = {}
        self._triggers: dict[str, TriggerReader] = {}
        self._sliders: dict[str, SliderReader] = {}
        self._buttons: dict[str, Slot] = {}
        self._readers: dict[str, Reader] = {}  # reader by channel
        self._motion_reader: Reader
        self.down: set[str] = set()
        self._feel: Feel | None = None
        self._make_readers(program.used, program.analogue, context)
        self.fit(trim)
        self.sources = Sources(self._sticks, self._surface, self.motion, self._buttons)

    def fit(self, trim: PadTrim) -> None:
        """Applies the correction for a pad. Call `turn_to` afterwards."""
        for name in STICKS:
            self._sticks[name].fit(trim.stick(name))
        self._trim = trim
        self._feel = None

    def turn_to(self, sheet: Sheet) -> None:
        """Applies the feel of a sheet, and reads only the controls that the sheet uses."""
        for name, stick in self._sticks.items():
            stick.counts, stick.steady = name in sheet.uses, name in sheet.steady
        self._surface.set_drags(sheet.drags)
        before, feel = self._feel, sheet.feel
        if feel is before:
            return
        self._feel = feel
        for readers in (self._sticks, self._triggers, self._sliders):
            for name, reader in readers.items():
                own = getattr(feel, name)
                if before is None or own != getattr(before, name):
                    reader.use(own)
        if before is None or feel.motion != before.motion:
            self.motion.use(motion_feel_on(self._trim, feel.motion), self._counts_per_turn)

    def read(self, values: dict[str, float], reported: dict[str, float], now_us: int, sampled: bool = False) -> bool:
        """Notes in `changed` the slots that a frame changes; returns whether anything other than buttons may have
        moved.

        Buttons are handled here, since most frames contain nothing else. `reported` holds the last analogue values and
        is updated. A stick that repeats its value has not moved. Motion sensors that repeat a value have still taken a
        sample if `sampled`.
        """
        readers, buttons, down = self._readers, self._buttons, self.down
        motion = self._motion_reader
        moved: list[Reader] = []
        last: Reader | None = None
        for channel, value in values.items():
            reader = readers.get(channel)
            if reader is not None:
                if reported[channel] != value or reader is motion:
                    reported[channel] = value
                    if reader is not last:  # channels of one control are nearly always adjacent in a frame
                        last = reader
                        if reader not in moved:
                            moved.append(reader)
            elif (value > 0.5) is not (channel in down):
                slot = buttons.get(channel)
                if slot is None:
                    continue  # channel of an unknown control
                slot.down = not slot.down
                (down.add if slot.down else down.remove)(channel)
                self.changed.append(slot)
        if sampled and motion not in moved:
            moved.append(motion)
        if not moved:
            return False
        for reader in moved:
            reader.take(reported, now_us)
        return True

    def settle(self) -> None:
        """Decides pending time-dependent readings at once."""
        for trigger in self._triggers.values():
            trigger.settle()

    def _make_readers(self, used: frozenset[str], analogue: bool, context: EffectContext) -> None:
        buttons, readers = self._buttons, self._readers
        for control in CONTROLS:
            match control.kind:
                case Kind.STICK:
                    stick = self._sticks[control.name] = StickReader(
                        control.name, used, analogue, self.changed, context
                    )
                    *axes, click = control.channels
                    readers.update(dict.fromkeys(axes, stick))
                    buttons[click] = Slot(click)
                case Kind.SURFACE:
                    surface = self._surface = SurfaceReader(control.name, used, analogue, self.changed, context)
                    self._sticks[control.name] = surface
                    *axes, touch, click = control.channels
                    readers.update(dict.fromkeys((*axes, touch), surface))
                    buttons[click] = Slot(click)
                case Kind.TRIGGER:
                    trigger = TriggerReader(control.name, used, analogue, self.changed, context)
                    readers[control.name] = self._triggers[control.name] = trigger
                case Kind.SLIDER:
                    slider = SliderReader(control.name, analogue, self.changed)
                    readers[control.name] = self._sliders[control.name] = slider
                case Kind.BUTTON | Kind.PAD_CROSS:
                    buttons.update((channel, Slot(channel)) for channel in control.channels)
                case Kind.MOTION:
                    self._motion_reader = _Unread() if used.isdisjoint(control.slots) else self.motion
                    readers.update(dict.fromkeys(control.channels, self._motion_reader))


class _Unread(Reader):
    """Placeholder for the reader of a control that no layer uses."""

    def take(self, values: dict[str, float], now_us: int) -> None:
        """Does nothing."""
