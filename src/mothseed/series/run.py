"""Making the editions of a series, none lost."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from mothseed.faults import OtherSeriesError
from mothseed.files import PART_SUFFIX, flush, flush_folder
from mothseed.layout import SOURCE_FOLDER
from mothseed.series.crew import Crew, made
from mothseed.series.edition import Edition, Key
from mothseed.series.form import Form, form_of
from mothseed.series.freshness import NEEDED, Freshness
from mothseed.series.job import Job, Variant, failed_edition
from mothseed.series.ledger import Ledger
from mothseed.series.pictures import is_as_stamped, stamped
from mothseed.series.snapshot import begin_copy, changed_since, keep_sources
from mothseed.sketch import Sketch
from mothseed.sketch.perform import dial_values
from mothseed.sketch.seeds import Seed


@dataclass(frozen=True, slots=True)
class Request:
    """What a series should contain."""

    sketch: Sketch
    folder: Path
    jobs: tuple[Job, ...]

    @classmethod
    def of(
        cls,
        sketch: Sketch,
        seeds: Sequence[Seed],
        width: int,
        folder: Path,
        dpi: float | None = None,
        variants: Sequence[Variant] = (Variant(),),
        forms: tuple[Form, ...] = (),
    ) -> Request:
        """A request for each seed in each variant."""
        jobs = (variant.job(sketch.path, seed, width, folder, dpi, forms) for seed in seeds for variant in variants)
        return cls(sketch, folder, tuple(jobs))


@dataclass(frozen=True, slots=True)
class Summary:
    """What a run did."""

    made: int
    kept: int
    failed: tuple[Edition, ...]
    left: int = 0
    """editions not yet made when it was stopped"""
    changed: tuple[str, ...] = ()
    """files of the sketch that were changed during the run, which used them as they were before"""


@dataclass(frozen=True, slots=True)
class Due:
    """An edition that has to be made, and why."""

    job: Job
    reason: str


class Watcher:
    """Follows a run, and may stop it."""

    def begin(self, total: int) -> None:
        """So many editions will be made."""

    def damaged(self, words: list[str]) -> None:
        """These rows of the ledger are damaged; their editions will be made again."""

    def done(self, editions: list[Edition]) -> None:
        """These are in the ledger now."""

    def stop(self) -> bool:
        """Whether to begin nothing more."""
        return False


def due(request: Request, known: Iterable[Edition]) -> list[Due]:
    """The editions of a request that are missing or out of date; raises SeriesError if `known` are of another sketch."""
    recorded = {edition.key: edition for edition in known}
    _refuse_other_sketch(request, recorded.values())
    freshness = Freshness(request.folder, request.sketch.folder)
    found = []
    for job in request.jobs:
        dials = dial_values(request.sketch.artwork.dials, job.recipe.dials)
        reason = freshness.reason(job, dials, recorded.get(job.key))
        if reason:
            found.append(Due(job, reason))
    return found


def make_series(request: Request, crew: Crew, watcher: Watcher | None = None) -> Summary:
    """Make all editions that are missing or out of date, and record each as soon as it is done.

    An edition is on disk before it is in the ledger, so a run killed at any moment loses nothing that the ledger knows; the
    next run removes what was half written. Raises SeriesError if the folder is in use, FileError if it cannot be written to.
    """
    watcher = watcher or Watcher()
    with Ledger(request.folder) as ledger:
        _sweep_parts(request.folder)
        flush_folder(request.folder.parent)
        damaged: list[str] = []
        known = ledger.checked(damaged, NEEDED)
        watcher.damaged(damaged)
        copy = begin_copy(request.folder, request.sketch)
        had = {edition.key: tuple(form for name in edition.files if (form := form_of(name))) for edition in known}
        # An edition is made again in all the forms it had.
        jobs = [
            replace(job, copy=copy.copy, forms=tuple(dict.fromkeys((*had.get(job.key, ()), *job.forms))))
            for job in (each.job for each in due(request, known))
        ]
        _stamp_again(ledger, request.folder, known, jobs)
        files = {edition.key: {edition.file, *edition.files} - {""} for edition in known}
        watcher.begin(len(jobs))
        kept: dict[str, str] = {}
        lost: set[str] = set()
        failed: list[Edition] = []
        count = 0

        def fails(job: Job, words: str) -> Edition:
            return failed_edition(request.sketch, job, words)

        for editions in made(jobs, crew, fails, watcher.stop):
            for edition in editions:
                if not edition.sources.items() <= kept.items():
                    kept |= edition.sources
                    lost |= {*keep_sources(request.folder, request.sketch.folder, kept)}
            # What the ledger lists as done is on disk, so a power failure loses none of it.
            flush(
                request.folder / name for edition in editions if not edition.failed for name in (edition.file, *edition.files)
            )
            ledger.add([stamped(request.folder, edition) for edition in editions])
            _remove_left(request.folder, editions, files)
            count += len(editions)
            failed += [edition for edition in editions if edition.failed]
            watcher.done(editions)
        changed = {*changed_since(request.sketch.folder, kept), *lost}
    return Summary(count - len(failed), len(request.jobs) - len(jobs), tuple(failed), len(jobs) - count, tuple(sorted(changed)))


def _refuse_other_sketch(request: Request, known: Iterable[Edition]) -> None:
    name = request.sketch.path.name
    for edition in known:
        if edition.sketch != name:
            raise OtherSeriesError(f"{request.folder} holds a series of {edition.sketch}, not of {name}")


def _remove_left(folder: Path, editions: Iterable[Edition], files: Mapping[Key, set[str]]) -> None:
    """Remove earlier pictures of editions whose number, and so file name, has changed, and forms that they no longer have."""
    for edition in editions:
        for name in files.get(edition.key, set()) - {edition.file, *edition.files}:
            if edition.file and not (folder / name).parent.is_symlink():
                (folder / name).unlink(missing_ok=True)


def _sweep_parts(folder: Path) -> None:
    """Remove what a killed run was writing; we hold the ledger's lock, so nobody is writing now."""
    for part in (*folder.glob(f".*{PART_SUFFIX}"), *(folder / SOURCE_FOLDER).rglob(f".*{PART_SUFFIX}")):
        part.unlink(missing_ok=True)


def _stamp_again(ledger: Ledger, folder: Path, known: Iterable[Edition], due_jobs: Iterable[Job]) -> None:
    """Record new stamps of pictures that were checked and found unchanged, so that they need not be checked every time."""
    remade = {job.key for job in due_jobs}
    fresh = (each for each in known if not each.failed and each.key not in remade and not is_as_stamped(folder, each))
    changed = [after for each in fresh if (after := stamped(folder, each)) != each]
    if changed:
        ledger.stamp(changed)
