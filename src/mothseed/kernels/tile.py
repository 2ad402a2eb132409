"""Where rows of a tile begin, and numbers of rows and blocks."""

from __future__ import annotations

from mothseed.kernels.tile_sizes import ROW, TILE
from mothseed.native.jit import inlined


@inlined
def clamped(x: float, most: int) -> int:
    """The whole number at or below x, but from 0 to `most`."""
    return int(min(max(x, 0.0), float(most)))


@inlined
def row_of(level: int, row: int) -> int:
    """Where in all tiles a row of one of them begins."""
    return (level * TILE + row) * ROW
