"""Who makes the editions: this process, several in parallel, or any executor."""

from __future__ import annotations

import multiprocessing
import os
import signal
import threading
from collections import deque
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import FIRST_COMPLETED, BrokenExecutor, Executor, Future, ProcessPoolExecutor, wait
from contextlib import AbstractContextManager, nullcontext
from dataclasses import dataclass
from functools import lru_cache, partial
from multiprocessing import resource_tracker
from pathlib import Path
from typing import Any

from mothseed.making import prepare_kernels
from mothseed.reading import Reading
from mothseed.series.edition import Edition
from mothseed.series.job import Job, make_edition
from mothseed.series.limits import NO_LIMITS, Limits, ending_the_process_after, limit_memory
from mothseed.series.snapshot import OwnCopy
from mothseed.sketch import Sketch, load_sketch

_CHUNKS_PER_WORKER = 2
"""Chunks per worker: one in progress and one waiting, so that no worker idles and stopping is quick."""
_CHUNK_SECONDS = 0.4
"""How long a chunk should take: handing it over costs a thousandth of that, and the last ones do not keep everyone
waiting.
"""
_MOST_IN_A_CHUNK = 64
_QUIET_SECONDS = 5.0
"""After so long without an answer, make sure there is still somebody to give one."""

Stop = Callable[[], bool]


@dataclass(frozen=True, slots=True)
class Crew:
    """How work is handed out and results come back."""

    workers: Callable[[], int]
    """how many there are at the moment"""
    open: Callable[[int], AbstractContextManager[Executor]]
    """an executor of that many workers"""
    task: Callable[..., Any]
    """makes a chunk of editions, wherever it is run"""
    received: Callable[[Any], list[Edition]] = list
    """the editions, from what a task returned"""
    given: tuple[Any, ...] = ()
    """arguments of each task, before its jobs"""
    lost: tuple[type[BaseException], ...] = (BrokenExecutor,)
    """what the executor raises when a worker was lost with its work"""
    is_there: Callable[[], bool] = lambda: True
    """whether there is anybody to hand work to; asked after a loss, and after a silence"""
    restore: Callable[[Stop], None] = lambda _stop: None
    """waits until there is somebody again, or until told to stop; raises if nobody comes"""


def in_this_process(sketch: Sketch, limits: Limits = NO_LIMITS) -> Crew:
    """A crew of this process alone."""

    def task(jobs: list[Job]) -> list[Edition]:
        return [make_edition(sketch, job, limits) for job in jobs]

    return Crew(lambda: 1, lambda _workers: _Now(), task)


def processes(workers: int, limits: Limits = NO_LIMITS) -> Crew:
    """A crew of processes on this machine, which stay warm between editions.

    They are spawned rather than forked: a fork would lack the threads of this process.
    """

    def pool(count: int) -> Executor:
        context = multiprocessing.get_context("spawn")
        return _Pool(count, mp_context=context, initializer=_begin_prepared, initargs=(limits,))

    return Crew(lambda: workers, pool, partial(make_chunk_in_worker, limits))


class _Pool(ProcessPoolExecutor):
    """Processes that ignore Ctrl-C from the start: if it ended one, the work of all would be lost."""

    def submit(self, *task: Any, **more: Any) -> Future[Any]:
        """Processes start here and inherit the signal mask of this thread, until they install their own handlers."""
        if not hasattr(signal, "pthread_sigmask"):
            return super().submit(*task, **more)
        resource_tracker.ensure_running()  # started later, it would unblock the signal
        before = signal.pthread_sigmask(signal.SIG_BLOCK, {signal.SIGINT})
        try:
            return super().submit(*task, **more)
        finally:
            signal.pthread_sigmask(signal.SIG_SETMASK, before)


def borrowed(executor: Executor, workers: int, limits: Limits = NO_LIMITS) -> Crew:
    """A crew of any executor's workers, which see the same files as this process. The executor is not shut down."""
    return Crew(lambda: workers, lambda _workers: nullcontext(executor), partial(make_chunk_in_worker, limits))


def made(jobs: Iterable[Job], crew: Crew, failed: Callable[[Job, str], Edition], stop: Stop) -> Iterator[list[Edition]]:
    """The editions of all jobs, chunk by chunk, in the order in which they are finished.

    Once `stop` returns true, nothing more is handed out and what is in progress is finished. If a worker is lost, whatever
    was handed out at the time is made again, each edition in a process of its own; one that loses that process too has
    `failed`. If there is nobody left to hand work to, no edition is to blame: the work waits until there is.
    """
    waiting = deque(jobs)
    while waiting and not stop():
        suspects: deque[Job] = deque()
        with crew.open(crew.workers()) as executor:
            for result in _streamed(waiting, crew, executor, stop):
                if isinstance(result, _Lost):
                    suspects += result.jobs
                else:
                    yield result
        while suspects and not stop() and crew.is_there():
            alone = _made_alone(suspects[0], crew, failed)
            if alone is None:
                break
            suspects.popleft()
            yield [alone]
        waiting.extendleft(reversed(suspects))
        if waiting and not stop() and not crew.is_there():
            crew.restore(stop)


@dataclass(frozen=True, slots=True)
class _Lost:
    """Jobs whose worker was lost."""

    jobs: list[Job]


def _streamed(waiting: deque[Job], crew: Crew, executor: Executor, stop: Stop) -> Iterator[list[Edition] | _Lost]:
    """Hand out chunks until none are left or a worker is lost."""
    running: dict[Future[Any], list[Job]] = {}
    seconds, count, broken = 0.0, 0, False
    while True:
        while waiting and not broken and not stop() and len(running) < _CHUNKS_PER_WORKER * crew.workers():
            even = len(waiting) // (_CHUNKS_PER_WORKER * crew.workers())
            size = min(max(int(_CHUNK_SECONDS * count / seconds), 1), _MOST_IN_A_CHUNK, max(even, 1)) if seconds > 0 else 1
            chunk = [waiting.popleft() for _ in range(min(size, len(waiting)))]
            try:
                running[executor.submit(crew.task, *crew.given, chunk)] = chunk
            except crew.lost:
                waiting.extendleft(reversed(chunk))
                broken = True
        if stop():
            for future in [future for future in running if future.cancel()]:
                waiting.extendleft(reversed(running.pop(future)))
        if not running:
            return
        done, _ = wait(running, timeout=_QUIET_SECONDS, return_when=FIRST_COMPLETED)
        if not done and not crew.is_there():
            yield _Lost([job for chunk in running.values() for job in chunk])
            return
        for future in done:
            chunk = running.pop(future)
            try:
                editions = crew.received(future.result())
            except crew.lost:
                broken = True
                yield _Lost(chunk)
                continue
            seconds, count = seconds + sum(edition.milliseconds for edition in editions) / 1000, count + len(editions)
            yield editions


def _made_alone(job: Job, crew: Crew, failed: Callable[[Job, str], Edition]) -> Edition | None:
    """An edition made on its own; None if there is nobody to make it."""
    with crew.open(1) as executor:
        try:
            return crew.received(executor.submit(crew.task, *crew.given, [job]).result())[0]
        except crew.lost:
            if not crew.is_there():
                return None
            return failed(job, "the process that made it was ended by the system, perhaps for want of memory or time")


def make_chunk_in_worker(limits: Limits, jobs: list[Job]) -> list[Edition]:
    """Make editions with the sketch as this process has loaded it."""
    editions = []
    for job in jobs:
        with ending_the_process_after(limits.seconds):
            editions.append(make_edition(_loaded(job.sketch, job.copy), job, limits))
    return editions


@lru_cache(maxsize=1)
def _loaded(path: Path, copy: Path | None) -> Sketch:
    return load_sketch(path, Reading(OwnCopy(path.parent, copy).place_of) if copy else None)


def begin_worker(limits: Limits = NO_LIMITS) -> None:
    """Set up a worker process: it ignores Ctrl-C and ends when its parent does."""
    # Ctrl-C reaches every process of a terminal; the parent decides, and lets them finish what they are writing.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    if hasattr(signal, "pthread_sigmask"):
        signal.pthread_sigmask(signal.SIG_UNBLOCK, {signal.SIGINT})
    # A thread left behind by a sketch would keep this process alive, and its parent waiting, for ever.
    threading._shutdown = lambda: None  # type: ignore[attr-defined]  # what Python waits with for threads
    threading.Thread(target=_leave_with_parent, daemon=True).start()
    limit_memory(limits.memory)


def _begin_prepared(limits: Limits) -> None:
    """The same, and load the renderer before the first edition is timed."""
    prepare_kernels()
    begin_worker(limits)


def _leave_with_parent() -> None:
    """Otherwise a worker whose parent was killed would wait for work for ever."""
    parent = multiprocessing.parent_process()
    if parent is not None:
        parent.join()
        os._exit(1)


class _Now(Executor):
    """Runs each task at once, in this process."""

    def submit(self, task: Any, /, *arguments: Any, **more: Any) -> Future[Any]:
        future: Future[Any] = Future()
        try:
            future.set_result(task(*arguments, **more))
        except Exception as fault:  # noqa: BLE001  # whatever it is, the one who asks for the result gets it
            future.set_exception(fault)
        return future
