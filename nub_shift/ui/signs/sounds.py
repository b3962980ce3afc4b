"""Short sounds for people who do not look, played by a program of the session's sound system."""

from __future__ import annotations

import logging
import math
import shutil
import subprocess
import wave
from array import array
from pathlib import Path
from typing import Final

import platformdirs

from nub_shift.model.profile.signs import SignKind
from nub_shift.store.atomic import require_regular

log = logging.getLogger("nub_shift.ui")

RATE: Final = 22_050
_LOUD: Final = 0.22
_NOTE_S: Final = 0.07
# Programs that play a file: of PipeWire, PulseAudio, ALSA.
PLAYERS: Final = ("pw-play", "paplay", "aplay")
# Notes of each kind in hertz; reversed for deactivation.
NOTES: Final[dict[SignKind, tuple[float, ...]]] = {
    SignKind.LAYER: (523.0, 659.0),
    SignKind.PROFILE: (440.0, 554.0, 659.0),
    SignKind.LIVE: (330.0, 494.0),
    SignKind.TOGGLE: (784.0, 880.0),
    SignKind.CAROUSEL: (698.0,),
    SignKind.PACE: (587.0, 494.0),
    SignKind.BATTERY: (262.0, 247.0, 262.0),
    SignKind.PAD: (392.0, 294.0),
}


class Sounds:
    """Plays sounds; silent without a player."""

    def __init__(self) -> None:
        self._player = next((found for name in PLAYERS if (found := shutil.which(name))), "")
        self._folder = platformdirs.user_cache_path("nub-shift") / "sounds"
        self._playing: subprocess.Popen[bytes] | None = None

    def play(self, kind: SignKind, on: bool) -> None:
        """Plays the sound of a sign, unless another one is playing."""
        if not self._player or (self._playing is not None and self._playing.poll() is None):
            return
        try:
            file = self._file(kind, on)
            quiet = subprocess.DEVNULL
            self._playing = subprocess.Popen([self._player, str(file)], stdin=quiet, stdout=quiet, stderr=quiet)
        except OSError as error:
            log.warning("no sound: %s", error)

    def _file(self, kind: SignKind, on: bool) -> Path:
        path = self._folder / f"{kind.value}-{'on' if on else 'off'}.wav"
        if not path.exists():
            path.parent.mkdir(parents=True, exist_ok=True)
            write_sound(path, NOTES[kind] if on else NOTES[kind][::-1])
        return path


def write_sound(path: Path, notes: tuple[float, ...]) -> None:
    """Writes successive notes, each swelling and fading, as a WAV file."""
    count = round(RATE * _NOTE_S)
    samples = array("h")
    for hertz in notes:
        for index in range(count):
            swell = math.sin(math.pi * index / count) ** 2
            samples.append(round(32_767 * _LOUD * swell * math.sin(2 * math.pi * hertz * index / RATE)))
    require_regular(path)
    with wave.open(str(path), "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(RATE)
        file.writeframes(samples.tobytes())
