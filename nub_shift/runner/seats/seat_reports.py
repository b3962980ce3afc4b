"""State of a seat for clients, and the content of its signs."""

from __future__ import annotations

from nub_shift.model.messages import Code, Message
from nub_shift.protocol.messages import MenuLook, PadState, SeatSigns, SeatState
from nub_shift.runner.seats.seat import Seat


def seat_state(seat: Seat) -> SeatState:
    """Returns the whole state of a seat."""
    engine = seat.engine.state()
    found = seat.pad
    if found is None:
        pad = PadState("", (), seat.wait.missing or Message(Code.NO_PAD_YET), spare=seat.source.spare)
    else:
        marks = found.key, found.printed, found.is_automatic, found.fingers, found.menu, found.is_guessed
        pad = PadState(found.name, found.controls, None, *marks)
    return SeatState(
        seat.program.profile.title,
        pad,
        engine.layers,
        engine.slots if seat.acts else (),
        engine.toggles,
        engine.carousels,
        engine.rings,
        seat.file,
        seat.paused,
        seat.rule,
    )


def seat_signs(seat: Seat) -> SeatSigns:
    """Returns the content of a seat's signs."""
    engine = seat.engine.state()
    return SeatSigns(
        seat.pad.name if seat.pad is not None else "",
        engine.layers,
        engine.toggles,
        engine.carousels,
        engine.open_rings,
        round(engine.pace, 2),
        seat.paused,
        seat.battery,
        _menu_look(seat) if seat.in_menu else None,
        seat.rehearsed_press,
    )


def _menu_look(seat: Seat) -> MenuLook:
    return MenuLook(seat.signals.menu.pressed, dict(seat.signals.menu.counts), seat.engine.motion_allowed)
