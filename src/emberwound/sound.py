"""A stand-in for a sound device: the sound cues of a chronicle as short tones in one WAV file.

Each tone rises within `RISE` seconds, so that it is heard as a stroke of its own, and fades by halves over its time.
"""

from __future__ import annotations

import wave
from io import BytesIO
from typing import TYPE_CHECKING

import numpy as np

from emberwound.vocabulary.errors import OutputError
from emberwound.vocabulary.events import Cue

if TYPE_CHECKING:
    from collections.abc import Iterable
    from pathlib import Path

    from numpy.typing import NDArray

    from emberwound.chronicle import Chronicle
    from emberwound.face import Rulebook

SAMPLE_RATE = 44_100
RISE = 0.003
HALVINGS = 7.0
PARTIALS = ((1.0, 1.0), (2.0, 0.3), (3.02, 0.12))
"""How many times the pitch, and how loud."""
LOUDNESS = 0.5
"""The height of a tone of full strength; a mix that would go above 1 is made softer as a whole."""
LONGEST = 3600.0


def check_wav(rules: Rulebook, file: Path) -> None:
    """Raise OutputError for a rulebook without sounds, and for a file of another sort."""
    if file.suffix.lower() != ".wav":
        raise OutputError(f"--wav {file}: sounds are written as .wav; got {file.suffix or 'no suffix'!r}")
    if not any(cue.medium == "sound" for cue in rules.book.cues.values()):
        raise OutputError(f'{rules.source}: no cue is a sound; give it one, such as [cues.hit] with on = ["wounded"]')


def mix(chronicle: Chronicle) -> NDArray[np.float32]:
    """All sound cues of a chronicle as one track, shape (samples,) within -1 and 1, `SAMPLE_RATE` a second.

    It lasts as long as the bout, and longer where a tone does. Raises OutputError for more than an hour.
    """
    given = [event for event in chronicle.events if isinstance(event, Cue) and event.medium == "sound"]
    seconds = max((chronicle.seconds, *(cue.ends for cue in given)))
    if seconds > LONGEST:
        raise OutputError(f"{seconds:g} s of sound; at most {LONGEST:g} s are written")
    track = np.zeros(round(seconds * SAMPLE_RATE) + 1, np.float32)
    for cue, ends in zip(given, _ends(given), strict=True):
        first = round(cue.starts * SAMPLE_RATE)
        sound = tone(cue.pitch, cue.ends - cue.starts, cue.strength, until=ends - cue.starts)
        track[first : first + len(sound)] += sound[: len(track) - first]
    highest = float(np.abs(track).max())
    return track / np.float32(highest) if highest > 1.0 else track


def tone(pitch: float, seconds: float, strength: float, *, until: float | None = None) -> NDArray[np.float32]:
    """One stroke of a pitch in hertz, shape (samples,); cut short at `until`, counted from its start."""
    lasts = seconds if until is None else min(seconds, until)
    times = np.arange(max(round(lasts * SAMPLE_RATE), 1)) / SAMPLE_RATE
    heard = [(share, loud) for share, loud in PARTIALS if pitch * share < SAMPLE_RATE / 2]
    wave_form = sum((loud * np.sin(2.0 * np.pi * times * pitch * share) for share, loud in heard), np.zeros(len(times)))
    rises = np.minimum(times / RISE, 1.0)
    fades = np.exp2(-HALVINGS * times / seconds)
    stops = np.clip((lasts - times) / RISE, 0.0, 1.0)
    return (LOUDNESS * strength * wave_form * rises * fades * stops).astype(np.float32)


def to_wav(track: NDArray[np.float32]) -> bytes:
    """A track as the bytes of a WAV file: one channel, 16 bits."""
    buffer = BytesIO()
    with wave.open(buffer, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(SAMPLE_RATE)
        file.writeframes((track * 32767.0).astype("<i2").tobytes())
    return buffer.getvalue()


def _ends(given: Iterable[Cue]) -> list[float]:
    """When each cue ends, those cut short by a later one earlier than they would."""
    given = list(given)
    cuts = {cue.cuts: cue.starts for cue in given if cue.cuts is not None}
    return [cuts.get(cue.seq, cue.ends) for cue in given]
