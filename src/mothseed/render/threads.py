"""Threads that share work."""

from __future__ import annotations

import os
import threading
from collections.abc import Callable

_WORTH_A_THREAD = 2000.0
"""Least microseconds of work for a thread: less is done before one has started."""


class Threads:
    """A number of threads, by default that of processors; none are started if one would finish as soon."""

    def __init__(self, count: int | None = None) -> None:
        self.count = count or os.cpu_count() or 1

    def share(self, work: Callable[[int], None], numbers: range, effort: float = 1e9) -> None:
        """Do the work for each number, in any order, and wait until all is done; the first exception is raised here. `effort`
        is roughly how many microseconds all of it takes on one thread.
        """
        count = int(min(self.count, max(len(numbers), 1), 1 + effort // _WORTH_A_THREAD))
        waiting = iter(numbers)
        faults: list[BaseException] = []

        def take() -> None:
            # Only one thread at a time takes from the iterator of a range.
            for number in waiting:
                if faults:
                    return
                try:
                    work(number)
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
