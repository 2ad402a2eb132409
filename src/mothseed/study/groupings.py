"""Groups of editions of one kind."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from mothseed.arrays import FloatArray, WholeArray
from mothseed.bits import stream_of, units
from mothseed.chance.normal import standard_normal
from mothseed.means import k_means, squared_distances
from mothseed.study.distinctions import Columns, distinctions

_MOST_GROUPS = 12
_STARTS = 10
_STRUCTURE = 0.25
"""Silhouette below which there is no structure (Kaufman and Rousseeuw, "Finding Groups in Data", 1990)."""
_AS_CLEAR = 0.95
"""Part of the clearest silhouette: among groupings nearly as clear, the finest says most."""
_CLOUDS, _STARTS_IN_CLOUDS = 3, 3
_CLEARER = 0.05
"""How much clearer a grouping must be than one found by chance."""
_SAMPLE = 600
"""Editions among which groups are sought; the others then join the nearest."""
_FEWEST, _LEAST_EACH = 6, 3


@dataclass(frozen=True, slots=True)
class Cluster:
    """Editions of one kind; indices, the most typical first."""

    members: tuple[int, ...]
    distinctions: tuple[str, ...]
    """what they have more often, or more of, than the others"""


def groups_of(columns: Columns, places: FloatArray) -> tuple[Cluster, ...]:
    """The finest of the clearest groupings of points, float64 (n, d), if any is clear; the largest group first.

    A grouping is clear if it is plainly clearer than what is found in a cloud without groups: a normal distribution of the
    same width along each direction (after Tibshirani, Walther and Hastie, "Estimating the number of clusters in a data set
    via the gap statistic", 2001).
    """
    if len(places) < _FEWEST:
        return ()
    sample = places[:: max(len(places) // _SAMPLE, 1)]
    found = _groupings(sample, _STARTS)
    clearest = max(clear for clear, _ in found)
    if clearest < _STRUCTURE or clearest < _clear_by_chance(sample) + _CLEARER:
        return ()
    centres = next(centres for clear, centres in reversed(found) if clear >= _AS_CLEAR * clearest)
    squares = squared_distances(places, centres)
    own = squares.argmin(axis=1)
    apart = squares.min(axis=1)
    groups = []
    for number in np.unique(own).tolist():
        members = np.flatnonzero(own == number)
        members = members[np.argsort(apart[members], kind="stable")]
        groups.append(Cluster(tuple(members.tolist()), distinctions(columns, members)))
    return tuple(sorted(groups, key=lambda group: -len(group.members)))


def _groupings(places: FloatArray, starts: int) -> list[tuple[float, FloatArray]]:
    """Centres of two groups, of three and so on, with their silhouettes."""
    found = []
    for count in range(2, min(_MOST_GROUPS, len(places) // _LEAST_EACH) + 1):
        centres, own = k_means(places, np.ones(len(places)), count, "groups of a series", starts)
        found.append((_silhouette(places, own), centres))
    return found


def _clear_by_chance(places: FloatArray) -> float:
    """The silhouette of the clearest grouping of a cloud without groups."""
    stream, size = stream_of("cloud without groups"), places.size
    clearest = 0.0
    for number in range(_CLOUDS):
        cloud = standard_normal(units(stream, number * size, size)).reshape(places.shape) * places.std(axis=0)
        clearest = max(clearest, *(clear for clear, _ in _groupings(cloud, _STARTS_IN_CLOUDS)))
    return clearest


def _silhouette(places: FloatArray, own: WholeArray) -> float:
    """The mean silhouette of points in groups: 1 if groups are far apart, 0 if there are none.

    Rousseeuw, "Silhouettes: a graphical aid to the interpretation and validation of cluster analysis", 1987.
    """
    numbers = np.unique(own)
    if len(numbers) < 2:
        return 0.0
    means = np.empty((len(places), len(numbers)))
    sizes = np.empty(len(numbers))
    for place, number in enumerate(numbers.tolist()):
        members = places[own == number]
        sizes[place] = len(members)
        means[:, place] = np.sqrt(squared_distances(places, members)).mean(axis=1)
    mine = np.searchsorted(numbers, own)
    rows = np.arange(len(places))
    size = sizes[mine]
    within = means[rows, mine] * size / np.maximum(size - 1, 1)  # its distance of 0 to itself does not count
    means[rows, mine] = np.inf
    between = means.min(axis=1)
    values = np.where(size > 1, (between - within) / np.maximum(np.maximum(within, between), 1e-300), 0.0)
    return float(values.mean())
