"""Arrangements: pure functions from numbers to places."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from typing import NamedTuple, Protocol

import numpy as np

from mothseed.checks import whole
from mothseed.faults import SketchError
from mothseed.geometry.lengths import places_along
from mothseed.geometry.nearness import relaxed
from mothseed.geometry.outline import Outline
from mothseed.geometry.region import Box, box_about_middle
from mothseed.portable import GOLDEN_TURN, cosine_and_sine

_TRIES = 30
"""Places that are tried for each one wanted before an area counts as full: Bridson, "Fast Poisson disk sampling", 2007."""


class Spot(NamedTuple):
    """A place of an arrangement."""

    x: float
    y: float
    turn: float
    fraction: float
    """progress through the arrangement, from 0"""
    angle: float
    """its direction, in degrees clockwise from the top, if the arrangement goes round"""


class Stream(Protocol):
    """A stream of chance."""

    def between(self, low: float, high: float) -> float:
        """A number evenly between two."""
        ...


_TURNS = {"out": 0.0, "in": 180.0, "along": 90.0}
FACINGS = (*_TURNS, "up")
"""Ways in which the places of an arrangement that goes round can be turned."""
SPIRALS = ("even", "phyllotaxis")


def _turn_facing(facing: str, angle: float) -> float:
    return 0.0 if facing == "up" else angle + _TURNS[facing]


def ring_spots(count: int, radius: float, start: float, sweep: float, facing: str) -> Iterator[Spot]:
    """Places on a circle about the origin; an arc has one at each end."""
    gaps = count if abs(sweep) >= 360 else max(count - 1, 1)
    for index in range(count):
        angle = start + sweep * index / gaps
        cosine, sine = cosine_and_sine(angle)
        yield Spot(radius * sine + 0.0, -radius * cosine + 0.0, _turn_facing(facing, angle), index / gaps, angle)


def fan_spots(count: int, sweep: float, start: float) -> Iterator[Spot]:
    """The origin repeatedly, each time turned a little further."""
    for index in range(count):
        fraction = index / (count - 1) if count > 1 else 0.5
        angle = start + sweep * fraction
        yield Spot(0.0, 0.0, angle, fraction, angle)


def spiral_spots(count: int, spacing: float, kind: str, facing: str) -> Iterator[Spot]:
    """Places outwards from the origin, about `spacing` apart."""
    angle = 0.0
    for index in range(count):
        if kind == "phyllotaxis":
            angle, radius = index * GOLDEN_TURN, spacing * math.sqrt(index)
        else:
            # Each winding lies one spacing beyond the last; the step along it is one spacing, too.
            radius = spacing * angle / 360
        cosine, sine = cosine_and_sine(angle)
        turn = _turn_facing(facing, angle)
        yield Spot(radius * sine + 0.0, -radius * cosine + 0.0, turn, index / max(count - 1, 1), angle)
        if kind != "phyllotaxis":
            angle += math.degrees(spacing / math.hypot(max(radius, spacing / 2), spacing / math.tau))


def along_spots(outline: Outline, count: int, start: float, end: float, facing: str) -> Iterator[Spot]:
    """Evenly spaced places along an outline; a full round of a closed one repeats none."""
    gaps = count if outline.closed and start == 0 and end == 1 else max(count - 1, 1)
    fractions = start + (end - start) * np.arange(count) / gaps
    for fraction, place in zip(fractions.tolist(), places_along(outline, fractions), strict=True):
        turn = {"along": place.heading, "out": place.heading + 90, "up": 0.0}[facing]
        yield Spot(place.x, place.y, turn, fraction, place.heading)


def scatter_spots(
    chance: Stream,
    count: int,
    box: Box,
    gap: float,
    weight: Callable[[float, float], float] | None,
) -> Iterator[Spot]:
    """Random places in a box (left, top, width, height), none closer than `gap` to another, kept with odds of `weight`. They
    are drawn in order from one stream, so that the first hundred are the same whether a hundred or a thousand are asked for.
    Yields fewer if the box is full.
    """
    left, top, width, height = box
    cells: dict[tuple[int, int], list[tuple[float, float]]] = {}
    placed = tries = 0
    while placed < count and tries < _TRIES * (count + 10):
        tries += 1
        x, y = left + chance.between(0, 1) * width, top + chance.between(0, 1) * height
        if weight is not None and chance.between(0, 1) >= weight(x, y):
            continue
        if gap > 0:
            column, row = math.floor(x / gap), math.floor(y / gap)
            around = ((column + i, row + j) for i in (-1, 0, 1) for j in (-1, 0, 1))
            if any((x - a) ** 2 + (y - b) ** 2 < gap * gap for cell in around for a, b in cells.get(cell, ())):
                continue
            cells.setdefault((column, row), []).append((x, y))
        yield Spot(x, y, 0.0, placed / max(count - 1, 1), 0.0)
        placed += 1
        tries = 0


def relaxed_spots(
    spots: Iterator[Spot],
    box: Box,
    rounds: int,
    weight: Callable[[float, float], float] | None,
) -> Iterator[Spot]:
    """Places in a box, relaxed until they are even, or follow a weight; they keep their order."""
    points = np.array([(spot.x, spot.y) for spot in spots]).reshape(-1, 2)
    last = max(len(points) - 1, 1)
    for index, (x, y) in enumerate(relaxed(points, box, rounds, weight, "scatter").tolist()):
        yield Spot(x, y, 0.0, index / last, 0.0)


class CellSpot(NamedTuple):
    """A cell of a grid: its middle, size and place in the grid."""

    x: float
    y: float
    width: float
    height: float
    col: int
    row: int
    col_fraction: float
    row_fraction: float
    turn: float = 0.0

    def box(self) -> Box:
        """Itself, as the area of a view whose origin is in its middle."""
        return box_about_middle(self.width, self.height)

    def around(self, *, shifted: bool) -> list[tuple[int, int]]:
        """Columns and rows of the cells around it, row by row: eight, or six where every other row is shifted."""
        reach = range(2) if self.row % 2 else range(-1, 1)
        return [
            (self.col + across, self.row + down)
            for down in (-1, 0, 1)
            for across in (reach if shifted and down else range(-1, 2))
            if across or down
        ]


def grid_spots(
    cols: int,
    rows: int,
    box: Box,
    step: float | tuple[float, float] | None,
    gap: float,
    brick: float,
    hexagonal: bool,
    growth: float | tuple[float, float],
) -> Iterator[CellSpot]:
    """The cells of a grid in a box (left, top, width, height), row by row; raises SketchError if they do not fit."""
    left, top, full_width, full_height = box
    if step is not None:
        (cols, spare_x), (rows, spare_y) = _steps_that_fit(step, full_width, full_height, gap)
        left, top = left + spare_x / 2, top + spare_y / 2
        full_width, full_height = full_width - spare_x, full_height - spare_y
    cols, rows = whole("grid", "cols", cols, 1), whole("grid", "rows", rows, 1)
    grow_x, grow_y = growth if isinstance(growth, tuple) else (growth, growth)
    if not (0 < grow_x < math.inf and 0 < grow_y < math.inf):
        raise SketchError(f"grid: growth must be above 0 (got {growth!r})", hint="1 is even, 1.1 makes each a tenth larger")
    if hexagonal:
        if gap or brick or growth != 1:
            raise SketchError("grid: hexagonal cells have no gap, brick or growth of their own", hint="draw them smaller")
        lefts, widths, tops, heights = _hexagon_edges(full_width, full_height, cols, rows)
        brick = 0.5
    else:
        lefts, widths = _cell_edges(full_width, cols, gap, grow_x)
        tops, heights = _cell_edges(full_height, rows, gap, grow_y)
    if not (min(widths) > 0 and min(heights) > 0 and gap >= 0):
        raise SketchError(f"grid: {cols} by {rows} cells with a gap of {gap} do not fit into {full_width:g} by {full_height:g}")
    return (
        CellSpot(
            left + lefts[col] + widths[col] / 2 + (row % 2) * brick * (widths[col] + gap),
            top + tops[row] + heights[row] / 2,
            widths[col],
            heights[row],
            col,
            row,
            col / (cols - 1) if cols > 1 else 0.5,
            row / (rows - 1) if rows > 1 else 0.5,
        )
        for row in range(rows)
        for col in range(cols)
    )


def _cell_edges(full: float, count: int, gap: float, growth: float) -> tuple[list[float], list[float]]:
    """Start and length of each of `count` cells within a length; each is `growth` times the one before."""
    weights = [growth**index for index in range(count)]
    unit = (full - gap * (count - 1)) / sum(weights)
    sizes = [unit * weight for weight in weights]
    starts = [sum(sizes[:index]) + gap * index for index in range(count)]
    return starts, sizes


def _steps_that_fit(
    step: float | tuple[float, float], width: float, height: float, gap: float
) -> tuple[tuple[int, float], tuple[int, float]]:
    """How many cells of a size, with gaps, fit across and down, and how much room is left. Raises SketchError for a size that
    is not above 0, or too large to fit.
    """
    pair = step if isinstance(step, tuple) else (step, step)
    fits = []
    for size, room in zip(pair, (width, height), strict=True):
        if not 0 < size <= room:
            raise SketchError(f"grid: a step of {step!r} does not fit into {width:g} by {height:g}")
        count = int((room + gap) / (size + gap) + 1e-9)
        fits.append((count, room - count * size - (count - 1) * gap))
    return fits[0], fits[1]


def _hexagon_edges(
    width: float, height: float, cols: int, rows: int
) -> tuple[list[float], list[float], list[float], list[float]]:
    """As `_cell_edges`, across and down, for hexagons with a corner at their top, every other row half a cell further on."""
    wide = width / (cols + 0.5 * (rows > 1))
    high = height / (1 + 0.75 * (rows - 1))
    lefts, tops = [wide * col for col in range(cols)], [high * 0.75 * row for row in range(rows)]
    return lefts, [wide] * cols, tops, [high] * rows
