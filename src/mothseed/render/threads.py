"""Threads that share work."""

from __future__ import annotations

import os
import threading
from collections.abc import Callable, Sequence
from itertools import pairwise
from typing import Any, TypeVar

import numpy as np

from mothseed.arrays import WholeArray

Thing = TypeVar("Thing")

_PIECES = 4
"""Pieces of work for each thread, so that a thread that finishes early takes over from another."""
_WORTH_A_THREAD = 2000.0
"""Least microseconds of work for a thread: less is done before one has started."""


class Threads:
    """A number of threads, by default that of processors; none are started if one would finish as soon."""

    def __init__(self, count: int | None = None) -> None:
        self.count = count or os.cpu_count() or 1

    def share(self, work: Callable[[Thing], None], things: Sequence[Thing], effort: float = 1e9) -> None:
        """Do the work for each thing, in any order, and wait until all is done; the first exception is raised here. `effort`
        is roughly how many microseconds all of it takes on one thread.
        """
        count = int(min(self.count, max(len(things), 1), 1 + effort // _WORTH_A_THREAD))
        waiting = iter(things)
        faults: list[BaseException] = []

        def take() -> None:
            # Only one thread at a time takes from the iterator of a list or a range.
            for thing in waiting:
                if faults:
                    return
                try:
                    work(thing)
                except BaseException as fault:  # noqa: BLE001  # it is raised where the work was asked for
                    faults.append(fault)

        helpers = [threading.Thread(target=take, daemon=True) for _ in range(count - 1)]
        for helper in helpers:
            helper.start()
        take()
        for helper in helpers:
            helper.join()
        if faults:
            raise faults[0]

    def results(self, tasks: Sequence[Callable[[], Any]], effort: float) -> list[Any]:
        """What several tasks return; `effort` is as in `share`."""
        results: list[Any] = [None] * len(tasks)

        def do(number: int) -> None:
            results[number] = tasks[number]()

        self.share(do, range(len(tasks)), effort)
        return results

    def slices(self, before: WholeArray, least: int) -> list[slice]:
        """Consecutive slices of things, of about equal weight, for threads to share. `before` (n + 1,) is how much comes before
        each, and in all; no thread is worth starting for less than `least` of it.
        """
        pieces = 1 if self.count == 1 else min(_PIECES * self.count, int(before[-1]) // least + 1)
        inner = np.searchsorted(before, np.linspace(0, before[-1], pieces + 1)[1:-1])
        return [slice(*pair) for pair in pairwise([0, *inner.tolist(), len(before) - 1])]
