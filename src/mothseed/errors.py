"""What can go wrong, in words for an artist: what happened, where in the sketch, what to do."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path


@dataclass(frozen=True, slots=True)
class Place:
    """A line of the artist's own code."""

    file: Path
    line: int
    text: str

    def __str__(self) -> str:
        return f"{self.file}, line {self.line}"


def did_you_mean(name: str, known: Iterable[str]) -> str:
    """A hint at the name that is most like one that is not known, or nothing where none is."""
    import difflib

    near = difflib.get_close_matches(name, list(known), 1)
    return f"did you mean {near[0]}?" if near else ""


class MothSeedError(Exception):
    """Root of all that Moth Seed reports; owns an exit status, and carries the remedy apart from the fault.

    `place` is known once somebody who holds the traceback has found the artist's line in it.
    """

    exit_status = 1

    def __init__(self, message: str, *, hint: str = "", place: Place | None = None) -> None:
        super().__init__(message)
        self.message = message
        self.hint = hint
        self.place = place


class SketchError(MothSeedError):
    """A sketch asked for something that cannot be drawn, or did not run."""


class PictureError(MothSeedError):
    """A picture could not be read or written."""


class SeriesError(MothSeedError):
    """A series folder or its ledger is not as it should be."""


class UsageError(MothSeedError):
    """The command line does not say what can be done."""

    exit_status = 2


class FileError(MothSeedError):
    """A file could not be read or written."""
