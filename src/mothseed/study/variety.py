"""How varied a series is: its number of kinds, twins, outliers, groups and a map."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from mothseed.arrays import FloatArray, WholeArray
from mothseed.measure import appearances
from mothseed.series import Edition
from mothseed.study.aspects import Aspects, aspects_of
from mothseed.study.distinctions import Direction
from mothseed.study.families import Recoloured, recoloured
from mothseed.study.groupings import Cluster
from mothseed.study.laid_out import lay_out
from mothseed.study.neighbours import SingleArray, fewer_within, likeness, looked_at, nearest
from mothseed.study.twins import Twins, twins_among

_OUTLYING = 3.5
"""Modified z-score from which a value is an outlier (Iglewicz and Hoaglin, "How to detect and handle outliers", 1993)."""
_NORMAL_SPREAD = 1.4826
"""Ratio of standard deviation to median absolute deviation for a normal distribution."""
_LEAST_SPREAD = math.log(1.25)
"""Least spread assumed: if all neighbours are about equally far, slightly more does not stand out."""
_NO_DISTANCE = 0.1
"""Distance below which two editions count as the same."""
_LEAST_REACH = 0.5
"""Distance below which nothing stands out, however close the others are: half of the distance of two that are half alike."""
_NEAR = 5
_FEWEST_ALIKE, _OFTEN_ALIKE = 5.0, 0.5
"""Number of pairs, or share of all pairs, that must be alike for kinds to be counted."""


@dataclass(frozen=True, slots=True)
class Outlier:
    """An edition unusually far from those most like it, in some aspects."""

    index: int
    aspects: tuple[str, ...]
    """the aspects, clearest first"""
    distance: float
    """in the clearest of them; at 1 two editions are half alike"""


@dataclass(frozen=True, slots=True, eq=False)
class Variety:
    """What is found out about a series."""

    score: float
    """effective number of kinds: so many equally frequent kinds would be as varied"""
    no_two_alike: bool
    """whether too few are alike to tell: there are more kinds than the score says"""
    usual_distance: float
    """median distance in OKLab between an edition and its nearest look-alike"""
    twins: tuple[Twins, ...]
    recoloured: tuple[Recoloured, ...]
    outliers: tuple[Outlier, ...]
    groups: tuple[Cluster, ...]
    """empty if the series does not fall into groups"""
    aspects: Aspects
    """the aspects of each edition"""
    places: FloatArray
    """float64 (n, 2): the map, along the two directions of most variance"""
    axes: tuple[Direction, ...]


def variety(editions: Sequence[Edition]) -> Variety:
    """How varied some editions are, from what the ledger records; there must be at least one.

    The score is one over how alike two editions are on average, those of a pair never the same one: the unbiased form of the
    diversity of order 2 of Leinster and Cobbold, "Measuring diversity: the importance of species similarity", 2012, which
    does not grow with the number of editions. How alike two are follows from the distance of their aspects. The map shows the
    first two directions along which they are laid out. With more than some thousands, the score and the usual distance are
    estimated from pairs of which one is drawn at random.
    """
    rows = looked_at(len(editions))
    looks = appearances([edition.appearance for edition in editions])
    looks -= looks.mean(axis=0)
    close = nearest(looks, rows, 1)
    usual = float(np.median(close)) if close.size else 0.0
    twins, families = twins_among(editions, looks, usual), recoloured(editions, looks)
    del looks  # with very many editions, it is the largest object there is
    aspects = aspects_of(editions)
    laid_out = lay_out(editions, aspects)
    score, no_two_alike = _kinds(len(editions), *likeness(aspects.places, rows))
    return Variety(
        score=score,
        no_two_alike=no_two_alike,
        usual_distance=usual,
        twins=twins,
        recoloured=families,
        outliers=_outliers(aspects, rows),
        groups=laid_out.groups,
        aspects=aspects,
        places=laid_out.points[:, :2],
        axes=laid_out.axes,
    )


def _kinds(count: int, alike: float, pairs: float) -> tuple[float, bool]:
    """The number of kinds, and whether it is only a lower bound, from the summed likeness of so many pairs.

    The sum is roughly the number of pairs of one kind, which has a Poisson distribution. If it is small, or gives more kinds
    than editions, a one-sided 97.5% bound of it is used instead.
    """
    if count < 2:
        return 1.0, False
    if alike >= min(_FEWEST_ALIKE, _OFTEN_ALIKE * pairs) and pairs <= count * alike:
        return pairs / alike, False
    return min(max(pairs / (alike + 2 + 2 * math.sqrt(alike + 1)), 1.0), count), True


def _outliers(aspects: Aspects, rows: WholeArray) -> tuple[Outlier, ...]:
    """Editions unusually far from their nearest few, farthest first; what is usual is estimated from some rows."""
    if len(rows) < 2:
        return ()
    found: dict[int, list[tuple[float, str, float]]] = {}
    for name, places in aspects.by_name.items():
        # As a ratio: distances have a long tail, their logarithms have none.
        usual = _log(_reach(places, rows))
        middle = float(np.median(usual))
        spread = max(_NORMAL_SPREAD * float(np.median(np.abs(usual - middle))), _LEAST_SPREAD)
        least = max(math.exp(middle + _OUTLYING * spread), _LEAST_REACH)
        # An edition with enough near neighbours in a sample has them among all.
        lonely = fewer_within(places, rows, least, min(_NEAR, len(places) - 1))
        reach = _reach(places, lonely)
        unusual = (_log(reach) - middle) / spread
        for place in np.flatnonzero((unusual > _OUTLYING) & (reach >= _LEAST_REACH)).tolist():
            found.setdefault(int(lonely[place]), []).append((float(unusual[place]), name, float(reach[place])))
    ordered = sorted(found.items(), key=lambda each: -max(each[1])[0])
    return tuple(Outlier(index, tuple(name for _, name, _ in sorted(ways)[::-1]), max(ways)[2]) for index, ways in ordered)


def _reach(places: SingleArray, rows: WholeArray) -> FloatArray:
    """Mean distance of some points from their nearest few: float64 (k,)."""
    result: FloatArray = nearest(places, rows, _NEAR).mean(axis=1)
    return result


def _log(reach: FloatArray) -> FloatArray:
    return np.log(np.maximum(reach, _NO_DISTANCE))
