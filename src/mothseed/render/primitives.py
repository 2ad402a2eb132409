"""What the rasteriser paints: discs, rings, polygons and shadows in pixels, and the brackets around groups of them."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
import numpy.typing as npt

DISC, POLYGON, SHADOW, OPEN, CLOSE = range(5)
"""Kinds of primitive. A disc with an inner radius is a ring. What lies between OPEN and CLOSE is painted on a tile of its own,
which is then laid on at once."""

NO_SHADE = -1

LINEAR_SHADE, RADIAL_SHADE, PICTURE_SHADE = range(3)
"""Kinds of paint that is not one colour."""


class Shades(NamedTuple):
    """Ramps and pictures that are painted with, as arrays of equal length, and what they refer to."""

    kind: npt.NDArray[np.uint8]
    table: npt.NDArray[np.int64]
    """of a ramp: its row of `tables`"""
    tables: npt.NDArray[np.float32]
    """(ramps, 257, 4): colours along each, not premultiplied"""
    size: npt.NDArray[np.int64]
    """(n, 3): of a picture: where it begins in `texels`, and its columns and rows"""
    texels: npt.NDArray[np.uint8]
    """(m, 4): pixels of pictures, row by row, one picture after the other, not premultiplied"""
    outside: npt.NDArray[np.uint8]
    """of a picture: what lies beyond its edge, an index of OUTSIDES"""
    smooth: npt.NDArray[np.bool]
    tint: npt.NDArray[np.float32]
    """(n, 4): what a picture's colours are multiplied by"""


class Primitives(NamedTuple):
    """The primitives in painting order, as arrays of equal length, and what they refer to."""

    kind: npt.NDArray[np.uint8]
    disc: npt.NDArray[np.float64]
    """(n, 4): centre x and y, outer and inner radius"""
    colour: npt.NDArray[np.float32]
    """(n, 4): red, green, blue, each times alpha, and alpha; of a ramp or picture the opacity alone counts"""
    even_odd: npt.NDArray[np.bool]
    mask: npt.NDArray[np.bool]
    """whether it says where the group that is closed next is seen, rather than being painted"""
    clipped: npt.NDArray[np.bool]
    """of a CLOSE: whether masks came before it"""
    blend: npt.NDArray[np.uint8]
    """of a CLOSE: index of the blend mode"""
    opacity: npt.NDArray[np.float32]
    """of a CLOSE: by how much the group is faded"""
    shade: npt.NDArray[np.int64]
    """index of its ramp or picture, or NO_SHADE"""
    bounds: npt.NDArray[np.float64]
    """(n, 4): left, top, right, bottom"""
    first_edge: npt.NDArray[np.int64]
    """(n + 1,): a polygon has the edges from its own entry up to the next"""
    edges: npt.NDArray[np.float64]
    """(m, 4): from x and y to x and y"""
    shade_map: npt.NDArray[np.float64]
    """(n, 6): the affine map from pixels to where a linear ramp has x from 0 to 1, a radial one its radius from 0 to 1, and a
    picture has its own pixels"""
    shades: Shades
    shadow_place: npt.NDArray[np.float64]
    """(n, 3): where the middle of a shadow map's first cell lies, x and y, and the distance of cells in pixels"""
    shadow_size: npt.NDArray[np.int64]
    """(n, 3): where a shadow map begins in `shadow_cells`, and its columns and rows"""
    shadow_cells: npt.NDArray[np.float32]
    """all shadow maps one after the other, row by row: how dark, 0 to 1"""
    depth: int
    """how many groups lie in each other at most"""
