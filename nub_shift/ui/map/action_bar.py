"""Below an opened control: which reaction is edited, how it is kept up, and effects that are no plain key."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

from msgspec.structs import replace
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QMenu, QVBoxLayout, QWidget

from nub_shift.editing.edits import bindings as edits
from nub_shift.editing.edits import shared_parts as part_edits
from nub_shift.editing.edits.slots import PRESS, action_of
from nub_shift.model.actions import (
    Action,
    Again,
    Assignment,
    CarouselStep,
    Confirm,
    DoubleTap,
    Drag,
    Glide,
    Hold,
    Manner,
    MotionSwitch,
    Nudge,
    PointerPosition,
    PointerSpeed,
    Runs,
    Scroll,
    Step,
    Together,
    Turn,
    WheelDirection,
    waiting_ms,
)
from nub_shift.model.controls import MOTION_SLOT, SURFACE_SLOT, slot_label
from nub_shift.model.profile import BASE_LAYER, Profile
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.map.amounts import AmountsRow
from nub_shift.ui.widgets.buttons import TextButton
from nub_shift.ui.widgets.menus import add_entry, add_menu
from nub_shift.ui.widgets.spins import make_spin, show_number

REACTION_LABELS = {PRESS: "Press", "tap": "Tap", "hold": "Hold", "double_tap": "Double tap", "release": "Release"}
MANNER_LABELS = {
    Manner.HELD: "While held",
    Manner.TOGGLE: "Toggle",
    Manner.TURBO: "Turbo",
    Manner.ONCE: "Once",
    Manner.PULSE: "Pulse",
}
_REPEATS = (Manner.TURBO, Manner.PULSE)
# What can be set of a carousel, ring or sequence, in words.
_SETTINGS: dict[str, tuple[tuple[str, dict[str, Any]], ...]] = {
    "carousel": (
        ("Goes round at its ends", {"wrap": True}),
        ("Stops at its ends", {"wrap": False}),
        ("Falls back to the first after 1 s", {"rest_ms": 1000}),
        ("Falls back to the first after 3 s", {"rest_ms": 3000}),
        ("Falls back to the first after 10 s", {"rest_ms": 10_000}),
        ("Never falls back", {"rest_ms": 0}),
    ),
    "ring": (
        ("Sent as the stick comes back", {"confirm": Confirm.RELEASE}),
        ("Sent by the stick's click", {"confirm": Confirm.CLICK}),
        ("Held while the stick is there", {"confirm": Confirm.ENTER}),
        ("A ring", {"columns": 0}),
        *((f"A grid with {count} columns", {"columns": count}) for count in range(2, 7)),
    ),
    "sequence": (
        ("Runs once", {"runs": Runs.ONCE}),
        ("Runs while held", {"runs": Runs.WHILE_HELD}),
        ("Runs until pressed again", {"runs": Runs.UNTIL_PRESSED}),
        ("Pressed again: goes on", {"again": Again.IGNORE}),
        ("Pressed again: starts anew", {"again": Again.RESTART}),
        ("Pressed again: waits its turn", {"again": Again.QUEUE}),
        ("Pressed again: runs besides", {"again": Again.OVERLAP}),
    ),
}
Choice = tuple[str, Action | Assignment]


class ActionBar(QWidget):
    """Attributes:
        reaction: the one that keys, moves and effects go to.
        reactions, manners: buttons by what they choose.
        menus: buttons that offer effects, by their label.
        amounts: the numbers and switches of the effect.

    Signals:
        manner_picked(Manner, float): how it is to be kept up, with times a second.
        time_picked(int): how long a hold, tap or double tap waits, in milliseconds.
        amounts_picked(dict): fields of the action that are another now.
        effect_picked(object): an action, an assignment of a whole stick, or None to empty.
        layer_wanted(): a new layer that is on while this is held.
        partner_wanted(): the next control that is touched is to do something together with this one.
        part_wanted(str, str): the entries of a carousel or ring, or the steps of a sequence, are to be changed; which.
        edited(str, Profile): something that slots share is another now: what, and the profile with it.
    """

    manner_picked = pyqtSignal(object, float)
    time_picked = pyqtSignal(int)
    amounts_picked = pyqtSignal(dict)
    effect_picked = pyqtSignal(object)
    layer_wanted = pyqtSignal()
    partner_wanted = pyqtSignal()
    part_wanted = pyqtSignal(str, str)
    edited = pyqtSignal(str, object)

    def __init__(self, theme: Theme, titles: Callable[[], list[str]], parent: QWidget | None = None) -> None:
        """`titles` lists the profiles that a slot can go to."""
        super().__init__(parent)
        self.theme = theme
        self.reaction = PRESS
        self._titles = titles
        self._profile: Profile | None = None
        self._slot = ""
        self._layer = BASE_LAYER
        self._assignment: Assignment | None = None
        self.reactions = {name: TextButton(theme, label) for name, label in REACTION_LABELS.items()}
        self.manners = {manner: TextButton(theme, label) for manner, label in MANNER_LABELS.items()}
        self.menus: dict[str, TextButton] = {}
        self._waits = QLabel()
        self._waits.setFont(theme.font(0.85))
        self.rate = make_spin("times a second", 1, 60, " /s")
        self.rate.valueChanged.connect(self._on_rate)
        self.time = make_spin("milliseconds", 20, 5000, " ms")
        self.time.setSingleStep(10)
        self.time.valueChanged.connect(self.time_picked)
        self._whole = [self._menu_button("Whole stick", self._whole_choices)]
        self._plain = [
            self._menu_button("Layer", self._layer_choices),
            self._menu_button("Wheel", self._wheel_choices),
            self._menu_button("Step", self._step_choices),
            self._menu_button("Sequence", self._sequence_choices),
            self._menu_button("More", self._other_choices),
        ]
        self.empty = TextButton(theme, "Empty", "The layer below shows again (Delete)")
        self.empty.clicked.connect(lambda: self.effect_picked.emit(None))
        self.silence = TextButton(theme, "Silence", "Nothing, whatever the layer below does")
        self.silence.clicked.connect(lambda: self.effect_picked.emit(Action(silence=True)))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(3))
        self._row(column, [*self.reactions.values(), self.time])
        self._row(column, [*self.manners.values(), self.rate, self._waits])
        self.amounts = AmountsRow(theme)
        self.amounts.changed.connect(self.amounts_picked)
        column.addWidget(self.amounts)
        self._row(column, [*self._plain, *self._whole])
        for name, button in self.reactions.items():
            button.setCheckable(True)
            button.clicked.connect(lambda _checked, found=name: self._on_reaction(found))
        for manner, button in self.manners.items():
            button.setCheckable(True)
            button.clicked.connect(lambda _checked, found=manner: self._on_manner(found))

    def show_slot(self, profile: Profile, layer_id: str, slot: str, assignment: Assignment | None, whole: bool) -> None:
        """Shows what the chosen slot does in a layer; `whole` is one that stands for a stick or for turning."""
        self._layer = layer_id
        if slot != self._slot:
            self.reaction = PRESS
        self._profile, self._slot, self._assignment = profile, slot, assignment
        found = action_of(assignment, self.reaction)
        waits = waiting_ms(assignment) if assignment is not None else {}
        for name, button in self.reactions.items():
            button.setChecked(name == self.reaction)
            given = action_of(assignment, name) is not None
            button.setText(f"{REACTION_LABELS[name]} •" if given and name != PRESS else REACTION_LABELS[name])
            button.updateGeometry()
        worst = max(waits.values(), default=0)
        self._waits.setText(f"waits {worst} ms" if worst else "")
        for manner, button in self.manners.items():
            button.setChecked(found is not None and found.manner is manner)
            button.setEnabled(found is not None)
        show_number(self.rate, round(found.rate_hz) if found is not None else 10)
        self.rate.setVisible(found is not None and found.manner in _REPEATS)
        times = {"tap": assignment.tap_ms if assignment is not None else 250}
        times |= {"hold": found.after_ms} if isinstance(found, Hold) else {}
        times |= {"double_tap": found.within_ms} if isinstance(found, DoubleTap) else {}
        self.time.setVisible(self.reaction in times and found is not None)
        show_number(self.time, times.get(self.reaction, 250))
        for widget in (*self.reactions.values(), *self.manners.values(), *self._plain):
            widget.setVisible(not whole)
        self.amounts.show_action(assignment if whole else found)
        for button in self._whole:
            button.setVisible(whole)
            button.setText("Whole pad …" if slot == MOTION_SLOT else "Whole stick …")
            button.updateGeometry()

    def _row(self, column: QVBoxLayout, widgets: list[QWidget]) -> None:
        row = QHBoxLayout()
        row.setSpacing(self.theme.px(3))
        for widget in widgets:
            row.addWidget(widget)
        row.addStretch(1)
        column.addLayout(row)

    def _menu_button(self, label: str, choices: Callable[[Profile], Iterator[Choice]]) -> TextButton:
        button = TextButton(self.theme, f"{label} …")
        button.clicked.connect(lambda: self._pop_up(button, label, choices))
        self.menus[label] = button
        return button

    def _pop_up(self, button: TextButton, label: str, choices: Callable[[Profile], Iterator[Choice]]) -> None:
        if self._profile is None:
            return
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for text, action in choices(self._profile):
            add_entry(menu, text, partial(self.effect_picked.emit, action))
        if label == "Layer":
            add_entry(menu, "A new layer, while held", self.layer_wanted.emit)
            self._add_round(menu, self._profile)
        self._add_settings(menu, label, self._profile)
        if menu.isEmpty():
            add_entry(menu, "There is none yet: click the heading of a group of moves", menu.close).setEnabled(False)
        menu.popup(button.mapToGlobal(button.rect().bottomLeft()))

    def _add_round(self, menu: QMenu, profile: Profile) -> None:
        """Which layers are gone round, where that is what the slot does."""
        found = action_of(self._assignment, self.reaction)
        if found is None or not found.next:
            return
        round_ = add_menu(menu, "Goes round")
        for layer in profile.layers:
            on = layer.id in found.next
            rest = tuple(other for other in found.next if other != layer.id)
            changed = {"next": rest if on else (*rest, layer.id)}
            entry = add_entry(round_, layer.label, partial(self.amounts_picked.emit, changed), on)
            entry.setEnabled(not on or len(rest) > 1)

    def _add_settings(self, menu: QMenu, label: str, profile: Profile) -> None:
        """What slots share can be set, and removed, where it is chosen; so can what two slots do together."""

        def add(under: QMenu, text: str, made: Profile) -> None:
            add_entry(under, text, partial(self.edited.emit, text, made))

        if label == "More":
            add_entry(menu, "Together with the control touched next", self.partner_wanted.emit)
            for other, pair in part_edits.partners(profile, self._layer, self._slot):
                self._add_pair(menu, profile, other, pair)
            for title in self._titles():
                add_entry(menu, f"Go to the profile {title}", partial(self.effect_picked.emit, Action(profile=title)))
        if label == "Whole stick" and self._slot != MOTION_SLOT:
            for text, codes in edits.STICK_KEYS.items():
                add(menu, text, edits.keys_on_stick(profile, self._layer, self._slot, codes))
        kind = {"Step": "carousel", "Whole stick": "ring", "Sequence": "sequence"}.get(label)
        if kind is None or self._slot == MOTION_SLOT:
            return
        for part in getattr(profile, f"{kind}s"):
            under = add_menu(menu, f"Set {part.label}")
            what = "steps" if kind == "sequence" else "entries"
            add_entry(under, f"Change its {what}", partial(self.part_wanted.emit, kind, part.id))
            for text, values in _SETTINGS[kind]:
                add(under, text, part_edits.changed(profile, kind, part.id, **values))
            add(under, "Remove it", part_edits.removed(profile, kind, part.id))

    def _add_pair(self, menu: QMenu, profile: Profile, other: str, pair: Together) -> None:
        """What can be set of what two slots do together."""
        under = add_menu(menu, f"Together with {slot_label(other).lower()}")

        def add(text: str, what: Together | None, now: bool | None = None) -> None:
            within = what.within_ms if what is not None else 0
            made = part_edits.together(profile, self._layer, (self._slot, other), what, within)
            add_entry(under, text, partial(self.edited.emit, f"Together: {text.lower()}", made), now)

        for milliseconds in sorted({30, 60, 100, 150, pair.within_ms}):
            made = replace(pair, within_ms=milliseconds)
            add(f"Within {milliseconds} ms", made, milliseconds == pair.within_ms)
        for manner, label in MANNER_LABELS.items():
            add(label, replace(pair, manner=manner), manner is pair.manner)
        add("No longer", None)

    def _on_reaction(self, name: str) -> None:
        self.reaction = name
        if self._profile is not None:
            self.show_slot(self._profile, self._layer, self._slot, self._assignment, whole=False)

    def _on_manner(self, manner: Manner) -> None:
        self.manner_picked.emit(manner, float(self.rate.value()))

    def _on_rate(self) -> None:
        found = action_of(self._assignment, self.reaction)
        if found is not None and found.manner in _REPEATS:
            self.manner_picked.emit(found.manner, float(self.rate.value()))

    def _layer_choices(self, profile: Profile) -> Iterator[Choice]:
        for layer in profile.layers:
            if layer.id != BASE_LAYER:
                yield f"{layer.label} while held", Assignment(layer=layer.id)
        for layer in profile.layers:
            if layer.id != BASE_LAYER:
                yield f"{layer.label} to stay", Action(stay=layer.id)
        if len(profile.layers) > 1:
            yield f"Back to {profile.layers[0].label}", Action(stay=BASE_LAYER)
        if len(profile.layers) > 2:
            yield "The next layer, round", Action(next=tuple(layer.id for layer in profile.layers))

    def _wheel_choices(self, _profile: Profile) -> Iterator[Choice]:
        for way in WheelDirection:
            yield f"One click {way.value}", Action(wheel=way)
        yield "Scroll up smoothly", Action(scroll=Scroll(y=12.0))
        yield "Scroll down smoothly", Action(scroll=Scroll(y=-12.0))

    def _step_choices(self, profile: Profile) -> Iterator[Choice]:
        words = {Step.FORWARD: "forward", Step.BACK: "back", Step.FIRST: "to the first"}
        for carousel in profile.carousels:
            for step, word in words.items():
                yield f"{carousel.label} {word}", Action(carousel=CarouselStep(id=carousel.id, step=step))

    def _sequence_choices(self, profile: Profile) -> Iterator[Choice]:
        for sequence in profile.sequences:
            yield sequence.label, Action(sequence=sequence.id)

    def _other_choices(self, _profile: Profile) -> Iterator[Choice]:
        for pace, word in ((0.25, "a quarter"), (0.5, "half"), (2.0, "twice")):
            yield f"Pointer at {word} of its speed", Action(pace=pace)
        for switch in MotionSwitch:
            yield f"Motion {switch.value}", Action(motion=switch)
        for word, x, y in (("left", -1, 0), ("right", 1, 0), ("up", 0, -1), ("down", 0, 1)):
            yield f"Glide {word}", Action(glide=Glide(x=400.0 * x, y=400.0 * y))
        for word, x, y in (("left", -1, 0), ("right", 1, 0), ("up", 0, -1), ("down", 0, 1)):
            yield f"Nudge {word}", Action(nudge=Nudge(x=50 * x, y=50 * y))

    def _whole_choices(self, profile: Profile) -> Iterator[Choice]:
        if self._slot == MOTION_SLOT:
            yield "Turn the view", Assignment(turn=Turn())
            yield "Turn the view only while switched on", Assignment(turn=Turn(on=False))
            return
        yield "Pointer speed", Assignment(pointer=PointerSpeed())
        yield "Pointer around a centre", Assignment(position=PointerPosition())
        yield "Pointer on a ring around a centre", Assignment(position=PointerPosition(ring=True))
        yield "Wheel", Assignment(scroll=Scroll(x=0.0, y=10.0))
        if self._slot == SURFACE_SLOT:
            yield "Drag the pointer", Assignment(drag=Drag())
        for ring in profile.rings:
            yield f"Ring {ring.label}", Assignment(ring=ring.id)
