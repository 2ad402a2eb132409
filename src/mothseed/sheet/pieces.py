"""Pieces that a plane is parted into: cells of Voronoi's diagram, Delaunay's triangles, blocks that are cut again and again."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

import numpy as np

from mothseed.arrays import PointArray
from mothseed.checks import as_whole, is_finite
from mothseed.faults import SketchError
from mothseed.geometry.nearness import cells_around, triangles_between
from mothseed.geometry.outline import Outline, through
from mothseed.geometry.region import Box, box_about_middle

_DEEPEST, _MOST_BLOCKS = 24, 100_000
"""How often a block is cut again, and how many there are at most: a rule that never stops would go on for ever."""


class PieceSpot(NamedTuple):
    """A piece with an outline, which has its origin."""

    x: float
    y: float
    outline: Outline
    neighbours: tuple[int, ...]
    """the running numbers of the pieces that have an edge in common with it"""
    turn: float = 0.0

    def box(self) -> Box:
        """The box around it, as the area of a view: left, top, width, height."""
        left, top = self.outline.points.min(axis=0).tolist()
        right, bottom = self.outline.points.max(axis=0).tolist()
        return left, top, right - left, bottom - top


class BlockSpot(NamedTuple):
    """A rectangle that was cut out of another: its middle, size, and how many cuts led to it."""

    x: float
    y: float
    width: float
    height: float
    depth: int
    turn: float = 0.0

    def box(self) -> Box:
        """Itself, as the area of a view whose origin is in its middle."""
        return box_about_middle(self.width, self.height)


def voronoi_spots(points: PointArray, box: Box) -> Iterator[PieceSpot]:
    """The cell around each point that lies in a box, its origin the point; points in one place have one."""
    left, top, width, height = box
    inside = ((points >= (left, top)) & (points <= (left + width, top + height))).all(axis=1)
    points = points[inside]
    if not len(points):
        return
    cells = cells_around(points, box)
    there = np.flatnonzero(cells.counts > 0)
    number = np.cumsum(cells.counts > 0) - 1
    near = _neighbours(number[cells.pairs].tolist(), len(there))
    polygons = cells.polygons()
    for index, (place, (x, y)) in enumerate(zip(there.tolist(), points[there].tolist(), strict=True)):
        yield PieceSpot(x, y, through(polygons[place] - points[place], closed=True), near[index])


def delaunay_spots(points: PointArray) -> Iterator[PieceSpot]:
    """The triangles between points, each with its origin at its centroid."""
    triangles = triangles_between(points, "delaunay")
    sides: dict[tuple[int, int], list[int]] = {}
    for index, (a, b, c) in enumerate(triangles.tolist()):
        for side in ((a, b), (b, c), (c, a)):
            sides.setdefault((min(side), max(side)), []).append(index)
    near = _neighbours([two for two in sides.values() if len(two) == 2], len(triangles))
    corners = points[triangles]
    middles = corners.sum(axis=1) / 3
    for index, (x, y) in enumerate(middles.tolist()):
        yield PieceSpot(x, y, through(corners[index] - middles[index], closed=True), near[index])


def _neighbours(pairs: Sequence[Sequence[int]], count: int) -> list[tuple[int, ...]]:
    near: list[list[int]] = [[] for _ in range(count)]
    for one, other in pairs:
        near[one].append(other)
        near[other].append(one)
    return [tuple(sorted(each)) for each in near]


def pieces_cut(cut: object) -> tuple[list[float], list[float]]:
    """Where the rule of a subdivision cuts a block, as the fractions of its width and of its height at which parts end.

    Raises SketchError where what the rule returned is no pair of counts and fractions.
    """
    across, down = (_ends(side) for side in cut) if isinstance(cut, tuple | list) and len(cut) == 2 else (None, None)
    if across is None or down is None:
        raise SketchError(
            f"subdivided: the rule returns None for a block that stays, or how it is cut across and down (got {cut!r})",
            hint="(2, 2) makes four, (0.4, 1) cuts at 40% of the width, (1, 3) makes three rows",
        )
    if len(across) == len(down) == 1:
        raise SketchError(
            "subdivided: (1, 1) cuts nothing, and the rule would be asked for ever", hint="return None for a block that stays"
        )
    return across, down


def _ends(side: object) -> list[float] | None:
    """The ends of the parts of one side: of so many even ones, or of two with the cut at a fraction."""
    count = as_whole(side)
    if count is not None:
        return [(index + 1) / count for index in range(count)] if 1 <= count <= _MOST_BLOCKS else None
    if is_finite(side) and 0 < float(side) < 1:  # type: ignore[arg-type]  # it is a finite number
        return [float(side), 1.0]  # type: ignore[arg-type]
    return None


def cut_blocks(block: BlockSpot, ends: tuple[list[float], list[float]], gap: float) -> list[BlockSpot]:
    """The parts of a block, row by row, with a gap between them; raises SketchError where they have no room."""
    spans = []
    for side, fractions in zip((block.width, block.height), ends, strict=True):
        room = side - gap * (len(fractions) - 1)
        begins = [0.0, *fractions[:-1]]
        spans.append(
            [(begin * room + index * gap, (end - begin) * room)
             for index, (begin, end) in enumerate(zip(begins, fractions, strict=True))]
        )  # fmt: skip
        if not room > 0:
            raise SketchError(
                f"subdivided: a gap of {gap:g} leaves nothing of a block of {block.width:g} by {block.height:g}",
                hint="return None for small blocks: None if cell.width < 4 else (2, 2)",
            )
    if block.depth >= _DEEPEST:
        raise SketchError(
            f"subdivided: a block was cut {_DEEPEST} times over", hint="stop it: return None if cell.depth == 5 else (2, 2)"
        )
    left, top = block.x - block.width / 2, block.y - block.height / 2
    return [
        BlockSpot(left + x + width / 2, top + y + height / 2, width, height, block.depth + 1)
        for y, height in spans[1]
        for x, width in spans[0]
    ]


Asked = Callable[[int, BlockSpot], object]


def subdivided_spots(box: Box, rule: Asked, gap: float) -> Iterator[BlockSpot]:
    """The blocks that stay, row by row within each cut; `rule` is asked with a block and the number that it would have."""
    left, top, width, height = box
    waiting = [BlockSpot(left + width / 2, top + height / 2, width, height, 0)]
    index = 0
    while waiting:
        block = waiting.pop()
        cut = rule(index, block)
        if cut is None:
            yield block
            index += 1
            continue
        waiting.extend(reversed(cut_blocks(block, pieces_cut(cut), gap)))
        if index + len(waiting) > _MOST_BLOCKS:
            raise SketchError(f"subdivided: more than {_MOST_BLOCKS:,} blocks", hint="stop it at a depth: cell.depth == 5")
