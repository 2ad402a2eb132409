"""Threads that share work among them."""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from types import TracebackType
from typing import Self


class Threads:
    """As many threads as were asked for, or as there are processors; they are not begun before there is work for two."""

    def __init__(self, count: int | None = None) -> None:
        self.count = count or os.cpu_count() or 1
        self._pool: ThreadPoolExecutor | None = None

    def __enter__(self) -> Self:
        return self

    def __exit__(self, kind: type[BaseException] | None, fault: BaseException | None, trace: TracebackType | None) -> None:
        if self._pool:
            self._pool.shutdown()

    def share(self, work: Callable[[int], None], numbers: range) -> None:
        """Do the work for each number, in any order, and wait until all is done."""
        if self.count == 1 or len(numbers) < 2:
            for number in numbers:
                work(number)
            return
        self._pool = self._pool or ThreadPoolExecutor(self.count)
        for _ in self._pool.map(work, numbers):
            pass
