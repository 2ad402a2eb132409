"""Which primitives and edges belong to each tile."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from mothseed.jit import kernel
from mothseed.render.kernels.tile import TILE
from mothseed.render.primitives import POLYGON, Primitives

Indices = npt.NDArray[np.int64]


class Bins(NamedTuple):
    """What each tile has to paint, in painting order."""

    first_item: Indices
    """(tiles + 1,): a tile has the items from its own entry up to the next; tiles run row by row"""
    items: Indices
    """numbers of primitives"""
    first_slot: Indices
    """(n + 1,): a polygon has a slot for each row of tiles that it meets"""
    top_row: Indices
    """(n,): the first row of tiles that a primitive meets"""
    first_edge: Indices
    """(slots + 1,): where in `edges` each slot's begin"""
    edges: Indices
    """numbers of edges, those of a slot together"""


def binned(primitives: Primitives, width: int, height: int) -> Bins:
    """Sort primitives into the tiles that their bounds meet, and polygons' edges into rows of tiles; order is kept."""
    across, down = -(-width // TILE), -(-height // TILE)
    spans = _tile_spans(primitives.bounds, across, down)
    polygon = primitives.kind == POLYGON
    rows = np.where(polygon, np.maximum(spans[:, 3] - spans[:, 1], 0), 0)
    first_slot = np.concatenate([[0], np.cumsum(rows)])
    first_edge, edges, extents = _edge_slots(primitives.first_edge, primitives.edges, spans, first_slot)
    first_item, items = _items(spans, first_slot, extents, across, down)
    return Bins(first_item, items, first_slot, spans[:, 1].copy(), first_edge, edges)


def _tile_spans(bounds: npt.NDArray[np.float64], across: int, down: int) -> Indices:
    """First and last-but-one column and row of tiles, (n, 4) as left, top, right, bottom; empty spans have right <= left."""
    with np.errstate(invalid="ignore"):
        low = np.floor(bounds[:, :2] / TILE)
        high = np.floor(bounds[:, 2:] / TILE) + 1
    limits = np.array([across, down], dtype=np.float64)
    spans = np.concatenate([np.clip(low, 0, limits), np.clip(high, 0, limits)], axis=1).astype(np.int64)
    empty = (spans[:, 2] <= spans[:, 0]) | (spans[:, 3] <= spans[:, 1])
    spans[empty] = 0
    return spans


@kernel
def _items(spans: Indices, first_slot: Indices, extents: Indices, across: int, down: int) -> tuple[Indices, Indices]:
    """Counting sort of primitives by tile: a polygon is in those of each row that lie between its outermost edges there."""
    first = np.zeros(across * down + 1, np.int64)
    cursor = np.zeros(1, np.int64)
    items = np.empty(0, np.int64)
    for filling in range(2):
        if filling:
            for tile in range(across * down):
                first[tile + 1] += first[tile]
            items = np.empty(first[-1], np.int64)
            cursor = first[:-1].copy()
        for i in range(len(spans)):
            has_slots = first_slot[i + 1] > first_slot[i]
            for row in range(spans[i, 1], spans[i, 3]):
                left, right = spans[i, 0], spans[i, 2]
                if has_slots:
                    slot = first_slot[i] + row - spans[i, 1]
                    left, right = max(left, extents[slot, 0]), min(right, extents[slot, 1] + 1)
                for col in range(left, right):
                    tile = row * across + col
                    if filling:
                        items[cursor[tile]] = i
                        cursor[tile] += 1
                    else:
                        first[tile + 1] += 1
    return first, items


@kernel
def _edge_slots(
    polygon_edges: Indices, edges: npt.NDArray[np.float64], spans: Indices, first_slot: Indices
) -> tuple[Indices, Indices, Indices]:
    """Counting sort of edges by polygon and row of tiles; an edge is in every row that it meets.

    Returns where each slot's begin, the numbers of the edges, and the first and last column of tiles that each slot's meet,
    (slots, 2): left of them nothing is covered, and to their right all that they add comes to nothing.
    """
    first = np.zeros(first_slot[-1] + 1, np.int64)
    cursor = np.zeros(1, np.int64)
    numbers = np.empty(0, np.int64)
    reach = np.empty((first_slot[-1], 2))
    reach[:, 0], reach[:, 1] = np.inf, -np.inf
    for filling in range(2):
        if filling:
            for slot in range(len(first) - 1):
                first[slot + 1] += first[slot]
            numbers = np.empty(first[-1], np.int64)
            cursor = first[:-1].copy()
        for i in range(len(first_slot) - 1):
            top, bottom = spans[i, 1], spans[i, 3]
            if first_slot[i + 1] == first_slot[i]:
                continue
            for edge in range(polygon_edges[i], polygon_edges[i + 1]):
                x0, y0, x1, y1 = edges[edge, 0], edges[edge, 1], edges[edge, 2], edges[edge, 3]
                low = int(max(min(y0, y1) / TILE, float(top)))
                high = int(np.floor(min(max(y0, y1) / TILE, float(bottom - 1))))
                for row in range(low, high + 1):
                    slot = first_slot[i] + row - top
                    if filling:
                        numbers[cursor[slot]] = edge
                        cursor[slot] += 1
                        continue
                    first[slot + 1] += 1
                    near, far = x0, x1
                    if y0 != y1 and low < high:
                        # Where it enters and leaves this row of tiles; it may be steep, and lie in few of its tiles.
                        slope = (x1 - x0) / (y1 - y0)
                        upper, lower = min(y0, y1), max(y0, y1)
                        near = x0 + (max(float(row * TILE), upper) - y0) * slope
                        far = x0 + (min(float((row + 1) * TILE), lower) - y0) * slope
                    reach[slot, 0], reach[slot, 1] = min(reach[slot, 0], near, far), max(reach[slot, 1], near, far)
    # With a pixel to spare, and clamped, so that what lies far away is still a number of a tile.
    extents = np.empty((len(reach), 2), np.int64)
    for slot in range(len(reach)):
        extents[slot, 0] = np.int64(np.floor(min(max((reach[slot, 0] - 1.0) / TILE, -1.0), 1e6)))
        extents[slot, 1] = np.int64(np.floor(min(max((reach[slot, 1] + 1.0) / TILE, -1.0), 1e6)))
    return first, numbers, extents
