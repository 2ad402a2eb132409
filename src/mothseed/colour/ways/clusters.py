"""What all methods share: gathering colours from pixels, and clusters of them."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from mothseed.arrays import ByteArray, FloatArray
from mothseed.colour.oklch import oklab_from_srgb, srgb_from_oklab

_BITS = 5
"""Colours are first gathered into boxes of 2**(8 - 5) levels per channel: at most 32,768 of them, however large the
picture.
"""
_FIRST_OPAQUE, _OPAQUE = 128, 255
_CHUNK = 1 << 18
"""Pixels gathered at a time: few enough to stay in the cache."""


class Clusters(NamedTuple):
    """Colours, and the share of the picture that each stands for."""

    srgb: FloatArray
    """float64 (k, 3), multiples of 1/255 from 0 to 1, dark to light"""
    shares: FloatArray
    """float64 (k,), adding up to 1"""


def clusters_at(centres: FloatArray, weights: FloatArray) -> Clusters:
    """The colours at some places in OKLab, dark to light, without those that stand for nothing."""
    order = np.argsort(centres[:, 0], kind="stable")
    order = order[weights[order] > 0]
    # Rounding to a byte hides the last bits, in which processors differ.
    srgb = np.round(np.clip(srgb_from_oklab(centres[order]), 0.0, 1.0) * 255) / 255
    return Clusters(srgb, weights[order] / weights.sum())


def gathered(pixels: ByteArray, *, by_alpha: bool = False) -> tuple[FloatArray, FloatArray]:
    """Mean colour in OKLab, (n, 3), and number of pixels, (n,), of each box that is not empty. Pixels less than half opaque
    do not count; with `by_alpha`, each counts by its alpha.
    """
    flat = pixels.reshape(-1, 4)
    boxes = 1 << (3 * _BITS)
    sizes, sums = np.zeros(boxes), np.zeros((3, boxes))
    for start in range(0, len(flat), _CHUNK):
        chunk = flat[start : start + _CHUNK]
        least = 1 if by_alpha else _FIRST_OPAQUE
        if chunk[:, 3].min() < least:
            chunk = chunk[chunk[:, 3] >= least]
        red, green, blue = (chunk[:, :3] >> (8 - _BITS)).astype(np.intp).T
        box = (red << (2 * _BITS)) | (green << _BITS) | blue
        counts = chunk[:, 3] / _OPAQUE if by_alpha else None
        sizes += np.bincount(box, counts, minlength=boxes)
        for channel in range(3):
            parts = chunk[:, channel] if counts is None else chunk[:, channel] * counts
            sums[channel] += np.bincount(box, parts, minlength=boxes)
    used = np.flatnonzero(sizes)
    return oklab_from_srgb((sums[:, used] / sizes[used]).T / 255), sizes[used]
