"""What the rasteriser paints: discs, rings, polygons and shadows in pixels, and the brackets around groups of them."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
import numpy.typing as npt

DISC, POLYGON, SHADOW, OPEN, CLOSE = range(5)
"""Kinds of primitive. A disc with an inner radius is a ring. What lies between OPEN and CLOSE is painted on a tile of its own,
which is then laid on at once."""

NO_RAMP = -1


class Primitives(NamedTuple):
    """The primitives in painting order, as arrays of equal length, and what they refer to."""

    kind: npt.NDArray[np.uint8]
    disc: npt.NDArray[np.float64]
    """(n, 4): centre x and y, outer and inner radius"""
    colour: npt.NDArray[np.float32]
    """(n, 4): red, green, blue, each times alpha, and alpha; of a ramp the opacity alone counts"""
    even_odd: npt.NDArray[np.bool]
    mask: npt.NDArray[np.bool]
    """whether it says where the group that is closed next is seen, rather than being painted"""
    clipped: npt.NDArray[np.bool]
    """of a CLOSE: whether masks came before it"""
    blend: npt.NDArray[np.uint8]
    """of a CLOSE: index of the blend mode"""
    opacity: npt.NDArray[np.float32]
    """of a CLOSE: by how much the group is faded"""
    ramp: npt.NDArray[np.int64]
    """index of its ramp, or NO_RAMP"""
    bounds: npt.NDArray[np.float64]
    """(n, 4): left, top, right, bottom"""
    first_edge: npt.NDArray[np.int64]
    """(n + 1,): a polygon has the edges from its own entry up to the next"""
    edges: npt.NDArray[np.float64]
    """(m, 4): from x and y to x and y"""
    ramp_map: npt.NDArray[np.float64]
    """(n, 6): the affine map from pixels to where a linear ramp has x from 0 to 1, a radial one its radius from 0 to 1"""
    ramp_is_radial: npt.NDArray[np.bool]
    """(ramps,)"""
    ramp_tables: npt.NDArray[np.float32]
    """(ramps, 257, 4): colours along each, not premultiplied"""
    shadow_place: npt.NDArray[np.float64]
    """(n, 3): where the middle of a shadow map's first cell lies, x and y, and the distance of cells in pixels"""
    shadow_size: npt.NDArray[np.int64]
    """(n, 3): where a shadow map begins in `shadow_cells`, and its columns and rows"""
    shadow_cells: npt.NDArray[np.float32]
    """all shadow maps one after the other, row by row: how dark, 0 to 1"""
    depth: int
    """how many groups lie in each other at most"""
