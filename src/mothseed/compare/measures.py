"""Figures of one picture."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from mothseed.arrays import ByteArray, FloatArray
from mothseed.colour.oklch import linear_from_srgb, oklab_from_linear, oklab_from_srgb
from mothseed.colour.value import Colour

_LEVELS = 255
_LINEAR_OF_LEVEL = linear_from_srgb(np.arange(256) / _LEVELS)


@dataclass(frozen=True, slots=True)
class Measures:
    """What a picture is like as a whole."""

    coverage: float
    """share of pixels that are not bare paper, 0 to 1"""
    lightness: float
    """mean lightness in OKLab, 0 to 1"""


def oklab_of(pixels: ByteArray) -> FloatArray:
    """OKLab of an image on white: float64 (height, width, 3) from uint8 (height, width, 3 or 4)."""
    if pixels.shape[2] == 3 or (pixels[..., 3] == _LEVELS).all():
        return oklab_from_linear(_LINEAR_OF_LEVEL[pixels[..., :3]])
    alpha = pixels[..., 3:] / _LEVELS
    return oklab_from_srgb(pixels[..., :3] / _LEVELS * alpha + (1 - alpha))


def measured(pixels: ByteArray, oklab: FloatArray, paper: Colour | None = None) -> Measures:
    """The measures of an image, uint8 (height, width, 3 or 4), with its `oklab_of`.

    Where the colour of the paper is not known, the most frequent colour is taken for it.
    """
    flat = pixels.reshape(-1, pixels.shape[2])
    if paper is None:
        packed = np.zeros(len(flat), np.uint32)
        for channel in range(pixels.shape[2]):
            packed = (packed << np.uint32(8)) | flat[:, channel]
        bare = int(np.unique(packed, return_counts=True)[1].max())
    else:
        # Where nothing is seen the pixels have no colour either.
        shown = paper if paper.alpha > 0 else Colour(0.0, 0.0, 0.0, 0.0)
        levels = np.array([round(part * _LEVELS) for part in shown[: pixels.shape[2]]], np.uint8)
        bare = int((flat == levels).all(axis=1).sum())
    return Measures(coverage=1 - bare / len(flat), lightness=float(oklab[..., 0].mean()))
