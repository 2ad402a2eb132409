"""Whether an outline is simple: edges meet only where one follows another, and nothing is inside twice."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array2
from mothseed.kernels.primitives import Grid
from mothseed.native.jit import inlined, kernel

_STRAIGHT = 1e-9
"""Sine of a bend that counts as none."""
_NO_MORE = -1
_BEYOND_ALL = 1e30
"""Pixels within which products of lengths do not overflow."""
_LITTLE = 1e-6
"""Of a cell."""

Edges = Array2[np.float64]
Segment = tuple[float, float, float, float]
"""From x and y to x and y."""


@kernel
def is_convex(edges: Edges, first: int, last: int) -> bool:
    """Whether edges are one convex contour: each begins where the last ends, all turn the same way, once around."""
    side, going, reversals = 0.0, 0.0, 0
    if last == first:
        return True
    ax, ay = edges[last - 1, 2] - edges[last - 1, 0], edges[last - 1, 3] - edges[last - 1, 1]
    end_x, end_y = edges[last - 1, 2], edges[last - 1, 3]
    for edge in range(first, last):
        if edges[edge, 0] != end_x or edges[edge, 1] != end_y:
            return False
        end_x, end_y = edges[edge, 2], edges[edge, 3]
        bx, by = end_x - edges[edge, 0], end_y - edges[edge, 1]
        cross = ax * by - ay * bx
        # A bend of a billionth is rounding.
        if abs(cross) > _STRAIGHT * (abs(ax) + abs(ay)) * (abs(bx) + abs(by)):
            if cross * side < 0.0:
                return False
            side = cross
        elif ax * bx + ay * by < 0.0:
            return False
        reversals += by * going < 0.0
        going = by if by != 0.0 else going
        ax, ay = bx, by
    return reversals <= 2


@kernel
def is_simple(edges: Edges, first: int, last: int, grid: Grid) -> bool:
    """Whether edges meet only where one follows another, and the winding number is 0 or 1 everywhere, or 0 or -1. The edges
    are put into a grid of about as many cells, and each is compared with those that share a cell with it. If the grid has too
    little room, the outline counts as not simple.
    """
    left, right, top, bottom = edges[first, 0], edges[first, 0], edges[first, 1], edges[first, 1]
    for edge in range(first, last):
        left, right = min(left, edges[edge, 2]), max(right, edges[edge, 2])
        top, bottom = min(top, edges[edge, 3]), max(bottom, edges[edge, 3])
    wide, high, cells, count = right - left, bottom - top, min(2 * (last - first), len(grid.heads)), 0
    if not (0.0 < wide < _BEYOND_ALL and 0.0 < high < _BEYOND_ALL):
        return False
    columns = int(min(max(math.sqrt(cells * wide / high), 1.0), float(cells)))
    rows = cells // columns
    for cell in range(cells):
        grid.heads[cell] = _NO_MORE
    across, down = (columns - _LITTLE) / wide, (rows - _LITTLE) / high
    start = first
    for edge in range(first, last):
        if edge > first and (edges[edge, 0] != edges[edge - 1, 2] or edges[edge, 1] != edges[edge - 1, 3]):
            start = edge
        x0, y0 = (edges[edge, 0] - left) * across, (edges[edge, 1] - top) * down
        x1, y1 = (edges[edge, 2] - left) * across, (edges[edge, 3] - top) * down
        if y0 > y1:
            x0, y0, x1, y1 = x1, y1, x0, y0
        slope = (x1 - x0) / (y1 - y0) if y0 < y1 else 0.0
        for row in range(int(y0), int(y1) + 1):
            upper_x = x0 + (row - y0) * slope if y0 < row else x0
            lower_x = x0 + (row + 1 - y0) * slope if y1 > row + 1 else x1
            # A little more than it passes through, as rounding may put what it meets into the next cell.
            begin = int(max(min(upper_x, lower_x) - _LITTLE, 0.0))
            end = int(min(max(upper_x, lower_x) + _LITTLE, columns - 1.0))
            for cell in range(row * columns + begin, row * columns + end + 1):
                place = grid.heads[cell]
                while place != _NO_MORE:
                    other = grid.numbers[place]
                    if other != edge and _boxes_meet(edges, edge, other):
                        closes = other == start and edges[edge, 2] == edges[other, 0] and edges[edge, 3] == edges[other, 1]
                        follows = other == edge - 1 and other >= start
                        if follows or closes:
                            if (follows and closes) or _folds_back(edges, other, edge):
                                return False
                        elif _meet(edges, edge, other):
                            return False
                    place = grid.following[place]
                if count == len(grid.numbers):
                    return False
                grid.numbers[count], grid.following[count] = edge, grid.heads[cell]
                grid.heads[cell] = count
                count += 1
    return _is_inside_once(edges, first, last, grid, columns, left, top, across, down)


@inlined
def _folds_back(edges: Edges, a: int, b: int) -> bool:
    """Whether two consecutive edges overlap where they meet."""
    ax, ay = edges[a, 2] - edges[a, 0], edges[a, 3] - edges[a, 1]
    bx, by = edges[b, 2] - edges[b, 0], edges[b, 3] - edges[b, 1]
    return bool(ax * by - ay * bx == 0.0 and ax * bx + ay * by < 0.0)


@inlined
def _boxes_meet(edges: Edges, a: int, b: int) -> bool:
    """Whether the bounding boxes of two edges meet."""
    ax, ay, bx, by = edges[a, 0], edges[a, 1], edges[a, 2], edges[a, 3]
    cx, cy, dx, dy = edges[b, 0], edges[b, 1], edges[b, 2], edges[b, 3]
    across = max(min(ax, bx), min(cx, dx)) <= min(max(ax, bx), max(cx, dx))
    return bool(across & (max(min(ay, by), min(cy, dy)) <= min(max(ay, by), max(cy, dy))))


@inlined
def _meet(edges: Edges, a: int, b: int) -> bool:
    """Whether two edges have a point in common, if their bounding boxes do."""
    first, second = (edges[a, 0], edges[a, 1], edges[a, 2], edges[a, 3]), (edges[b, 0], edges[b, 1], edges[b, 2], edges[b, 3])
    return segments_meet(first, second)


@inlined
def segments_meet(first: Segment, second: Segment) -> bool:
    """Whether two segments have a point in common; also True of some on one straight line that have none."""
    (ax, ay, bx, by), (cx, cy, dx, dy) = first, second
    of_c, of_d = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax), (bx - ax) * (dy - ay) - (by - ay) * (dx - ax)
    of_a, of_b = (dx - cx) * (ay - cy) - (dy - cy) * (ax - cx), (dx - cx) * (by - cy) - (dy - cy) * (bx - cx)
    return bool(of_c * of_d <= 0.0 and of_a * of_b <= 0.0)


@kernel
def _is_inside_once(
    edges: Edges, first: int, last: int, grid: Grid, columns: int, left: float, top: float, across: float, down: float
) -> bool:
    """Whether contours that do not meet wind around everything at most once, all in the same direction."""
    lowest, highest, start = 0, 0, first
    while start < last:
        end, area = start, 0.0
        x, y = edges[start, 0], edges[start, 1]
        while end < last and (end == start or (edges[end, 0] == edges[end - 1, 2] and edges[end, 1] == edges[end - 1, 3])):
            area += (edges[end, 0] - x) * (edges[end, 3] - y) - (edges[end, 2] - x) * (edges[end, 1] - y)
            end += 1
        outside = 0
        row, column = int((y - top) * down), int((x - left) * across)
        for cell in range(row * columns, row * columns + column + 1):
            place = grid.heads[cell]
            while place != _NO_MORE:
                edge = grid.numbers[place]
                turn = _passed(edges, edge, x, y, left, across, cell - row * columns)
                if edge < start or edge >= end:
                    outside += turn
                place = grid.following[place]
        inside = outside + (1 if area < 0.0 else -1)
        lowest, highest = min(lowest, outside, inside), max(highest, outside, inside)
        start = end
    return highest - lowest <= 1


@inlined
def _passed(edges: Edges, edge: int, x: float, y: float, left: float, across: float, column: int) -> int:
    """1 or -1 if an edge passes left of (x, y) in a column of the grid, going down or up; otherwise 0."""
    goes_down = edges[edge, 1] <= y < edges[edge, 3]
    if not (goes_down or edges[edge, 3] <= y < edges[edge, 1]):
        return 0
    part = (y - edges[edge, 1]) / (edges[edge, 3] - edges[edge, 1])
    at = edges[edge, 0] + (edges[edge, 2] - edges[edge, 0]) * part
    if at >= x or int((at - left) * across) != column:
        return 0
    return 1 if goes_down else -1
