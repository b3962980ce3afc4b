"""What the runner waits for, and which game runs where nothing tells of windows."""

from __future__ import annotations

import os
import subprocess
import sys

from nub_shift.front.running import newest_running
from nub_shift.model.profile.activation import Front, Rule
from nub_shift.runner.watch import SOON_S, Watch


def test_a_number_that_belongs_to_another_descriptor_by_now_is_not_forgotten() -> None:
    read_end, write_end = os.pipe()
    called: list[str] = []

    def before() -> None:
        called.append("before")

    watch = Watch()
    watch.read(read_end, before)
    watch.read(read_end, lambda: called.append("now"))
    watch.forget(read_end, before)
    os.write(write_end, b"x")
    watch.wait(1)
    watch.forget(read_end)
    watch.wait(0)
    os.close(read_end)
    os.close(write_end)
    assert called == ["now"]


def test_who_is_in_no_hurry_is_heard_between_short_waits() -> None:
    read_end, write_end = os.pipe()
    called: list[str] = []
    watch = Watch()
    watch.read(read_end, lambda: called.append("calm"))
    os.write(write_end, b"x")
    for _ in range(8):
        watch.wait(SOON_S / 2)
    os.close(read_end)
    os.close(write_end)
    assert called == ["calm", "calm"]


def test_where_nothing_tells_the_newest_program_that_a_rule_means_counts() -> None:
    marks = [f"made-up-game-{number}-{os.getpid()}" for number in range(2)]
    sleeps = [
        subprocess.Popen([sys.executable, "-c", "import sys; sys.stdin.read()", mark], stdin=-1) for mark in marks
    ]
    try:
        rules = [Rule(argument=mark) for mark in marks]
        found = newest_running([Rule(window="any"), *rules])
        assert (found.process, marks[1] in found.arguments) == (sleeps[1].pid, True)
        assert newest_running(rules[:1]).process == sleeps[0].pid
        assert newest_running([Rule(title="Game", argument=marks[0])]) == Front(), "its title is not known"
    finally:
        for process in sleeps:
            process.communicate()
    assert newest_running(rules) == Front()
