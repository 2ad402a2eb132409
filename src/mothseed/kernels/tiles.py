"""Painting tiles: the primitives of each, in order, and the resulting pixels."""

from __future__ import annotations

import numpy as np

from mothseed.arrays import Array2, Array3
from mothseed.kernels.disc import COVERS, LARGEST_DOT, MISSES, disc_on_tile, paint_disc, paint_dot, paint_ring
from mothseed.kernels.lanes import fetch_ahead, fill_lanes, store_lanes, store_opaque_lanes
from mothseed.kernels.paint import clear, keep_masked, lay_group, paint_of, wash
from mothseed.kernels.polygon import add_edges, sweep_polygon
from mothseed.kernels.primitives import (
    BY_MASK,
    CLOSE,
    DISC,
    HAS_BOX,
    KIND,
    NO_SHADE,
    OPEN,
    SHADOW,
    TECHNIQUES,
    Bins,
    Primitives,
    TileJob,
    Window,
)
from mothseed.kernels.tile import clamped, row_of
from mothseed.kernels.tile_sizes import BLOCKS, LANES, PLANES, RUN, TILE, Tiles
from mothseed.native.jit import Handed, call_technique, entry, inlined, kernel

_ONE, _ZERO = np.float32(1.0), np.float32(0.0)
_LEVELS, _HALF = np.float32(255.0), np.float32(0.5)
_SHADE, _SHADOW, _BLENDED, _ROUNDING = range(len(TECHNIQUES))
_NORMAL = 0
_AHEAD = 3
"""Items after the one that is painted whose numbers of edges are fetched; only those of the next tell which edges to fetch."""
_FETCHED = 8
"""Edges fetched, two of which share a line of the cache; those that follow come by themselves."""


@entry
def paint_tiles(words: Handed, job: TileJob) -> None:
    """Paint tiles of the picture into the pixels of a band: the primitives of each tile, in order."""
    primitives, bins, room, techniques, pixels = job.primitives, job.bins, job.room, job.techniques, job.pixels
    tiles, added, cover = room.tiles, room.added, room.cover
    traits, colours, bounds, discs = primitives.traits, primitives.colour, primitives.bounds, primitives.disc
    covered = primitives.covered
    across = -(-pixels.shape[1] // TILE)
    is_opaque, is_usual = job.paper[3] == _ONE, job.bits == 8 and not job.grey and not job.dither
    planes_of_picture = 3 if is_opaque else PLANES
    mask = len(tiles) - 1
    for number in range(job.first, job.last):
        tile_row, tile_column = number // across, number % across
        left, top = tile_column * TILE, tile_row * TILE
        for y in range(TILE):
            for plane in range(PLANES):
                for block in range(BLOCKS):
                    fill_lanes(tiles, row_of(0, y) + plane * RUN + block * LANES, job.paper[plane])
        # Level 0 is the picture; each open group has a level of its own; the last is for masks.
        level, planes = 0, planes_of_picture
        # Primitives that cover the whole tile are not laid on one by one: together they make a single wash, which
        # is put off until something is painted on part of it.
        washed, through = False, _ONE
        for plane in range(PLANES):
            added[plane] = _ZERO
        for item in range(bins.first_item[number], bins.first_item[number + 1]):
            i = bins.items[item]
            _fetch_edges(primitives, bins, item)
            kind, by_mask = traits[i] & KIND, traits[i] & BY_MASK != 0
            if kind == DISC:
                meeting = disc_on_tile(discs, i, float(left), float(top), float(TILE))
                if meeting == MISSES:
                    continue
                covers = meeting == COVERS
            else:
                covers = traits[i] & HAS_BOX != 0 and _covers(covered, i, left, top)
            if covers and level == 0 and not by_mask:
                rest = _ONE - colours[i, 3]
                through *= rest
                for plane in range(PLANES):
                    added[plane] = added[plane] * rest + colours[i, plane]
                washed = True
                continue
            if washed:
                wash(tiles, planes, through, added)
                washed, through = False, _ONE
                for plane in range(PLANES):
                    added[plane] = _ZERO
            if kind == OPEN:
                level, planes = level + 1, PLANES
                continue
            if kind == CLOSE:
                first_row, last_row, first, last = _window(bounds, i, left, top)
                level -= 1
                planes = planes_of_picture if level == 0 else PLANES
                if primitives.clipped[i]:
                    keep_masked(tiles, Window(level + 1, PLANES, first_row, last_row, first, last))
                    clear(tiles, Window(mask, 1, 0, TILE, 0, BLOCKS))
                if primitives.blend[i] == _NORMAL:
                    lay_group(tiles, Window(level, planes, first_row, last_row, first, last), primitives.opacity[i])
                else:
                    numbers = (level, planes, first_row, last_row, first, last, left, top, i)
                    call_technique(techniques[_BLENDED], words, numbers)
                    clear(tiles, Window(level + 1, PLANES, first_row, last_row, first, last))
                continue
            if kind == SHADOW:
                first_row, last_row, first, last = _window(bounds, i, left, top)
                call_technique(techniques[_SHADOW], words, (level, planes, first_row, last_row, first, last, left, top, i))
                continue
            target, target_planes = (mask, 1) if by_mask else (level, planes)
            paint = paint_of(colours, i)
            if kind == DISC:
                if discs[i, 3] > 0.0:
                    paint_ring(tiles, target, target_planes, discs, i, paint, left, top, cover)
                elif discs[i, 2] < LARGEST_DOT:
                    paint_dot(tiles, target, target_planes, discs, i, paint, left, top)
                else:
                    paint_disc(tiles, target, target_planes, discs, i, paint, left, top)
            else:
                start, end = bins.edges_of_item[item, 0], bins.edges_of_item[item, 1]
                rows = min(bounds[i, 3], top + float(TILE)) - max(bounds[i, 1], float(top))
                edges, folds, even_odd = primitives.edges, primitives.folds[i], primitives.even_odd[i]
                upper, lower, is_carried, is_gathered = add_edges(
                    room.areas, edges, bins.edges, start, end, left, top, rows, folds
                )
                sweep_polygon(
                    tiles,
                    target,
                    target_planes,
                    upper,
                    lower,
                    is_carried,
                    is_gathered,
                    room.areas,
                    edges,
                    bins.edges,
                    start,
                    end,
                    left,
                    top,
                    folds,
                    room.cut,
                    even_odd,
                    paint,
                )
            if by_mask and primitives.shade[i] != NO_SHADE:
                first_row, last_row, first, last = _window(bounds, i, left, top)
                call_technique(techniques[_SHADE], words, (level, planes, first_row, last_row, first, last, left, top, i))
        if washed:
            wash(tiles, planes, through, added)
        if is_usual:
            _store_usual(tiles, pixels, left, top - job.top)
        else:
            call_technique(techniques[_ROUNDING], words, (0, planes_of_picture, 0, TILE, 0, BLOCKS, left, top - job.top, 0))


@inlined
def _fetch_edges(primitives: Primitives, bins: Bins, item: int) -> None:
    """Have the first edges of the next item brought into the cache, and the numbers of those of a later one."""
    if item + _AHEAD < len(bins.items):
        fetch_ahead(bins.edges, bins.edges_of_item[item + _AHEAD, 0])
        first = bins.edges_of_item[item + 1, 0]
        if first < bins.edges_of_item[item + 1, 1]:
            for number in range(0, _FETCHED, 2):
                fetch_ahead(primitives.edges, 4 * (bins.edges[first] + number))


@inlined
def _window(bounds: Array2[np.float64], i: int, left: int, top: int) -> tuple[int, int, int, int]:
    """What a primitive may reach of the tile at (left, top): its first row and the one after its last, and blocks alike."""
    rows = clamped(bounds[i, 1] - top, TILE), clamped(bounds[i, 3] - top + 1.0, TILE)
    return *rows, clamped((bounds[i, 0] - left) / LANES, BLOCKS), clamped((bounds[i, 2] - left) / LANES + 1.0, BLOCKS)


@inlined
def _covers(covered: Array2[np.float64], i: int, left: int, top: int) -> bool:
    """Whether a primitive covers the whole tile at (left, top)."""
    return bool(covered[i, 0] <= left and covered[i, 1] <= top and covered[i, 2] >= left + TILE and covered[i, 3] >= top + TILE)


@kernel
def _store_usual(tiles: Tiles, pixels: Array3[np.uint8], left: int, top: int) -> None:
    """Round the first tile into pixels of 8 bits per channel, with colours not premultiplied."""
    height, width, channels = pixels.shape
    columns = min(TILE, width - left)
    blocks = columns // LANES
    for row in range(min(TILE, height - top)):
        for block in range(blocks):
            start, first = row_of(0, row) + block * LANES, left + block * LANES
            if channels == 3:
                store_opaque_lanes(tiles, start, pixels, top + row, first)
            else:
                store_lanes(tiles, start, pixels, top + row, first)
        for x in range(blocks * LANES, columns):
            alpha = tiles[0, row, 3, x] if channels == 4 else _ONE
            for channel in range(3):
                level = tiles[0, row, channel, x] / alpha if alpha > _ZERO else _ZERO
                pixels[top + row, left + x, channel] = np.uint8(min(max(level, _ZERO), _ONE) * _LEVELS + _HALF)
            if channels == 4:
                pixels[top + row, left + x, 3] = np.uint8(min(max(alpha, _ZERO), _ONE) * _LEVELS + _HALF)
