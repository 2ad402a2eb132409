"""Two series held against each other, edition by edition: what an edited rule does to all of them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from mothseed.chance.outcome import as_plain, by_label
from mothseed.colour.oklch import NOTICEABLE
from mothseed.faults import MothSeedError
from mothseed.measure import MEASURES, appearances, signatures
from mothseed.measure.forms import FORMS_BYTES, shared_forms
from mothseed.measure.seen import APPEARANCE_BYTES
from mothseed.series import Edition, Job
from mothseed.series.source import source_of
from mothseed.sketch import Recipe, Sketch, load_sketch
from mothseed.study.tally import probability_of_so_far_off
from mothseed.told import told

AS_IT_WAS, SAME_FORMS, OTHER_FORMS = "as it was", "in its paint alone", "in its forms"
"""How an edition changed."""
_RARE = 0.01
"""Probability, of all values of an outcome together, below which its rule is told to have changed."""
_MOST_VALUES = 40
_ALL_SHARED = 1.0


@dataclass(frozen=True, slots=True)
class EditionPair:
    """An edition in two series."""

    before: Edition
    after: Edition
    change: str
    """AS_IT_WAS, SAME_FORMS or OTHER_FORMS"""
    distance: float | None
    """of what both look like, in OKLab; None where either ledger does not know that"""
    shared: float | None
    """part of the forms of both that both have, estimated; None where either ledger does not know them"""
    outcomes: dict[str, tuple[Any, Any]]
    """those that came otherwise: what was and what is"""

    @property
    def is_seen(self) -> bool:
        """Whether the eye notices it, looking at the whole."""
        return self.distance is not None and self.distance >= NOTICEABLE


@dataclass(frozen=True, slots=True)
class OutcomeChange:
    """A value of an outcome in two series of the same seeds."""

    label: str
    value: Any
    before: int
    """editions that have it"""
    after: int
    gained: int
    """editions that have it in the second series alone"""
    lost: int
    probability: float
    """of gains and losses at least as uneven, were one as likely as the other (the sign test)"""
    shifted: bool
    """whether that is less than chance allows, so that its rule gives it more or less often"""


@dataclass(frozen=True, slots=True)
class MeasureChange:
    """A measure in two series."""

    name: str
    before: float
    """mean"""
    after: float
    rose: int
    """editions in which it did"""
    fell: int


@dataclass(frozen=True, slots=True)
class TwoSeries:
    """What came of holding two series against each other."""

    pairs: tuple[EditionPair, ...]
    """those that both have, the most changed first"""
    only_before: tuple[Edition, ...]
    only_after: tuple[Edition, ...]
    failed: tuple[tuple[Edition, Edition], ...]
    """those of which one or the other failed"""
    outcomes: tuple[OutcomeChange, ...]
    measures: tuple[MeasureChange, ...]

    @property
    def changed(self) -> list[EditionPair]:
        """The pairs that are not as they were, the most changed first."""
        return [pair for pair in self.pairs if pair.change != AS_IT_WAS]

    def count(self, change: str) -> int:
        """How many editions changed so."""
        return sum(pair.change == change for pair in self.pairs)


def held_together(before: Sequence[Edition], after: Sequence[Edition]) -> TwoSeries:
    """Hold the editions of two series against each other, each against that of its seed and variant."""
    others = {edition.key: edition for edition in after}
    known = {edition.key for edition in before}
    both = [(edition, others[edition.key]) for edition in before if edition.key in others]
    failed = tuple(pair for pair in both if pair[0].failed or pair[1].failed)
    whole = [pair for pair in both if not (pair[0].failed or pair[1].failed)]
    pairs = [_pair(*pair) for pair in whole]
    return TwoSeries(
        pairs=tuple(sorted(pairs, key=lambda pair: (-(pair.distance or 0.0), pair.change == AS_IT_WAS))),
        only_before=tuple(edition for edition in before if edition.key not in others),
        only_after=tuple(edition for edition in after if edition.key not in known),
        failed=failed,
        outcomes=tuple(change for label in _labels(whole) for change in _outcome_changes(label, whole)),
        measures=tuple(_measure_changes(whole)),
    )


def _pair(before: Edition, after: Edition) -> EditionPair:
    if before.fingerprint and after.fingerprint:
        same = before.fingerprint == after.fingerprint
    else:
        same = bool(before.pixel_hash) and before.pixel_hash == after.pixel_hash
    distance = shared = None
    if len(before.appearance) == len(after.appearance) == APPEARANCE_BYTES:
        first, second = appearances([before.appearance, after.appearance])
        distance = 0.0 if same else float(np.linalg.norm(first - second))
    if len(before.forms) == len(after.forms) == FORMS_BYTES:
        shared = float(shared_forms(signatures([before.forms]), signatures([after.forms]))[0, 0])
    counted = before.measures.get("marks") == after.measures.get("marks")
    change = AS_IT_WAS if same else SAME_FORMS if shared == _ALL_SHARED and counted else OTHER_FORMS
    came = [by_label(edition.outcomes) for edition in (before, after)]
    labels = dict.fromkeys([*came[0], *came[1]])
    outcomes = {
        label: (came[0].get(label), came[1].get(label))
        for label in labels
        if told(came[0].get(label)) != told(came[1].get(label))
    }
    return EditionPair(before, after, change, distance, shared, outcomes)


def _labels(pairs: Sequence[tuple[Edition, Edition]]) -> list[str]:
    return list(dict.fromkeys(outcome.label for pair in pairs for edition in pair for outcome in edition.outcomes))


def _outcome_changes(label: str, pairs: Sequence[tuple[Edition, Edition]]) -> list[OutcomeChange]:
    """What became of each value of an outcome, the most frequent first; nothing where there are very many values."""
    came = [tuple(_came(edition, label) for edition in pair) for pair in pairs]
    values = {repr(value): value for pair in came for values in pair for value in values}
    if len(values) > _MOST_VALUES:
        return []
    changes = []
    for value in values.values():
        has = np.array([[value in values for values in pair] for pair in came], np.bool).reshape(-1, 2)
        gained, lost = int((has[:, 1] & ~has[:, 0]).sum()), int((has[:, 0] & ~has[:, 1]).sum())
        odds = probability_of_so_far_off(gained, np.full(gained + lost, 0.5)) if gained + lost else 1.0
        before, after = (int(column.sum()) for column in has.T)
        changes.append(OutcomeChange(label, value, before, after, gained, lost, odds, odds < _RARE / len(values)))
    return sorted(changes, key=lambda change: -change.before - change.after)


def _came(edition: Edition, label: str) -> list[Any]:
    return [outcome.value for outcome in edition.outcomes if outcome.label == label]


def _measure_changes(pairs: Sequence[tuple[Edition, Edition]]) -> list[MeasureChange]:
    names = dict.fromkeys(name for pair in pairs for edition in pair for name in edition.measures)
    changes = []
    for name in [*(name for name in MEASURES if name in names), *(name for name in names if name not in MEASURES)]:
        both = [
            (one.measures[name], other.measures[name])
            for one, other in pairs
            if name in one.measures and name in other.measures
        ]
        rose, fell = sum(after > before for before, after in both), sum(after < before for before, after in both)
        if rose or fell:
            first, second = (math.fsum(values) / len(both) for values in zip(*both, strict=True))
            changes.append(MeasureChange(name, first, second, rose, fell))
    return changes


def jobs_as_now(series: Path, editions: Sequence[Edition], sketch: Sketch, width: int, folder: Path) -> list[Job]:
    """The editions of a series as the sketch would make them now, `width` pixels wide.

    Dials that were set keep what they were set to; those that were as the sketch set them are as it sets them now, which is
    told from the series' own copy of it.
    """
    defaults = _Defaults(series)
    jobs = []
    for edition in editions:
        if edition.failed:
            continue
        usual = defaults.of(edition)
        dials = {name: value for name, value in edition.dials.items() if name not in usual or usual[name] != value}
        recipe = Recipe(seed=edition.seed, dials=dials, reseeds=edition.reseeds, without=edition.without)
        jobs.append(Job(sketch.path, recipe.fitting(sketch.artwork.dials), width, None, folder, edition.variant))
    return jobs


class _Defaults:
    """What dials were set to by the sketches that editions of a series were made from."""

    def __init__(self, series: Path) -> None:
        self._series = series
        self._known: dict[str, dict[str, Any]] = {}

    def of(self, edition: Edition) -> dict[str, Any]:
        """The values of those dials that were not set; nothing where the sketch is not there any more or does not run."""
        digest = edition.sources.get(edition.sketch, "")
        if digest not in self._known:
            self._known[digest] = self._read(edition)
        return self._known[digest]

    def _read(self, edition: Edition) -> dict[str, Any]:
        place = source_of(self._series, edition)
        if isinstance(place, str):
            return {}
        try:
            dials = load_sketch(place).artwork.dials
        except MothSeedError:
            return {}
        return {name: as_plain(dial.default) for name, dial in dials.items()}
