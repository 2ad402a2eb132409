"""Compositing a level of a tile with the one below it by a blend mode."""

from __future__ import annotations

import numpy as np

from mothseed.kernels.blend import HUE, blended, part_blended
from mothseed.kernels.lanes import any_lanes
from mothseed.kernels.primitives import TileJob, Window
from mothseed.kernels.tile import row_of
from mothseed.kernels.tile_sizes import LANES, PLANES, RUN
from mothseed.native.jit import technique

_ZERO, _ONE = np.float32(0.0), np.float32(1.0)


@technique
def merge_blended(job: TileJob, window: Window, left_of_tile: int, top_of_tile: int, i: int) -> None:
    """Composite a window of the next level with this one as CLOSE i says, all premultiplied.

    Compositing and Blending Level 1, section 10: co = cs (1 - ab) + cb (1 - as) + as ab B(Cb, Cs), for source-over.
    """
    level, planes = window.level, window.planes
    tiles, below, above, mixed = job.room.tiles, job.room.below, job.room.above, job.room.mixed
    opacity, mode = job.primitives.opacity[i], int(job.primitives.blend[i])
    for row in range(window.top, window.bottom):
        for block in range(window.first, window.last):
            if not any_lanes(tiles, row_of(level + 1, row) + 3 * RUN + block * LANES):
                continue
            for x in range(np.uint64(block * LANES), np.uint64((block + 1) * LANES)):
                alpha = tiles[level + 1, row, 3, x] * opacity
                if alpha <= _ZERO:
                    continue
                backdrop = tiles[level, row, 3, x] if planes == PLANES else _ONE
                for plane in range(3):
                    above[plane] = tiles[level + 1, row, plane, x] * opacity / alpha
                    below[plane] = tiles[level, row, plane, x] / backdrop if backdrop > _ZERO else _ZERO
                if mode < HUE:
                    for plane in range(3):
                        mixed[plane] = part_blended(mode, below[plane], above[plane])
                else:
                    blended(mode, below, above, mixed)
                for plane in range(3):
                    source = above[plane] * alpha * (_ONE - backdrop)
                    kept = tiles[level, row, plane, x] * (_ONE - alpha)
                    tiles[level, row, plane, x] = source + kept + alpha * backdrop * mixed[plane]
                if planes == PLANES:
                    tiles[level, row, 3, x] = alpha + backdrop - alpha * backdrop
