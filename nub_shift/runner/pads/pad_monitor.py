"""Monitoring of pads without a seat, open while a client subscribes; and the pad being set up."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import partial

from msgspec.structs import replace

from nub_shift.engine.values import Frame
from nub_shift.model.messages import Code, Message
from nub_shift.pads.combined.halves import FirstHalf
from nub_shift.pads.input_codes import Event
from nub_shift.pads.kernel.decoder import Decoder
from nub_shift.pads.kernel.holders import Holder, readers
from nub_shift.pads.known.cards import card_of, identities_of
from nub_shift.pads.pad import DevicePad, Pad, PadError, PadGone
from nub_shift.protocol.messages import ConnectedPads, Introducing
from nub_shift.runner.background import BackgroundWork
from nub_shift.runner.pads.pad_registry import PadEntry, PadRegistry, pad_infos
from nub_shift.runner.pads.pads_feed import PadsFeed
from nub_shift.runner.seats.pad_events import PadEvents
from nub_shift.runner.seats.session import Session
from nub_shift.runner.watch import Callback, Watch
from nub_shift.store.card_files import format_card

# Interval of scans where udev does not report devices and battery changes.
LOOK_US = 3_000_000
SCAN_US = 10_000_000


class PadMonitor:
    """Reads all pads for its feeds; idle without any.

    Attributes:
        feeds: the subscribers.
    """

    def __init__(
        self,
        session: Session,
        registry: PadRegistry,
        events: PadEvents,
        watch: Watch,
        clock: Callable[[], int],
        beside: BackgroundWork,
    ) -> None:
        self.feeds: list[PadsFeed] = []
        self._session = session
        self._registry = registry
        self._events = events
        self._watch = watch
        self._clock = clock
        self._pads: dict[str, Pad] = {}
        self._callbacks: dict[int, Callback] = {}
        self._look_us = 0
        self._entries: list[PadEntry] = []
        self._troubles: dict[str, Message] = {}  # reasons why pads could not be opened, by key
        self._beside = beside
        self._read_by: dict[str, list[Message]] = {}  # other programs that read a pad in spite of the grab, by key
        self._scan_us: int | None = 0  # time of the next scan for such programs; None during a scan
        self._introduced: _Introduced | None = None

    def add(self, feed: PadsFeed) -> None:
        """Adds a subscriber."""
        self.feeds.append(feed)
        self._events.listener = self
        for seat in self._session.seats:
            if seat.pad is not None:
                feed.note_values(seat.pad.key, seat.values)
        for key in list(self._pads):
            self._drop(key)  # reopened, so that the new subscriber gets all values
        self.rescan()

    def remove(self, feed: PadsFeed) -> None:
        """Removes a subscriber; after the last one all pads without a seat are closed."""
        self.feeds.remove(feed)
        if not self.feeds:
            self._events.listener = None
            self.introduce("")
            for key in list(self._pads):
                self._drop(key)

    def on_pads(self) -> None:
        """Called when a seat gets or loses its pad."""
        self.rescan()

    def rescan(self) -> None:
        """Scans again, since a device was plugged in or out or its card has changed."""
        self._look_us = 0

    def due_us(self) -> int | None:
        """Returns when `work` has to be called."""
        if not self.feeds:
            return None
        times = [due for pad in self._pads.values() if (due := pad.due_us()) is not None]
        return min([*times, self._look_us])

    def work(self, now_us: int) -> None:
        """Takes the frames of time-driven pads, and scans for devices when due."""
        if not self.feeds:
            return
        if now_us >= self._look_us:
            self._look_us = now_us + LOOK_US
            self._look()
        for key, pad in list(self._pads.items()):
            due = pad.due_us()
            if due is not None and due <= now_us:
                self._take(key, None)

    def introduce(self, key: str) -> None:
        """Begins to set up a pad; an empty key ends the set-up.

        Raises:
            PadError: the pad is missing, or is a combination of several.
        """
        before, self._introduced = self._introduced, None
        if before is not None:
            before.pad.tap = None
        if key:
            self._introduced = _Introduced(key, self._device_pad(key), self._on_understood)
        self.rescan()

    def answer(self, do: str, control: str) -> None:
        """Handles an answer about the requested control.

        Raises:
            PadError: no control is requested.
        """
        if self._introduced is None:
            raise PadError(Code.NOTHING_INTRODUCED)
        introduction = self._introduced.introduction
        match do:
            case "skip":
                introduction.skip()
            case "back":
                introduction.take_back()
            case _:
                introduction.request(control)
        self._introduced.redecode()
        self._notify()

    def reload_cards(self) -> None:
        """Reopens all pads without a seat after a change of cards."""
        for key in list(self._pads):
            self._drop(key)
        self.rescan()

    def _look(self) -> None:
        """Opens new pads, and closes those that are gone or have a seat."""
        taken = {*self._session.pads_taken()}
        before = {entry.key: entry for entry in self._entries}
        self._entries = self._registry.entries()  # opening every device is slow: once per scan
        entries = {entry.key: entry for entry in self._entries}
        for key in list(self._pads):
            if entries.get(key) != before.get(key) or key in taken:  # gone, or with other parts
                self._drop(key)
        for key, entry in entries.items():
            if key not in self._pads and key not in taken and not any(single.missing for single in entry.singles):
                try:
                    self._open(key, entry.open())
                    self._troubles.pop(key, None)
                except PadError as error:
                    self._troubles[key] = error.message
        self._find_introduced(entries)
        self._scan()
        self._notify()

    def _scan(self) -> None:
        """Scans from time to time for other programs that read the pads; slow, so done beside play."""
        now_us = self._clock()
        if self._scan_us is None or now_us < self._scan_us:
            return
        paths = {
            entry.key: [
                path
                for single in entry.singles
                if single.simulated is None and single.description is not None
                for path in (single.key, *single.motion, *single.surfaces)
            ]
            for entry in self._entries
        }
        paths = {key: found for key, found in paths.items() if found}
        if paths:
            self._scan_us = None
            self._beside.run(partial(readers, paths), self._on_scanned)

    def _on_scanned(self, found: Mapping[str, Sequence[Holder]]) -> None:
        self._scan_us = self._clock() + SCAN_US
        read_by = {
            key: [Message(Code.READ_ELSEWHERE, {"program": holder.program}) for holder in programs if holder.raw]
            for key, programs in found.items()
        }
        if read_by != self._read_by:
            self._read_by = read_by
            self._notify()

    def _find_introduced(self, entries: Mapping[str, PadEntry]) -> None:
        """Finds the pad being set up, which may have been replugged and have another key."""
        introduced = self._introduced
        if introduced is None:
            return
        if introduced.key not in entries:
            found = [key for key, entry in entries.items() if introduced.identities[0] in entry.identities]
            introduced.key = found[0] if found else introduced.key
        pad = self._opened(introduced.key) if introduced.key in entries else None
        if pad is not None and pad is not introduced.pad:
            introduced.listen(self._device_pad(introduced.key))

    def _open(self, key: str, pad: Pad) -> None:
        self._pads[key] = pad
        for fd in pad.filenos():
            self._callbacks[fd] = partial(self._take, key, fd)
            self._watch.read(fd, self._callbacks[fd])
        self._take(key, None)

    def _take(self, key: str, fd: int | None) -> None:
        try:
            frames = self._pads[key].read(self._clock(), fd)
        except PadGone:
            self._drop(key)
            self.rescan()
            return
        self.on_frames(key, frames)

    def _drop(self, key: str) -> None:
        pad = self._pads.pop(key)
        for fd in pad.filenos():
            self._watch.forget(fd, self._callbacks.pop(fd))
        pad.close()

    def on_frames(self, key: str, frames: Sequence[Frame]) -> None:
        """Sends what a pad did to the feeds. For a pad being set up, as far as its wiring is known."""
        if self._introduced is not None and key == self._introduced.key:
            frames = self._introduced.frames()
        for feed in self.feeds:
            feed.note_frames(key, frames)

    def _on_understood(self) -> None:
        self._notify()

    def _notify(self) -> None:
        seats: dict[str, tuple[int, ...]] = {}
        for index, seat in enumerate(self._session.seats):
            if seat.pad is not None:
                seats[seat.pad.key] = (*seats.get(seat.pad.key, ()), index)
        introducing = self._introduced.told() if self._introduced is not None else None
        told = tuple(
            replace(info, wrong=(*info.wrong, *self._found_wrong(info.key))) for info in pad_infos(self._entries, seats)
        )
        connected = ConnectedPads(told, self._registry.unplugged, introducing)
        for feed in self.feeds:
            feed.note_connected(connected)

    def _found_wrong(self, key: str) -> list[Message]:
        """Returns the faults of a pad that the pad itself does not report: not opened, not grabbed, read by others."""
        seated = [seat.trouble for seat in self._session.seats if seat.pad is not None and seat.pad.key == key]
        troubles = [*seated, self._troubles.get(key)]
        return [*(trouble for trouble in troubles if trouble is not None), *self._read_by.get(key, [])]

    def _opened(self, key: str) -> Pad | None:
        seated = next((seat.pad for seat in self._session.seats if seat.pad is not None and seat.pad.key == key), None)
        if isinstance(seated, FirstHalf):
            return seated.whole  # played by two seats, but still one pad
        return seated or self._pads.get(key)

    def _device_pad(self, key: str) -> DevicePad:
        pad = self._opened(key)
        if pad is None:
            pad = self._registry.entry(key).open()
            self._open(key, pad)
        if not isinstance(pad, DevicePad):
            raise PadError(Code.JOINED_PAD, pad=pad.name)
        return pad


class _Introduced:
    """The pad being set up, with its raw events."""

    def __init__(self, key: str, pad: DevicePad, on_understood: Callable[[], None]) -> None:
        self.key = key
        self.pad = pad
        self.identities = identities_of(pad.descriptions[0])
        from nub_shift.pads.introduction.course import Introduction  # imported late: the runner has to start fast

        self.introduction = Introduction(pad.descriptions[0], pad.positions())
        self._on_understood = on_understood
        self._waiting: list[Event] = []
        self.redecode()
        self.listen(pad)

    def listen(self, pad: DevicePad) -> None:
        """Listens to the pad after it was reopened."""
        self.pad.tap = None
        self.pad = pad
        pad.tap = self._on_events

    def redecode(self) -> None:
        """Decodes with the present answers."""
        self._decoder = Decoder(self.introduction.preview())

    def frames(self) -> list[Frame]:
        """Returns the frames of the events since the last call, as far as they can be decoded."""
        events, self._waiting = self._waiting, []
        return self._decoder.decode(events)

    def told(self) -> Introducing:
        """Returns the progress of the set-up."""
        course = self.introduction
        card = card_of(self.pad.descriptions[0], course.wiring())
        status = {channel: status.value for channel, status in course.status().items()}
        return Introducing(self.key, course.requested, course.note, status, format_card(card), course.finished)

    def _on_events(self, events: Sequence[Event]) -> None:
        self._waiting += events
        if self.introduction.feed(events):
            self.redecode()
            self._on_understood()
