"""Start of the session's runner, with the state at its last end."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from nub_shift.engine.program import Program
from nub_shift.keyboard.session import SessionLayout
from nub_shift.model.kinds import OutputKind, PadKind
from nub_shift.model.messages import Code, Message
from nub_shift.model.problems import ProfileError
from nub_shift.model.profile.profile import Profile
from nub_shift.protocol.messages import State
from nub_shift.protocol.sockets import resident_socket
from nub_shift.runner.errors import CannotPlay
from nub_shift.runner.process import Options, Player, ResidentOptions
from nub_shift.runner.session_service.residence import ResidentShare
from nub_shift.store.library import library_folder
from nub_shift.store.profile_files import read_profile
from nub_shift.store.residence import ResidentPlayer, read_kept, residence_path
from nub_shift.tasks.usual import chosen_pad, newest_sound_profile, usual_output
from nub_shift.translation import tr


def resident_options(output: OutputKind | None, seconds: float | None, described: Callable[[State], str]) -> Options:
    """Returns the options of a resident runner by its kept state; at first the last used profile, on any pad.

    An unreadable profile is replaced by the last used one, in rehearsal, with a message. Without an output, the output
    chosen before is used, if any. `described` returns a state as one line.

    Raises:
        OSError: there is no profile, and none can be created.
    """
    path, layout = residence_path(), SessionLayout()
    kept, wrong = read_kept(path)
    news = [Message(Code.KEPT_FAULTY, {"why": fault}) for fault in wrong]
    players: list[Player] = []
    numbers: dict[int, int] = {}  # kept numbers to present ones
    for number, player in enumerate(kept.players):
        if player.shares_with < 0 and (player.pad or player.file):
            numbers[number] = len(players)
            profile, file = _profile_of(player, layout, news)
            players.append(Player(_pad_of(player, news), profile, file, player.identity))
    shares: list[ResidentShare] = []
    for number, player in enumerate(kept.players):
        if player.shares_with >= 0 and player.shares_with not in numbers:
            why = tr("player {number} shares a pad with nobody", number=number + 1)
            news.append(Message(Code.KEPT_FAULTY, {"why": why}))
        elif player.shares_with in numbers:
            profile, file = _profile_of(player, layout, news)
            program = Program(profile, layout)
            shares.append(ResidentShare(numbers[player.shares_with], program, file, player.controls))
    if not players:
        profile, newest = newest_sound_profile(layout)
        players.append(Player(PadKind.EVDEV.word, profile, str(newest)))
    chosen = output.value if output is not None else kept.output
    to = OutputKind(chosen) if chosen in {kind.value for kind in OutputKind} else usual_output()
    staying = ResidentOptions(path, described, chosen, tuple(shares), kept.simulated, tuple(news))
    # A profile that replaces an unreadable one starts in rehearsal, since nobody chose it for the window in front.
    live = kept.live and not news
    return Options(
        *(tuple(players), (library_folder(),), to, not live, seconds, resident_socket(), layout),
        signs=True,
        staying=staying,
    )


def _pad_of(player: ResidentPlayer, news: list[Message]) -> str:
    """Returns the pad of a player; any pad if that one is not possible."""
    try:
        return chosen_pad(player.pad) if player.pad else PadKind.EVDEV.word
    except CannotPlay as error:
        news.append(error.message)
        return PadKind.EVDEV.word


def _profile_of(player: ResidentPlayer, layout: SessionLayout, news: list[Message]) -> tuple[Profile, str]:
    """Returns the profile of a player and its file, or their replacement."""
    if player.file:
        try:
            return read_profile(Path(player.file), layout), player.file
        except ProfileError as error:
            news.append(Message(Code.PROFILE_FAULTY, {"title": Path(player.file).stem, "why": str(error)}))
    profile, newest = newest_sound_profile(layout)
    return profile, str(newest)
