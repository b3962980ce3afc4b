"""All readers of one pad: they turn channels into slots that are pressed, and into stick and motion values."""

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
    """Made for one program.

    Attributes:
        down: the channels of the buttons that are down.
        changed: slots that have been pressed or let go since they were acted on.
        motion: the reader of the motion sensors.
        sources: what uses draw on.
    """

    def __init__(self, program: Program, sensors: Sensors, context: EffectContext, trim: PadTrim) -> None:
        self.changed: list[Slot] = []
        self.motion = MotionReader(sensors, program.used, program.tilts, self.changed, context)
        self._counts_per_turn = program.profile.game.counts_per_turn
        self._sticks: dict[str, StickReader] = {}
        self._triggers: dict[str, TriggerReader] = {}
        self._sliders: dict[str, SliderReader] = {}
        self._buttons: dict[str, Slot] = {}
        self._readers: dict[str, Reader] = {}  # by channel
        self._motion_reader: Reader
        self.down: set[str] = set()
        self._feel: Feel | None = None
        self._make_readers(program.used, program.analogue, context)
        self.fit(trim)
        self.sources = Sources(self._sticks, self._surface, self.motion, self._buttons)

    def fit(self, trim: PadTrim) -> None:
        """Corrects for a pad; a sheet is to be turned to after that."""
        for name in STICKS:
            self._sticks[name].fit(trim.stick(name))
        self._trim = trim
        self._feel = None

    def turn_to(self, sheet: Sheet) -> None:
        """Goes by a sheet: by what it uses, and by the feel that comes with it."""
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
        """Notes in `changed` what a frame changes; returns whether anything but buttons may have moved.

        Buttons are dealt with here: they are most of a frame. `reported` has the analogue channels as they stood, and
        takes what comes. A stick that reports what it did before has not moved; motion sensors that do so have taken a
        sample, and `sampled` is whether they have, though they may have shown nothing new.
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
                    if reader is not last:  # a frame has a control's channels together, nearly always
                        last = reader
                        if reader not in moved:
                            moved.append(reader)
            elif (value > 0.5) is not (channel in down):
                slot = buttons.get(channel)
                if slot is None:
                    continue  # of no control that there is
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
        """Decides at once what waits to be decided by time."""
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
    """Stands in for the reader of what no layer uses."""

    def take(self, values: dict[str, float], now_us: int) -> None:
        """Does nothing."""
