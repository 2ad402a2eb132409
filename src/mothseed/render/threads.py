"""Threads that share work among them."""

from __future__ import annotations

import os
import threading
from collections.abc import Callable

_WORTH_A_THREAD = 2000.0
"""Microseconds of work for which to begin a thread: less is done before it has begun."""


class Threads:
    """As many threads as were asked for, or as there are processors; they are not begun where one is done as soon."""

    def __init__(self, count: int | None = None) -> None:
        self.count = count or os.cpu_count() or 1

    def share(self, work: Callable[[int], None], numbers: range, effort: float = 1e9) -> None:
        """Do the work for each number, in any order, and wait until all is done; whatever it raises first is raised here.

        `effort` is about how many microseconds all of it takes one thread.
        """
        count = int(min(self.count, max(len(numbers), 1), 1 + effort // _WORTH_A_THREAD))
        waiting = iter(numbers)
        faults: list[BaseException] = []

        def take() -> None:
            # A range's iterator is taken from by one thread at a time.
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
