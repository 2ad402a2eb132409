"""Sorting primitives and edges into tiles, and the bounds of groups."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.kernels.primitives import CLOSE, OPEN
from mothseed.kernels.tile import clamped
from mothseed.kernels.tile_sizes import TILE
from mothseed.native.jit import entry, inlined

Whole = Array1[np.int64]


@entry
def bracket_bounds(kind: Array1[np.uint8], mask: Array1[np.bool], bounds: Array2[np.float64], opened: Whole) -> int:
    """Give each OPEN and CLOSE the bounds of what lies between them; returns the depth of nesting. `opened` (n,) is scratch
    space.
    """
    depth = deepest = 0
    for i in range(len(kind)):
        if kind[i] == OPEN:
            opened[depth] = i
            depth += 1
            deepest = max(deepest, depth)
        elif kind[i] == CLOSE:
            depth -= 1
            start = opened[depth]
            for k in range(4):
                bounds[i, k] = bounds[start, k]
        if mask[i]:
            # Only where its group is: elsewhere, nothing would clear the mask before the next one.
            around = opened[depth - 1]
            for k in range(2):
                bounds[i, k] = max(bounds[around, k], bounds[i, k])
                bounds[i, k + 2] = min(bounds[around, k + 2], bounds[i, k + 2])
        elif depth and kind[i] != OPEN:
            around = opened[depth - 1]
            for k in range(2):
                bounds[around, k] = min(bounds[around, k], bounds[i, k])
                bounds[around, k + 2] = max(bounds[around, k + 2], bounds[i, k + 2])
    return deepest


@entry
def keep_within_clips(
    kind: Array1[np.uint8], clipped: Array1[np.bool], bounds: Array2[np.float64], opened: Whole, seen: Array2[np.float64]
) -> None:
    """Narrow each box in `seen`, initially the bounds, to the clips around it. `opened` (n,) is scratch space."""
    depth = 0
    for i in range(len(kind)):
        if kind[i] == OPEN:
            opened[depth] = i
            depth += 1
        elif kind[i] == CLOSE:
            depth -= 1
            if clipped[i]:
                mask = i - 1
                for inside in range(opened[depth], i + 1):
                    for k in range(2):
                        seen[inside, k] = max(bounds[mask, k], seen[inside, k])
                        seen[inside, k + 2] = min(bounds[mask, k + 2], seen[inside, k + 2])


@entry
def span_tiles(bounds: Array2[np.float64], across: int, down: int, spans: Array2[np.int64]) -> None:
    """Set `spans` (n, 4) to the first column and row of tiles that each box meets, and the ones after the last; all 0 if it
    meets none.
    """
    for i in range(len(bounds)):
        left, right = _spanned(bounds[i, 0], bounds[i, 2], across)
        top, bottom = _spanned(bounds[i, 1], bounds[i, 3], down)
        if not (left < right and top < bottom):
            left = top = right = bottom = 0
        spans[i, 0], spans[i, 1], spans[i, 2], spans[i, 3] = left, top, right, bottom


@inlined
def _spanned(low: float, high: float, count: int) -> tuple[int, int]:
    return clamped(low / TILE, count), clamped(math.floor(high / TILE) + 1.0, count)


@entry
def sort_items(
    filling: bool,
    spans: Array2[np.int64],
    first_slot: Whole,
    extents: Array2[np.int64],
    across: int,
    begin: Whole,
    places: Whole,
    first_edge: Whole,
    items: Whole,
    edges_of_item: Array2[np.int64],
) -> None:
    """Counting sort of primitives by tile: in each row of tiles, a polygon is in those between its outermost edges; those
    before number `begin` (tiles,) of a tile are hidden there, and left out. First count those of each tile into `places`
    (tiles,), initially 0; then, with `places` the start of each tile, fill `items`, and `edges_of_item` from where the edges
    of each slot begin, (slots + 1,).
    """
    for i in range(len(spans)):
        has_slots = first_slot[i + 1] > first_slot[i]
        for row in range(spans[i, 1], spans[i, 3]):
            left, right, first, last = spans[i, 0], spans[i, 2], 0, 0
            if has_slots:
                slot = first_slot[i] + row - spans[i, 1]
                left, right = max(left, extents[slot, 0]), min(right, extents[slot, 1] + 1)
                first, last = first_edge[slot], first_edge[slot + 1]
            for col in range(left, right):
                tile = row * across + col
                if i < begin[tile]:
                    continue
                if filling:
                    items[places[tile]] = i
                    edges_of_item[places[tile], 0], edges_of_item[places[tile], 1] = first, last
                places[tile] += 1


@entry
def sort_edges(
    filling: bool,
    edge_spans: Array2[np.int64],
    edges: Array2[np.float64],
    spans: Array2[np.int64],
    first_slot: Whole,
    reach: Array2[np.float64],
    rows: Array2[np.int32],
    places: Whole,
    numbers: Whole,
) -> None:
    """Counting sort of edges by polygon and row of tiles; an edge is in every row it meets. First count those of each slot
    into `places` (slots,), initially 0, widen its `reach` (slots, 2), left and right, to hold them, and note the first and
    last of each edge's `rows` (m, 2); then, with `places` the start of each slot, fill `numbers`.
    """
    for i in range(len(first_slot) - 1):
        top, bottom = spans[i, 1], spans[i, 3]
        if first_slot[i + 1] == first_slot[i]:
            continue
        for edge in range(edge_spans[i, 0], edge_spans[i, 2]):
            if filling:
                for row in range(rows[edge, 0], rows[edge, 1] + 1):
                    slot = first_slot[i] + row - top
                    numbers[places[slot]] = edge
                    places[slot] += 1
                continue
            x0, y0, x1, y1 = edges[edge, 0], edges[edge, 1], edges[edge, 2], edges[edge, 3]
            low = int(min(max(min(y0, y1) / TILE, float(top)), float(bottom)))
            high = int(math.floor(max(min(max(y0, y1) / TILE, float(bottom - 1)), float(top - 1))))
            rows[edge, 0], rows[edge, 1] = low, high
            for row in range(low, high + 1):
                slot = first_slot[i] + row - top
                places[slot] += 1
                near, far = x0, x1
                if y0 != y1 and low < high:
                    # Where it enters and leaves this row of tiles: a steep edge lies in few of them.
                    slope = (x1 - x0) / (y1 - y0)
                    upper, lower = min(y0, y1), max(y0, y1)
                    near = x0 + (max(float(row * TILE), upper) - y0) * slope
                    far = x0 + (min(float((row + 1) * TILE), lower) - y0) * slope
                reach[slot, 0], reach[slot, 1] = min(reach[slot, 0], near, far), max(reach[slot, 1], near, far)
