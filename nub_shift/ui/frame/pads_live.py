"""All pads within reach as the runner tells them, and what each is doing right now."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from nub_shift.protocol.messages import Introducing, PadInfo, PadsNews


class PadsLive(QObject):
    """The pads of the moment.

    Attributes:
        pads: in the runner's order.
        unplugged: made-up pads that could be plugged in, name by key.
        introducing: how far the introduction of one of them is, or None.
        values: by pad, channel to value.

    Signals:
        connected_changed(): pads came, went, or are known differently; or an introduction went on.
        changed(): values.
        frames(tuple): every frame of the pad that is told whole.
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
        """A packet has come."""
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
        """The pad of that key, if it is there."""
        return next((pad for pad in self.pads if pad.key == key), None)
