"""Available pads with their present values."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from nub_shift.protocol.messages import Introducing, PadInfo, PadsNews


class PadsLive(QObject):
    """Present pads.

    Attributes:
        pads: in the runner's order.
        unplugged: simulated pads that could be plugged in, name by key.
        introducing: progress of a set-up, or None.
        values: channel to value, by key of pad.

    Signals:
        connected_changed(): pads came, went or changed; or a set-up has progressed.
        changed(): values have changed.
        frames(tuple): every frame of the requested pad.
    """

    connected_changed = pyqtSignal()
    changed = pyqtSignal()
    frames = pyqtSignal(tuple)

    def __init__(self) -> None:
        super().__init__()
        self.pads: tuple[PadInfo, ...] = ()
        self.unplugged: dict[str, str] = {}
        self.introducing: Introducing | None = None
        self.values: dict[str, dict[str, float]] = {}

    def take(self, news: PadsNews) -> None:
        """Processes a packet."""
        if news.connected is not None:
            wired = {pad.key: (pad.source, pad.controls) for pad in self.pads}
            introduced = self.introducing
            self.pads, self.unplugged = news.connected.pads, news.connected.unplugged
            self.introducing = news.connected.introducing
            same = {pad.key for pad in self.pads if wired.get(pad.key) == (pad.source, pad.controls)}
            self.values = {key: values for key, values in self.values.items() if key in same}
            if introduced != self.introducing:
                for course in (introduced, self.introducing):
                    self.values.pop(course.pad if course is not None else "", None)
        for key, values in news.values.items():
            self.values.setdefault(key, {}).update(values)
        if news.connected is not None:
            self.connected_changed.emit()
        if news.values:
            self.changed.emit()
        if news.frames:
            self.frames.emit(news.frames)

    def pad(self, key: str) -> PadInfo | None:
        """Returns the pad of a key, or None."""
        return next((pad for pad in self.pads if pad.key == key), None)
