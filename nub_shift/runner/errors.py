"""What the commands hear when playing, recording or replaying cannot go on."""


class CannotPlay(Exception):
    """The text says what stands in the way and what would help."""
