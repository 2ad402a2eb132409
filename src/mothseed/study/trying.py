"""Many attempts on one sketch, in this process and others."""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import FIRST_COMPLETED, BrokenExecutor, Executor, Future, wait
from contextlib import ExitStack, contextmanager
from typing import Any, Protocol

from mothseed.series.crew import processes

_WORTH_PROCESSES = 1.0
"""Seconds of work from which it pays to start other processes, which takes half of that."""
_CHUNK_SECONDS = 0.1
"""Seconds of work handed over at a time."""

Told = Callable[[int], None]
"""Called when so many more attempts are done."""
Attempt = Any
"""Anything hashable that says what to do otherwise."""
Effect = Any
"""What comes of an attempt; None if the sketch fails."""
Tried = Callable[[Sequence[Attempt]], list[Effect]]
"""A function that returns what comes of each of some attempts."""


class Trier(Protocol):
    """Makes attempts on a sketch."""

    @property
    def subject(self) -> TriedElsewhere:
        """What another process has to know to make the same."""

    def tried(self, attempt: Attempt) -> Effect:
        """What comes of an attempt."""


class TriedElsewhere(Protocol):
    """The subject of attempts, which can be sent to another process."""

    def bench(self) -> Trier:
        """What makes attempts on it there."""


@contextmanager
def trying(bench: Trier, workers: int, told: Told) -> Iterator[Tried]:
    """Tries attempts with so many workers, of which this process is one; never tries one twice."""
    with ExitStack() as stack:
        yield _Trying(bench, workers - 1, told, stack).tried


class _Trying:
    def __init__(self, bench: Trier, others: int, told: Told, stack: ExitStack) -> None:
        self._bench = bench
        self._others = others
        self._told = told
        self._stack = stack
        self._pool: Executor | None = None
        self._known: dict[Attempt, Effect] = {}
        self._seconds = 0.0
        """least seconds an attempt takes"""

    def tried(self, attempts: Sequence[Attempt]) -> list[Effect]:
        """What comes of each of some attempts, in order."""
        waiting = deque(dict.fromkeys(attempt for attempt in attempts if attempt not in self._known))
        running: dict[Future[list[Effect]], list[Attempt]] = {}
        while waiting or running:
            self._hand_out(waiting, running)
            if waiting:
                self._try_here(waiting.popleft())
            else:
                wait(running, return_when=FIRST_COMPLETED)
            for future in [future for future in running if future.done()]:
                self._receive(future, running.pop(future))
        return [self._known[attempt] for attempt in attempts]

    def _hand_out(self, waiting: deque[Attempt], running: dict[Future[list[Effect]], list[Attempt]]) -> None:
        """Give work to the other processes, if there is enough for them."""
        if self._pool is None and self._others and len(waiting) * self._seconds > _WORTH_PROCESSES:
            self._pool = self._stack.enter_context(processes(self._others).open(self._others))
        while self._pool is not None and len(waiting) > 1 and len(running) < self._others:
            count = min(max(int(_CHUNK_SECONDS / max(self._seconds, 1e-3)), 1), len(waiting) // 2)
            chunk = [waiting.popleft() for _ in range(count)]
            running[self._pool.submit(_tried_in_worker, self._bench.subject, chunk)] = chunk

    def _receive(self, future: Future[list[Effect]], chunk: list[Attempt]) -> None:
        try:
            effects = future.result()
        except BrokenExecutor:
            # One of them ended its process, and would end this one.
            effects, self._pool, self._others = [None] * len(chunk), None, 0
        self._known.update(zip(chunk, effects, strict=True))
        self._told(len(chunk))

    def _try_here(self, attempt: Attempt) -> None:
        started = time.perf_counter()
        self._known[attempt] = self._bench.tried(attempt)
        seconds = time.perf_counter() - started
        # The first is slow, as the sketch fills its own caches.
        self._seconds = min(self._seconds, seconds) if self._seconds else seconds
        self._told(1)


_benches: list[Trier] = []
"""In a worker process: the bench of its latest subject."""


def _tried_in_worker(subject: TriedElsewhere, attempts: Sequence[Attempt]) -> list[Effect]:
    if not _benches or _benches[0].subject != subject:
        _benches[:] = [subject.bench()]
    return [_benches[0].tried(attempt) for attempt in attempts]
