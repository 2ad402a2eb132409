"""Which primitives and edges belong to each tile."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from mothseed.kernels.primitives import POLYGON, Bins, Primitives
from mothseed.kernels.tile_sizes import TILE
from mothseed.native.library import Kernel
from mothseed.render.threads import Threads

Indices = npt.NDArray[np.int64]

_SPARE = 1e-4
"""Pixels by which a mark that hides a tile may fall short of it without a visible difference."""
_LEAST_EDGES = 20_000
"""Edges that make sorting them worth a thread."""

_span_tiles = Kernel("sorting.span_tiles")
_sort_items, _sort_edges = Kernel("sorting.sort_items"), Kernel("sorting.sort_edges")


def binned(primitives: Primitives, width: int, height: int, threads: Threads) -> Bins:
    """Sort primitives into the tiles in which they are seen, and edges of polygons into rows of tiles, keeping their
    order.
    """
    across, down = -(-width // TILE), -(-height // TILE)
    spans = np.empty(primitives.seen.shape, np.int64)
    _span_tiles(primitives.seen, across, down, spans)
    polygon = primitives.kind == POLYGON
    rows = np.where(polygon, np.maximum(spans[:, 3] - spans[:, 1], 0), 0)
    first_slot = np.concatenate([[0], np.cumsum(rows)])
    first_edge, edges, extents = _edge_slots(primitives.edge_spans, primitives.edges, spans, first_slot, threads)
    begin = _first_seen(primitives, width, height, across, down)
    return Bins(*_items(spans, first_slot, extents, across, begin, first_edge), edges)


def _items(
    spans: Indices, first_slot: Indices, extents: Indices, across: int, begin: Indices, first_edge: Indices
) -> tuple[Indices, Indices, Indices]:
    """Start of each tile's primitives, (tiles + 1,), their numbers, and the start and the end of their edges, (items, 2)."""

    def sort(filling: bool, places: Indices, items: Indices, edges_of_item: Indices) -> None:
        _sort_items(filling, spans, first_slot, extents, across, begin, places, first_edge, items, edges_of_item)

    counts = np.zeros(len(begin), np.int64)
    sort(False, counts, np.empty(0, np.int64), np.empty((0, 2), np.int64))
    first = np.concatenate([[0], np.cumsum(counts)])
    items, edges_of_item = np.empty(first[-1], np.int64), np.empty((first[-1], 2), np.int64)
    sort(True, first[:-1].copy(), items, edges_of_item)
    return first, items, edges_of_item


def _first_seen(primitives: Primitives, width: int, height: int, across: int, down: int) -> Indices:
    """The first visible primitive of each tile, (tiles,): the last that hides all of it, otherwise 0."""
    begin = np.zeros((down, across), np.int64)
    hidden = primitives.covered
    wide, high = (
        hidden[:, 2] - hidden[:, 0] >= min(TILE, width) - _SPARE,
        hidden[:, 3] - hidden[:, 1] >= min(TILE, height) - _SPARE,
    )
    large = np.flatnonzero(primitives.hides & wide & high)
    lefts, tops = np.arange(across) * TILE, np.arange(down) * TILE
    rights, bottoms = np.minimum(lefts + TILE, width), np.minimum(tops + TILE, height)
    unseen = np.ones((down, across), np.bool)
    for number in large[::-1].tolist():
        left, top, right, bottom = hidden[number].tolist()
        columns = np.flatnonzero((lefts >= left - _SPARE) & (rights <= right + _SPARE))
        rows = np.flatnonzero((tops >= top - _SPARE) & (bottoms <= bottom + _SPARE))
        if not (len(columns) and len(rows)):
            continue
        box = np.s_[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1]
        begin[box] = np.where(unseen[box], number, begin[box])
        unseen[box] = False
        if not unseen.any():
            break
    return begin.ravel()


def _edge_slots(
    edge_spans: Indices, edges: npt.NDArray[np.float64], spans: Indices, first_slot: Indices, threads: Threads
) -> tuple[Indices, Indices, Indices]:
    """Start of each slot's edges, (slots + 1,), numbers of the edges, and the first and last column of tiles that they meet,
    (slots, 2): left of them nothing is covered, and to their right their contributions cancel.
    """
    counts = np.zeros(first_slot[-1], np.int64)
    reach = np.tile([np.inf, -np.inf], (len(counts), 1))
    # A slot belongs to one primitive, so each thread has slots of its own.
    parts = threads.slices(np.concatenate([[0], np.cumsum(edge_spans[:, 2] - edge_spans[:, 0])]), _LEAST_EDGES)
    rows = np.empty((len(edges), 2), np.int32)

    def sort(filling: bool, places: Indices, numbers: Indices) -> None:
        def sort_part(part: slice) -> None:
            slots = first_slot[part.start : part.stop + 1]
            _sort_edges(filling, edge_spans[part], edges, spans[part], slots, reach, rows, places, numbers)

        threads.share(sort_part, parts)

    sort(False, counts, np.empty(0, np.int64))
    first = np.concatenate([[0], np.cumsum(counts)])
    numbers = np.empty(first[-1], np.int64)
    sort(True, first[:-1].copy(), numbers)
    # With a pixel to spare, and clamped, so that what lies far away still gives a valid tile.
    extents = np.floor(np.clip((reach + np.array([-1.0, 1.0])) / TILE, -1.0, 1e6)).astype(np.int64)
    return first, numbers, extents
