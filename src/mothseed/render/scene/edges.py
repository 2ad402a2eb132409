"""Edges of polygons: filled, stroked and dashed outlines, in pixels."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.geometry.lettering import Lettered
from mothseed.geometry.outlines import Outlines
from mothseed.kernels.primitives import MORE_EDGES, MORE_POINTS, POLYGON, SHADOW, FlatOutline, Grid, Ops, Shapes, Sources
from mothseed.native.library import Kernel
from mothseed.render.threads import Threads
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.kinds import UNIT_OF_KIND, UNIT_SHAPES

_survey_edges, _draw_edges = Kernel("edging.survey_edges"), Kernel("edging.draw_edges")

Whole = npt.NDArray[np.int64]


def shapes_of(drawing: Drawing) -> Shapes:
    """The unit shapes and the outlines of a drawing."""
    shapes = Outlines.of([*UNIT_SHAPES, drawing.outlines])
    return Shapes(shapes.verbs, shapes.first_verb, shapes.points, shapes.first_point)


def shape_numbers(drawing: Drawing) -> Whole:
    """The index of each mark's shape in `shapes_of`."""
    unit = UNIT_OF_KIND[drawing.marks["kind"]]
    return np.where(unit < 0, drawing.marks["outline"].astype(np.int64) + len(UNIT_SHAPES), unit)


def models_of(drawing: Drawing) -> Whole:
    """For each shape of `shapes_of`, the first with the same form apart from size and place, such as the same text."""
    models = np.arange(len(UNIT_SHAPES) + len(drawing.outlines))
    firsts: dict[object, int] = {}
    for number, outline in drawing.outlines.kept.items():
        if isinstance(outline, Lettered):
            shape = number + len(UNIT_SHAPES)
            models[shape] = firsts.setdefault(outline.words.setting, shape)
    return models


def _models_of_fills(shape: Whole, models: Whole, counts: Whole, is_fill: npt.NDArray[np.bool]) -> Whole:
    """The primitive to examine for self-overlap on behalf of each fill, (n,); -1 for those that cannot overlap themselves,
    and for all others. Of one model, it is the primitive with the most edges, which is the largest or follows curves most
    closely.
    """
    asked = np.flatnonzero(is_fill & (shape >= len(UNIT_SHAPES)))
    result = np.full(len(shape), -1)
    model = models[shape[asked]]
    if len(asked) and np.bincount(model).max() > 1:
        order = np.lexsort((-counts[asked], model))
        begins = np.diff(model[order], prepend=-1) != 0
        result[asked[order]] = asked[order[np.maximum.accumulate(np.where(begins, np.arange(len(order)), 0))]]
    else:
        result[asked] = asked
    return result


_LEAST_PIECE = 5000
"""Points of outlines that make a piece worth a thread."""


def edges_of(
    kind: npt.NDArray[np.uint8],
    ops: Ops,
    sources: Sources,
    shapes: Shapes,
    models: Whole,
    bounds: FloatArray,
    folds: npt.NDArray[np.uint8],
    threads: Threads,
) -> tuple[Whole, Whole, FloatArray]:
    """The edges of all polygons and shadows, (m, 4).

    Widens the bounds of each primitive, (n, 4), to hold them, and says in `folds`, (n,), how it may lie over itself; `models`
    is what `models_of` gives.

    Returns where each primitive's begin, where those of its stroke begin, and the edges. A polygon is a fill or a stroke; a
    shadow is cast by both.
    """
    source, is_stroke = ops.source, ops.is_stroke
    has_edges = (kind == POLYGON) | (kind == SHADOW)
    if not has_edges.any():
        return np.zeros(len(kind) + 1, np.int64), np.zeros(len(kind), np.int64), np.empty((0, 4))
    points = np.diff(shapes.first_point)[sources.shape[source]] * has_edges
    weights = np.concatenate([[0], np.cumsum(1 + points)])
    parts = threads.slices(weights, _LEAST_PIECE)
    found: list[tuple[Whole, Whole, FloatArray]] = [(weights, weights, bounds)] * len(parts)

    def draw(piece: int) -> None:
        part = parts[piece]
        room = 4 * int(weights[part.stop] - weights[part.start]) + 64
        found[piece] = _edges_of(kind[part], source[part], is_stroke[part], sources, shapes, folds[part], room)

    threads.share(draw, range(len(parts)))
    counts = np.concatenate([np.diff(first) for first, _, _ in found])
    is_fill = (kind == POLYGON) & ~is_stroke & (counts > 0)
    model = _models_of_fills(sources.shape[source], models, counts, is_fill)
    is_asked = model == np.arange(len(kind))

    def survey(piece: int) -> None:
        part = parts[piece]
        _survey(found[piece], is_asked[part], bounds[part], folds[part])

    threads.share(survey, range(len(parts)))
    has_model = model >= 0
    folds[has_model] = folds[model[has_model]]
    if len(found) == 1:
        return found[0]
    begins = np.cumsum([0, *(len(edges) for _, _, edges in found)])
    all_edges = np.empty((begins[-1], 4))

    def put(piece: int) -> None:
        all_edges[begins[piece] : begins[piece + 1]] = found[piece][2]

    threads.share(put, range(len(parts)))
    firsts = [first[:-1] + begin for (first, _, _), begin in zip(found, begins[:-1], strict=True)]
    of_strokes = [first + begin for (_, first, _), begin in zip(found, begins[:-1], strict=True)]
    return np.concatenate([*firsts, begins[-1:]]), np.concatenate(of_strokes), all_edges


_MOST_LOOKED_AT = 1 << 16
"""Most edges of an outline that are compared pairwise, to see whether it is simple."""
_CELLS_OF_EDGE = 8
"""Cells of a grid that an edge may cross, on average."""


def _survey(found: tuple[Whole, Whole, FloatArray], is_asked: npt.NDArray[np.bool], *results: npt.NDArray[Any]) -> None:
    """Find the bounds of primitives, and for some their self-overlap."""
    first_edge, _, edges = found
    largest = min(int(np.diff(first_edge)[is_asked].max(initial=0)), _MOST_LOOKED_AT)
    grid = Grid(np.empty(2 * largest, np.int64), *np.empty((2, _CELLS_OF_EDGE * largest), np.int64))
    _survey_edges(first_edge, edges, is_asked, *results, grid)


def _edges_of(
    kind: npt.NDArray[np.uint8],
    source: Whole,
    is_stroke: npt.NDArray[np.bool],
    sources: Sources,
    shapes: Shapes,
    folds: npt.NDArray[np.uint8],
    room: int,
) -> tuple[Whole, Whole, FloatArray]:
    """The result of `edges_of` for some of the primitives; `room` is the initial capacity in edges."""
    first_edge, first_of_stroke = np.zeros(len(kind) + 1, np.int64), np.zeros(len(kind), np.int64)
    # Unused room costs nothing: the system provides memory when it is first written to.
    edges = np.empty((room, 4))
    mapped = np.empty((int(np.diff(shapes.first_point).max()), 2))
    line, dash, pen = _line(64), _line(64), np.empty(4)
    state = np.zeros(3, np.int64)
    while True:
        stopped = _draw_edges(
            kind,
            source,
            is_stroke,
            sources,
            shapes,
            first_edge,
            first_of_stroke,
            edges,
            folds,
            mapped,
            line,
            dash,
            pen,
            state,
        )
        if stopped == MORE_EDGES:
            larger = np.empty((len(edges) + max(len(edges), int(state[1])), 4))
            drawn = first_edge[state[0]]
            larger[:drawn] = edges[:drawn]
            edges = larger
        elif stopped == MORE_POINTS:
            line, dash = _line(2 * int(state[2])), _line(2 * int(state[2]))
        else:
            return first_edge, first_of_stroke, edges[: first_edge[-1]]


def _line(points: int) -> FlatOutline:
    return FlatOutline(
        points=np.empty((points, 2)),
        bends=np.empty(points, np.uint8),
        turns=np.empty((points, 4)),
        ways=np.empty((points, 5)),
        middles=np.empty((points, 2)),
        heads=np.empty(4 * points, np.int64),
        following=np.empty(points, np.int64),
    )
