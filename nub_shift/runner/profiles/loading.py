"""Loading of profiles during play: another process reads and checks, this one compiles in small pieces."""

from __future__ import annotations

import logging
import os
import subprocess
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

import msgspec

from nub_shift.engine.program import Program
from nub_shift.engine.values import US_PER_SECOND
from nub_shift.keyboard.session import SessionLayout
from nub_shift.model.messages import Code, Message
from nub_shift.model.profile.profile import Profile
from nub_shift.own_process import start_own
from nub_shift.protocol.codec import Refused
from nub_shift.runner.profiles.reading import (
    LENGTH,
    LISTED,
    CheckAgain,
    FindTitled,
    ListRules,
    ReadFile,
    ReadText,
    Request,
    RuledProfile,
    WasRead,
    framed,
)
from nub_shift.runner.seats.profile_requests import Loaded
from nub_shift.runner.watch import Watch

log = logging.getLogger("nub_shift.runner")

# Time limit; the largest accepted profile takes half a second on a slow machine.
LIMIT_US: Final = 5 * US_PER_SECOND
# Extra time for the first job, which starts the process: otherwise a slow machine would never read any.
STARTS_US: Final = 15 * US_PER_SECOND
_READ_BYTES: Final = 65_536

# Callback with a playable profile, or the reason for a refusal.
Done = Callable[[Loaded | Refused], None]


@dataclass(frozen=True)
class _Job:
    request: Request
    done: Done
    listed: Callable[[list[RuledProfile]], None] | None = None
    limit_us: int = LIMIT_US


class Loading:
    """Queue of jobs, each of which ends with a call of its `done`.

    Attributes:
        pending: there is something to compile, by `step`.
    """

    def __init__(self, watch: Watch, layout: SessionLayout, folders: Sequence[Path], clock: Callable[[], int]) -> None:
        self.pending = False
        self._watch = watch
        self._layout = layout
        self._folders = [str(folder) for folder in folders]
        self._clock = clock
        self._jobs: deque[_Job] = deque()
        self._reader: _Reader | None = None
        self._until_us = 0
        self._asked_again = False
        self._steps: Iterator[None] | None = None
        self._compiled: Loaded | None = None

    @property
    def can_find(self) -> bool:
        """Whether profiles can be found in folders."""
        return bool(self._folders)

    def prepare(self) -> None:
        """Starts the reading process, which takes a while, ahead of a request."""
        if self._reader is None:
            try:
                self._reader = _Reader(self._watch, self._on_reply, self._on_end)
            except OSError as error:
                log.warning("profiles cannot be read: %s", error)

    def read(self, toml: str, file: str, done: Done) -> None:
        """Loads a profile from TOML text that belongs to a file."""
        self._add(_Job(ReadText(toml, file), done))

    def find(self, title: str, done: Done) -> None:
        """Loads the profile of a title from the folders."""
        self._add(_Job(FindTitled(self._folders, title), done))

    def load_file(self, file: str, done: Done) -> None:
        """Loads the profile of a file."""
        self._add(_Job(ReadFile(file), done))

    def list_rules(self, done: Callable[[list[RuledProfile] | None], None], limit_us: int = LIMIT_US) -> None:
        """Passes the rules of the profiles in the folders to `done`; None if reading took too long."""
        self._add(_Job(ListRules(self._folders), lambda _: done(None), done, limit_us))

    def check_again(self, profile: Profile, done: Done) -> None:
        """Checks a profile again whose texts are typed on another layout."""
        self._add(_Job(CheckAgain(profile), done))

    def step(self) -> None:
        """Compiles the next piece."""
        assert self._steps is not None
        try:
            next(self._steps)
        except StopIteration:
            loaded, self._compiled = self._compiled, None
            assert loaded is not None
            self._finish(loaded)
        except Exception:  # an unexpected fault with this profile costs this profile, and play continues
            log.exception("a profile cannot be compiled")
            self._finish(Refused(Message(Code.READING_FAILED)))

    def due_us(self) -> int | None:
        """Returns the deadline of the present job."""
        return self._until_us if self._jobs and self._steps is None else None

    def work(self, now_us: int) -> None:
        """Abandons a job after its deadline."""
        if self._jobs and self._steps is None and now_us >= self._until_us:
            log.warning("reading a profile took too long")
            self._end_reader()
            self._finish(Refused(Message(Code.READING_FAILED)))

    def close(self) -> None:
        """Ends the reading process and drops unfinished jobs."""
        self._jobs.clear()
        self._end_reader()

    def _add(self, job: _Job) -> None:
        self._jobs.append(job)
        if len(self._jobs) == 1:
            self._asked_again = False
            self._begin()

    def _begin(self) -> None:
        job, starts = self._jobs[0], self._reader is None
        self.prepare()
        self._until_us = self._clock() + job.limit_us + (STARTS_US if starts and job.listed is None else 0)
        if self._reader is not None:
            self._reader.send(self._jobs[0].request)
        else:
            self._finish(Refused(Message(Code.READING_FAILED)))

    def _finish(self, result: Loaded | Refused) -> None:
        self._steps = None
        self.pending = False
        self._next().done(result)

    def _finish_list(self, ruled: list[RuledProfile]) -> None:
        job = self._next()
        if job.listed is not None:
            job.listed(ruled)

    def _next(self) -> _Job:
        """Starts the next job; returns the finished one, whose callback may add others."""
        job = self._jobs.popleft()
        if self._jobs:
            self._asked_again = False
            self._begin()
        return job

    def _on_reply(self, reply: WasRead) -> None:
        if not self._jobs or self._steps is not None:
            return  # belongs to an abandoned job
        if reply.refused is not None:
            self._finish(reply.refused)
            return
        if reply.ruled is not None:
            self._finish_list(reply.ruled)
            return
        if reply.layout is not None:
            self._layout.know(reply.layout.names, reply.layout.layout())
        self._steps = self._compiling(reply)
        self.pending = True

    def _compiling(self, reply: WasRead) -> Iterator[None]:
        listed: dict[str, list[Any]] = {}
        for name, data in reply.listed:
            listed.setdefault(name, []).append(_DECODERS[name].decode(data))
            yield
        profile = msgspec.msgpack.decode(reply.profile, type=Profile)
        profile = msgspec.structs.replace(profile, **{name: tuple(items) for name, items in listed.items()})
        program = Program(profile, self._layout, whole=False)
        yield from program.compiling()
        self._compiled = Loaded(program, reply.file)

    def _on_end(self) -> None:
        """Restarts the reading process once per job: the process ends when idle, or was killed."""
        self._end_reader()
        if not self._jobs or self._steps is not None:
            return
        if not self._asked_again:
            self._asked_again = True
            self._begin()
        else:
            self._finish(Refused(Message(Code.READING_FAILED)))

    def _end_reader(self) -> None:
        if self._reader is not None:
            self._reader.close()
            self._reader = None


_DECODERS = {name: msgspec.msgpack.Decoder(kind) for name, kind in LISTED.items()}


class _Reader:
    """The reading process."""

    def __init__(self, watch: Watch, on_reply: Callable[[WasRead], None], on_end: Callable[[], None]) -> None:
        self._watch = watch
        self._on_reply = on_reply
        self._on_end = on_end
        self._outgoing = bytearray()
        self._incoming = bytearray()
        self._process = start_own(
            "nub_shift.runner.profiles.reading", stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=None
        )
        assert self._process.stdin is not None and self._process.stdout is not None
        self._to, self._from = self._process.stdin.fileno(), self._process.stdout.fileno()
        for end in (self._to, self._from):
            os.set_blocking(end, False)
        watch.read(self._from, self._take)

    def send(self, request: Request) -> None:
        """Sends a request."""
        self._outgoing += framed(request)
        self._give()

    def close(self) -> None:
        """Kills the process."""
        self._watch.forget(self._from)
        self._watch.forget(self._to)
        self._process.kill()
        self._process.wait()
        for end in (self._process.stdin, self._process.stdout):
            assert end is not None
            end.close()

    def _give(self) -> None:
        try:
            del self._outgoing[: os.write(self._to, self._outgoing)]
        except BlockingIOError:
            pass
        except OSError:
            self._outgoing.clear()  # the process has ended, as the end of the other pipe shows
        self._watch.write(self._to, self._give if self._outgoing else None)

    def _take(self) -> None:
        data = os.read(self._from, _READ_BYTES)
        if not data:
            self._on_end()
            return
        self._incoming += data
        if len(self._incoming) < LENGTH.size:
            return
        length = LENGTH.unpack_from(self._incoming)[0] + LENGTH.size
        if len(self._incoming) >= length:
            reply = msgspec.msgpack.decode(self._incoming[LENGTH.size : length], type=WasRead)
            del self._incoming[:length]
            self._on_reply(reply)
