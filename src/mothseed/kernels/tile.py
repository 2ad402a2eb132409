"""Offsets of rows in a tile, and rounding to rows and blocks."""

from __future__ import annotations

from mothseed.kernels.tile_sizes import ROW, TILE
from mothseed.native.jit import inlined


@inlined
def clamped(x: float, most: int) -> int:
    """The whole number at or below x, but from 0 to `most`."""
    return int(min(max(x, 0.0), float(most)))


@inlined
def row_of(level: int, row: int) -> int:
    """The offset of a row of one tile among all tiles."""
    return (level * TILE + row) * ROW
