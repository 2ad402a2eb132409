"""Making one edition: what is asked for, what came of it."""

from __future__ import annotations

import os
import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from mothseed.arrays import FloatArray
from mothseed.chance import Outcome
from mothseed.chance.outcome import as_plain
from mothseed.errors import FileError, MothSeedError
from mothseed.files import file_hash
from mothseed.measure import ReducedBands, Swatches, forms_of, seen, shapes_of
from mothseed.render import RENDERER_VERSION
from mothseed.render.pixels import HashedBands
from mothseed.render.png import write_png_bands
from mothseed.render.raster import picture_size, rendered_bands
from mothseed.series.limits import NO_LIMITS, Limits, OutOfTime, time_limit
from mothseed.sheet import Drawing
from mothseed.sheet.guides import guided
from mothseed.sketch import Sketch, perform
from mothseed.sketch.history import History
from mothseed.sketch.seeds import Seed, edition_file


@dataclass(frozen=True, slots=True)
class Job:
    """One edition to make."""

    sketch: Path
    seed: Seed
    dials: dict[str, Any]
    reseeds: dict[str, Seed]
    width: int
    dpi: float | None
    folder: Path
    variant: str = ""
    without: tuple[str, ...] = ()
    number: str = ""
    """of a numbered print, such as 3/12"""
    guides: bool = False
    """whether guides are laid over it, for a picture that is looked at and not kept"""

    @property
    def key(self) -> tuple[str, Seed]:
        """What tells it from the other editions of its series."""
        return self.variant, self.seed

    @property
    def file(self) -> Path:
        """Where its picture belongs."""
        return self.folder / edition_file(self.seed, self.variant, self.number)


@dataclass(frozen=True, slots=True)
class Variant:
    """One way to make every seed: dials that are turned, streams that are drawn anew, layers that are left out."""

    name: str = ""
    dials: dict[str, Any] = field(default_factory=dict)
    reseeds: dict[str, Seed] = field(default_factory=dict)
    without: tuple[str, ...] = ()

    def job(self, sketch: Path, seed: Seed, width: int, folder: Path, dpi: float | None = None) -> Job:
        """The work of making a seed in this way."""
        layers = tuple(sorted(set(self.without)))
        return Job(sketch, seed, self.dials, self.reseeds, width, dpi, folder, self.name, layers)


AS_IT_IS = Variant()
"""A sketch as it is written."""


@dataclass(frozen=True, slots=True)
class Edition:
    """One made edition, or one that failed, as the ledger keeps it."""

    seed: Seed
    dials: dict[str, Any]
    reseeds: dict[str, Seed]
    width: int
    renderer: int
    sources: dict[str, str]
    """content hash of each file it was made from, by its path relative to the sketch's folder"""
    milliseconds: float
    fingerprint: str = ""
    pixel_hash: str = ""
    file: str = ""
    outcomes: tuple[Outcome, ...] = field(default=())
    error: str = ""
    sketch: str = ""
    """name of the sketch's file"""
    variant: str = ""
    without: tuple[str, ...] = ()
    measures: dict[str, float] = field(default_factory=dict)
    palette: Swatches = ()
    """the colours in use, each with its share"""
    appearance: bytes = field(default=b"", repr=False)
    """what it looks like, kept small; see `mothseed.measure.appearances`"""
    forms: bytes = field(default=b"", repr=False)
    """signature of the forms that it is drawn with; empty where only its picture is known"""
    number: str = ""
    """of a numbered print, such as 3/12"""
    mark: str = ""
    """what the artist thinks of it: keep, drop, maybe, or nothing yet"""
    note: str = ""

    @property
    def key(self) -> tuple[str, Seed]:
        """What tells it from the other editions of its series."""
        return self.variant, self.seed

    @property
    def title(self) -> str:
        """The seed, the variant where it is one of several, the number where it has one."""
        name = f"{self.seed} {self.variant}".rstrip()
        return f"{self.number}  {name}" if self.number else name

    @property
    def failed(self) -> bool:
        """Whether there is a message instead of a picture."""
        return bool(self.error)


def make_edition(sketch: Sketch, job: Job, limits: Limits = NO_LIMITS) -> Edition:
    """Perform, render and write one edition, on one thread: a series has a process for each processor.

    A fault of the sketch, or of its limits, is not raised but told in the edition; a folder that cannot be written to is
    raised as FileError, since the next seed would meet it too.
    """
    started = time.perf_counter()
    try:
        with time_limit(limits.seconds):
            impression = perform(sketch, job.seed, job.dials, job.reseeds, job.without)
            history = History.of(sketch, impression, source_hashes(sketch, impression.pictures), job.variant, job.number)
            pixels, image = _write(job, guided(impression.drawing) if job.guides else impression.drawing, history)
            sight = seen(image, impression.drawing.paper)
            measures = {**sight.look, **shapes_of(impression.drawing)}
            forms = forms_of(impression.drawing)
    except OutOfTime:
        words = f"it took longer than {limits.seconds:g} s; make it do less, or allow more with --time-limit"
        return failed_edition(sketch, job, words, _since(started))
    except MemoryError:
        return failed_edition(sketch, job, _TOO_MUCH, _since(started))
    except MothSeedError as fault:
        if isinstance(fault.__cause__, MemoryError):
            return failed_edition(sketch, job, failure_text(fault, _TOO_MUCH), _since(started))
        if isinstance(fault, FileError) and fault.place is None:
            raise
        return failed_edition(sketch, job, failure_text(fault), _since(started))
    return Edition(
        seed=job.seed,
        dials=history.dials,
        reseeds=job.reseeds,
        width=job.width,
        renderer=RENDERER_VERSION,
        sources=history.sources,
        milliseconds=_since(started),
        fingerprint=history.fingerprint,
        pixel_hash=pixels,
        file=job.file.name,
        outcomes=impression.outcomes,
        sketch=history.sketch,
        variant=job.variant,
        without=impression.without,
        measures=measures,
        number=job.number,
        palette=sight.palette,
        appearance=sight.appearance,
        forms=forms,
    )


def _write(job: Job, drawing: Drawing, history: History) -> tuple[str, FloatArray]:
    """Write the picture; returns the hash of its pixels, and it reduced. Each band is hashed and measured as it passes by."""
    width, height = picture_size(drawing.width, drawing.height, job.width)
    hashed = HashedBands(rendered_bands(drawing, width, threads=1), height)
    small = ReducedBands(hashed, width, height)
    write_png_bands(job.file, small, height, history.as_json(), job.dpi)
    return hashed.digest, small.image


_TOO_MUCH = "it needed more memory than it may have; make it draw less, or allow more with --memory-limit"


def failed_edition(sketch: Sketch, job: Job, words: str, milliseconds: float = 0.0) -> Edition:
    """An edition of which there is a message instead of a picture."""
    return Edition(
        seed=job.seed,
        dials={name: as_plain(value) for name, value in job.dials.items()},
        reseeds=job.reseeds,
        width=job.width,
        renderer=RENDERER_VERSION,
        sources=source_hashes(sketch, sketch.pictures),
        milliseconds=milliseconds,
        error=words,
        sketch=sketch.path.name,
        variant=job.variant,
        without=job.without,
        number=job.number,
    )


def failure_text(fault: MothSeedError, words: str = "") -> str:
    """A fault in one paragraph: what, where, the line itself."""
    where = f" ({fault.place.file.name}, line {fault.place.line}: {fault.place.text})" if fault.place else ""
    return (words or fault.message) + where


def source_hashes(sketch: Sketch, pictures: frozenset[Path]) -> dict[str, str]:
    """Content hashes of the sketch, its own modules and the given pictures, by path relative to its folder."""
    hashes = {sketch.path.name: sketch.source_hash}
    for file in [*sketch.module_files(), *sorted(pictures)]:
        hashes[os.path.relpath(file, sketch.folder)] = file_hash(file) or ""
    return hashes


def _since(started: float) -> float:
    return round((time.perf_counter() - started) * 1000, 1)
