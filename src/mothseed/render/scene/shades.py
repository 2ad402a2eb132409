"""Paint that is not a single colour: the ramp or picture of each op, and its map to pixels."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray, WholeArray
from mothseed.colour.placed import OUTSIDES, Picture
from mothseed.colour.ramp import LINEAR, RADIAL, Ramp, Stops, ramp_tables
from mothseed.geometry.affine import Affine
from mothseed.kernels.primitives import LINEAR_SHADE, NO_SHADE, PICTURE_SHADE, POLYGON, RADIAL_SHADE, Ops, Shades
from mothseed.kernels.tile_sizes import RAMP_STEPS
from mothseed.render.threads import Threads
from mothseed.sheet.drawing import Drawing

_Use = tuple[Ramp | Picture, int]
"""Paint and, for a picture, how often it was halved for its size on the page."""
_NOWHERE = Affine(0.0, 0.0, 0.0, 0.0, 0.0, 0.0)
"""Inverse used for a degenerate view."""


_Map = tuple[float, float, float, float, float, float]
_RAMPS_AT_A_TIME = 64
_MICROSECONDS_A_RAMP = 12.0


def shades_of(drawing: Drawing, scale: float, ops: Ops, threads: Threads) -> tuple[WholeArray, FloatArray, Shades]:
    """The shade of each op, its map from pixels, and all shades, as in `Primitives`."""
    numbers: dict[_Use, int] = {}
    result = np.full(len(ops.kind), NO_SHADE, np.int64)
    of_finish = [(finish.fill, finish.stroke) for finish in drawing.finishes]
    has_shade = np.array([[shade is not None for shade in pair] for pair in of_finish])
    if not has_shade.any():
        return result, np.zeros((0, 6)), _as_arrays([], threads)
    maps = np.zeros((len(ops.kind), 6))
    paints = np.flatnonzero((ops.kind == POLYGON) & ~ops.mask)
    finish, side = drawing.marks["finish"][ops.source[paints]], ops.is_stroke[paints].astype(int)
    shaded = has_shade[finish, side]
    views, of_op = np.unique(drawing.marks["view"][ops.source[paints[shaded]]], return_inverse=True)
    inverses = [Affine(*matrix).inverse() or _NOWHERE for matrix in (drawing.views[views] * scale).tolist()]
    rows: list[_Map] = []
    used: list[int] = []
    for number, which, view in zip(finish[shaded].tolist(), side[shaded].tolist(), of_op.tolist(), strict=True):
        shade = of_finish[number][which]
        assert shade is not None
        if isinstance(shade, Ramp):
            row, level = _map_to_ramp(inverses[view], shade), 0
        else:
            row, level = _map_to_texels(inverses[view], shade)
        rows.append(row)
        used.append(numbers.setdefault((shade, level), len(numbers)))
    if rows:
        result[paints[shaded]], maps[paints[shaded]] = used, rows
    return result, maps, _as_arrays(list(numbers), threads)


def _as_arrays(uses: list[_Use], threads: Threads) -> Shades:
    count = len(uses)
    kinds = np.zeros(count, np.uint8)
    tables: dict[Stops, int] = {}
    table, size = np.zeros(count, np.int64), np.zeros((count, 3), np.int64)
    outside, smooth = np.zeros(count, np.uint8), np.zeros(count, np.bool)
    tint = np.ones((count, 4), np.float32)
    texels = [np.zeros((0, 4), np.uint8)]
    begun: dict[tuple[str, int], int] = {}
    total = 0
    for number, (shade, level) in enumerate(uses):
        if isinstance(shade, Ramp):
            kinds[number] = RADIAL_SHADE if shade.kind == RADIAL else LINEAR_SHADE
            table[number] = tables.setdefault(shade.stops, len(tables))
            continue
        kinds[number] = PICTURE_SHADE
        pixels = shade.texture.shrunk(level)
        key = (shade.texture.digest, level)
        if key not in begun:
            begun[key] = total
            texels.append(pixels.reshape(-1, 4))
            total += len(texels[-1])
        size[number] = (begun[key], pixels.shape[1], pixels.shape[0])
        outside[number], smooth[number], tint[number] = OUTSIDES.index(shade.outside), shade.smooth, shade.tint
    all_tables = _tables_of(list(tables), threads)
    return Shades(kinds, table, all_tables, size, np.concatenate(texels), outside, smooth, tint)


def _tables_of(ramps: list[Stops], threads: Threads) -> npt.NDArray[np.float32]:
    tables = np.empty((len(ramps), RAMP_STEPS + 1, 4), np.float32)

    def fill(start: int) -> None:
        some = slice(start, start + _RAMPS_AT_A_TIME)
        tables[some] = ramp_tables(ramps[some])

    threads.share(fill, range(0, len(ramps), _RAMPS_AT_A_TIME), len(ramps) * _MICROSECONDS_A_RAMP)
    return tables


def _map_to_ramp(inverse: Affine, ramp: Ramp) -> _Map:
    """The map from pixels to the coordinates of the ramp."""
    p, s, q, t, r, u = inverse
    x1, y1, x2, y2 = ramp.place
    if ramp.kind == LINEAR:
        dx, dy = x2 - x1, y2 - y1
        square = dx * dx + dy * dy
        across, down = (p * dx + s * dy) / square, (q * dx + t * dy) / square
        return across, 0.0, down, 0.0, ((r - x1) * dx + (u - y1) * dy) / square, 0.0
    return p / x2, s / x2, q / x2, t / x2, (r - x1) / x2, (u - y1) / x2


def _map_to_texels(inverse: Affine, picture: Picture) -> tuple[_Map, int]:
    """The map from pixels to those of a picture, halved until its pixels are about as large, and how often it was halved."""
    p, s, q, t, r, u = inverse
    left, top, width, height = picture.place
    across, down = picture.texture.width / width, picture.texture.height / height
    texels_per_pixel = math.sqrt(abs((p * t - q * s) * across * down))
    level = max(round(math.log2(texels_per_pixel)), 0) if texels_per_pixel > 0 else 0
    pixels = picture.texture.shrunk(level)
    across, down = pixels.shape[1] / width, pixels.shape[0] / height
    return (p * across, s * down, q * across, t * down, (r - left) * across, (u - top) * down), level
