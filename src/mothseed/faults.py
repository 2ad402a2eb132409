"""The kinds of fault: what can go wrong, each a class of its own with its exit status and its remedy.

A fault says what happened, where in the sketch, and what to do, in words for an artist. Nothing is decided by those words: who
has to tell faults apart looks at the class, and at what the fault carries. Faults do not know who shows them. Where one is
about something that was asked for it carries the `field`, and each front, the command line, a plan, the page, calls that by its
own name.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import ClassVar


@dataclass(frozen=True, slots=True)
class Whereabouts:
    """A line of the artist's own code."""

    file: Path
    line: int
    text: str

    def __str__(self) -> str:
        return f"{self.file}, line {self.line}"


def did_you_mean(name: str, known: Iterable[str], alike: float = 0.6) -> str:
    """A hint at the name that is most like one that is not known, or nothing where none is so much alike, from 0 to 1."""
    import difflib

    near = difflib.get_close_matches(name, list(known), 1, alike)
    return f"did you mean {near[0]}?" if near else ""


class MothSeedError(Exception):
    """Root of all that Moth Seed reports.

    `hint` is the remedy for this very fault; without one it is that of its kind. `place` is known once somebody who holds the
    traceback has found the artist's line in it.
    """

    exit_status: ClassVar[int] = 1
    when: ClassVar[str] = "something went wrong that Moth Seed can explain"
    """when a fault is of this kind, for the table of them all"""
    remedy: ClassVar[str] = ""
    """what to do about any fault of this kind; empty where that depends on the fault, which then tells it itself"""
    field: str = ""
    """what was asked for that has to be asked for otherwise; fronts name it as they call it"""

    def __init__(self, message: str, *, hint: str = "", place: Whereabouts | None = None) -> None:
        super().__init__(message)
        self.message = message
        self.hint = hint or self.remedy
        self.place = place


class Ended(BaseException):
    """A sketch's code is ended from outside; no Exception, so that one that catches all of those cannot go on."""


class SketchError(MothSeedError):
    """A sketch asked for something that cannot be drawn, or did not run."""

    when = "a sketch fails, or asks for something that cannot be drawn"


class ChangeError(SketchError, AttributeError):
    """An attribute was set or deleted of a value that never changes."""

    when = "a sketch sets an attribute of a view, a trail, a palette or another value that never changes"


class PictureError(MothSeedError):
    """A picture could not be read, or its kind of file cannot hold what it is to hold."""

    when = "a picture cannot be read, or a file format cannot hold it"
    remedy = "check the path, and whether the picture opens elsewhere"


class ExtensionError(MothSeedError):
    """What another package brings does not work; `package` is its name."""

    when = "a format, check or measure from another installed package fails"
    remedy = "report it to the package's authors, or uninstall it"

    def __init__(self, package: str, message: str, *, hint: str = "") -> None:
        super().__init__(f"{package}: {message}", hint=hint)
        self.package = package


class FileError(MothSeedError):
    """A file could not be written."""

    when = "a file cannot be written"
    remedy = "check that the folder is writable"


class FullDiskError(FileError):
    """A file could not be written for want of room."""

    when = "the disk, or your quota of it, is full"
    remedy = "make room, then run it again"


class CompilerError(MothSeedError):
    """The kernels could not be compiled for this machine."""

    when = "the renderer cannot be compiled for this machine"
    remedy = "check that Numba works: python -m numba -s; if MOTHSEED_CACHE_DIR is set, it names a folder to write to"


class SeriesError(MothSeedError):
    """A series folder or its ledger is not as it should be."""

    when = "a series does not have what was asked for"
    remedy = "mothseed table shows what there is"


class NoSeriesError(SeriesError):
    """A folder that holds no series."""

    when = "the folder named holds no series"
    remedy = "mothseed edition makes a series"


class SeriesInUseError(SeriesError):
    """Another process writes to the series."""

    when = "another run is making the same series"
    remedy = "wait until it is done, or choose another folder"
    field = "folder"


class DamagedLedgerError(SeriesError):
    """A ledger that cannot be read, or holds what no ledger holds."""

    when = "a ledger is damaged"
    remedy = "mothseed recover rebuilds it from the pictures"


class NewerLedgerError(SeriesError):
    """A ledger that a later version wrote."""

    when = "a ledger was written by a later version of Moth Seed"
    remedy = "install that version, or a later one"


class OtherSeriesError(SeriesError):
    """A folder that holds a series of another sketch."""

    when = "a folder holds a series of another sketch"
    remedy = "choose another folder"
    field = "folder"


class ClosedFolderError(SeriesError):
    """A series folder that cannot be made or written to."""

    when = "a series folder cannot be made or written to"
    remedy = "choose another folder"
    field = "folder"


class UsageError(MothSeedError):
    """What was asked for cannot be done."""

    exit_status = 2
    when = "the request cannot be carried out"


class MissingFileError(UsageError):
    """A sketch, plan or file of marks that is not there or cannot be read."""

    when = "a sketch, plan or other file does not exist, or cannot be read"
    remedy = "check the path"


class FieldError(UsageError):
    """Something that was asked for has a value that it cannot have.

    `field` is what the core calls it: width, seeds, dial spots, reseed tint. `fault` says what is wrong, and does not name it.
    """

    when = "a dial, seed, size, condition or other setting has an invalid value"

    def __init__(self, field: str, fault: str, *, hint: str = "") -> None:
        super().__init__(f"{field}: {fault}" if field else fault, hint=hint)
        self.field = field
        self.fault = fault

    def told_as(self, name: str) -> str:
        """The message with another name for the field."""
        return f"{name}: {self.fault}" if name else self.fault


class UnknownNameError(FieldError):
    """A dial, layer, column or stream that is not there; `name` is what was asked for, `known` what there is."""

    when = "a dial, layer, column or outcome does not exist"

    def __init__(self, field: str, fault: str, *, name: str, known: Iterable[str], hint: str = "") -> None:
        self.name = name
        self.known = tuple(known)
        super().__init__(field, fault, hint=did_you_mean(name, self.known) or hint)


class ManyFaultsError(UsageError):
    """A file with several faults, each with its place in it: all that is wrong at once."""

    when = "a plan or a file of marks has faults; all are listed"
    remedy = "fix them all; nothing was changed"

    def __init__(self, path: Path, faults: list[str], *, most: int = 100, hint: str = "") -> None:
        count = f"{len(faults)} fault{'s' * (len(faults) != 1)}"
        more = [f"... and {len(faults) - most} more"] * (len(faults) > most)
        super().__init__("".join([f"{path} has {count}:", *(f"\n  {fault}" for fault in [*faults[:most], *more])]), hint=hint)
        self.faults = tuple(faults)


def kinds() -> Iterator[type[MothSeedError]]:
    """Every kind of fault, the most general first."""
    waiting: list[type[MothSeedError]] = [MothSeedError]
    while waiting:
        kind = waiting.pop(0)
        yield kind
        waiting += kind.__subclasses__()
