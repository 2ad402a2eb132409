"""What the rasteriser paints: discs, rings and polygons in pixels, each in one colour."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
import numpy.typing as npt

DISC, POLYGON = 0, 1
"""Kinds of primitive. A disc with an inner radius is a ring."""

ALONE, OPENS_GROUP, CLOSES_GROUP = 0, 1, 2
"""A fill and a stroke that fade together form a group: they are painted on a scratch tile, which is then laid on at once."""


class Primitives(NamedTuple):
    """The primitives in painting order, as arrays of equal length; a POLYGON's edges are in `edges`."""

    kind: npt.NDArray[np.uint8]
    disc: npt.NDArray[np.float64]
    """(n, 4): centre x and y, outer and inner radius"""
    colour: npt.NDArray[np.float32]
    """(n, 4): red, green, blue, each times alpha, and alpha"""
    group: npt.NDArray[np.uint8]
    group_opacity: npt.NDArray[np.float32]
    bounds: npt.NDArray[np.float64]
    """(n, 4): left, top, right, bottom"""
    first_edge: npt.NDArray[np.int64]
    """(n + 1,): a polygon has the edges from its own entry up to the next"""
    edges: npt.NDArray[np.float64]
    """(m, 4): from x and y to x and y"""
