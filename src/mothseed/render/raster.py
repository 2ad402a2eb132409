"""The rasteriser: a drawing becomes pixels, tile by tile, the same on any number of threads."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

import numpy as np
import numpy.typing as npt

from mothseed.arrays import ByteArray
from mothseed.jit import kernel
from mothseed.render.kernels.blend import NORMAL
from mothseed.render.kernels.disc import COVERS, MISSES, disc_on_tile, paint_disc
from mothseed.render.kernels.merge import clear, keep_masked, lay_shadow, merge_blended
from mothseed.render.kernels.paint import lay_group, wash
from mothseed.render.kernels.polygon import add_edges, sweep_polygon
from mothseed.render.kernels.shade import lay_shade
from mothseed.render.kernels.store import store_tile
from mothseed.render.kernels.tile import BLOCKS, CELLS, LANES, PLANES, RUN, TILE, Tiles, clamped
from mothseed.render.primitives import CLOSE, DISC, NO_SHADE, OPEN, SHADOW, Primitives
from mothseed.render.rounding import Rounding
from mothseed.render.scene.assemble import prepared
from mothseed.render.scene.bins import Bins, binned
from mothseed.render.threads import Threads
from mothseed.sheet.derive import trimmed
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.extents import mark_boxes
from mothseed.sizes import picture_size

_TILES_AT_A_TIME = 8
_BAND_PIXELS = 1 << 23
"""Pixels of a band: 24 megabytes, and enough work between one band and the next for all threads."""
_MARKS_AT_A_TIME = 300_000
"""Of more marks only those that touch a slice of the picture are got ready at once: the edges of each take a kilobyte."""
_ONE, _ZERO = np.float32(1.0), np.float32(0.0)


def rows_of_band(width: int) -> int:
    """How many rows a band of a picture has, at most."""
    return max(_BAND_PIXELS // width // TILE, 1) * TILE


def bands(drawing: Drawing, width: int, rows: int, threads: int | None, rounding: Rounding) -> Iterator[ByteArray]:
    """The pixels of a drawing in bands of so many rows; see `rendered_bands`."""
    width, height = picture_size(drawing.width, drawing.height, width)
    size = rounding.bytes_of_pixel(opaque=drawing.paper.alpha == 1)
    paper = np.array(drawing.paper, np.float32)
    paper[:3] *= paper[3]
    across = -(-width // TILE)
    parts = -(-len(drawing) // _MARKS_AT_A_TIME)
    slice_rows = rows if parts <= 1 else max(height // TILE // parts, 1) * TILE
    with Threads(threads) as shared:
        get_ready = _whole if parts <= 1 else _by_slices
        ready_of = get_ready(drawing, width, height, shared)
        for top in range(0, height, rows):
            pixels = np.empty((min(rows, height - top), width, size), np.uint8)
            bottom = top + len(pixels)
            for upper in range(top, bottom, slice_rows):
                lower = min(upper + slice_rows, bottom)
                first, last = upper // TILE * across, -(-lower // TILE) * across
                starts = range(first, last, _TILES_AT_A_TIME)
                paint = partial(
                    _paint_some, last=last, top=top, ready=ready_of(upper, lower), paper=paper, pixels=pixels, rounding=rounding
                )
                shared.share(paint, starts)
            yield pixels


_Ready = tuple[Primitives, Bins]


def _ready(drawing: Drawing, width: int, height: int, threads: Threads) -> _Ready:
    primitives = prepared(drawing, width / drawing.width, threads)
    return primitives, binned(primitives, width, height)


def _whole(drawing: Drawing, width: int, height: int, threads: Threads) -> Callable[[int, int], _Ready]:
    """What gives the primitives of some rows of the picture: here, all of them at any time."""
    ready = _ready(drawing, width, height, threads)
    return lambda _upper, _lower: ready


def _by_slices(drawing: Drawing, width: int, height: int, threads: Threads) -> Callable[[int, int], _Ready]:
    """What gives the primitives of marks that touch some rows of the picture, got ready whenever they are asked for."""
    spans = _rows_of_marks(drawing, width / drawing.width)

    def ready(upper: int, lower: int) -> _Ready:
        touching = (spans[0] < lower) & (spans[1] > upper)
        return _ready(trimmed(drawing.part(touching)), width, height, threads)

    return ready


def _paint_some(
    start: int,
    last: int,
    top: int,
    ready: _Ready,
    paper: npt.NDArray[np.float32],
    pixels: ByteArray,
    rounding: Rounding,
) -> None:
    end = min(start + _TILES_AT_A_TIME, last)
    _paint_tiles(start, end, top, *ready, paper, pixels, rounding.bits, rounding.grey, rounding.dither)


def _rows_of_marks(drawing: Drawing, scale: float) -> npt.NDArray[np.float64]:
    """The first and last row of pixels that each mark can touch, with one to spare: float64 (2, n)."""
    spans = np.empty((2, len(drawing)))
    for first in range(0, len(drawing), _MARKS_AT_A_TIME):
        some = np.arange(first, min(first + _MARKS_AT_A_TIME, len(drawing)))
        boxes = mark_boxes(trimmed(drawing.part(some)))
        spans[0, some], spans[1, some] = boxes[:, 1] * scale - 1, boxes[:, 3] * scale + 1
    return spans


@kernel
def _paint_tiles(
    first: int,
    last: int,
    top: int,
    primitives: Primitives,
    bins: Bins,
    paper: npt.NDArray[np.float32],
    pixels: ByteArray,
    bits: int,
    grey: bool,
    dither: bool,
) -> None:
    """Paint tiles of the picture, counted row by row, into the pixels of a band that begins at row `top`."""
    # Level 0 is the picture; each group that is open has a level of its own; the last is for masks.
    tiles = np.zeros((primitives.depth + 2, TILE, PLANES, RUN), np.float32)
    cells = np.zeros((TILE + 1, CELLS), np.float32)
    flags = np.zeros(TILE, np.uint8)
    cover = np.zeros(TILE, np.float32)
    across = -(-pixels.shape[1] // TILE)
    planes = 3 if paper[3] == _ONE else PLANES
    for number in range(first, last):
        row, column = number // across, number % across
        for plane in range(PLANES):
            tiles[0, :, plane] = paper[plane]
        _paint_items(number, row, column, primitives, bins, tiles, planes, cells, flags, cover)
        store_tile(tiles[0], pixels, column * TILE, row * TILE - top, planes == 3, bits, grey, dither)


@kernel
def _paint_items(
    number: int,
    tile_row: int,
    tile_column: int,
    primitives: Primitives,
    bins: Bins,
    tiles: Tiles,
    planes_of_picture: int,
    cells: npt.NDArray[np.float32],
    flags: npt.NDArray[np.uint8],
    cover: npt.NDArray[np.float32],
) -> None:
    """Paint all that belongs to a tile, in order."""
    left, top = tile_column * TILE, tile_row * TILE
    mask = len(tiles) - 1
    level, planes = 0, planes_of_picture
    # Primitives that cover the whole tile are not laid on one by one: together they are one washing of the tile, which is
    # put off until something is painted on part of it.
    through = _ONE
    added = np.zeros(PLANES, np.float32)
    washed = False
    colours = primitives.colour
    for item in range(bins.first_item[number], bins.first_item[number + 1]):
        i = bins.items[item]
        kind = primitives.kind[i]
        is_mask, has_shade = primitives.mask[i], primitives.shade[i] != NO_SHADE
        if kind == DISC:
            meeting = disc_on_tile(primitives.disc, i, float(left), float(top), float(TILE))
            if meeting == MISSES:
                continue
            if meeting == COVERS and level == 0 and not is_mask and not has_shade:
                rest = _ONE - colours[i, 3]
                through *= rest
                for plane in range(PLANES):
                    added[plane] = added[plane] * rest + colours[i, plane]
                washed = True
                continue
        if washed:
            wash(tiles, planes, through, added)
            through, washed = _ONE, False
            added[:] = _ZERO
        if kind == OPEN:
            level, planes = level + 1, PLANES
            continue
        first_row, last_row = clamped(primitives.bounds[i, 1] - top, TILE), clamped(primitives.bounds[i, 3] - top + 1.0, TILE)
        first = clamped((primitives.bounds[i, 0] - left) / LANES, BLOCKS)
        last = clamped((primitives.bounds[i, 2] - left) / LANES + 1.0, BLOCKS)
        if kind == CLOSE:
            level -= 1
            planes = planes_of_picture if level == 0 else PLANES
            if primitives.clipped[i]:
                keep_masked(tiles, level + 1, first_row, last_row, first, last)
                clear(tiles, mask, 1, 0, TILE, 0, BLOCKS)
            opacity, mode = primitives.opacity[i], primitives.blend[i]
            if mode == NORMAL:
                lay_group(tiles, level, planes, first_row, last_row, first, last, opacity)
            else:
                merge_blended(tiles, level, planes, first_row, last_row, first, last, opacity, mode)
                clear(tiles, level + 1, PLANES, first_row, last_row, first, last)
            continue
        if kind == SHADOW:
            lay_shadow(tiles, level, planes, first_row, last_row, first, last, left, top, primitives, i, cover)
            continue
        target, target_planes = (mask, 1) if is_mask or has_shade else (level, planes)
        if kind == DISC:
            paint_disc(tiles, target, target_planes, primitives.disc, colours, i, left, top, cover)
        else:
            slot = bins.first_slot[i] + tile_row - bins.top_row[i]
            start, end = bins.first_edge[slot], bins.first_edge[slot + 1]
            upper, lower = add_edges(cells, flags, primitives.edges, bins.edges, start, end, left, top)
            even_odd = primitives.even_odd[i]
            sweep_polygon(tiles, target, target_planes, upper, lower, cells, flags, even_odd, colours, i, cover)
        if has_shade:
            lay_shade(tiles, level, planes, first_row, last_row, first, last, left, top, primitives, i, cover)
    if washed:
        wash(tiles, planes, through, added)
