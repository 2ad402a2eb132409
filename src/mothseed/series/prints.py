"""Final prints of chosen editions: remade, large, from the series' own source."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from mothseed.faults import SeriesError
from mothseed.series.edition import Edition
from mothseed.series.form import Form
from mothseed.series.job import Job
from mothseed.series.run import Request
from mothseed.series.source import source_of
from mothseed.sketch import Sketch, load_sketch


def sketch_of_prints(folder: Path, editions: Sequence[Edition]) -> Sketch:
    """The one sketch from which all of some editions were made. Raises SeriesError if the series no longer has it, or there
    are several.
    """
    place: Path | None = None
    for edition in editions:
        found = source_of(folder, edition)
        if isinstance(found, str):
            raise SeriesError(
                f"{edition.file} cannot be printed: {found}",
                hint="make the series again with mothseed edition, and choose again",
            )
        place = found
    if place is None:
        raise SeriesError(f"there is nothing to print in {folder}")
    return load_sketch(place)


def prints(
    sketch: Sketch,
    editions: Sequence[Edition],
    width: int,
    folder: Path,
    dpi: float | None,
    *,
    numbered: bool,
    forms: tuple[Form, ...] = (),
) -> Request:
    """A request for prints of editions as they were chosen, `width` pixels wide; with `numbered`, numbered in order."""
    jobs = []
    for number, edition in enumerate(editions, 1):
        recipe = edition.fitting(sketch.artwork.dials)
        label = f"{number}/{len(editions)}" if numbered else ""
        jobs.append(Job(sketch.path, recipe, width, dpi, folder, edition.variant, label, forms=forms))
    return Request(sketch, folder, tuple(jobs))
