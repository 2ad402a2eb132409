"""What went wrong in a sketch, told by the artist's own line."""

from __future__ import annotations

import linecache
from collections.abc import Callable
from pathlib import Path
from traceback import walk_tb
from types import FrameType, TracebackType

from mothseed.faults import MothSeedError, SketchError, Whereabouts
from mothseed.sketch.remedy import remedy, words_of

OwnFile = Callable[[Path], bool]
"""Whether a file is the artist's own code."""


def explained(fault: BaseException, is_own: OwnFile) -> MothSeedError:
    """The fault with the deepest line of the artist's own code that led to it.

    One of ours keeps its kind, words and remedy; any other becomes a SketchError with Python's words.
    """
    if isinstance(fault, SyntaxError):
        where = None
        if fault.filename and is_own(Path(fault.filename)):
            file, line = Path(fault.filename), fault.lineno or 1
            where = Whereabouts(file, line, _line_text(file, line))
        return SketchError(f"this is not Python: {fault.msg}", place=where)
    frame, line = _deepest(fault.__traceback__, is_own)
    place = None
    if frame is not None:
        file = Path(frame.f_code.co_filename)
        place = Whereabouts(file, line, _line_text(file, line))
    if isinstance(fault, MothSeedError):
        fault.place = fault.place or place
        return fault
    if isinstance(fault, SystemExit):
        return SketchError("the sketch stopped the program", hint="leave exit() out; return ends a function", place=place)
    return SketchError(words_of(fault), hint=remedy(fault, frame), place=place)


def _deepest(traceback: TracebackType | None, is_own: OwnFile) -> tuple[FrameType | None, int]:
    found: tuple[FrameType | None, int] = (None, 0)
    for frame, line in walk_tb(traceback):
        if is_own(Path(frame.f_code.co_filename)):
            found = (frame, line)
    return found


def _line_text(file: Path, line: int) -> str:
    linecache.checkcache(str(file))
    return linecache.getline(str(file), line).strip()
