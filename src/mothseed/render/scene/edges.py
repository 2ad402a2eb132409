"""The edges of polygons: outlines filled, stroked and dashed, in pixels."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.jit import kernel
from mothseed.render.primitives import POLYGON, SHADOW
from mothseed.render.scene.flatten import flatten_subpath, points_of_outline
from mothseed.render.scene.stroke import close_contour, draw_stroke, draw_to, edges_of_stroke, start_contour
from mothseed.render.threads import Threads
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.kinds import UNIT_OF_KIND, UNIT_SHAPES

_CIRCLE_CHORDS = 8
"""Chords at least in a quarter of a circle: in small ones the area counts more than the distance from the curve."""
Whole = npt.NDArray[np.int64]


class Shapes(NamedTuple):
    """Outlines one after the other, the first being UNIT_SHAPES."""

    verbs: npt.NDArray[np.uint8]
    first_verb: Whole
    points: FloatArray
    first_point: Whole


class Sources(NamedTuple):
    """What polygons are made of: marks, then the clips of groups, as arrays of equal length."""

    shape: Whole
    matrix: FloatArray
    """(n, 6): to pixels"""
    width: FloatArray
    """of the stroke, in pixels"""
    filled: npt.NDArray[np.bool]
    linecap: npt.NDArray[np.uint8]
    linejoin: npt.NDArray[np.uint8]
    dash: Whole
    """number of its dash, 0 for none"""
    dash_scale: FloatArray
    """pixels to the unit of its dash"""
    first_length: Whole
    """(dashes + 1,): where each dash's lengths begin in `lengths`"""
    lengths: FloatArray


def shapes_of(drawing: Drawing) -> Shapes:
    """The unit shapes and the outlines of a drawing."""
    outlines = (*UNIT_SHAPES, *drawing.outlines)
    verbs, points = [outline.verbs for outline in outlines], [outline.points for outline in outlines]
    first_verb, first_point = (np.cumsum([0, *map(len, parts)]) for parts in (verbs, points))
    return Shapes(np.concatenate(verbs), first_verb, np.concatenate(points), first_point)


def shape_numbers(drawing: Drawing) -> Whole:
    """The number of each mark's shape among those of `shapes_of`."""
    unit = UNIT_OF_KIND[drawing.marks["kind"]]
    return np.where(unit < 0, drawing.marks["outline"].astype(np.int64) + len(UNIT_SHAPES), unit)


_PIECES = 4
"""Pieces of work for each thread, so that one that is done early takes over from another."""
_LEAST_PIECE = 5000
"""Points of outlines that make a piece worth handing over."""


def edges_of(
    kind: npt.NDArray[np.uint8],
    source: Whole,
    is_stroke: npt.NDArray[np.bool],
    sources: Sources,
    shapes: Shapes,
    bounds: FloatArray,
    threads: Threads,
) -> tuple[Whole, Whole, FloatArray]:
    """The edges of all polygons and shadows, (m, 4); widens the bounds of each primitive, (n, 4), to hold them.

    Returns where each primitive's begin, where those of its stroke begin, and the edges. A polygon is a fill or a stroke; a
    shadow is cast by both.
    """
    points = np.diff(shapes.first_point)[sources.shape[source]] * ((kind == POLYGON) | (kind == SHADOW))
    weights = np.concatenate([[0], np.cumsum(1 + points)])
    pieces = 1 if threads.count == 1 else min(_PIECES * threads.count, int(weights[-1]) // _LEAST_PIECE + 1)
    inner = np.searchsorted(weights, np.linspace(0, weights[-1], pieces + 1)[1:-1])
    cuts = [0, *inner.tolist(), len(kind)]
    found: list[tuple[Whole, Whole, FloatArray]] = [(weights, weights, bounds)] * (len(cuts) - 1)

    def draw(piece: int) -> None:
        part = slice(cuts[piece], cuts[piece + 1])
        room = 4 * int(weights[part.stop] - weights[part.start]) + 64
        found[piece] = _edges_of(kind[part], source[part], is_stroke[part], sources, shapes, room)
        _bound_edges(found[piece][0], found[piece][2], bounds[part])

    threads.share(draw, range(len(found)))
    if len(found) == 1:
        return found[0]
    begins = np.cumsum([0, *(len(edges) for _, _, edges in found)])
    all_edges = np.empty((begins[-1], 4))

    def put(piece: int) -> None:
        all_edges[begins[piece] : begins[piece + 1]] = found[piece][2]

    threads.share(put, range(len(found)))
    firsts = [first[:-1] + begin for (first, _, _), begin in zip(found, begins[:-1], strict=True)]
    of_strokes = [first + begin for (_, first, _), begin in zip(found, begins[:-1], strict=True)]
    return np.concatenate([*firsts, begins[-1:]]), np.concatenate(of_strokes), all_edges


@kernel
def _bound_edges(first_edge: Whole, edges: FloatArray, bounds: FloatArray) -> None:
    """Widen the bounds of each primitive to hold its edges."""
    for i in range(len(bounds)):
        left, top, right, bottom = bounds[i, 0], bounds[i, 1], bounds[i, 2], bounds[i, 3]
        for edge in range(first_edge[i], first_edge[i + 1]):
            x1, y1, x2, y2 = edges[edge, 0], edges[edge, 1], edges[edge, 2], edges[edge, 3]
            left, right = min(left, x1, x2), max(right, x1, x2)
            top, bottom = min(top, y1, y2), max(bottom, y1, y2)
        bounds[i, 0], bounds[i, 1], bounds[i, 2], bounds[i, 3] = left, top, right, bottom


@kernel
def _edges_of(
    kind: npt.NDArray[np.uint8],
    source: Whole,
    is_stroke: npt.NDArray[np.bool],
    sources: Sources,
    shapes: Shapes,
    room: int,
) -> tuple[Whole, Whole, FloatArray]:
    """What `edges_of` gives, of some of the primitives; `room` is for about how many edges to begin with."""
    first_edge = np.zeros(len(kind) + 1, np.int64)
    first_of_stroke = np.zeros(len(kind), np.int64)
    # Room that is not used costs nothing, as the system provides it when it is first written to.
    edges = np.empty((room, 4))
    line, bends = np.empty((64, 2)), np.empty(64, np.uint8)
    dashed_line, dashed_bends = np.empty((64, 2)), np.empty(64, np.uint8)
    count = first_edge[0]
    for primitive in range(len(kind)):
        first_of_stroke[primitive] = count
        if kind[primitive] == POLYGON or kind[primitive] == SHADOW:
            own = source[primitive]
            shape = sources.shape[own]
            verbs = shapes.verbs[shapes.first_verb[shape] : shapes.first_verb[shape + 1]]
            points = _mapped(shapes.points, shapes.first_point[shape], shapes.first_point[shape + 1], sources.matrix, own)
            least = _CIRCLE_CHORDS if shape == 0 else 1
            most = points_of_outline(verbs, points, least) + 1
            if most > len(line):
                line, bends = np.empty((2 * most, 2)), np.empty(2 * most, np.uint8)
                dashed_line, dashed_bends = np.empty((2 * most, 2)), np.empty(2 * most, np.uint8)
            half_width = sources.width[own] / 2
            is_shadow = kind[primitive] == SHADOW
            if sources.filled[own] and (is_shadow or not is_stroke[primitive]):
                edges = _with_room(edges, count, most)
                verb, place = 0, 0
                while verb < len(verbs):
                    verb, place, length, closed = flatten_subpath(verbs, points, verb, place, line, bends, least)
                    count = _draw_fill(edges, count, line, length)
            first_of_stroke[primitive] = count
            if half_width > 0.0 and (is_shadow or is_stroke[primitive]):
                cap, join, dash = sources.linecap[own], sources.linejoin[own], sources.dash[own]
                verb, place = 0, 0
                while verb < len(verbs):
                    verb, place, length, closed = flatten_subpath(verbs, points, verb, place, line, bends, least)
                    if dash == 0:
                        edges = _with_room(edges, count, edges_of_stroke(length + 3, half_width))
                        count = draw_stroke(edges, count, line, bends, length, closed, half_width, cap, join)
                    else:
                        start, end = sources.first_length[dash], sources.first_length[dash + 1]
                        lengths = sources.lengths[start:end] * sources.dash_scale[own]
                        edges, count = _draw_dashes(
                            edges, count, line, bends, length, closed, half_width, cap, join, lengths, dashed_line, dashed_bends
                        )
        first_edge[primitive + 1] = count
    return first_edge, first_of_stroke, edges[:count]


@kernel
def _mapped(points: FloatArray, first: int, last: int, matrices: FloatArray, own: int) -> FloatArray:
    result = np.empty((last - first, 2))
    for i in range(first, last):
        x, y = points[i, 0], points[i, 1]
        result[i - first, 0] = matrices[own, 0] * x + matrices[own, 2] * y + matrices[own, 4]
        result[i - first, 1] = matrices[own, 1] * x + matrices[own, 3] * y + matrices[own, 5]
    return result


@kernel
def _with_room(edges: FloatArray, count: int, room: int) -> FloatArray:
    if count + room <= len(edges):
        return edges
    larger = np.empty((2 * len(edges) + room, 4))
    for i in range(count):
        for k in range(4):
            larger[i, k] = edges[i, k]
    return larger


@kernel
def _draw_fill(edges: FloatArray, count: int, line: FloatArray, length: int) -> int:
    pen = np.zeros(4)
    start_contour(pen, line[0, 0], line[0, 1])
    for i in range(1, length):
        count = draw_to(edges, count, pen, line[i, 0], line[i, 1])
    return close_contour(edges, count, pen)


_SHORTEST_DASHES = 0.05
"""Pixels that a dash and its gap together are at least taken to be long: shorter ones cannot be told from an even line."""


@kernel
def _draw_dashes(
    edges: FloatArray,
    count: int,
    line: FloatArray,
    bends: npt.NDArray[np.uint8],
    length: int,
    closed: bool,
    half_width: float,
    cap: int,
    join: int,
    lengths: FloatArray,
    piece: FloatArray,
    piece_bends: npt.NDArray[np.uint8],
) -> tuple[FloatArray, int]:
    """Stroke the pieces of a polyline that a dash leaves on, one by one, each with its own caps."""
    total = np.sum(lengths)
    stretch = max(_SHORTEST_DASHES / total, 1.0)
    part = 0
    left = lengths[0] * stretch
    # As variables: for a constant argument Numba would compile the whole stroke anew.
    size, is_closed = int(np.int64(1)), bool(total < 0.0)
    piece[0, 0], piece[0, 1], piece_bends[0] = line[0, 0], line[0, 1], 0
    segments = length if closed else length - 1
    for segment in range(segments):
        ax, ay = line[segment, 0], line[segment, 1]
        end = (segment + 1) % length
        bx, by = line[end, 0], line[end, 1]
        distance = math.sqrt((bx - ax) ** 2 + (by - ay) ** 2)
        done = 0.0
        while distance - done > left:
            done += left
            x, y = ax + (bx - ax) * (done / distance), ay + (by - ay) * (done / distance)
            if part % 2 == 0:
                size = _add_different(piece, piece_bends, size, x, y, 0)
                edges = _with_room(edges, count, edges_of_stroke(size + 3, half_width))
                count = draw_stroke(edges, count, piece, piece_bends, size, is_closed, half_width, cap, join)
            part = (part + 1) % len(lengths)
            left = lengths[part] * stretch
            size = int(np.int64(1))
            piece[0, 0], piece[0, 1], piece_bends[0] = x, y, 0
        left -= distance - done
        if part % 2 == 0:
            size = _add_different(piece, piece_bends, size, bx, by, bends[end])
    if part % 2 == 0 and size > 1:
        edges = _with_room(edges, count, edges_of_stroke(size + 3, half_width))
        count = draw_stroke(edges, count, piece, piece_bends, size, is_closed, half_width, cap, join)
    return edges, count


@kernel
def _add_different(piece: FloatArray, bends: npt.NDArray[np.uint8], size: int, x: float, y: float, bend: int) -> int:
    if piece[size - 1, 0] == x and piece[size - 1, 1] == y:
        return size
    piece[size, 0], piece[size, 1], bends[size] = x, y, bend
    return size + 1
