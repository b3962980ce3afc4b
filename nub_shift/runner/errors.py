"""Errors that end playing, recording or replaying."""

from nub_shift.model.messages import Saying


class CannotPlay(Saying):
    """Play cannot start or continue; the message gives the reason."""
