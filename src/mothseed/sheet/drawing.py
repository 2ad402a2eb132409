"""The drawing: what one performance recorded, as arrays."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from mothseed.arrays import FloatArray, RecordArray
from mothseed.colour.value import Colour
from mothseed.geometry.outline import Outline

CIRCLE, ELLIPSE, RECT, LINE_SEGMENT, POLYLINE, POLYGON, PATH = range(7)
"""Kinds of mark."""
KIND_NAMES = ("circle", "ellipse", "rect", "line", "polyline", "polygon", "path")

MARK = np.dtype([
    ("place", "<f8", (4,)),  # as the artist gave it: x y r, x y rx ry, x y width height, or x1 y1 x2 y2
    ("view", "<u4"),  # row of `views`
    ("outline", "<u4"),  # index of `outlines`, for a polyline, polygon or path
    ("kind", "u1"),
    ("linecap", "u1"),
    ("linejoin", "u1"),
    ("painted", "u1"),  # FILLED and STROKED
    ("fill", "<f4", (4,)),  # sRGB and alpha, 0 to 1
    ("stroke", "<f4", (4,)),
    ("stroke_width", "<f8"),  # in the units of the view
    ("opacity", "<f8"),
])  # fmt: skip
"""One recorded shape."""


@dataclass(frozen=True, slots=True, eq=False)
class Drawing:
    """The recorded shapes of one performance, in order: what is rendered, fingerprinted and compared."""

    width: float
    height: float
    unit: str
    paper: Colour
    marks: RecordArray
    """MARK (n,), the lowest first"""
    views: FloatArray
    """float64 (v, 6): the affine map of each view to the sheet"""
    outlines: tuple[Outline, ...]

    def __len__(self) -> int:
        return len(self.marks)
