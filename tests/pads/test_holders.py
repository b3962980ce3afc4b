"""Who else reads a pad: found among the processes that run, by the nodes that they hold open."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

from nub_shift.pads.kernel.holders import Holder, holders, nodes_of, readers


def test_a_device_is_read_by_its_events_an_older_node_and_raw_reports(tmp_path: Path) -> None:
    for part in ("device/js2", "device/device/hidraw/hidraw7", "device/event9"):
        (tmp_path / "event9" / part).mkdir(parents=True)
    found = nodes_of("/dev/input/event9", tmp_path)
    assert found == {"/dev/input/event9": False, "/dev/input/js2": False, "/dev/hidraw7": True}
    assert nodes_of("/dev/input/event8", tmp_path) == {"/dev/input/event8": False}


def test_a_program_is_found_by_what_it_holds_open_and_we_are_not(tmp_path: Path) -> None:
    events, raw = tmp_path / "event9", tmp_path / "hidraw7"
    events.touch()
    raw.touch()
    nodes = {str(events): False, str(raw): True}
    with (
        events.open() as one,
        raw.open() as other,
        subprocess.Popen(["sleep", "60"], stdin=one) as reader,
        subprocess.Popen(["sleep", "60"], stdin=other) as past,
        subprocess.Popen([sys.executable, "-c", "import time; time.sleep(60)", "nub_shift"], stdin=one) as own,
    ):
        found = [holder for holder in holders(nodes) if holder.pid in (reader.pid, past.pid, own.pid)]
        for process in (reader, past, own):
            process.kill()
    assert found == [
        Holder(reader.pid, "sleep", False, (str(events),)),
        Holder(past.pid, "sleep", True, (str(raw),)),
    ]


def test_each_pad_has_its_own_readers(tmp_path: Path) -> None:
    one, other = tmp_path / "event8", tmp_path / "event9"
    one.touch()
    other.touch()
    with one.open() as opened, subprocess.Popen(["sleep", "60"], stdin=opened) as reader:
        found = readers({"one": [str(one)], "other": [str(other)]})
        reader.kill()
    assert reader.pid in [holder.pid for holder in found["one"]] and found["other"] == []
