"""Making the editions of a series, on all processors, none lost."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import FIRST_COMPLETED, Future, ProcessPoolExecutor, wait
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass
from itertools import islice
from pathlib import Path

from mothseed.errors import SeriesError
from mothseed.files import PART_SUFFIX
from mothseed.series.freshness import Freshness
from mothseed.series.job import Edition, Job, make_edition
from mothseed.series.ledger import Ledger
from mothseed.series.seeds import Seed
from mothseed.series.snapshot import keep_sources
from mothseed.series.worker import make_edition_in_worker, worker_pool
from mothseed.sketch import Sketch
from mothseed.sketch.perform import dial_values

_QUEUED_PER_WORKER = 4
"""Jobs handed out ahead: enough that no worker waits, few enough that stopping is quick and memory stays flat."""


@dataclass(frozen=True, slots=True)
class Request:
    """What a series is to hold."""

    sketch: Sketch
    seeds: tuple[Seed, ...]
    dials: dict[str, object]
    width: int
    folder: Path
    reseeds: dict[str, Seed]
    dpi: float | None = None

    def jobs(self) -> Iterator[Job]:
        """One job for each seed."""
        for seed in self.seeds:
            yield Job(self.sketch.path, seed, self.dials, self.reseeds, self.width, self.dpi, self.folder)


@dataclass(frozen=True, slots=True)
class Summary:
    """What a run did."""

    made: int
    kept: int
    failed: tuple[Edition, ...]


Watcher = Callable[[Edition], None]
"""Called with each edition once the ledger has it."""


def make_series(
    request: Request, workers: int, on_start: Callable[[int], None] | None = None, on_edition: Watcher | None = None
) -> Summary:
    """Make all editions that are missing or stale, and record each as soon as it is done.

    `on_start` is told how many that are. An edition is on disk before it is in the ledger, so that a run killed at any
    moment loses nothing that the ledger knows; what it was writing is swept away by the next run. Raises SeriesError where
    the folder is in use or a worker was killed, FileError where it cannot be written to.
    """
    dials = dial_values(request.sketch.artwork.dials, request.dials)
    with Ledger(request.folder) as ledger:
        _sweep_parts(request.folder)
        known = {edition.seed: edition for edition in ledger.editions()}
        _refuse_other_sketch(request, known.values())
        freshness = Freshness(request.folder, request.sketch.folder)
        jobs = [job for job in request.jobs() if freshness.reason(job, dials, known.get(job.seed))]
        if on_start:
            on_start(len(jobs))
        keep_sources(request.folder, request.sketch.folder, [request.sketch.path.name])
        kept: set[tuple[str, str]] = set()
        failed = []
        for edition in _made(request.sketch, jobs, workers):
            new_sources = {item for item in edition.sources.items() if item not in kept}
            if new_sources:
                keep_sources(request.folder, request.sketch.folder, edition.sources)
                kept |= new_sources
            ledger.add(edition)
            if edition.failed:
                failed.append(edition)
            if on_edition:
                on_edition(edition)
    return Summary(len(jobs) - len(failed), len(request.seeds) - len(jobs), tuple(failed))


def series_editions(folder: Path) -> list[Edition]:
    """All editions that the ledger of a folder knows."""
    with Ledger(folder) as ledger:
        return ledger.editions()


def _made(sketch: Sketch, jobs: list[Job], workers: int) -> Iterator[Edition]:
    """The editions of all jobs, in the order in which they are done."""
    workers = min(workers, len(jobs))
    if workers <= 1:
        for job in jobs:
            yield make_edition(sketch, job)
        return
    with worker_pool(workers) as pool:
        waiting = iter(jobs)
        running: set[Future[Edition]] = set()
        try:
            running = _submitted(pool, islice(waiting, workers * _QUEUED_PER_WORKER))
            while running:
                done, running = wait(running, return_when=FIRST_COMPLETED)
                running |= _submitted(pool, islice(waiting, len(done)))
                for future in done:
                    yield future.result()
        except BrokenProcessPool:
            raise SeriesError(
                "a worker was ended by the system, perhaps for want of memory",
                hint="run the same command again, with --jobs 1 or a smaller --width; what is done stays done",
            ) from None
        finally:
            for future in running:
                future.cancel()


def _submitted(pool: ProcessPoolExecutor, jobs: Iterable[Job]) -> set[Future[Edition]]:
    return {pool.submit(make_edition_in_worker, job) for job in jobs}


def _refuse_other_sketch(request: Request, known: Iterable[Edition]) -> None:
    name = request.sketch.path.name
    for edition in known:
        if name not in edition.sources:
            other = next(iter(edition.sources), "another sketch")
            raise SeriesError(
                f"{request.folder} holds a series of {other}, not of {name}", hint="choose another folder with -o"
            )


def _sweep_parts(folder: Path) -> None:
    """Remove what a killed run was writing; the ledger's lock says that nobody is writing now."""
    for part in folder.glob(f".*{PART_SUFFIX}"):
        part.unlink(missing_ok=True)
