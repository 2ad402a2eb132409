"""Discs and rings on a tile: small ones by their width at some heights, others by distance from their centre."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array2
from mothseed.kernels.coverage import cover_lanes, dot_lanes
from mothseed.kernels.lanes import clear_lanes
from mothseed.kernels.paint import lay_covered, lay_even
from mothseed.kernels.tile import clamped, row_of
from mothseed.kernels.tile_sizes import BLOCKS, LANES, TILE, Colours, Cover, Tiles
from mothseed.native.jit import inlined, kernel

MISSES, MEETS, COVERS = 0, 1, 2

_REACH = 0.75
"""Pixels whose centre is farther than this from a circle are wholly on one side of it: half a diagonal is 0.707."""
_LARGEST_DOT = 5.0
"""Radius in pixels from which on the distance from the centre tells better than the width what a circle covers."""
_ONE, _MINUS_ONE = np.float32(1.0), np.float32(-1.0)

Discs = Array2[np.float64]
"""(n, 4): centre x and y, outer and inner radius"""


@inlined
def disc_on_tile(discs: Discs, i: int, left: float, top: float, size: float) -> int:
    """Whether a disc or ring misses a square, meets it, or covers all of it."""
    x, y, outer, inner = discs[i, 0] - left, discs[i, 1] - top, discs[i, 2], discs[i, 3]
    near_x, near_y = max(0.0 - x, 0.0, x - size), max(0.0 - y, 0.0, y - size)
    far_x, far_y = max(abs(x), abs(size - x)), max(abs(y), abs(size - y))
    near, far = near_x * near_x + near_y * near_y, far_x * far_x + far_y * far_y
    if near > (outer + 1.0) ** 2 or (inner > 1.0 and far < (inner - 1.0) ** 2):
        return MISSES
    covers_outside = outer > 1.0 and far < (outer - 1.0) ** 2
    covers_inside = inner <= 0.0 or near > (inner + 1.0) ** 2
    return COVERS if covers_outside and covers_inside else MEETS


@inlined
def _find_cover(cover: Cover, first: int, last: int, x: float, dy: float, outer: float, inner: float) -> None:
    """Find how much of the pixels of some blocks lies within a disc or ring; its centre is at x, the row dy below it."""
    for block in range(first, last):
        place = block * LANES
        clear_lanes(cover, place)
        _add_circle(cover, place, x - place, dy, outer, _ONE)
        if inner > 0.0:
            _add_circle(cover, place, x - place, dy, inner, _MINUS_ONE)


@inlined
def _add_circle(cover: Cover, place: int, x: float, dy: float, radius: float, sign: np.float32) -> None:
    """Add what a circle covers of eight pixels, or take it off; its centre is x to the right of the first pixel's left side."""
    if radius < _LARGEST_DOT:
        upper, lower = max(dy - 0.5, 0.0 - radius), min(dy + 0.5, radius)
        if lower > upper:
            middle, height = np.float32((upper + lower) * 0.5), np.float32(lower - upper)
            dot_lanes(cover, place, np.float32(x), middle, height, np.float32(radius * radius), sign)
    else:
        # Where the straight line lies that stands for the circle over the width of a pixel.
        flattened = np.float32(radius - 1.0 / (24.0 * radius))
        cover_lanes(cover, place, np.float32(0.5 - x), np.float32(dy), flattened, sign)


@kernel
def paint_disc(
    tiles: Tiles, level: int, planes: int, discs: Discs, colours: Colours, i: int, left: int, top: int, cover: Cover
) -> None:
    """Paint disc or ring i on a level of the tile whose corner is at (left, top)."""
    x, y, outer, inner = discs[i, 0] - left, discs[i, 1] - top, discs[i, 2], discs[i, 3]
    for row in range(clamped(y - outer - 1.0, TILE), clamped(y + outer + 2.0, TILE)):
        start, dy = row_of(level, row), row + 0.5 - y
        # From the outside in: beyond `edge` no pixel is covered, within `full` all are, within `rim` some are again not
        # because of the hole, within `hole` none are.
        edge = _half_chord(outer + _REACH, dy) + 0.5
        full = _half_chord(outer - _REACH, dy) - 0.5
        rim = _half_chord(inner + _REACH, dy) + 0.5 if inner > 0.0 else 0.0
        hole = _half_chord(inner - _REACH, dy) - 0.5 if inner > 0.0 else 0.0
        block, last = clamped((x - edge) / LANES, BLOCKS), clamped((x + edge) / LANES + 1.0, BLOCKS)
        rim_start = block
        while block < last:
            near, far = block * LANES + 0.5 - x, block * LANES + (LANES - 0.5) - x
            even = block
            if near >= rim and far <= full:
                even = max(min(clamped((x + full + 0.5) / LANES, BLOCKS), last), block + 1)
            elif near >= -full and far <= -rim:
                even = max(min(clamped((x - rim + 0.5) / LANES, BLOCKS), last), block + 1)
            in_hole = near > -hole and far < hole
            if even == block and not in_hole:
                block += 1
                continue
            _paint_rim(tiles, start, planes, rim_start, block, x, dy, outer, inner, colours, i, cover)
            if in_hole:
                even = max(min(clamped((x + hole) / LANES, BLOCKS), last), block + 1)
            else:
                lay_even(tiles, start, planes, block, even, colours, i, _ONE)
            block = rim_start = even
        _paint_rim(tiles, start, planes, rim_start, last, x, dy, outer, inner, colours, i, cover)


@inlined
def _paint_rim(
    tiles: Tiles,
    start: int,
    planes: int,
    first: int,
    last: int,
    x: float,
    dy: float,
    outer: float,
    inner: float,
    colours: Colours,
    i: int,
    cover: Cover,
) -> None:
    if last > first:
        _find_cover(cover, first, last, x, dy, outer, inner)
        lay_covered(tiles, start, planes, first, last, colours, i, cover)


@inlined
def _half_chord(radius: float, dy: float) -> float:
    """Half the length of the chord at a distance from the middle; 0 beyond the circle."""
    rest = radius * radius - dy * dy if radius > 0.0 else -1.0
    return math.sqrt(rest) if rest > 0.0 else 0.0
