"""The rules of the library: kept up to date, and never forgotten because they could not be read."""

from __future__ import annotations

import os
import signal
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from nub_shift.keyboard.session import SessionLayout
from nub_shift.model.messages import Code, Message
from nub_shift.protocol.clock import monotonic_us
from nub_shift.runner.background import BackgroundWork
from nub_shift.runner.profiles.loading import Loading
from nub_shift.runner.profiles.rule_list import RuleList
from nub_shift.runner.watch import Watch
from nub_shift.store.atomic import write_text

LIMIT_S = 30.0
RULED = 'schema = 4\ntitle = "{title}"\n[[comes_on.rules]]\nwindow = "{title}"\n'


class Listed:
    """A list of a folder, and the loop that it lives in."""

    def __init__(self, folder: Path) -> None:
        self.watch = Watch()
        self.beside = BackgroundWork(self.watch)
        self.said: list[Message] = []
        self.loading = Loading(self.watch, SessionLayout(), [folder], monotonic_us)
        self.rules = RuleList(self.loading, [folder], self.beside, self.said.append, monotonic_us)
        self.tried = False

    def note_tried(self) -> None:
        self.tried = True

    def until(self, wanted: Callable[[], object]) -> None:
        """Goes on until something is so."""
        end = time.monotonic() + LIMIT_S
        while not wanted():
            assert time.monotonic() < end, "never so"
            self.rules.work(monotonic_us())
            self.watch.wait(0.01)

    @property
    def titles(self) -> list[str]:
        return sorted(ruled.title for ruled in self.rules.ruled)


@pytest.fixture
def listed(tmp_path: Path) -> Iterator[Listed]:
    write_text(tmp_path / "tide.toml", RULED.format(title="Tide"))
    made = Listed(tmp_path)
    made.rules.start(lambda: None, made.note_tried)
    yield made
    made.rules.close()
    made.beside.close()


def test_what_is_written_in_place_made_and_deleted_is_noticed(listed: Listed, tmp_path: Path) -> None:
    listed.until(lambda: listed.titles == ["Tide"])
    assert listed.tried and listed.rules.is_read
    with (tmp_path / "tide.toml").open("r+") as file:  # as some editors do: the folder does not change
        file.write(RULED.format(title="Dune"))
    listed.until(lambda: listed.titles == ["Dune"])
    write_text(tmp_path / "dust.toml", RULED.format(title="Dust"))
    listed.until(lambda: listed.titles == ["Dune", "Dust"])
    (tmp_path / "tide.toml").unlink()
    listed.until(lambda: listed.titles == ["Dust"])
    assert listed.rules.changed(str(tmp_path / "tide.toml")) is None


@pytest.mark.parametrize("number", [signal.SIGSTOP, signal.SIGKILL])
def test_a_reader_that_hangs_or_ends_costs_time_and_no_rule(listed: Listed, tmp_path: Path, number: int) -> None:
    listed.until(lambda: listed.titles == ["Tide"])
    if number == signal.SIGSTOP:
        listed.rules._limit_us = 200_000
    assert listed.loading._reader is not None
    os.kill(listed.loading._reader._process.pid, number)
    write_text(tmp_path / "dust.toml", RULED.format(title="Dust"))
    if number == signal.SIGSTOP:
        listed.until(lambda: listed.said)
        assert listed.said[0].code is Code.RULES_NOT_READ and listed.titles == ["Tide"], "what was read stays"
    listed.until(lambda: listed.titles == ["Dust", "Tide"])


def test_a_reader_that_is_slow_from_the_beginning_is_given_more_time(tmp_path: Path) -> None:
    write_text(tmp_path / "tide.toml", RULED.format(title="Tide"))
    listed = Listed(tmp_path)
    listed.rules._limit_us = 1_000  # less than any reader takes
    listed.rules.start(lambda: None, listed.note_tried)
    listed.until(lambda: listed.tried)
    was_late = listed.rules.is_late
    assert not listed.rules.is_read and was_late and listed.said
    listed.rules._limit_us = 20_000_000
    listed.until(lambda: listed.titles == ["Tide"])
    assert not listed.rules.is_late
    listed.rules.close()
    listed.beside.close()
