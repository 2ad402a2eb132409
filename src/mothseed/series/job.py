"""Making one edition: what is asked for, what came of it."""

from __future__ import annotations

import os
import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from mothseed.chance import Outcome
from mothseed.errors import MothSeedError
from mothseed.files import file_hash
from mothseed.render import RENDERER_VERSION, pixel_hash, rendered, write_png
from mothseed.series.seeds import Seed, edition_file
from mothseed.sketch import Sketch, perform
from mothseed.sketch.history import History


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

    @property
    def file(self) -> Path:
        """Where its picture belongs."""
        return self.folder / edition_file(self.seed)


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

    @property
    def failed(self) -> bool:
        """Whether there is a message instead of a picture."""
        return bool(self.error)


def make_edition(sketch: Sketch, job: Job) -> Edition:
    """Perform, render and write one edition, on one thread: a series has a process for each processor.

    A fault of the sketch is not raised, but told in the edition; a folder that cannot be written to is raised as FileError,
    since the next seed would meet it too.
    """
    started = time.perf_counter()
    try:
        impression = perform(sketch, job.seed, job.dials, job.reseeds)
        pixels = rendered(impression.drawing, job.width, threads=1)
    except MothSeedError as fault:
        sources = source_hashes(sketch, sketch.pictures)
        return Edition(
            job.seed, job.dials, job.reseeds, job.width, RENDERER_VERSION, sources, _since(started), error=failure_text(fault)
        )
    history = History.of(sketch, impression)
    write_png(job.file, pixels, history.as_json(), job.dpi)
    return Edition(
        seed=job.seed,
        dials=history.dials,
        reseeds=job.reseeds,
        width=job.width,
        renderer=RENDERER_VERSION,
        sources=source_hashes(sketch, impression.pictures),
        milliseconds=_since(started),
        fingerprint=history.fingerprint,
        pixel_hash=pixel_hash(pixels),
        file=job.file.name,
        outcomes=impression.outcomes,
    )


def failure_text(fault: MothSeedError) -> str:
    """A fault in one paragraph: what, where, the line itself."""
    where = f" ({fault.place.file.name}, line {fault.place.line}: {fault.place.text})" if fault.place else ""
    return fault.message + where


def source_hashes(sketch: Sketch, pictures: frozenset[Path]) -> dict[str, str]:
    """Content hashes of the sketch, its own modules and the given pictures, by path relative to its folder."""
    hashes = {sketch.path.name: sketch.source_hash}
    for file in [*sketch.module_files(), *sorted(pictures)]:
        hashes[os.path.relpath(file, sketch.folder)] = file_hash(file) or ""
    return hashes


def _since(started: float) -> float:
    return round((time.perf_counter() - started) * 1000, 1)
