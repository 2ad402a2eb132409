"""Figures of one picture."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from mothseed.arrays import ByteArray, FloatArray
from mothseed.colour.oklch import oklab_from_srgb
from mothseed.colour.value import Colour

_LEVELS = 255.0


@dataclass(frozen=True, slots=True)
class Measures:
    """What a picture is like as a whole."""

    coverage: float
    """share of pixels that are not bare paper, 0 to 1"""
    lightness: float
    """mean lightness in OKLab, 0 to 1"""


def oklab_of(pixels: ByteArray) -> FloatArray:
    """OKLab of an image on white: float64 (height, width, 3) from uint8 (height, width, 3 or 4)."""
    colour = pixels[..., :3] / _LEVELS
    if pixels.shape[2] == 4:
        alpha = pixels[..., 3:] / _LEVELS
        colour = colour * alpha + (1 - alpha)
    return oklab_from_srgb(colour)


def measured(pixels: ByteArray, paper: Colour | None = None) -> Measures:
    """The measures of an image, uint8 (height, width, 3 or 4).

    Where the colour of the paper is not known, the most frequent colour is taken for it.
    """
    flat = pixels.reshape(-1, pixels.shape[2])
    if paper is None:
        packed = np.zeros(len(flat), np.uint32)
        for channel in range(pixels.shape[2]):
            packed = (packed << np.uint32(8)) | flat[:, channel]
        bare = int(np.unique(packed, return_counts=True)[1].max())
    else:
        levels = np.array([round(part * _LEVELS) for part in paper[: pixels.shape[2]]], np.uint8)
        bare = int((flat == levels).all(axis=1).sum())
    return Measures(coverage=1 - bare / len(flat), lightness=float(oklab_of(pixels)[..., 0].mean()))
