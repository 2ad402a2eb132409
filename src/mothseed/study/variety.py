"""How varied a series is: how many kinds it has, twins, what stands out, groups and a map."""

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
"""Modified z-score from which on a value is an outlier (Iglewicz and Hoaglin, "How to detect and handle outliers", 1993)."""
_NORMAL_SPREAD = 1.4826
"""Standard deviations of a normal distribution to its median absolute deviation."""
_LEAST_SPREAD = math.log(1.25)
"""Where all neighbours are about equally far, a little more is not yet standing out."""
_NO_DISTANCE = 0.1
"""Distance below which two are as good as one."""
_LEAST_REACH = 0.5
"""Distance below which nothing stands out, however near to each other the others are: half of what makes two half alike."""
_NEAR = 5
_FEWEST_ALIKE, _OFTEN_ALIKE = 5.0, 0.5
"""Pairs that have to be alike, or their part of all pairs, for kinds to be counted."""


@dataclass(frozen=True, slots=True)
class Outlier:
    """An edition that is farther from those most like it than is usual, in some aspects."""

    index: int
    aspects: tuple[str, ...]
    """in which, the plainest first"""
    distance: float
    """in the plainest of them; at 1 two editions are half alike"""


@dataclass(frozen=True, slots=True, eq=False)
class Variety:
    """What is told of a series."""

    score: float
    """how many kinds, coming up equally often, would be as varied"""
    no_two_alike: bool
    """whether too few are alike for that to be told: there are more kinds than the score says"""
    usual_distance: float
    """median distance of the appearances of an edition and the one that looks most like it, in OKLab"""
    twins: tuple[Twins, ...]
    recoloured: tuple[Recoloured, ...]
    outliers: tuple[Outlier, ...]
    groups: tuple[Cluster, ...]
    """none where the series does not fall into groups"""
    aspects: Aspects
    """what kind of picture each is"""
    places: FloatArray
    """float64 (n, 2): the map, along the two directions in which most varies"""
    axes: tuple[Direction, ...]


def variety(editions: Sequence[Edition]) -> Variety:
    """Tell how varied some editions are, from what the ledger keeps of them; there is at least one.

    The score is one over how alike two editions are on average, those of a pair never the same one: the unbiased form of the
    diversity of order 2 of Leinster and Cobbold, "Measuring diversity: the importance of species similarity", 2012, which does
    not grow with the number of editions. How alike two are follows from the distance of their aspects. The map is of the first
    two directions along which they are laid out. Of more than some thousands the score and the usual distance are told from
    pairs of which one is drawn at random.
    """
    rows = looked_at(len(editions))
    looks = appearances([edition.appearance for edition in editions])
    looks -= looks.mean(axis=0)
    close = nearest(looks, rows, 1)
    usual = float(np.median(close)) if close.size else 0.0
    twins, families = twins_among(editions, looks, usual), recoloured(editions, looks)
    del looks  # of very many it is the largest thing there is
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
    """How many kinds there are, and whether that is only known to be more, from how alike so many pairs are together.

    The likeness of all pairs, added up, is about how many of them are of one kind, a number that comes up by chance like those
    of Poisson. Where it is small, or there would be more kinds than editions, the kinds are told from what that number exceeds
    in one case of forty.
    """
    if count < 2:
        return 1.0, False
    if alike >= min(_FEWEST_ALIKE, _OFTEN_ALIKE * pairs) and pairs <= count * alike:
        return pairs / alike, False
    return min(max(pairs / (alike + 2 + 2 * math.sqrt(alike + 1)), 1.0), count), True


def _outliers(aspects: Aspects, rows: WholeArray) -> tuple[Outlier, ...]:
    """Editions that are unusually far from their nearest few, those farthest first; what is usual is told from some rows."""
    if len(rows) < 2:
        return ()
    found: dict[int, list[tuple[float, str, float]]] = {}
    for name, places in aspects.by_name.items():
        # By how many times it is farther: distances have a long tail, whose logarithms have none.
        usual = _log(_reach(places, rows))
        middle = float(np.median(usual))
        spread = max(_NORMAL_SPREAD * float(np.median(np.abs(usual - middle))), _LEAST_SPREAD)
        least = max(math.exp(middle + _OUTLYING * spread), _LEAST_REACH)
        # Who has enough of some others so near has them among all of them.
        lonely = fewer_within(places, rows, least, min(_NEAR, len(places) - 1))
        reach = _reach(places, lonely)
        unusual = (_log(reach) - middle) / spread
        for place in np.flatnonzero((unusual > _OUTLYING) & (reach >= _LEAST_REACH)).tolist():
            found.setdefault(int(lonely[place]), []).append((float(unusual[place]), name, float(reach[place])))
    ordered = sorted(found.items(), key=lambda each: -max(each[1])[0])
    return tuple(Outlier(index, tuple(name for _, name, _ in sorted(ways)[::-1]), max(ways)[2]) for index, ways in ordered)


def _reach(places: SingleArray, rows: WholeArray) -> FloatArray:
    """How far some of the places are from their nearest few: float64 (k,)."""
    result: FloatArray = nearest(places, rows, _NEAR).mean(axis=1)
    return result


def _log(reach: FloatArray) -> FloatArray:
    return np.log(np.maximum(reach, _NO_DISTANCE))
