"""Voice notes: what a telephone's browser records, told apart by what it is, not by what it says it is."""

from __future__ import annotations

from dataclasses import dataclass

from jinba.core.errors import JinbaError

LARGEST_BYTES = 3_000_000
"""A minute by the poorest coder a browser has, twice over."""

MOST_NOTES = 200
"""Notes that are kept of one model, most of them words: a season of test flights. Common practice, no source."""

MOST_VOICE_BYTES = 5_000_000
"""Voice notes of one model together: a project file with all of them is still sent by mail. Some twenty-five minutes of talk."""

_KINDS = (
    # First bytes: EBML (RFC 8794, 11.2.1), Ogg (RFC 3533, 6), and the file type box of ISO/IEC 14496-12, 4.3 (at the fifth byte).
    (0, b"\x1a\x45\xdf\xa3", "audio/webm"),
    (0, b"OggS", "audio/ogg"),
    (4, b"ftyp", "audio/mp4"),
)


class VoiceError(JinbaError):
    """Bytes that are no voice note; the title says what to do."""

    code = "bad-voice"


@dataclass(frozen=True, slots=True)
class Voice:
    """A voice note as it is kept: its bytes and their media type."""

    sound: bytes
    media_type: str


def read_voice(data: bytes) -> Voice:
    """Return a voice note. Raises: VoiceError for anything that is none, or too much of one."""
    if len(data) > LARGEST_BYTES:
        raise VoiceError("This voice note is larger than 3 MB. A minute is enough: say the rest in another one.")
    for at, mark, media_type in _KINDS:
        if data[at : at + len(mark)] == mark:
            return Voice(data, media_type)
    raise VoiceError("This is no voice note that can be played: it takes WebM, Ogg or MP4. Nothing was added.")
