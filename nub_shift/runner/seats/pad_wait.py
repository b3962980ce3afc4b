"""A seat's wait for its pad: why there is none, and when to look again."""

from __future__ import annotations

from typing import Final

from nub_shift.model.messages import Code, Message
from nub_shift.protocol.messages import SparePad

RETRY_US: Final = 1_000_000
# Why there is no pad, if only one that comes can change that; one that may not be read may be allowed at any time.
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
        missing: why there is no pad; None while there is one, and before the first search.
        retry_us: time of the next search; None until something is plugged in.
    """

    def __init__(self) -> None:
        self.missing: Message | None = None
        self.retry_us: int | None = 0
        self._spare: SparePad | None = None

    def is_due(self, now_us: int) -> bool:
        """Whether to look for the pad now."""
        return self.retry_us is not None and now_us >= self.retry_us

    def found(self) -> bool:
        """Ends the wait; returns whether the pad was missing before."""
        was_missing, self.missing = self.missing is not None, None
        return was_missing

    def note_missing(self, why: Message, now_us: int, hears_plugs: bool) -> bool:
        """Notes a search without a pad, and plans the next one; returns whether the reason is another one.

        Args:
            hears_plugs: the system tells of each pad that comes, so that a search for one can wait for that.
        """
        idle = hears_plugs and why.code in _UNTIL_ONE_COMES
        self.retry_us = None if idle else now_us + RETRY_US
        is_news, self.missing = why != self.missing, why
        return is_news

    def note_spare(self, spare: SparePad | None) -> bool:
        """Notes a pad that could be used instead; returns whether it is another one."""
        is_news, self._spare = spare != self._spare, spare
        return is_news
