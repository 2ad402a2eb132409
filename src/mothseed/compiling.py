"""Who is told that kernels are being compiled, which takes a while. To ask for it the compiler need not be there."""

from __future__ import annotations

from collections.abc import Callable

_asked: list[Callable[[], None]] = []


def when_compiling(tell: Callable[[], None]) -> None:
    """Have `tell` called, once, before the first kernel that is not on disk yet is compiled; who asks last is told."""
    _asked[:] = [tell]


def compiling_begins() -> None:
    """Tell whoever asked."""
    while _asked:
        _asked.pop()()
