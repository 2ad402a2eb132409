"""The few colours that stand for a whole picture."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from mothseed.arrays import ByteArray, FloatArray, WholeArray
from mothseed.bits import stream_of, unit
from mothseed.colour.oklch import oklab_from_srgb, srgb_from_oklab

_BITS = 5
"""Colours are first gathered into boxes of 2**(8 - 5) levels a channel: at most 32,768 of them, however large the picture."""
_FIRST_OPAQUE = 128
_MOST_ROUNDS = 60
_STILL = 1e-5


class Clusters(NamedTuple):
    """Colours and how much of the picture each stands for."""

    srgb: FloatArray
    """float64 (k, 3), 0 to 1, each a multiple of 1/255, from dark to light."""
    shares: FloatArray
    """float64 (k,), adding up to 1."""


def k_means(pixels: ByteArray, count: int) -> Clusters:
    """At most `count` colours of a picture by k-means in OKLab, from uint8 (height, width, 4); none of a blank picture.

    Starting points follow Arthur and Vassilvitskii, "k-means++", 2007, drawn from a fixed stream, so that a picture always
    gives the same colours. Pixels less than half opaque do not count.
    """
    places, weights = _gathered(pixels)
    if len(places) == 0:
        return Clusters(np.zeros((0, 3)), np.zeros(0))
    centres = _starting_points(places, weights, min(count, len(places)))
    for _ in range(_MOST_ROUNDS):
        nearest = _squared_distances(places, centres).argmin(axis=1)
        moved = _means(places, weights, nearest, centres)
        still = np.abs(moved - centres).max() < _STILL
        centres = moved
        if still:
            break
    nearest = _squared_distances(places, centres).argmin(axis=1)
    shares = np.bincount(nearest, weights, len(centres)) / weights.sum()
    order = np.argsort(centres[:, 0], kind="stable")
    # Rounding to a byte hides the last bits, in which processors differ.
    srgb = np.round(np.clip(srgb_from_oklab(centres[order]), 0.0, 1.0) * 255) / 255
    return Clusters(srgb, shares[order])


def _gathered(pixels: ByteArray) -> tuple[FloatArray, FloatArray]:
    """Mean colour in OKLab, (n, 3), and number of pixels, (n,), of each box of colours that occurs."""
    flat = pixels.reshape(-1, 4)
    opaque = flat[flat[:, 3] >= _FIRST_OPAQUE]
    channels: WholeArray = opaque[:, :3].astype(np.int64)
    red, green, blue = (channels >> (8 - _BITS)).T
    boxes = (red << (2 * _BITS)) | (green << _BITS) | blue
    sizes = np.bincount(boxes, minlength=1)
    used = np.flatnonzero(sizes)
    sums = np.stack([np.bincount(boxes, channels[:, c], minlength=1)[used] for c in range(3)], axis=1)
    weights = sizes[used].astype(np.float64)
    return oklab_from_srgb(sums / weights[:, None] / 255), weights


def _squared_distances(places: FloatArray, centres: FloatArray) -> FloatArray:
    """(n, k) from (n, 3) and (k, 3)."""
    result: FloatArray = ((places[:, None, :] - centres[None, :, :]) ** 2).sum(axis=2)
    return result


def _starting_points(places: FloatArray, weights: FloatArray, count: int) -> FloatArray:
    stream = stream_of("palette of a picture")
    chosen = [int(np.argmax(weights))]
    while len(chosen) < count:
        reach = _squared_distances(places, places[chosen]).min(axis=1) * weights
        running = np.cumsum(reach)
        if running[-1] <= 0:
            break
        target = unit(stream, len(chosen)) * running[-1]
        chosen.append(min(int(np.searchsorted(running, target, side="right")), len(places) - 1))
    return places[chosen]


def _means(places: FloatArray, weights: FloatArray, nearest: WholeArray, centres: FloatArray) -> FloatArray:
    """The centres moved to the weighted mean of the places nearest to them; one that has none stays."""
    count = len(centres)
    totals = np.bincount(nearest, weights, count)
    sums = np.stack([np.bincount(nearest, weights * places[:, c], count) for c in range(3)], axis=1)
    return np.where(totals[:, None] > 0, sums / np.maximum(totals, 1e-300)[:, None], centres)
