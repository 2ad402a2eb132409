"""The rasteriser: turns a drawing into pixels tile by tile, identically on any number of threads."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from functools import partial

import numpy as np
import numpy.typing as npt

from mothseed.arrays import ByteArray, WholeArray
from mothseed.colour.ramp import Ramp
from mothseed.kernels.primitives import (
    NO_SHADE,
    SHADOW,
    TECHNIQUES,
    Areas,
    Bins,
    CutRoom,
    Footprints,
    Primitives,
    Room,
    TileJob,
)
from mothseed.kernels.tile_sizes import (
    BLOCKS,
    CELLS,
    GATHERED,
    LANES,
    MARKS,
    MOST_CHAINED,
    MOST_CUTS,
    MOST_NEAR,
    MOST_PIECES,
    PLANES,
    RUN,
    TILE,
)
from mothseed.native.library import Kernel, RepeatedCall, load
from mothseed.native.store import COMMON
from mothseed.render.rounding import USUAL, Rounding
from mothseed.render.scene.assemble import prepared
from mothseed.render.scene.bins import binned
from mothseed.render.threads import Threads
from mothseed.render.waiting import PaintedTiles
from mothseed.sheet.derive import trimmed
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.extents import mark_boxes
from mothseed.sizes import picture_size

_paint_tiles = Kernel("tiles.paint_tiles")
_techniques = [Kernel(name) for name in TECHNIQUES]

_TILES_AT_A_TIME = 8
_MICROSECONDS_A_TILE, _MICROSECONDS_AN_ITEM = 10.0, 2.0
"""Microseconds that painting takes, roughly: for an empty tile, and for a primitive on a tile."""
_BAND_PIXELS = 1 << 23
"""Pixels in a band: 24 megabytes, and enough work for all threads."""
MOST_AT_ONCE = 300_000
"""Above so many marks, only those that touch a slice of the picture are prepared at a time: each takes a kilobyte of
edges.
"""
_CACHE_LINE = 64
_LONGEST_LINE = 4 * TILE
"""Most cells of a shadow map that a row of a tile reads, as cells are at least half a pixel wide."""


def rows_of_band(width: int) -> int:
    """Most rows in a band of a picture."""
    return max(_BAND_PIXELS // width // TILE, 1) * TILE


def bands(drawing: Drawing, width: int, rows: int, threads: int | None, rounding: Rounding) -> Iterator[ByteArray]:
    """The pixels of a drawing in bands of rows; see `rendered_bands`."""
    load_for(drawing, rounding)
    width, height = picture_size(drawing.width, drawing.height, width)
    size = rounding.bytes_of_pixel(opaque=drawing.paper.alpha == 1)
    across = -(-width // TILE)
    parts = -(-len(drawing) // MOST_AT_ONCE)
    slice_rows = rows if parts <= 1 else max(height // TILE // parts, 1) * TILE
    shared, painting = Threads(threads), PaintedTiles(across * -(-height // TILE))
    get_ready = _whole if parts <= 1 else _by_slices
    ready_of = get_ready(drawing, width, height, shared)
    for top in range(0, height, rows):
        pixels = np.empty((min(rows, height - top), width, size), np.uint8)
        bottom = top + len(pixels)
        for upper in range(top, bottom, slice_rows):
            lower = min(upper + slice_rows, bottom)
            first, last = upper // TILE * across, -(-lower // TILE) * across
            tiles = [range(start, min(start + _TILES_AT_A_TIME, last)) for start in range(first, last, _TILES_AT_A_TIME)]
            paint_tiles(drawing, ready_of(upper, lower), tiles, pixels, top, shared, painting, rounding)
        yield pixels


def paint_tiles(
    drawing: Drawing,
    ready: Ready,
    tiles: Sequence[range],
    pixels: ByteArray,
    top: int,
    threads: Threads,
    painting: PaintedTiles,
    rounding: Rounding = USUAL,
) -> None:
    """Paint some tiles, given by their numbers, into a band of the picture that begins at row `top`."""
    primitives, bins = ready
    paper = np.array(drawing.paper, np.float32)
    paper[:3] *= paper[3]
    job = TileJob(
        first=0,
        last=0,
        top=top,
        primitives=primitives,
        bins=bins,
        paper=paper,
        pixels=pixels,
        bits=rounding.bits,
        grey=rounding.grey,
        dither=rounding.dither,
        room=_room(primitives.depth),
        techniques=_addresses(primitives, rounding),
    )
    items = sum(int(bins.first_item[some.stop] - bins.first_item[some.start]) for some in tiles)
    effort = sum(map(len, tiles)) * _MICROSECONDS_A_TILE + items * _MICROSECONDS_AN_ITEM
    threads.share(partial(_paint_some, job=job, idle=[_paint_tiles.repeated(job)], painting=painting), tiles, effort)


def load_for(drawing: Drawing, rounding: Rounding = USUAL) -> None:
    """Load the parts of the kernels that a drawing needs."""
    finishes = drawing.finishes
    shades = [shade for finish in finishes for shade in (finish.fill, finish.stroke) if shade]
    blends = [*(finish.blend for finish in finishes), *(group.blend for group in drawing.groups)]
    needed = {
        "shading": bool(shades),
        "ramps": any(isinstance(shade, Ramp) for shade in shades),
        "shadowing": any(finish.shadow for finish in finishes),
        "groups": any(blend != "normal" for blend in blends),
        "storing": rounding != USUAL,
    }
    load([*COMMON, *(part for part, is_needed in needed.items() if is_needed)])


def _addresses(primitives: Primitives, rounding: Rounding) -> WholeArray:
    """Addresses of the kernels that these primitives need; 0 for others."""
    needed = (
        (primitives.shade != NO_SHADE).any(),
        (primitives.kind == SHADOW).any(),
        primitives.blend.any(),
        rounding != USUAL,
    )
    return np.array([each.address if is_needed else 0 for each, is_needed in zip(_techniques, needed, strict=True)])


def _room(depth: int) -> Room:
    """Buffers for painting groups nested to that depth."""
    return Room(
        tiles=_on_cache_lines((depth + 2, TILE, PLANES, RUN)),
        areas=Areas(
            counts=np.zeros(GATHERED, np.uint8),
            pieces=np.zeros(8 * GATHERED, np.float32),
            cells=_on_cache_lines((TILE + 1, CELLS)),
            flags=np.zeros(TILE, np.uint8),
            totals=np.zeros(GATHERED, np.float32),
            footprints=Footprints(
                marks=np.zeros((TILE, MARKS * BLOCKS), np.uint64),
                busy=np.zeros(TILE, np.uint8),
                rises=np.zeros(TILE, np.uint8),
            ),
        ),
        cut=CutRoom(
            numbers=np.zeros(MOST_CHAINED, np.int64),
            following=np.zeros(MOST_CHAINED, np.int64),
            heads=np.zeros(TILE * BLOCKS, np.int64),
            pieces=np.zeros((MOST_PIECES, 6)),
            near=np.zeros(MOST_PIECES, np.int64),
            passes=np.zeros(MOST_PIECES),
            turns=np.zeros(MOST_PIECES, np.int64),
            ends=np.zeros((MOST_NEAR, 2)),
            cuts=np.zeros(MOST_CUTS),
            places=np.zeros(MOST_PIECES),
            steps=np.zeros(MOST_PIECES, np.int64),
        ),
        cover=np.zeros(TILE, np.float32),
        added=np.zeros(PLANES, np.float32),
        below=np.zeros(3, np.float32),
        above=np.zeros(3, np.float32),
        mixed=np.zeros(3, np.float32),
        cell_before=np.zeros(TILE, np.uint64),
        beyond_cell=np.zeros(TILE, np.float32),
        line_of_cells=np.zeros(_LONGEST_LINE, np.float32),
        paint=np.zeros(PLANES * LANES, np.float32),
        colour=np.zeros(PLANES, np.float32),
        columns=np.zeros(4),
        rows=np.zeros(4),
    )


def _on_cache_lines(shape: tuple[int, ...]) -> npt.NDArray[np.float32]:
    """Zeros that begin where a line of the cache does, so that eight neighbouring pixels never lie in two of them."""
    size = math.prod(shape) * np.dtype(np.float32).itemsize
    room = np.zeros(size + _CACHE_LINE, np.uint8)
    start = -room.ctypes.data % _CACHE_LINE
    return room[start : start + size].view(np.float32).reshape(shape)


Ready = tuple[Primitives, Bins]
"""The primitives of a drawing, and what each tile has of them."""


def made_ready(drawing: Drawing, width: int, height: int, threads: Threads) -> Ready:
    """What is needed to paint tiles of a drawing, all of it at once."""
    primitives = prepared(drawing, width / drawing.width, threads)
    return primitives, binned(primitives, width, height, threads)


def _whole(drawing: Drawing, width: int, height: int, threads: Threads) -> Callable[[int, int], Ready]:
    """A function that returns the primitives of some rows of the picture: here, always all of them."""
    whole = made_ready(drawing, width, height, threads)
    return lambda _upper, _lower: whole


def _by_slices(drawing: Drawing, width: int, height: int, threads: Threads) -> Callable[[int, int], Ready]:
    """A function that prepares and returns the primitives of marks that touch some rows of the picture."""
    spans = _rows_of_marks(drawing, width / drawing.width)

    def of_rows(upper: int, lower: int) -> Ready:
        touching = (spans[0] < lower) & (spans[1] > upper)
        return made_ready(trimmed(drawing.part(touching)), width, height, threads)

    return of_rows


def _paint_some(tiles: range, job: TileJob, idle: list[RepeatedCall], painting: PaintedTiles) -> None:
    """Paint some tiles of a job, by an idle call, whose buffers no other thread is using, or by a new one."""
    paint = idle.pop() if idle else _paint_tiles.repeated(job._replace(room=_room(job.primitives.depth)))
    paint(tiles.start, tiles.stop)
    idle.append(paint)
    painting.advance(len(tiles))


def _rows_of_marks(drawing: Drawing, scale: float) -> npt.NDArray[np.float64]:
    """The first and last row of pixels that each mark can touch, with a margin of one: float64 (2, n)."""
    spans = np.empty((2, len(drawing)))
    for first in range(0, len(drawing), MOST_AT_ONCE):
        some = np.arange(first, min(first + MOST_AT_ONCE, len(drawing)))
        boxes = mark_boxes(trimmed(drawing.part(some)))
        spans[0, some], spans[1, some] = boxes[:, 1] * scale - 1, boxes[:, 3] * scale + 1
    return spans
