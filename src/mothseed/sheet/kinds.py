"""The kinds of shape: one row for each, which everything that has to tell them apart reads."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from mothseed.arrays import BoolArray, FloatArray
from mothseed.geometry.outline import Outline
from mothseed.geometry.unit_shapes import UNIT_CIRCLE, UNIT_SEGMENT, UNIT_SQUARE


class ShapeKind(NamedTuple):
    """What is to know about a kind of shape."""

    name: str
    """of the call that draws one"""
    numbers: tuple[str, ...]
    """what it is drawn with, in the order of a mark's `place`; empty where that is an outline"""
    first_length: int
    """from which of its numbers on they are lengths, which are never negative"""
    has_inside: bool
    """whether a fill can be seen"""
    unit: Outline | None
    """the shape that a map makes each of them from, see `mark_matrices`; None for the outline it was given"""

    @property
    def plural(self) -> str:
        """The name of several, and of the call that draws an array of them."""
        return f"{self.name}s"

    @property
    def article(self) -> str:
        """The word before its name."""
        return "an" if self.name[0] in "aeiou" else "a"


KINDS = (
    ShapeKind("circle", ("x", "y", "radius"), 2, True, UNIT_CIRCLE),
    ShapeKind("ellipse", ("x", "y", "x_radius", "y_radius"), 2, True, UNIT_CIRCLE),
    ShapeKind("rect", ("x", "y", "width", "height"), 2, True, UNIT_SQUARE),
    ShapeKind("line", ("x1", "y1", "x2", "y2"), 4, False, UNIT_SEGMENT),
    ShapeKind("polyline", (), 0, False, None),
    ShapeKind("polygon", (), 0, True, None),
    ShapeKind("path", (), 0, True, None),
)
"""A mark's `kind` is an index of this; rows are added, never changed."""
CIRCLE, ELLIPSE, RECT, LINE_SEGMENT, POLYLINE, POLYGON, PATH = range(len(KINDS))

UNIT_SHAPES = (UNIT_CIRCLE, UNIT_SQUARE, UNIT_SEGMENT)
"""In the order of SHAPE_CIRCLE and so on, by which kernels know them."""
UNIT_OF_KIND = np.array([-1 if kind.unit is None else UNIT_SHAPES.index(kind.unit) for kind in KINDS])
"""Which of UNIT_SHAPES each kind is made from; -1 for none."""
HAS_OUTLINE: BoolArray = UNIT_OF_KIND < 0
"""Whether each kind is drawn with an outline."""
HAS_INSIDE: BoolArray = np.array([kind.has_inside for kind in KINDS])
IS_ROUND: BoolArray = np.array([kind.unit is UNIT_CIRCLE for kind in KINDS])
_POINTS = [np.zeros((1, 2)) if kind.unit is None else kind.unit.points for kind in KINDS]
UNIT_BOXES: FloatArray = np.array([[*points.min(axis=0), *points.max(axis=0)] for points in _POINTS])
"""float64 (kinds, 4): left, top, right and bottom of each kind's unit shape"""
UNIT_MIDDLES: FloatArray = (UNIT_BOXES[:, :2] + UNIT_BOXES[:, 2:]) / 2
"""float64 (kinds, 2)"""
