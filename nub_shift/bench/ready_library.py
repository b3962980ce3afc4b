"""A library with all profiles in memory, a stand-in for reading and listing beside play."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from nub_shift.engine.program import Program
from nub_shift.model.messages import Code, Message
from nub_shift.model.profile.profile import Profile
from nub_shift.protocol.codec import Refused
from nub_shift.runner.profiles.reading import RuledProfile
from nub_shift.runner.seats.profile_requests import Loaded

Done = Callable[[Loaded | Refused], None]


class ReadyLibrary:
    """Profiles by file.

    Attributes:
        is_read: whether the rules have been read.
        stamp: modification time of all files.
    """

    can_find = True
    is_late = False

    def __init__(self, profiles: Mapping[str, Profile]) -> None:
        self.profiles = dict(profiles)
        self.is_read = True
        self.stamp = 1

    @property
    def ruled(self) -> list[RuledProfile]:
        """The rules of all profiles; none until they are read."""
        listed = [RuledProfile(name, profile.title, profile.comes_on) for name, profile in self.profiles.items()]
        return listed if self.is_read else []

    def start(self, changed: Callable[[], None], when_tried: Callable[[], None]) -> None:
        """Reports at once that the rules are read."""
        when_tried()
        changed()

    def close(self) -> None:
        """Does nothing: no process reads."""

    def due_us(self) -> int | None:
        """Returns None: nothing is pending."""
        return None

    def work(self, now_us: int) -> None:
        """Does nothing: no file changes."""

    def retry(self) -> None:
        """Does nothing: no reading is late."""

    def changed(self, file: str) -> int | None:
        """Returns the modification time of a file; None if the file is missing."""
        return self.stamp if file in self.profiles else None

    def load_file(self, file: str, done: Done) -> None:
        """Loads the profile of a file."""
        done(Loaded(Program(self.profiles[file]), file))

    def find(self, title: str, done: Done) -> None:
        """Loads the profile of a title."""
        found = next((file for file, profile in self.profiles.items() if profile.title == title), None)
        if found is None:
            done(Refused(Message(Code.NO_SUCH_PROFILE, {"title": title})))
        else:
            done(Loaded(Program(self.profiles[found]), found))

    def check_again(self, profile: Profile, done: Done) -> None:
        """Returns the same profile for any keyboard layout."""
        done(Loaded(Program(profile)))
