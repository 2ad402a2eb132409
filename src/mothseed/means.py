"""k-means clustering."""

from __future__ import annotations

import numpy as np

from mothseed.arrays import FloatArray, WholeArray
from mothseed.bits import stream_of, unit

_MOST_ROUNDS = 60
_STILL = 1e-5


def k_means(
    places: FloatArray, weights: FloatArray, count: int, purpose: str, starts: int = 1
) -> tuple[FloatArray, WholeArray]:
    """The middles of at most `count` crowds, float64 (k, d), and which is nearest to each place, int64 (n,).

    From places float64 (n, d), each with a weight. Lloyd's algorithm, "Least squares quantization in PCM", 1982; starting
    points follow Arthur and Vassilvitskii, "k-means++", 2007, drawn from the stream of that `purpose`, so that the same places
    always give the same crowds. With several `starts` those crowds are taken that lie closest around their middles.
    """
    found = [_crowds(places, weights, count, purpose if start == 0 else f"{purpose}, {start}") for start in range(starts)]
    return min(found, key=lambda crowds: _error(places, weights, *crowds)) if starts > 1 else found[0]


def _crowds(places: FloatArray, weights: FloatArray, count: int, purpose: str) -> tuple[FloatArray, WholeArray]:
    centres = _starting_points(places, weights, min(count, len(places)), purpose)
    for _ in range(_MOST_ROUNDS):
        nearest = _nearest(places, centres)
        moved = _means(places, weights, nearest, centres)
        still = np.abs(moved - centres).max() < _STILL
        centres = moved
        if still:
            break
    return centres, _nearest(places, centres)


def _error(places: FloatArray, weights: FloatArray, centres: FloatArray, own: WholeArray) -> float:
    """The sum of squared distances of all points from their centres."""
    return float((((places - centres[own]) ** 2).sum(axis=1) * weights).sum())


def _nearest(places: FloatArray, centres: FloatArray) -> WholeArray:
    return np.asarray(squared_distances(places, centres).argmin(axis=1), np.int64)


def squared_distances(places: FloatArray, centres: FloatArray) -> FloatArray:
    """(n, k) from (n, d) and (k, d)."""
    result: FloatArray = ((places[:, None, :] - centres[None, :, :]) ** 2).sum(axis=2)
    return result


def _starting_points(places: FloatArray, weights: FloatArray, count: int, purpose: str) -> FloatArray:
    stream = stream_of(purpose)
    chosen = [int(np.argmax(weights))]
    while len(chosen) < count:
        reach = squared_distances(places, places[chosen]).min(axis=1) * weights
        running = np.cumsum(reach)
        if running[-1] <= 0:
            break
        target = unit(stream, len(chosen)) * running[-1]
        chosen.append(min(int(np.searchsorted(running, target, side="right")), len(places) - 1))
    return places[chosen]


def _means(places: FloatArray, weights: FloatArray, nearest: WholeArray, centres: FloatArray) -> FloatArray:
    """The centres moved to the weighted means of their nearest points; one without points stays."""
    count = len(centres)
    totals = np.bincount(nearest, weights, count)
    sums = np.stack([np.bincount(nearest, weights * column, count) for column in places.T], axis=1)
    return np.where(totals[:, None] > 0, sums / np.maximum(totals, 1e-300)[:, None], centres)
