"""How varied a series is: how many kinds it has, twins, what stands out, groups and a map."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.measure import appearances
from mothseed.series import Edition
from mothseed.study.aspects import Aspects, aspects_of
from mothseed.study.distinctions import Direction
from mothseed.study.families import Recoloured, recoloured
from mothseed.study.groupings import Cluster
from mothseed.study.laid_out import lay_out
from mothseed.study.neighbours import likeness, neighbours
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
    two directions along which they are laid out.
    """
    looks = appearances([edition.appearance for edition in editions])
    close = neighbours(looks)
    own = close.distances[:, 0] if close.distances.size else np.zeros(len(editions))
    usual = float(np.median(own))
    aspects = aspects_of(editions)
    laid_out = lay_out(editions, aspects)
    score, no_two_alike = _kinds(likeness(aspects.places))
    return Variety(
        score=score,
        no_two_alike=no_two_alike,
        usual_distance=usual,
        twins=twins_among(editions, looks, close, usual),
        recoloured=recoloured(editions, looks),
        outliers=_outliers(aspects),
        groups=laid_out.groups,
        aspects=aspects,
        places=laid_out.points[:, :2],
        axes=laid_out.axes,
    )


def _kinds(alike_to_others: FloatArray) -> tuple[float, bool]:
    """How many kinds there are, and whether that is only known to be more.

    The likeness of all pairs, added up, is about how many of them are of one kind, a number that comes up by chance like those
    of Poisson. Where it is small, or there would be more kinds than editions, the kinds are told from what that number exceeds
    in one case of forty.
    """
    count = len(alike_to_others)
    if count < 2:
        return 1.0, False
    pairs = count * (count - 1) / 2
    alike = float(alike_to_others.sum()) / 2
    if alike >= min(_FEWEST_ALIKE, _OFTEN_ALIKE * pairs) and pairs <= count * alike:
        return pairs / alike, False
    return min(max(pairs / (alike + 2 + 2 * math.sqrt(alike + 1)), 1.0), count), True


def _outliers(aspects: Aspects) -> tuple[Outlier, ...]:
    """Editions that are unusually far from their nearest few, those farthest first."""
    found: dict[int, list[tuple[float, str, float]]] = {}
    for name, places in aspects.by_name.items():
        near = neighbours(places, _NEAR)
        if not near.distances.size:
            return ()
        reach = near.distances.mean(axis=1)
        # By how many times it is farther: distances have a long tail, whose logarithms have none.
        logarithm = np.log(np.maximum(reach, _NO_DISTANCE))
        middle = float(np.median(logarithm))
        spread = max(_NORMAL_SPREAD * float(np.median(np.abs(logarithm - middle))), _LEAST_SPREAD)
        unusual = (logarithm - middle) / spread
        for index in np.flatnonzero((unusual > _OUTLYING) & (reach >= _LEAST_REACH)).tolist():
            found.setdefault(index, []).append((float(unusual[index]), name, float(reach[index])))
    ordered = sorted(found.items(), key=lambda each: -max(each[1])[0])
    return tuple(Outlier(index, tuple(name for _, name, _ in sorted(ways)[::-1]), max(ways)[2]) for index, ways in ordered)
