"""The few colours that stand for a whole picture."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from mothseed.arrays import ByteArray, FloatArray
from mothseed.colour.oklch import oklab_from_srgb, srgb_from_oklab
from mothseed.means import k_means as crowds

_BITS = 5
"""Colours are first gathered into boxes of 2**(8 - 5) levels a channel: at most 32,768 of them, however large the picture."""
_FIRST_OPAQUE = 128
_CHUNK = 1 << 18
"""Pixels that are gathered at a time: few enough to stay in the cache."""


class Clusters(NamedTuple):
    """Colours and how much of the picture each stands for."""

    srgb: FloatArray
    """float64 (k, 3), 0 to 1, each a multiple of 1/255, from dark to light."""
    shares: FloatArray
    """float64 (k,), adding up to 1."""


def k_means(pixels: ByteArray, count: int) -> Clusters:
    """At most `count` colours of a picture by k-means in OKLab, from uint8 (height, width, 4); none of a blank picture.

    Each is the middle of a crowd of like colours, so a large plain area takes few of them. A picture always gives the same
    colours. Pixels less than half opaque do not count.
    """
    places, weights = _gathered(pixels)
    if len(places) == 0:
        return Clusters(np.zeros((0, 3)), np.zeros(0))
    centres, nearest = crowds(places, weights, count, "palette of a picture")
    totals: FloatArray = np.bincount(nearest, weights, len(centres)).astype(np.float64)
    return _clusters(centres, totals)


def median_cut(pixels: ByteArray, count: int) -> Clusters:
    """At most `count` colours of a picture by median cut in OKLab, from uint8 (height, width, 4); none of a blank picture.

    Heckbert, "Color image quantization for frame buffer display", SIGGRAPH 1982: the box of colours that is spread most
    widely, counting its pixels, is cut at its median across its longest side, again and again. Each colour is the mean of a
    box, and stands for more equal shares of the picture than by k-means.
    """
    places, weights = _gathered(pixels)
    if len(places) == 0:
        return Clusters(np.zeros((0, 3)), np.zeros(0))
    boxes = [np.arange(len(places))]
    while len(boxes) < count:
        spreads = [np.ptp(places[box], axis=0).max() * np.sqrt(weights[box].sum()) if len(box) > 1 else 0.0 for box in boxes]
        widest = int(np.argmax(spreads))
        if not spreads[widest] > 0:
            break
        box = boxes.pop(widest)
        side = int(np.argmax(np.ptp(places[box], axis=0)))
        box = box[np.argsort(places[box, side], kind="stable")]
        running = np.cumsum(weights[box])
        cut = min(max(int(np.searchsorted(running, running[-1] / 2)) + 1, 1), len(box) - 1)
        boxes += [box[:cut], box[cut:]]
    totals = np.array([weights[box].sum() for box in boxes])
    means = np.array([(places[box] * weights[box, None]).sum(axis=0) for box in boxes]) / totals[:, None]
    return _clusters(means, totals)


def _clusters(centres: FloatArray, weights: FloatArray) -> Clusters:
    """The colours at some places in OKLab, dark to light, those alone that stand for something."""
    order = np.argsort(centres[:, 0], kind="stable")
    order = order[weights[order] > 0]
    # Rounding to a byte hides the last bits, in which processors differ.
    srgb = np.round(np.clip(srgb_from_oklab(centres[order]), 0.0, 1.0) * 255) / 255
    return Clusters(srgb, weights[order] / weights.sum())


def _gathered(pixels: ByteArray) -> tuple[FloatArray, FloatArray]:
    """Mean colour in OKLab, (n, 3), and number of pixels, (n,), of each box of colours that occurs."""
    flat = pixels.reshape(-1, 4)
    boxes = 1 << (3 * _BITS)
    sizes, sums = np.zeros(boxes), np.zeros((3, boxes))
    for start in range(0, len(flat), _CHUNK):
        chunk = flat[start : start + _CHUNK]
        if chunk[:, 3].min() < _FIRST_OPAQUE:
            chunk = chunk[chunk[:, 3] >= _FIRST_OPAQUE]
        red, green, blue = (chunk[:, :3] >> (8 - _BITS)).astype(np.intp).T
        box = (red << (2 * _BITS)) | (green << _BITS) | blue
        sizes += np.bincount(box, minlength=boxes)
        for channel in range(3):
            sums[channel] += np.bincount(box, chunk[:, channel], minlength=boxes)
    used = np.flatnonzero(sizes)
    return oklab_from_srgb((sums[:, used] / sizes[used]).T / 255), sizes[used]
