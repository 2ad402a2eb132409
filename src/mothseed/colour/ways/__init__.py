"""Methods for finding the few colours that represent a picture: a module for each, and a table of them."""

from __future__ import annotations

from collections.abc import Callable

from mothseed.arrays import ByteArray
from mothseed.colour.ways.clusters import Clusters
from mothseed.colour.ways.k_means import closest_k_means, k_means
from mothseed.colour.ways.median_cut import median_cut

WAYS: dict[str, Callable[[ByteArray, int], Clusters]] = {
    "k-means": k_means,
    "closest-k-means": closest_k_means,
    "median-cut": median_cut,
}
"""By the names that sketches and commands use; each takes pixels, uint8 (height, width, 4), and the most colours to find."""

__all__ = ["WAYS", "Clusters", "closest_k_means", "k_means", "median_cut"]
