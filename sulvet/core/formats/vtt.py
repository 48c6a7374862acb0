"""Timed notes as WebVTT, for any player that shows captions."""

from __future__ import annotations

import html
import io
from dataclasses import dataclass

import webvtt

from sulvet.core.language import said

#: How long a note stays, seconds, unless the next one comes earlier.
SHOWN = 4.0
LEAST = 0.5


@dataclass(frozen=True)
class TimedNote:
    """Words at a moment of a take."""

    seconds: float
    text: str


class NotesFileError(ValueError):
    """A notes file can't be used; the message says what to change."""


def dump(notes: list[TimedNote], end: float) -> str:
    """The text of a WebVTT file.

    end  where the take ends, seconds
    """
    file = webvtt.WebVTT()
    listed = sorted(notes, key=lambda note: note.seconds)
    for number, note in enumerate(listed):
        following = listed[number + 1].seconds if number + 1 < len(listed) else end
        until = max(min(note.seconds + SHOWN, following, end), note.seconds + LEAST)
        # Angle brackets are markup in a cue, and an empty line ends it.
        text = "\n".join(line for line in note.text.splitlines() if line.strip())
        file.captions.append(
            webvtt.Caption(_stamp(note.seconds), _stamp(until), html.escape(text, quote=False))
        )
    return str(file.content) + "\n"


def load(text: str) -> list[TimedNote]:
    """The notes of a WebVTT file, in their order.

    Raises NotesFileError with a sentence when it is none.
    """
    try:
        captions = list(webvtt.from_buffer(io.StringIO(text.lstrip("\ufeff"))))
    except Exception as error:
        # The package has an error of its own for each thing that may be wrong.
        raise NotesFileError(
            said(
                "This is not a WebVTT file: its first line must be WEBVTT, and each note needs "
                "a time."
            )
        ) from error
    if len(captions) != text.count("-->"):
        raise NotesFileError(
            said(
                "Of {count} notes only {captions} have a time that can be read, such as "
                "00:00:01.500 --> 00:00:04.000. Nothing was imported.",
                count=text.count("-->"),
                captions=len(captions),
            )
        )
    return [
        TimedNote(caption.start_in_seconds + caption.start_time.milliseconds / 1000,
                  html.unescape(caption.text))
        for caption in captions
    ]  # fmt: skip


def _stamp(seconds: float) -> str:
    whole = round(max(seconds, 0.0) * 1000)
    hours, rest = divmod(whole, 3_600_000)
    minutes, rest = divmod(rest, 60_000)
    return f"{hours:02d}:{minutes:02d}:{rest // 1000:02d}.{rest % 1000:03d}"
