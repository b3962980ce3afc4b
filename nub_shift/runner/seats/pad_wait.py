"""Wait of a seat for its pad: the reason, and the time of the next search."""

from __future__ import annotations

from typing import Final

from nub_shift.model.messages import Code, Message
from nub_shift.protocol.messages import SparePad

RETRY_US: Final = 1_000_000
# Reasons that only a newly plugged pad can end; an unreadable pad may become readable at any time.
_UNTIL_ONE_COMES: Final = frozenset(
    {
        Code.NOT_CONNECTED,
        Code.NOT_PLUGGED_IN,
        Code.NO_PAD_CONNECTED,
        Code.NO_OTHER_PAD_CONNECTED,
        Code.NO_PAD_NAMED,
        Code.NO_OTHER_PAD_NAMED,
    }
)


class PadWait:
    """Wait of one seat.

    Attributes:
        missing: reason of the missing pad; None with a pad, and before the first search.
        retry_us: time of the next search; None until a device is plugged in.
    """

    def __init__(self) -> None:
        self.missing: Message | None = None
        self.retry_us: int | None = 0
        self._spare: SparePad | None = None

    def is_due(self, now_us: int) -> bool:
        """Returns whether a search is due."""
        return self.retry_us is not None and now_us >= self.retry_us

    def found(self) -> bool:
        """Ends the wait; returns whether the pad was missing before."""
        was_missing, self.missing = self.missing is not None, None
        return was_missing

    def note_missing(self, why: Message, now_us: int, has_plug_events: bool) -> bool:
        """Records a failed search and plans the next one; returns whether the reason has changed.

        Args:
            has_plug_events: udev reports new devices, so that a search can wait for one.
        """
        idle = has_plug_events and why.code in _UNTIL_ONE_COMES
        self.retry_us = None if idle else now_us + RETRY_US
        is_news, self.missing = why != self.missing, why
        return is_news

    def note_spare(self, spare: SparePad | None) -> bool:
        """Records the unused pad to offer; returns whether it has changed."""
        is_news, self._spare = spare != self._spare, spare
        return is_news
