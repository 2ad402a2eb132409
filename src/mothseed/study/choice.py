"""Choosing among many editions: the most varied, or those most like one."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from mothseed.means import squared_distances
from mothseed.series import Edition
from mothseed.study.aspects import aspects_of
from mothseed.study.neighbours import SingleArray

Apart = Callable[[int], SingleArray]
"""Distances of all from one of them, given by its index: float32 (n,)."""

_BEGINNINGS, _BEGINNINGS_OF_MANY = 64, 8
"""Editions with which a choice starts."""
_MANY = 4000
"""Above so many editions choices are made with less effort, as more of them would do."""


def most_varied(editions: Sequence[Edition], count: int) -> list[int]:
    """Indices of `count` editions whose two closest are as far apart as can be found; the most typical first.

    Farthest-point choices (Gonzalez, "Clustering to minimize the maximum intercluster distance", 1985) from many starting
    points, each improved by replacing one of the two closest as long as that helps.
    """
    places = aspects_of(editions).places
    count = min(count, len(places))
    beginnings = _BEGINNINGS if len(places) <= _MANY else _BEGINNINGS_OF_MANY
    starts = range(0, len(places), max(len(places) // beginnings, 1))
    apart = _apart_in(places)
    found = [_spread_out(apart, _farthest_points(apart, len(places), start, count)) for start in starts]
    best = max(found, key=lambda chosen: _least_apart(places[chosen]))
    typical = _most_typical(places[best], places)
    return [best[place] for place in _farthest_points(_apart_in(places[best]), count, typical, count)]


def varied_first(places: SingleArray, count: int) -> list[int]:
    """Indices of `count` points, float32 (n, d): the most typical, then each as far as possible from those before it.

    They look as good as the most varied, and take one pass each to find.
    """
    return _farthest_points(_apart_in(places), len(places), _most_typical(places, places), min(count, len(places)))


def _most_typical(some: SingleArray, places: SingleArray) -> int:
    """Index of the one nearest to the mean."""
    return int(np.linalg.norm(some - places.mean(axis=0), axis=1).argmin())


def _farthest_points(apart: Apart, total: int, start: int, count: int) -> list[int]:
    """The first, then others up to a total, each as far as possible from those before it."""
    chosen = [start]
    reach = np.full(total, np.inf)
    while len(chosen) < count:
        reach = np.minimum(reach, apart(chosen[-1]))
        reach[chosen[-1]] = -1.0
        chosen.append(int(reach.argmax()))
    return chosen


def _apart_in(places: SingleArray) -> Apart:
    """A function that gives the distances of all points from one of them."""
    if len(places) <= _MANY:
        return lambda index: np.linalg.norm(places - places[index], axis=1)
    # A matrix-vector product: a tenth of the time, and exact enough to tell far from near.
    squares = np.einsum("ij,ij->i", places, places)
    return lambda index: np.sqrt(np.maximum(squares + squares[index] - 2 * (places @ places[index]), 0))


def _spread_out(distances: Apart, chosen: list[int]) -> list[int]:
    """The choice improved by exchanges, until none moves its two closest farther apart."""
    chosen = list(chosen)
    apart = np.stack([distances(each) for each in chosen])
    apart[np.arange(len(chosen)), chosen] = np.inf
    while len(chosen) > 1:
        own = apart[:, chosen]
        least = float(own.min())
        exchange = (least, 0, 0)
        for place in divmod(int(own.argmin()), len(chosen)):
            others = np.delete(np.arange(len(chosen)), place)
            reach = apart[others].min(axis=0)
            reach[chosen] = -1.0
            # The remaining ones may be nearer to each other than to the new one.
            reach = np.minimum(reach, own[np.ix_(others, others)].min())
            new = int(reach.argmax())
            exchange = max(exchange, (float(reach[new]), place, new))
        if exchange[0] <= least:
            break
        _, place, new = exchange
        chosen[place] = new
        apart[place] = distances(new)
        apart[place, new] = np.inf
    return chosen


def _least_apart(places: SingleArray) -> float:
    """The distance of the nearest two; that of two where there is one."""
    apart = squared_distances(places.astype(np.float64), places.astype(np.float64))
    np.fill_diagonal(apart, np.inf)
    return float(apart.min())


def most_like(editions: Sequence[Edition], index: int, count: int) -> list[tuple[int, float]]:
    """The `count` editions most like one of them, with their distances, nearest first."""
    places = aspects_of(editions).places
    apart = np.linalg.norm(places - places[index], axis=1)
    order = [place for place in np.argsort(apart, kind="stable").tolist() if place != index]
    return [(place, float(apart[place])) for place in order[:count]]
