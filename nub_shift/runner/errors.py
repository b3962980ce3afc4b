"""Errors that end playing, recording or replaying."""

from nub_shift.model.messages import MessageError


class CannotPlay(MessageError):
    """Play cannot start or continue; the message gives the reason."""
