"""What the commands hear when playing, recording or replaying cannot go on."""

from nub_shift.model.messages import Saying


class CannotPlay(Saying):
    """It cannot go on; the message says why."""
