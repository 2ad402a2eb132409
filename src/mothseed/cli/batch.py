"""Making pictures of a sketch that are shown but not kept."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli import console, options
from mothseed.cli.progress import Progress
from mothseed.cli.recipe import proof_command
from mothseed.faults import SketchError

if TYPE_CHECKING:
    from mothseed.series import Edition, Job
    from mothseed.sketch import Sketch

_WORTH_PROCESSES = 6
"""Up to so many pictures are made sooner in this process than others would start."""


def made_in_order(jobs: Sequence[Job], sketch: Sketch, workers: int | None) -> list[Edition]:
    """The editions of some jobs in order, including failed ones; shows a progress bar on a terminal."""
    from mothseed.making import prepare_kernels
    from mothseed.series import in_this_process, processes
    from mothseed.series.crew import made
    from mothseed.series.job import failed_edition

    console.announce_waits()
    prepare_kernels()
    count = options.workers(workers, len(jobs))
    crew = processes(count) if count > 1 and len(jobs) > _WORTH_PROCESSES else in_this_process(sketch)
    editions: list[Edition] = []
    with Progress.shown("pictures") as progress:
        progress.start(len(jobs))
        for some in made(jobs, crew, lambda job, words: failed_edition(sketch, job, words), lambda: False):
            editions += some
            progress.advance(len(some), sum(edition.failed for edition in some))
    places = {job.key: place for place, job in enumerate(jobs)}
    return sorted(editions, key=lambda edition: places[edition.key])


def refuse_failed(editions: Sequence[Edition], sketch: Path) -> None:
    """Raise SketchError for the first failed edition, with the command that shows why; `sketch` is its path as written."""
    for edition in editions:
        if edition.failed:
            raise SketchError(edition.error, hint=f"to see it: {proof_command(sketch, edition)}")
