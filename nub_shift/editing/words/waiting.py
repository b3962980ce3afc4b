"""What the window waits for, in words."""

from __future__ import annotations

from typing import assert_never

from nub_shift.editing.waiting import PAUSE_MS, Awaited, Wait
from nub_shift.editing.words.slot_views import slot_view
from nub_shift.keyboard.layout import Layout
from nub_shift.model.controls import slot_label
from nub_shift.model.plain_text import inside
from nub_shift.model.profile import Profile


def waiting_words(profile: Profile, wait: Wait, follows: bool, opened: bool, layout: Layout) -> str:
    """One line; `follows` says whether a press on the pad opens its control, `opened` whether one is open."""
    match wait.awaited:
        case Awaited.NOTHING if opened:
            return "Click a slot, then press its key or click a move"
        case Awaited.NOTHING:
            return "Press a control on the pad, or click one" if follows else "Click a control"
        case Awaited.SLOT_INPUT:
            return f"Press the key for {_slot(wait.slot)}, or click a move{_replaced(profile, wait, layout)}"
        case Awaited.SLOT_MOVE:
            return f"Click a move for {_slot(wait.slot)}{_replaced(profile, wait, layout)}"
        case Awaited.PARTNER:
            return f"Press the control that goes together with {_slot(wait.slot)}"
        case Awaited.PAIR_INPUT:
            return f"Press the key for {_slot(wait.partner)} and {_slot(wait.slot)} together, or click a move"
        case Awaited.PAIR_MOVE:
            return f"Click a move for {_slot(wait.partner)} and {_slot(wait.slot)} together"
        case Awaited.THIRD_CONTROL:
            return f"Press the control that goes together with {_slot(wait.partner)} and {_slot(wait.slot)}"
        case Awaited.LAYER_CONTROL:
            layer = profile.layer(wait.layer)
            label = layer.label if layer is not None else wait.layer
            return f"Press the control that brings on {label} while it is held"
        case Awaited.TURNING_CONTROL:
            return "Press the control that lets turning move the pointer while it is held"
        case Awaited.MOVE_INPUT:
            return f"Press the key for {wait.label}, or click or turn the wheel in the line for new moves"
        case Awaited.MOVE_NAME:
            return f"Type the new name of {wait.label}, then press Enter"
        case Awaited.GROUP_NAME:
            return f"Type the name of the group{f' {wait.label}' if wait.label else ''}, then press Enter"
        case Awaited.LINKED_MOVES:
            return f"Click the moves that must be possible at the same time as {wait.label}"
        case Awaited.STROKES:
            return f"Type the sequence; a pause of {PAUSE_MS // 1000} s ends it"
        case _:
            assert_never(wait.awaited)


def _replaced(profile: Profile, wait: Wait, layout: Layout) -> str:
    """What the slot does until now, in this layer."""
    view = slot_view(profile, wait.layer, wait.slot, layout)
    return f". It replaces: {view.text}" if view.assignment is not None and not view.inherited else ""


def listening_words(milliseconds: int) -> str:
    """How long keys are listened to, as a choice."""
    return f"{milliseconds // 1000} seconds" if milliseconds else "Until you cancel"


def _slot(slot: str) -> str:
    return inside(slot_label(slot))
