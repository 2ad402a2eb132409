"""How varied a series is: twins, outliers, groups, and the most varied choice."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from mothseed.arrays import FloatArray, WholeArray
from mothseed.means import k_means, squared_distances
from mothseed.measure import appearances, signatures
from mothseed.measure.forms import FORMS_BYTES
from mothseed.series import Edition
from mothseed.study.distinctions import Columns, Direction, directions_explained, distinctions
from mothseed.study.neighbours import Neighbours, SingleArray, nearest_forms, neighbours

_TWINS_WITHIN, _TWINS_AT_LEAST = 0.5, 0.005
"""Twins are nearer than half of what is usual between neighbours, or so near that nobody could tell."""
_OUTLYING = 3.5
"""Modified z-score from which on a value is an outlier (Iglewicz and Hoaglin, "How to detect and handle outliers", 1993)."""
_NORMAL_SPREAD = 1.4826
"""Standard deviations of a normal distribution to its median absolute deviation."""
_LEAST_SPREAD = 0.25
"""Of the median: where all neighbours are about equally far, a little more is not yet standing out."""
_SHARED = 0.75
_BEGINNINGS = 64
"""Editions from which a choice is begun."""
_SEEN_PART = 0.04
"""Distance of the same part of two pictures from which on they are no twins: twice what is noticed, whatever the rest is."""
_NO_TWO_ALIKE = 0.9
"""Part of the number of editions from which on the score says no more than that no two are alike."""
_DIMENSIONS = 12
_MOST_GROUPS = 8
_STRUCTURE = 0.25
"""Silhouette below which there is no structure (Kaufman and Rousseeuw, "Finding Groups in Data", 1990)."""
_SAMPLE = 1000
"""Editions that groups are looked for among; the others then belong to the nearest."""


@dataclass(frozen=True, slots=True)
class Twins:
    """Editions of which each hardly differs from another; indices."""

    members: tuple[int, ...]
    distance: float
    """of the nearest two"""
    same_drawing: bool
    """whether all have one fingerprint"""


@dataclass(frozen=True, slots=True)
class Recoloured:
    """Two editions that are drawn with the same forms and look unlike; indices."""

    first: int
    second: int
    shared: float
    """part of their forms that both have"""
    distance: float


@dataclass(frozen=True, slots=True)
class Outlier:
    """An edition that is farther from its neighbours than is usual."""

    index: int
    distance: float


@dataclass(frozen=True, slots=True)
class Cluster:
    """Editions that look alike; indices, the most typical first."""

    members: tuple[int, ...]
    distinctions: tuple[str, ...]
    """what they have more often, or more of, than the rest"""


@dataclass(frozen=True, slots=True, eq=False)
class Variety:
    """What is told of a series."""

    score: float
    """how many pictures that have nothing in common would be as varied"""
    no_two_alike: bool
    """whether the score says no more than that: it is about the number of editions then, whatever kinds there are"""
    usual_distance: float
    """median distance from an edition to the one nearest to it"""
    twins: tuple[Twins, ...]
    recoloured: tuple[Recoloured, ...]
    outliers: tuple[Outlier, ...]
    groups: tuple[Cluster, ...]
    """none where the series does not fall into groups"""
    places: FloatArray
    """float64 (n, 2): the map, along the two directions in which most varies"""
    axes: tuple[Direction, ...]


def variety(editions: Sequence[Edition]) -> Variety:
    """Tell how varied some editions are, from what the ledger keeps of them; there is at least one.

    The score is the diversity of order 2 of Leinster and Cobbold, "Measuring diversity: the importance of species similarity",
    2012: one over how alike two editions are on average that are drawn at random, where two are half alike at a distance of
    0.03. Groups are found by k-means along the twelve directions in which most varies; the map is of the first two (principal
    components).
    """
    places = appearances([edition.appearance for edition in editions])
    near = neighbours(places)
    own = near.distances[:, 0] if near.distances.size else np.zeros(len(editions))
    usual = float(np.median(own))
    scores, parts = _principal(places)
    columns = Columns.of(editions)
    score = 1 / float(near.likeness.mean())
    return Variety(
        score=score,
        no_two_alike=len(editions) > 1 and score > _NO_TWO_ALIKE * len(editions),
        usual_distance=usual,
        twins=_twins(editions, places, near, max(_TWINS_WITHIN * usual, _TWINS_AT_LEAST)),
        recoloured=_recoloured(editions, places, usual),
        outliers=_outliers(near),
        groups=_groups(columns, scores),
        places=scores[:, :2],
        axes=directions_explained(columns, scores[:, :2], parts[:2]),
    )


def most_varied(editions: Sequence[Edition], count: int) -> list[int]:
    """Indices of `count` editions of which the nearest two are as far apart as can be found; the most typical first.

    Farthest-point choices (Gonzalez, "Clustering to minimize the maximum intercluster distance", 1985) from many beginnings,
    each made better by putting another in the place of one of the nearest two for as long as that helps.
    """
    places = appearances([edition.appearance for edition in editions])
    count = min(count, len(places))
    starts = range(0, len(places), max(len(places) // _BEGINNINGS, 1))
    found = [_spread_out(places, _farthest_points(places, start, count)) for start in starts]
    best = max(found, key=lambda chosen: _least_apart(places[chosen]))
    typical = np.linalg.norm(places[best] - places.mean(axis=0), axis=1).argmin()
    return [best[place] for place in _farthest_points(places[best], int(typical), count)]


def _farthest_points(places: SingleArray, start: int, count: int) -> list[int]:
    """The first, and so many more, each as far as can be from those before it."""
    chosen = [start]
    reach = np.full(len(places), np.inf)
    while len(chosen) < count:
        reach = np.minimum(reach, np.linalg.norm(places - places[chosen[-1]], axis=1))
        reach[chosen[-1]] = -1.0
        chosen.append(int(reach.argmax()))
    return chosen


def _spread_out(places: SingleArray, chosen: list[int]) -> list[int]:
    """The choice made better by exchanges, until none puts its nearest two farther apart."""
    chosen = list(chosen)
    apart = np.stack([np.linalg.norm(places - places[each], axis=1) for each in chosen])
    apart[np.arange(len(chosen)), chosen] = np.inf
    while len(chosen) > 1:
        own = apart[:, chosen]
        least = float(own.min())
        exchange = (least, 0, 0)
        for place in divmod(int(own.argmin()), len(chosen)):
            others = np.delete(np.arange(len(chosen)), place)
            reach = apart[others].min(axis=0)
            reach[chosen] = -1.0
            # What is left of the others may be nearer to each other than the new one is to them.
            reach = np.minimum(reach, own[np.ix_(others, others)].min())
            new = int(reach.argmax())
            exchange = max(exchange, (float(reach[new]), place, new))
        if exchange[0] <= least:
            break
        _, place, new = exchange
        chosen[place] = new
        apart[place] = np.linalg.norm(places - places[new], axis=1)
        apart[place, new] = np.inf
    return chosen


def _least_apart(places: SingleArray) -> float:
    """The distance of the nearest two; that of two where there is one."""
    apart = squared_distances(places.astype(np.float64), places.astype(np.float64))
    np.fill_diagonal(apart, np.inf)
    return float(apart.min())


def most_like(editions: Sequence[Edition], index: int, count: int) -> list[tuple[int, float]]:
    """The `count` editions that look most like one of them, with their distances, the nearest first."""
    places = appearances([edition.appearance for edition in editions])
    apart = np.linalg.norm(places - places[index], axis=1)
    order = [place for place in np.argsort(apart, kind="stable").tolist() if place != index]
    return [(place, float(apart[place])) for place in order[:count]]


def _principal(places: SingleArray) -> tuple[FloatArray, FloatArray]:
    """Places along the directions in which most varies, float64 (n, 12), and the part of all that varies along each, (12,)."""
    centred = (places - places.mean(axis=0)).astype(np.float64)
    powers, directions = np.linalg.eigh(centred.T @ centred)
    order = np.argsort(powers)[::-1][:_DIMENSIONS]
    chosen = directions[:, order]
    # Either way along a direction is as good: the one in which most cells become lighter is taken.
    chosen *= np.where(chosen[::3].sum(axis=0) < 0, -1.0, 1.0)
    total = max(float(powers.sum()), 1e-300)
    return centred @ chosen, np.maximum(powers[order], 0.0) / total


def _twins(editions: Sequence[Edition], places: SingleArray, near: Neighbours, limit: float) -> tuple[Twins, ...]:
    """Connected by being nearer than the limit, or by one fingerprint."""
    leader = list(range(len(editions)))

    def found(index: int) -> int:
        while leader[index] != index:
            leader[index] = leader[leader[index]]
            index = leader[index]
        return index

    closest: dict[int, float] = {}
    links = [(row, int(near.nearest[row, place]), float(near.distances[row, place]))
             for row, place in np.argwhere(near.distances < limit).tolist()]  # fmt: skip
    links = [link for link in links if _farthest_part(places[link[0]], places[link[1]]) < _SEEN_PART]
    drawn: dict[str, int] = {}
    for index, edition in enumerate(editions):
        if edition.fingerprint:
            links.append((index, drawn.setdefault(edition.fingerprint, index), math.inf))
    for one, other, distance in links:
        leader[found(one)] = found(other)
        closest[one] = min(closest.get(one, math.inf), distance)
    members: dict[int, list[int]] = {}
    for index in range(len(editions)):
        members.setdefault(found(index), []).append(index)
    groups = []
    for group in members.values():
        if len(group) > 1:
            distance = min(closest.get(index, math.inf) for index in group)
            one_drawing = len({editions[index].fingerprint for index in group}) == 1 and bool(editions[group[0]].fingerprint)
            groups.append(Twins(tuple(group), 0.0 if one_drawing else distance, one_drawing))
    return tuple(sorted(groups, key=lambda twins: (twins.distance, twins.members)))


def _farthest_part(one: SingleArray, other: SingleArray) -> float:
    """The largest distance of two pictures' same parts: a word that only one has is far there, and hardly on the whole."""
    parts = (one - other).reshape(-1, 3)
    return float(np.linalg.norm(parts, axis=1).max()) * math.sqrt(len(parts))


def _recoloured(editions: Sequence[Edition], places: SingleArray, usual: float) -> tuple[Recoloured, ...]:
    """Pairs that share far more of their forms than is usual, and look as unlike as any two."""
    known = [index for index, edition in enumerate(editions) if len(edition.forms) == FORMS_BYTES]
    best, shares = nearest_forms(signatures([editions[index].forms for index in known])) if known else (None, None)
    if best is None or shares is None:
        return ()
    # Where every edition has the same forms, a pair that has them too is nothing to tell.
    limit = max(_SHARED, (1 + float(np.median(shares))) / 2)
    found = {}
    for place in np.flatnonzero((shares >= limit) & (shares > np.median(shares))).tolist():
        first, second = sorted((known[place], known[int(best[place])]))
        distance = float(np.linalg.norm(places[first] - places[second]))
        if distance > usual and editions[first].fingerprint != editions[second].fingerprint:
            found[first, second] = Recoloured(first, second, float(shares[place]), distance)
    return tuple(sorted(found.values(), key=lambda pair: -pair.shared))


def _outliers(near: Neighbours) -> tuple[Outlier, ...]:
    """Editions that are unusually far from their nearest few."""
    if not near.distances.size:
        return ()
    reach = near.distances[:, : min(5, near.distances.shape[1])].mean(axis=1)
    middle = float(np.median(reach))
    spread = max(_NORMAL_SPREAD * float(np.median(np.abs(reach - middle))), _LEAST_SPREAD * middle)
    far = np.flatnonzero(reach > middle + _OUTLYING * spread) if spread > 0 else np.zeros(0, np.int64)
    return tuple(Outlier(int(index), float(reach[index])) for index in far[np.argsort(-reach[far], kind="stable")])


def _groups(columns: Columns, places: FloatArray) -> tuple[Cluster, ...]:
    """The grouping that is clearest, if any is clear; most typical member first, largest group first."""
    if len(places) < 6:
        return ()
    sample = places[:: max(len(places) // _SAMPLE, 1)]
    best: tuple[float, FloatArray] | None = None
    for count in range(2, min(_MOST_GROUPS, len(places) // 3) + 1):
        centres, own = k_means(sample, np.ones(len(sample)), count, "groups of a series")
        clear = _silhouette(sample, own)
        if best is None or clear > best[0]:
            best = clear, centres
    if best is None or best[0] < _STRUCTURE:
        return ()
    squares = squared_distances(places, best[1])
    own = squares.argmin(axis=1)
    apart = squares.min(axis=1)
    groups = []
    for number in np.unique(own).tolist():
        members = np.flatnonzero(own == number)
        members = members[np.argsort(apart[members], kind="stable")]
        groups.append(Cluster(tuple(members.tolist()), distinctions(columns, members)))
    return tuple(sorted(groups, key=lambda group: -len(group.members)))


def _silhouette(places: FloatArray, own: WholeArray) -> float:
    """The mean silhouette of places in groups: 1 where groups are far apart, 0 where there are none.

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
