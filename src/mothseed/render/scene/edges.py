"""Edges of polygons: filled, stroked and dashed outlines, in pixels."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.geometry.lettering import Lettered
from mothseed.geometry.outlines import Outlines
from mothseed.kernels.primitives import (
    MORE_EDGES,
    MORE_POINTS,
    POLYGON,
    ROUND_CAP,
    SHADOW,
    FlatOutline,
    Grid,
    Ops,
    Shapes,
    Sources,
)
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


_LEAST_PIECE = 20_000
"""Edges that make a piece worth a thread."""
_SPARE_EDGES = 6000
"""Edges for which each piece has room besides those that are likely: a kernel stops when it might have too little for the next
stroke.
"""


_WIDE = 1e6
"""Strokes wider than so many pixels are taken to be as wide."""


def edges_of(
    kind: npt.NDArray[np.uint8],
    ops: Ops,
    sources: Sources,
    shapes: Shapes,
    models: Whole,
    bounds: FloatArray,
    folds: npt.NDArray[np.uint8],
    threads: Threads,
) -> tuple[Whole, FloatArray]:
    """The edges of all polygons and shadows, (m, 4), and the `edge_spans` of primitives in them, (n, 3); between those of two
    primitives there may be unused room.

    Widens the bounds of each primitive, (n, 4), to hold them, and says in `folds`, (n,), how it may lie over itself; `models`
    is what `models_of` gives. A polygon is a fill or a stroke; a shadow is cast by both.
    """
    source, is_stroke = ops.source, ops.is_stroke
    spans = np.zeros((len(kind), 3), np.int64)
    has_edges = (kind == POLYGON) | (kind == SHADOW)
    if not has_edges.any():
        return spans, np.empty((0, 4))
    likely = np.concatenate([[0], np.cumsum(_likely_edges(ops, sources, shapes) * has_edges)])
    parts = threads.slices(likely, _LEAST_PIECE)
    # Each piece is drawn where it stays. Unused room costs nothing: the system provides memory when it is first written to.
    begins = np.cumsum([0, *(likely[part.stop] - likely[part.start] + _SPARE_EDGES for part in parts)])
    edges = np.empty((begins[-1], 4))
    rooms = np.split(edges, begins[1:-1])
    found = list(rooms)

    def draw(piece: int) -> None:
        part = parts[piece]
        own = kind[part], source[part], is_stroke[part]
        found[piece] = _drawn(*own, sources, shapes, folds[part], spans[part], rooms[piece])

    threads.share(draw, range(len(parts)))
    counts = spans[:, 2] - spans[:, 0]
    is_fill = (kind == POLYGON) & ~is_stroke & (counts > 0)
    model = _models_of_fills(sources.shape[source], models, counts, is_fill)
    is_asked = model == np.arange(len(kind))

    def survey(piece: int) -> None:
        part = parts[piece]
        _survey(spans[part], found[piece], is_asked[part], bounds[part], folds[part])

    threads.share(survey, range(len(parts)))
    has_model = model >= 0
    folds[has_model] = folds[model[has_model]]
    if any(own is not room for own, room in zip(found, rooms, strict=True)):
        drawn = [own[: spans[part, 2].max(initial=0)] for own, part in zip(found, parts, strict=True)]
        begins, edges = np.cumsum([0, *map(len, drawn)]), np.concatenate(drawn)
    for part, begin in zip(parts, begins[:-1], strict=True):
        spans[part] += begin
    return spans, edges


def lasts_of(begins: npt.NDArray[np.bool]) -> Whole:
    """The last of the primitives that belong together with each of those that begin."""
    lasts: Whole = np.flatnonzero(np.append(begins, True)[1:])
    return lasts


def _likely_edges(ops: Ops, sources: Sources, shapes: Shapes) -> Whole:
    """How many edges each primitive is likely to have at most, (n,), if it has any."""
    source = ops.source
    points = np.diff(shapes.first_point)[sources.shape[source]]
    has_round_caps = ops.is_stroke & (sources.linecap[source] == ROUND_CAP)
    # Chords of four quarters of a circle, as `stroke.arc_steps` has them.
    of_caps = np.where(has_round_caps, 4 + 12 * np.sqrt(np.fmin(sources.width[source], _WIDE)), 0.0)
    return 4 * (1 + points) + of_caps.astype(np.int64)


def joined_edges(spans: Whole, edges: FloatArray, begins: npt.NDArray[np.bool]) -> tuple[Whole, FloatArray]:
    """The spans of primitives that also have the edges of those after them, up to the next of those that `begins`, (n,), has,
    and the edges, without unused room if some of it lay between those that are joined.
    """
    after_room = np.flatnonzero(spans[1:, 0] != spans[:-1, 2]) + 1
    if not begins[after_room].all():
        runs = [edges[own[0, 0] : own[-1, 2]] for own in np.split(spans, after_room)]
        edges = np.concatenate(runs)
        counts = spans[:, 2] - spans[:, 0]
        spans = spans - spans[:, :1] + (np.cumsum(counts) - counts)[:, None]
    return np.column_stack([spans[begins, :2], spans[lasts_of(begins), 2]]), edges


_MOST_LOOKED_AT = 1 << 16
"""Most edges of an outline that are compared pairwise, to see whether it is simple."""
_CELLS_OF_EDGE = 8
"""Cells of a grid that an edge may cross, on average."""


def _survey(spans: Whole, edges: FloatArray, is_asked: npt.NDArray[np.bool], *results: npt.NDArray[Any]) -> None:
    """Find the bounds of primitives, and for some their self-overlap."""
    largest = min(int((spans[:, 2] - spans[:, 0])[is_asked].max(initial=0)), _MOST_LOOKED_AT)
    grid = Grid(np.empty(2 * largest, np.int64), *np.empty((2, _CELLS_OF_EDGE * largest), np.int64))
    _survey_edges(spans, edges, is_asked, *results, grid)


def _drawn(
    kind: npt.NDArray[np.uint8],
    source: Whole,
    is_stroke: npt.NDArray[np.bool],
    sources: Sources,
    shapes: Shapes,
    folds: npt.NDArray[np.uint8],
    spans: Whole,
    room: FloatArray,
) -> FloatArray:
    """Draw the edges of some of the primitives; returns where: in the `room`, or in a larger one if that is too small. `spans`
    receives their places there.
    """
    edges = room
    mapped = np.empty((int(np.diff(shapes.first_point).max()), 2))
    line, dash, pen = _line(64), _line(64), np.empty(4)
    state = np.zeros(3, np.int64)
    while True:
        stopped = _draw_edges(kind, source, is_stroke, sources, shapes, spans, edges, folds, mapped, line, dash, pen, state)
        if stopped == MORE_EDGES:
            larger = np.empty((len(edges) + max(len(edges), int(state[1])), 4))
            drawn = spans[state[0] - 1, 2] if state[0] else 0
            larger[:drawn] = edges[:drawn]
            edges = larger
        elif stopped == MORE_POINTS:
            line, dash = _line(2 * int(state[2])), _line(2 * int(state[2]))
        else:
            return edges


def _line(points: int) -> FlatOutline:
    return FlatOutline(
        points=np.empty((points, 2)),
        turns=np.empty((points, 4)),
        ways=np.empty((points, 5)),
        middles=np.empty((2, points)),
        heads=np.empty(4 * points, np.int64),
        following=np.empty(points, np.int64),
    )
