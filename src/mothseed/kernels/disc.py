"""Discs and rings on a tile: small ones from their width at some heights, others from the distance to their centre."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array2
from mothseed.kernels.coverage import add_circle_lanes, add_dot_lanes, lay_disc_lanes, lay_dot_lanes
from mothseed.kernels.lanes import fill_lanes
from mothseed.kernels.paint import lay_covered, lay_even
from mothseed.kernels.tile import clamped, row_of
from mothseed.kernels.tile_sizes import BLOCKS, LANES, TILE, Cover, Paint, Tiles
from mothseed.native.jit import inlined, kernel

MISSES, MEETS, COVERS = 0, 1, 2

_REACH = 0.75
"""Pixels whose centre is farther than this from a circle lie entirely on one side of it: half a diagonal is 0.707."""
_SMALL = 10.0
"""Radius in pixels up to which all blocks around a disc are taken alike: finding those that it misses or covers costs more."""
LARGEST_DOT = 5.0
"""Radius in pixels from which the distance to the centre gives better coverage than the width."""
_ZERO, _ONE, _MINUS_ONE = np.float32(0.0), np.float32(1.0), np.float32(-1.0)

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
    """Find the coverage of some blocks by a disc or ring; its centre is at x, the row dy below it."""
    for block in range(first, last):
        place = block * LANES
        fill_lanes(cover, place, _ZERO)
        _add_circle(cover, place, x - place, dy, outer, _ONE)
        if inner > 0.0:
            _add_circle(cover, place, x - place, dy, inner, _MINUS_ONE)


@inlined
def _add_circle(cover: Cover, place: int, x: float, dy: float, radius: float, sign: np.float32) -> None:
    """Add or subtract a circle's coverage of eight pixels; its centre is x to the right of the first pixel's left side."""
    if radius < LARGEST_DOT:
        upper, lower = max(dy - 0.5, 0.0 - radius), min(dy + 0.5, radius)
        if lower > upper:
            middle, height = np.float32((upper + lower) * 0.5), np.float32(lower - upper)
            add_dot_lanes(cover, place, np.float32(x), middle, height, np.float32(radius * radius), sign)
    else:
        add_circle_lanes(cover, place, np.float32(0.5 - x), np.float32(dy), _flattened(radius), sign)


@inlined
def _flattened(radius: float) -> np.float32:
    """Radius of the straight line that stands for the circle across a pixel."""
    return np.float32(radius - 1.0 / (24.0 * radius))


@kernel
def paint_dot(tiles: Tiles, level: int, planes: int, discs: Discs, i: int, paint: Paint, left: int, top: int) -> None:
    """Paint disc i, which is small, on a level of the tile whose corner is at (left, top)."""
    x, y, radius = discs[i, 0] - left, discs[i, 1] - top, discs[i, 2]
    first, last = clamped((x - radius) / LANES, BLOCKS), clamped((x + radius) / LANES + 1.0, BLOCKS)
    square = np.float32(radius * radius)
    for row in range(clamped(y - radius, TILE), clamped(y + radius + 1.0, TILE)):
        dy = row + 0.5 - y
        upper, lower = max(dy - 0.5, 0.0 - radius), min(dy + 0.5, radius)
        if lower > upper:
            middle, height = np.float32((upper + lower) * 0.5), np.float32(lower - upper)
            start = row_of(level, row)
            for block in range(first, last):
                place = block * LANES
                lay_dot_lanes(tiles, start + place, planes, paint, np.float32(x - place), middle, height, square)


@kernel
def paint_disc(tiles: Tiles, level: int, planes: int, discs: Discs, i: int, paint: Paint, left: int, top: int) -> None:
    """Paint disc i on a level of the tile whose corner is at (left, top)."""
    x, y, radius = discs[i, 0] - left, discs[i, 1] - top, discs[i, 2]
    reach = _flattened(radius)
    if radius < _SMALL:
        side = radius + _REACH + 0.5
        first, last = clamped((x - side) / LANES, BLOCKS), clamped((x + side) / LANES + 1.0, BLOCKS)
        for row in range(clamped(y - radius - 1.0, TILE), clamped(y + radius + 2.0, TILE)):
            _lay_rim(tiles, row_of(level, row), planes, paint, first, last, x, row + 0.5 - y, reach)
        return
    for row in range(clamped(y - radius - 1.0, TILE), clamped(y + radius + 2.0, TILE)):
        start, dy = row_of(level, row), row + 0.5 - y
        # Beyond `edge` no pixel is covered, within `full` all are.
        edge = _half_chord(radius + _REACH, dy) + 0.5
        full = _half_chord(radius - _REACH, dy) - 0.5
        first, last = clamped((x - edge) / LANES, BLOCKS), clamped((x + edge) / LANES + 1.0, BLOCKS)
        even = min(max(clamped((x - full - 0.5) / LANES + 1.0, BLOCKS), first), last)
        beyond = min(max(clamped((x + full + 0.5) / LANES, BLOCKS), even), last)
        _lay_rim(tiles, start, planes, paint, first, even, x, dy, reach)
        lay_even(tiles, start, planes, even, beyond, paint, _ONE)
        _lay_rim(tiles, start, planes, paint, beyond, last, x, dy, reach)


@inlined
def _lay_rim(
    tiles: Tiles,
    start: int,
    planes: int,
    paint: Paint,
    first: int,
    last: int,
    x: float,
    dy: float,
    reach: np.float32,
) -> None:
    for block in range(first, last):
        place = block * LANES
        across = np.float32(0.5 - (x - place))
        lay_disc_lanes(tiles, start + place, planes, paint, across, np.float32(dy), reach)


@kernel
def paint_ring(
    tiles: Tiles, level: int, planes: int, discs: Discs, i: int, paint: Paint, left: int, top: int, cover: Cover
) -> None:
    """Paint ring i on a level of the tile whose corner is at (left, top)."""
    x, y, outer, inner = discs[i, 0] - left, discs[i, 1] - top, discs[i, 2], discs[i, 3]
    for row in range(clamped(y - outer - 1.0, TILE), clamped(y + outer + 2.0, TILE)):
        start, dy = row_of(level, row), row + 0.5 - y
        # From the outside in: beyond `edge` no pixel is covered, within `full` all are, within `rim` some are not
        # because of the hole, within `hole` none are.
        edge = _half_chord(outer + _REACH, dy) + 0.5
        full = _half_chord(outer - _REACH, dy) - 0.5
        rim = _half_chord(inner + _REACH, dy) + 0.5
        hole = _half_chord(inner - _REACH, dy) - 0.5
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
            _paint_rim(tiles, start, planes, rim_start, block, x, dy, outer, inner, paint, cover)
            if in_hole:
                even = max(min(clamped((x + hole) / LANES, BLOCKS), last), block + 1)
            else:
                lay_even(tiles, start, planes, block, even, paint, _ONE)
            block = rim_start = even
        _paint_rim(tiles, start, planes, rim_start, last, x, dy, outer, inner, paint, cover)


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
    paint: Paint,
    cover: Cover,
) -> None:
    if last > first:
        _find_cover(cover, first, last, x, dy, outer, inner)
        lay_covered(tiles, start, planes, first, last, paint, cover)


@inlined
def _half_chord(radius: float, dy: float) -> float:
    """Half the length of the chord at a distance from the middle; 0 beyond the circle."""
    rest = radius * radius - dy * dy if radius > 0.0 else -1.0
    return math.sqrt(rest) if rest > 0.0 else 0.0
