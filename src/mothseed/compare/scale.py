"""Bringing pictures of different sizes to one scale."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
from PIL import Image

from mothseed.arrays import ByteArray
from mothseed.faults import UsageError
from mothseed.measure.reduced import on_white
from mothseed.units import UNITS_PER_INCH

_WIDEST = 1600
"""Most pixels at which pictures are compared: all that a screen shows, and fast."""


class SheetSize(NamedTuple):
    """Width and height of a sheet in its unit."""

    width: float
    height: float
    unit: str

    @classmethod
    def of(cls, values: Sequence[Any]) -> SheetSize | None:
        """The size in a picture's history, or None if it has no valid one."""
        match values:
            case [int() | float() as width, int() | float() as height, str() as unit] if unit in UNITS_PER_INCH:
                return cls(width, height, unit) if 0 < width < math.inf and 0 < height < math.inf else None
        return None

    @property
    def inches(self) -> tuple[float, float]:
        """The same in inches."""
        return self.width / UNITS_PER_INCH[self.unit], self.height / UNITS_PER_INCH[self.unit]

    def __str__(self) -> str:
        return f"{self.width:g} x {self.height:g} {self.unit}"


def at_one_scale(
    images: tuple[ByteArray, ByteArray], sheets: tuple[SheetSize | None, SheetSize | None]
) -> tuple[ByteArray, ByteArray]:
    """Two images, uint8 (height, width, 3 or 4), at one scale, on white: uint8 (height, width, 3), the larger made smaller.

    With both sheets known, a millimetre is as many pixels in both; without, the pictures have to be of one shape and come to
    one size. Raises UsageError where they are not.
    """
    first, second = images
    if sheets[0] is not None and sheets[1] is not None:
        sizes = [sheet.inches for sheet in (sheets[0], sheets[1])]
        widest = max(width for width, _ in sizes)
        scale = min(first.shape[1] / sizes[0][0], second.shape[1] / sizes[1][0], _WIDEST / widest)
        pixels = [(max(round(width * scale), 1), max(round(height * scale), 1)) for width, height in sizes]
    else:
        width = min(first.shape[1], second.shape[1], _WIDEST)
        heights = [image.shape[0] * width / image.shape[1] for image in images]
        if abs(heights[0] - heights[1]) > 1 + width / 1000:
            shapes = " and ".join(f"{image.shape[1]} x {image.shape[0]}" for image in images)
            raise UsageError(
                f"pictures of unlike shape cannot be compared: {shapes} px",
                hint="of pictures that Moth Seed made the sheets are known, and compared at their own scale",
            )
        pixels = [(width, max(round(heights[0]), 1))] * 2
    return _sized(first, pixels[0]), _sized(second, pixels[1])


def overlap(first: ByteArray, second: ByteArray) -> tuple[ByteArray, ByteArray]:
    """The common area of two images, from the top left corner."""
    height, width = (min(first.shape[axis], second.shape[axis]) for axis in (0, 1))
    return first[:height, :width], second[:height, :width]


def _sized(image: ByteArray, size: tuple[int, int]) -> ByteArray:
    flat = on_white(image)
    if (flat.shape[1], flat.shape[0]) == size:
        return flat
    return np.asarray(Image.fromarray(flat).resize(size, Image.Resampling.BOX, reducing_gap=3.0))
