"""From a drawing to primitives in pixels."""

from __future__ import annotations

from functools import partial
from typing import TypeVar

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.geometry.vectors import sizes
from mothseed.kernels.primitives import SHADOW, Primitives, Sources
from mothseed.kernels.tile_sizes import TILE
from mothseed.native.library import Kernel
from mothseed.render.scene.edges import edges_of, joined_edges, lasts_of, models_of, shape_numbers, shapes_of
from mothseed.render.scene.images import joined_images
from mothseed.render.scene.ops import chosen_ops, ops_of, paint_of
from mothseed.render.scene.shades import shades_of
from mothseed.render.scene.shadows import shadow_maps
from mothseed.render.threads import Threads
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.extents import mark_matrices, stroke_widths
from mothseed.sheet.kinds import UNIT_SHAPES
from mothseed.sheet.style import filled_marks

Value = TypeVar("Value", bound=np.generic)

_bracket_bounds, _keep_within_clips = Kernel("sorting.bracket_bounds"), Kernel("sorting.keep_within_clips")
_put_discs, _colour_ops = Kernel("placing.put_discs"), Kernel("placing.colour_ops")

_LEAST_OPS = 50_000
"""Ops that make a piece worth a thread."""
_MICROSECONDS_A_MARK = 0.15
"""Roughly, to turn its record into columns."""
_MICROSECONDS_AN_OUTLINE = 1.5
"""To put it beside the others, and look for its model."""


def prepared(drawing: Drawing, scale: float, threads: Threads) -> Primitives:
    """The primitives of all marks, `scale` pixels to the sheet's unit."""
    sources, paint = _sources(drawing, scale, threads), paint_of(drawing, threads)
    ops = ops_of(drawing, sources, paint)
    count = len(ops.kind)
    kind, disc, bounds = np.empty(count, np.uint8), np.empty((count, 4)), np.empty((count, 4))

    def put_discs(part: slice) -> None:
        _put_discs(chosen_ops(ops, part), sources, kind[part], disc[part], bounds[part])

    threads.share(put_discs, threads.slices(np.arange(count + 1), _LEAST_OPS))

    folds = np.zeros(count, np.uint8)
    tasks = partial(shapes_of, drawing), partial(models_of, drawing)
    shapes, models = threads.results(tasks, len(drawing.outlines) * _MICROSECONDS_AN_OUTLINE)
    edge_spans, edges = edges_of(kind, ops, sources, shapes, models, bounds, folds, threads)
    begins = joined_images(drawing, ops, kind, sources.matrix, bounds, folds, edge_spans, edges)
    of_primitives = np.stack([ops.source[begins], ops.source[lasts_of(begins)]], axis=1)
    if not begins.all():
        ops = chosen_ops(ops, begins)
        kind, disc, bounds, folds = kind[begins], disc[begins], bounds[begins], folds[begins]
        edge_spans, edges = joined_edges(edge_spans, edges, begins)
    shadows = shadow_maps(drawing, scale, kind, ops, bounds, edge_spans, edges, threads)
    if len(shadows.bounds):
        has_shadow = kind == SHADOW
        bounds[has_shadow] = shadows.bounds[has_shadow]
    opened, seen = np.empty(len(kind), np.int64), bounds
    depth = int(_bracket_bounds(kind, ops.mask, bounds, opened))
    if depth:
        seen = bounds.copy()
        _keep_within_clips(kind, ops.clipped, bounds, opened, seen)
    shade, shade_map, shades = shades_of(drawing, scale, ops, threads)
    colour, covered = np.empty((len(kind), 4), np.float32), np.empty((len(kind), 4))
    hides, traits = np.empty(len(kind), np.bool), np.empty(len(kind), np.uint8)
    least = _least_covered(drawing, scale)

    def colour_ops(part: slice) -> None:
        results = colour[part], covered[part], hides[part], traits[part]
        _colour_ops(chosen_ops(ops, part), kind[part], shade[part], paint, sources, disc[part], least, *results)

    # Whether something is within a group follows from all that comes before it.
    parts = [slice(0, len(kind))] if depth else threads.slices(np.arange(len(kind) + 1), _LEAST_OPS)
    threads.share(colour_ops, parts)
    return Primitives(
        kind=kind,
        sources=of_primitives,
        traits=traits,
        disc=disc,
        colour=colour,
        covered=covered,
        hides=hides,
        even_odd=ops.even_odd,
        clipped=ops.clipped,
        blend=ops.blend,
        opacity=ops.opacity,
        shade=shade,
        bounds=bounds,
        seen=seen,
        edge_spans=edge_spans,
        edges=edges,
        folds=folds,
        shade_map=shade_map,
        shades=shades,
        shadow_place=shadows.place,
        shadow_size=shadows.size,
        shadow_cells=shadows.cells,
        depth=depth,
    )


def _sources(drawing: Drawing, scale: float, threads: Threads) -> Sources:
    """Marks, then groups other than the sheet itself: the outlines of clips, and placeholders for layers."""
    marks, groups = drawing.marks, drawing.groups[1:]
    more = len(groups)
    clip_shapes = [0 if group.is_layer else group.outline + len(UNIT_SHAPES) for group in groups]
    clip_matrices = drawing.views[[group.view for group in groups]] if len(drawing.views) and more else np.zeros((more, 6))
    dashes = [each.dash or () for each in drawing.finishes]
    # Dash 0 is none; that of finish k, if any, is k + 1.
    numbers = np.array([index + 1 if dash else 0 for index, dash in enumerate(dashes)])

    def matrices() -> FloatArray:
        matrix = _followed(mark_matrices(drawing), clip_matrices)
        matrix *= scale
        return matrix

    tasks = (
        matrices,
        lambda: _followed(shape_numbers(drawing), np.array(clip_shapes, np.int64)),
        lambda: _followed(stroke_widths(drawing) * scale, np.zeros(more)),
        lambda: _followed(filled_marks(marks), np.ones(more, np.bool)),
        lambda: _followed(marks["linecap"], np.zeros(more, np.uint8)),
        lambda: _followed(marks["linejoin"], np.zeros(more, np.uint8)),
        lambda: _followed(numbers[marks["finish"]], np.zeros(more, np.int64)),
        lambda: _followed(marks["view"], np.zeros(more, np.uint32)),
    )
    matrix, shape, width, filled, linecap, linejoin, dash, frame = threads.results(tasks, len(marks) * _MICROSECONDS_A_MARK)
    return Sources(
        shape=shape,
        matrix=matrix,
        width=width,
        filled=filled,
        linecap=linecap,
        linejoin=linejoin,
        dash=dash,
        frame=frame,
        axis=_axes(drawing.views),
        dash_scale=drawing.stroke_scales * scale,
        first_length=np.cumsum([0, 0, *map(len, dashes)]),
        lengths=np.array([length for dash in dashes for length in dash], np.float64),
    )


def _followed(column: npt.NDArray[Value], rows: npt.NDArray[Value]) -> npt.NDArray[Value]:
    """A column with some rows more, contiguous; itself if it is so already, and there are none."""
    return np.concatenate([column, rows]) if len(rows) else np.ascontiguousarray(column)


def _axes(views: FloatArray) -> FloatArray:
    """The direction of x in each view, (v, 2); that of the sheet if a view is degenerate."""
    along = views[:, :2]
    lengths = sizes(along)[:, None]
    return np.where(lengths > 0, along / np.where(lengths > 0, lengths, 1.0), np.array([1.0, 0.0]))


def _least_covered(drawing: Drawing, scale: float) -> float:
    """The sides in pixels of the smallest box that can cover a tile, with a pixel to spare."""
    return min(TILE, drawing.width * scale, drawing.height * scale) - 1
