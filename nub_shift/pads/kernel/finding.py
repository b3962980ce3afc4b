"""Search for pads among the kernel devices, and grouping of devices that belong together."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass
from pathlib import Path

from nub_shift.model.messages import Code, Message
from nub_shift.model.pad.own_devices import is_own
from nub_shift.pads.description import Description
from nub_shift.pads.kernel.node import Node
from nub_shift.pads.known.gamepad import is_motion, is_pad, is_surface

_DEVICE_FOLDER = Path("/dev/input")
_SYSFS = Path("/sys/class/input")


@dataclass(frozen=True)
class Device:
    """One kernel input device.

    Attributes:
        parent: sysfs folder of the enclosing device; empty for that of virtual devices.
    """

    path: str
    description: Description
    parent: str = ""


@dataclass(frozen=True)
class Found:
    """A pad, or an unreadable device that may be one.

    Attributes:
        path: path of the device with the buttons.
        motion: paths of its motion sensors, which are separate devices.
        surfaces: paths of its touch surfaces, likewise.
        parent: sysfs folder of the pad; empty for that of virtual devices.
        missing: reason why the pad cannot be used, or None.
    """

    path: str
    description: Description | None
    motion: tuple[str, ...] = ()
    missing: Message | None = None
    parent: str = ""
    surfaces: tuple[str, ...] = ()

    @property
    def parts(self) -> tuple[str, ...]:
        """Paths of the devices besides the one with the buttons."""
        return (*self.motion, *self.surfaces)


def find_pads() -> list[Found]:
    """Returns all connected pads, in the order of their device numbers, and unreadable devices.

    Repeated calls are cheap: the description of a node is cached until the node changes.
    """
    seen: dict[str, _Seen] = {}
    for path in sorted(_DEVICE_FOLDER.glob("event*"), key=lambda path: int(path.name.removeprefix("event"))):
        try:
            node = path.stat()
            which = (node.st_ino, node.st_rdev, node.st_ctime_ns)
            before = _seen.get(str(path))
            seen[str(path)] = before if before is not None and before.node == which else _Seen(which, _look_at(path))
        except OSError:
            continue  # unplugged meanwhile
    _seen.clear()
    _seen.update(seen)
    devices = [found.device for found in seen.values() if found.device is not None]
    closed = [path for path, found in seen.items() if found.device is None]
    return [*pads_among(devices), *(_closed(path) for path in closed)]


@dataclass(frozen=True)
class _Seen:
    """Cached description of a node, identified by its number and the time of its last change of permissions.

    Attributes:
        device: None if unreadable.
    """

    node: tuple[int, int, int]
    device: Device | None


_seen: dict[str, _Seen] = {}


def _look_at(path: Path) -> Device | None:
    try:
        opened = Node(str(path))
    except PermissionError:
        return None
    try:
        return Device(str(path), opened.describe(), _parent_of(path.name))
    finally:
        opened.close()


def _closed(path: str) -> Found:
    return Found(path, None, missing=Message(Code.NOT_ALLOWED_TO_READ, {"device": path}))


def pads_among(devices: Collection[Device]) -> Iterator[Found]:
    """Yields the pads among devices, each with its motion sensors and touch surfaces."""
    sensors = [device for device in devices if is_motion(device.description)]
    touched = [device for device in devices if is_surface(device.description)]
    for device in devices:
        said = device.description
        if is_pad(said) and not is_own(said.bus, said.vendor, said.phys):
            motion = tuple(sensor.path for sensor in sensors if _belong_together(device, sensor))
            surfaces = tuple(surface.path for surface in touched if _belong_together(device, surface))
            yield Found(device.path, device.description, motion, None, device.parent, surfaces)


def _belong_together(pad: Device, part: Device) -> bool:
    """Returns whether two devices form one pad: by serial number, else by port, else by enclosing device; never by
    name.
    """
    one, other = pad.description, part.description
    if (one.bus, one.vendor, one.product) != (other.bus, other.vendor, other.product):
        return False
    if one.uniq or other.uniq:
        return one.uniq == other.uniq
    if one.phys and other.phys:
        return one.plug == other.plug
    return bool(pad.parent) and pad.parent == part.parent


def _parent_of(node: str) -> str:
    """Returns the sysfs folder above the input device of a node."""
    try:
        parent = (_SYSFS / node / "device").resolve().parent.parent
    except OSError:
        return ""
    return "" if parent.name == "virtual" else str(parent)
