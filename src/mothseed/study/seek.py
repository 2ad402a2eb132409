"""Searching for seeds that meet a condition."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field, replace
from pathlib import Path

from mothseed.faults import UnknownNameError
from mothseed.measure import seen_measures
from mothseed.series.condition import words_of
from mothseed.series.crew import Crew, made
from mothseed.series.edition import Edition
from mothseed.series.job import Job, Variant, failed_edition
from mothseed.series.table import OF_PICTURE, Table, selected, table_of
from mothseed.sketch import Recipe, Sketch


@dataclass(frozen=True, slots=True)
class Search:
    """What to search for, and how far."""

    sketch: Sketch
    recipe: Recipe
    """whose seed does not count"""
    condition: str
    """an SQL expression on the columns of the table of a series"""
    count: int
    start: int
    most: int
    """most seeds to try"""
    width: int
    """of the pictures in which measures are taken, in pixels"""
    folder: Path
    """folder for the pictures of what is found"""

    @property
    def looks_at_pictures(self) -> bool:
        """Whether the condition refers to a measure of pictures; if not, only hits are painted."""
        measured = {name for measure in seen_measures() for name in (measure, f"measure.{measure}")}
        return not words_of(self.condition).isdisjoint(name.casefold() for name in measured | OF_PICTURE)


@dataclass(frozen=True, slots=True)
class Found:
    """The result of a search."""

    editions: tuple[Edition, ...]
    tried: int
    """seeds up to the last one needed, or all"""
    failed: int


def seek(search: Search, crew: Crew, done: Callable[[int, int], None], stop: Callable[[], bool]) -> Found:
    """Try seeds in order until enough meet the condition; any number of workers find the same ones. `done` is told how many
    more were tried and failed; `stop` ends the search early. Raises FieldError for an invalid condition, or one with columns
    that no seed had.
    """
    wish = _Wish(search.condition)
    painted = search.looks_at_pictures
    waiting: dict[int, Edition] = {}
    found: list[Edition] = []
    following, failed = search.start, 0

    def enough() -> bool:
        return len(found) >= search.count or stop()

    def failure(job: Job, words: str) -> Edition:
        return failed_edition(search.sketch, job, words)

    seeds = range(search.start, search.start + search.most)
    for editions in made(_jobs(search, seeds, painted=painted), crew, failure, enough):
        waiting |= {int(edition.seed): edition for edition in editions}
        done(len(editions), sum(edition.failed for edition in editions))
        # In the order of their seeds, whichever finished first.
        while following in waiting and len(found) < search.count:
            edition = waiting.pop(following)
            following += 1
            failed += edition.failed
            if wish.fulfilled_by(edition):
                found.append(edition)
            else:
                _forget(search, edition)
    for edition in waiting.values():
        _forget(search, edition)
    if not found:
        wish.refuse_unknown()
    if not painted:
        jobs = _jobs(search, [int(edition.seed) for edition in found], painted=True)
        pictures = {edition.seed: edition for editions in made(jobs, crew, failure, lambda: False) for edition in editions}
        found = [pictures[edition.seed] for edition in found]
    return Found(tuple(found), following - search.start, failed)


def _jobs(search: Search, seeds: Iterable[int], *, painted: bool) -> Iterator[Job]:
    for seed in seeds:
        job = Variant(recipe=search.recipe).job(search.sketch.path, seed, search.width, search.folder)
        yield replace(job, painted=painted)


def _forget(search: Search, edition: Edition) -> None:
    if edition.file:
        (search.folder / edition.file).unlink(missing_ok=True)


@dataclass(slots=True)
class _Wish:
    """A condition, and the columns seen so far: an outcome has no column until it comes up."""

    condition: str
    columns: dict[str, None] = field(default_factory=dict)
    unknown: UnknownNameError | None = None
    understood: bool = False

    def fulfilled_by(self, edition: Edition) -> bool:
        if edition.failed:
            return False
        table = table_of([edition])
        self.columns |= dict.fromkeys(table.columns)
        row = table.dicts()[0]
        padded = Table(tuple(self.columns), tuple([row.get(name)] for name in self.columns))
        try:
            met = bool(len(selected(padded, self.condition)))
        except UnknownNameError as fault:
            self.unknown = fault
            return False
        self.understood = True
        return met

    def refuse_unknown(self) -> None:
        """Raises UnknownNameError if no seed had all columns of the condition."""
        if self.unknown is not None and not self.understood:
            raise self.unknown
