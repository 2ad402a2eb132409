"""Making one edition: the job and its result."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from pathlib import Path
from time import perf_counter  # by name: a sketch may replace anything in the module
from typing import Any

from mothseed.arrays import FloatArray
from mothseed.faults import FileError, MothSeedError
from mothseed.formats import Effort
from mothseed.making import make
from mothseed.measure import forms_of, makeup_of, measured, seen
from mothseed.series.edition import Edition, Key
from mothseed.series.form import Form
from mothseed.series.limits import NO_LIMITS, Limits, OutOfTime, time_limit
from mothseed.series.other_forms import write_form
from mothseed.sheet import Drawing
from mothseed.sketch import Sketch
from mothseed.sketch.history import plain_dials, source_hashes
from mothseed.sketch.recipe import AS_IT_IS, Recipe
from mothseed.sketch.seeds import Seed, edition_file


@dataclass(frozen=True, slots=True)
class Job:
    """One edition to make."""

    sketch: Path
    recipe: Recipe
    width: int
    dpi: float | None
    folder: Path
    variant: str = ""
    number: str = ""
    """of a numbered print, such as 3/12"""
    guides: bool = False
    """whether guides are drawn over it, for a picture that will not be kept"""
    copy: Path | None = None
    """the series' own copy of the sketch's folder, from which files are read"""
    forms: tuple[Form, ...] = ()
    """the other forms in which its picture is written"""
    painted: bool = True
    """whether to paint a picture, rather than just record outcomes and count marks"""
    measured: bool = True
    """whether to measure the picture, which one that is only shown need not be"""

    @property
    def key(self) -> Key:
        """What tells it from the other editions of its series."""
        return self.variant, self.recipe.seed

    @property
    def effort(self) -> Effort:
        """How much effort goes into compressing its file: prints are kept for good, most editions of a series are not."""
        return Effort.USUAL if self.number else Effort.QUICK

    @property
    def file(self) -> Path:
        """Where its picture belongs."""
        return self.folder / edition_file(self.recipe.seed, self.variant, self.number)


@dataclass(frozen=True, slots=True)
class Variant:
    """One way to make every seed: a name and a recipe, whose own seed is ignored."""

    name: str = ""
    recipe: Recipe = field(default=AS_IT_IS)

    def job(
        self, sketch: Path, seed: Seed, width: int, folder: Path, dpi: float | None = None, forms: tuple[Form, ...] = ()
    ) -> Job:
        """The job of making a seed in this way."""
        return Job(sketch, self.recipe.but(seed=seed), width, dpi, folder, self.name, forms=forms)


def make_edition(sketch: Sketch, job: Job, limits: Limits = NO_LIMITS) -> Edition:
    """Perform, render and write one edition on one thread, since a series has a process for each processor.

    A fault of the sketch, or exceeding a limit, is recorded in the edition rather than raised. A folder that cannot be
    written to raises FileError, as the next seed would fail the same way.
    """
    started = perf_counter()
    try:
        with time_limit(limits.seconds):
            made = make(sketch, job.recipe)
            sources = source_hashes(sketch, made.impression.pictures)
            made = replace(made, variant=job.variant, number=job.number, sources=sources)
            if not job.painted:
                counted = makeup_of(made.drawing)
                return Edition.of(made.history, width=job.width, milliseconds=_since(started), measures=counted)
            pixels, image = made.write_measured(job.file, job.width, job.dpi, guides=job.guides, effort=job.effort)
            kept = measurements(made.drawing, image) if job.measured else {}
            files = {
                form.file(job.file.name): write_form(form, made, job.folder, job.file.name, job.width, job.dpi)
                for form in job.forms
            }
    except OutOfTime:
        words = f"it took longer than {limits.seconds:g} s; make it do less, or allow it more time"
        return failed_edition(sketch, job, words, _since(started))
    except MemoryError:
        return failed_edition(sketch, job, _TOO_MUCH, _since(started))
    except MothSeedError as fault:
        if isinstance(fault.__cause__, MemoryError):
            return failed_edition(sketch, job, failure_text(fault, _TOO_MUCH), _since(started))
        if isinstance(fault, FileError) and fault.place is None:
            raise
        return failed_edition(sketch, job, failure_text(fault), _since(started))
    except Exception as fault:  # noqa: BLE001  # whatever it is, the other editions are made
        words = f"a mistake of Moth Seed, not of the sketch: {type(fault).__name__}: {fault}"
        return failed_edition(sketch, job, words, _since(started))
    return Edition.of(
        made.history,
        width=job.width,
        milliseconds=_since(started),
        pixel_hash=pixels,
        file=job.file.name,
        files=files,
        **kept,
    )


def measurements(drawing: Drawing, image: FloatArray) -> dict[str, Any]:
    """What an edition records about how its picture looks, by field name; `image` is the reduced picture."""
    sight = seen(image, drawing.paper)
    measures, troubles = measured(drawing, image)
    return {
        "measures": {**sight.look, **measures},
        "palette": sight.palette,
        "appearance": sight.appearance,
        "forms": forms_of(drawing),
        "troubles": troubles,
    }


_TOO_MUCH = "it needed more memory than it may have; make it draw less, or allow it more memory"


def failed_edition(sketch: Sketch, job: Job, words: str, milliseconds: float = 0.0) -> Edition:
    """An edition with a message instead of a picture."""
    return Edition(
        seed=job.recipe.seed,
        dials=plain_dials(job.recipe),
        reseeds=job.recipe.reseeds,
        without=job.recipe.without,
        sketch=sketch.path.name,
        variant=job.variant,
        number=job.number,
        sources=source_hashes(sketch, sketch.pictures),
        width=job.width,
        milliseconds=milliseconds,
        error=words,
    )


def failure_text(fault: MothSeedError, words: str = "") -> str:
    """A fault in one paragraph: what, where, the line itself."""
    where = f" ({fault.place.file.name}, line {fault.place.line}: {fault.place.text})" if fault.place else ""
    return (words or fault.message) + where


def _since(started: float) -> float:
    return round((perf_counter() - started) * 1000, 1)
