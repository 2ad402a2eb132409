"""Palettes by k-means."""

from __future__ import annotations

import numpy as np

from mothseed.arrays import ByteArray, FloatArray
from mothseed.colour.ways.clusters import Clusters, clusters_at, gathered
from mothseed.means import k_means as crowds


def k_means(pixels: ByteArray, count: int) -> Clusters:
    """At most `count` colours of a picture by k-means in OKLab, from uint8 (height, width, 4); none of a blank picture.

    Each is the centre of a cluster of similar colours, so a large plain area takes few of them. The same picture always gives
    the same colours. Pixels less than half opaque do not count.
    """
    return _crowds(*gathered(pixels), count, 1)


def closest_k_means(pixels: ByteArray, count: int) -> Clusters:
    """The same from ten starts, of which the one closest to the colours of the pixels is kept; pixels count by their alpha."""
    return _crowds(*gathered(pixels, by_alpha=True), count, _BEGINNINGS)


_BEGINNINGS = 10


def _crowds(places: FloatArray, weights: FloatArray, count: int, beginnings: int) -> Clusters:
    if len(places) == 0:
        return Clusters(np.zeros((0, 3)), np.zeros(0))
    centres, nearest = crowds(places, weights, count, "palette of a picture", beginnings)
    totals: FloatArray = np.bincount(nearest, weights, len(centres)).astype(np.float64)
    return clusters_at(centres, totals)
