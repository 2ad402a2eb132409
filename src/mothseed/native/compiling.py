"""Progress of compiling kernels, which takes a while."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple


class CompilingProgress(NamedTuple):
    """Progress of compiling."""

    done: int
    of: int
    seconds_left: float
    """a guess"""


_asked: list[Callable[[CompilingProgress], None]] = []


def when_compiling(tell: Callable[[CompilingProgress], None]) -> None:
    """Have `tell` called several times while parts are being compiled; replaces an earlier listener."""
    _asked[:] = [tell]


def tell_of_compiling(progress: CompilingProgress) -> None:
    """Call the listener, if there is one."""
    for tell in _asked:
        tell(progress)
