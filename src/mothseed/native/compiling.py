"""Who is told that kernels are being compiled, which takes a while."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple


class CompilingProgress(NamedTuple):
    """How far compiling has come."""

    done: int
    of: int
    seconds_left: float
    """a guess"""


_asked: list[Callable[[CompilingProgress], None]] = []


def when_compiling(tell: Callable[[CompilingProgress], None]) -> None:
    """Have `tell` called several times from when parts begin to be compiled until they are all done; who asks last is told."""
    _asked[:] = [tell]


def tell_of_compiling(progress: CompilingProgress) -> None:
    """Tell whoever asked."""
    for tell in _asked:
        tell(progress)
