"""Errors in a sketch, explained by the artist's own line."""

from __future__ import annotations

import linecache
import signal
import sys
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from traceback import walk_tb
from types import FrameType, TracebackType

from mothseed.faults import Ended, MothSeedError, SketchError, Whereabouts

_PATIENCE = 0.5
"""Seconds a thread started by a sketch may go on after everything is drawn."""

_POOLS = "concurrent.futures.thread"

OwnFile = Callable[[Path], bool]
"""Whether a file is the artist's own code."""


@contextmanager
def explaining(is_own: OwnFile) -> Iterator[None]:
    """A block that runs the artist's code: exceptions are `explained`, and threads left running are refused. Only what ends
    it from outside passes through: Ctrl-C and `Ended`.
    """
    before = set(threading.enumerate())
    try:
        yield
    except Ended:
        raise
    except KeyboardInterrupt as fault:
        # If Ctrl-C is handled elsewhere, only the sketch can raise this.
        if signal.getsignal(signal.SIGINT) is signal.default_int_handler:
            raise
        raise explained(fault, is_own) from fault
    except BaseException as fault:
        raise explained(fault, is_own) from fault
    _refuse_threads(before, is_own)


def _refuse_threads(before: set[threading.Thread], is_own: OwnFile) -> None:
    """Refuse threads that go on after everything is drawn. Those of an executor are only waiting for work."""
    for thread in threading.enumerate():
        if thread in before or getattr(getattr(thread, "_target", None), "__module__", "") == _POOLS:
            continue
        thread.join(_PATIENCE)
        if thread.is_alive():
            frame = sys._current_frames().get(thread.ident or 0)
            while frame is not None and not is_own(Path(frame.f_code.co_filename)):
                frame = frame.f_back
            place = None if frame is None else _place(Path(frame.f_code.co_filename), frame.f_lineno)
            raise SketchError("a thread goes on after all is drawn", hint="join it before the function returns", place=place)


def explained(fault: BaseException, is_own: OwnFile) -> MothSeedError:
    """The error, with the deepest line of the artist's own code that led to it. Our own errors keep their class, words and
    remedy; any other becomes a SketchError with Python's words.
    """
    if isinstance(fault, SyntaxError):
        where = None
        if fault.filename and is_own(Path(fault.filename)):
            where = _place(Path(fault.filename), fault.lineno or 1)
        return SketchError(f"this is not Python: {fault.msg}", place=where)
    frame, line = _deepest(fault.__traceback__, is_own)
    place = None
    if frame is not None:
        place = _place(Path(frame.f_code.co_filename), line)
    if isinstance(fault, MothSeedError):
        fault.place = fault.place or place
        return fault
    if isinstance(fault, SystemExit):
        return SketchError("the sketch stopped the program", hint="leave exit() out; return ends a function", place=place)
    # Only now, as importing what reads a line takes long.
    from mothseed.sketch.remedy import remedy, words_of

    words, hint = type(fault).__name__, ""
    with suppress(Exception):  # the repr of a sketch's own class may fail in turn
        words = words_of(fault)
        hint = remedy(fault, frame, place.text if place else "")
    return SketchError(words, hint=hint, place=place)


def _place(file: Path, line: int) -> Whereabouts:
    return Whereabouts(file, line, _line_text(file, line))


def _deepest(traceback: TracebackType | None, is_own: OwnFile) -> tuple[FrameType | None, int]:
    found: tuple[FrameType | None, int] = (None, 0)
    for frame, line in walk_tb(traceback):
        if is_own(Path(frame.f_code.co_filename)):
            found = (frame, line)
    return found


def _line_text(file: Path, line: int) -> str:
    linecache.checkcache(str(file))
    return linecache.getline(str(file), line).strip()
