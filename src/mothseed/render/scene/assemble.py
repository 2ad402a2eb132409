"""From a drawing to primitives in pixels."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray, RecordArray
from mothseed.geometry.affine import are_similarities
from mothseed.kernels.primitives import CLOSE, DISC, NO_SHADE, OPEN, POLYGON, ROUND_CAP, SHADOW, Primitives, Sources
from mothseed.kernels.tile_sizes import TILE
from mothseed.native.library import Kernel
from mothseed.render.scene.edges import Whole, edges_of, models_of, shape_numbers, shapes_of
from mothseed.render.scene.images import joined_images
from mothseed.render.scene.ops import ops_of
from mothseed.render.scene.shades import shades_of
from mothseed.render.scene.shadows import shadow_maps
from mothseed.render.threads import Threads
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.extents import mark_matrices, stroke_widths
from mothseed.sheet.kinds import IS_ROUND, LINE_SEGMENT, PATH, RECT, UNIT_SHAPES
from mothseed.sheet.style import filled_marks

_bracket_bounds = Kernel("sorting.bracket_bounds")

_WITHIN = math.sqrt(0.5)
"""Half the side of the square in a circle, to its radius."""
_ROUND = 1e-6
"""Relative difference of axes up to which a circle still is one on the sheet."""


def prepared(drawing: Drawing, scale: float, threads: Threads) -> Primitives:
    """The primitives of all marks, `scale` pixels to the sheet's unit."""
    widths = stroke_widths(drawing) * scale
    ops = ops_of(drawing, widths)
    sources = _sources(drawing, widths, scale)
    # Copies: kernels take contiguous arrays, and a column of records is not.
    source, is_stroke, kind = (ops[name].copy() for name in ("source", "is_stroke", "kind"))

    disc = _discs(sources, source, is_stroke)
    kinds = np.concatenate([drawing.marks["kind"], np.full(len(drawing.groups), PATH, np.uint8)])
    as_disc = (kind == POLYGON) & _can_be_discs(kinds, sources)[source] & ~(is_stroke & (sources.dash[source] > 0))
    disc[:, 3] = np.maximum(disc[:, 3], 0)
    kind[as_disc] = DISC

    bounds = _disc_bounds(kind, disc)
    shapes, folds = shapes_of(drawing), np.zeros(len(kind), np.uint8)
    models = models_of(drawing)
    first_edge, first_of_stroke, edges = edges_of(kind, source, is_stroke, sources, shapes, models, bounds, folds, threads)
    begins = joined_images(drawing, ops, kind, sources.matrix[source], bounds, folds, first_edge, edges)
    if not begins.all():
        ops, source, is_stroke, kind, disc, bounds = (each[begins] for each in (ops, source, is_stroke, kind, disc, bounds))
        first_edge = np.append(first_edge[:-1][begins], first_edge[-1])
        first_of_stroke, folds = first_of_stroke[begins], folds[begins]
    even_odd = ops["even_odd"].copy()
    shadows = shadow_maps(drawing, scale, kind, source, even_odd, bounds, first_edge, first_of_stroke, edges, threads)
    has_shadow = kind == SHADOW
    bounds[has_shadow] = shadows.bounds[has_shadow]
    depth = int(_bracket_bounds(kind, ops["mask"].copy(), bounds, np.empty(len(kind), np.int64)))
    shade, shade_map, shades = shades_of(drawing, scale, ops)
    colour = _colours(drawing, ops, shade)
    is_fill = ~is_stroke & ~ops["mask"] & (shade == NO_SHADE)
    return Primitives(
        kind=kind,
        disc=disc,
        colour=colour,
        covered=_covered(kind, disc, kinds[source], sources.matrix[source], is_fill, _least_covered(drawing, scale)),
        hides=is_fill & (colour[:, 3] >= 1) & _outermost(kind),
        even_odd=even_odd,
        mask=ops["mask"].copy(),
        clipped=ops["clipped"].copy(),
        blend=ops["blend"].copy(),
        opacity=ops["opacity"].copy(),
        shade=shade,
        bounds=bounds,
        first_edge=first_edge,
        edges=edges,
        folds=folds,
        shade_map=shade_map,
        shades=shades,
        shadow_place=shadows.place,
        shadow_size=shadows.size,
        shadow_cells=shadows.cells,
        depth=depth,
    )


def _sources(drawing: Drawing, widths: FloatArray, scale: float) -> Sources:
    """Marks, then groups: the outline of a clip, and placeholders for other groups."""
    marks, groups = drawing.marks, drawing.groups
    clip_shapes = [max(group.outline, 0) + len(UNIT_SHAPES) if drawing.outlines else 0 for group in groups]
    clip_matrices = drawing.views[[group.view for group in groups]] if len(drawing.views) else np.zeros((len(groups), 6))
    dashes = [each.dash or () for each in drawing.finishes]
    # Dash 0 is none; that of finish k, if any, is k + 1.
    number = np.array([index + 1 if dash else 0 for index, dash in enumerate(dashes)])[marks["finish"]]
    more = len(groups)
    return Sources(
        shape=np.concatenate([shape_numbers(drawing), clip_shapes]).astype(np.int64),
        matrix=np.concatenate([mark_matrices(drawing), clip_matrices]) * scale,
        width=np.concatenate([widths, np.zeros(more)]),
        filled=np.concatenate([filled_marks(marks), np.ones(more, np.bool)]),
        linecap=np.concatenate([marks["linecap"], np.zeros(more, np.uint8)]),
        linejoin=np.concatenate([marks["linejoin"], np.zeros(more, np.uint8)]),
        dash=np.concatenate([number, np.zeros(more, np.int64)]).astype(np.int64),
        axis=np.concatenate([_axes(drawing)[marks["view"]], np.tile([1.0, 0.0], (more, 1))]),
        dash_scale=np.concatenate([drawing.stroke_scales[marks["view"]] * scale, np.zeros(more)]),
        first_length=np.cumsum([0, 0, *map(len, dashes)]),
        lengths=np.array([length for dash in dashes for length in dash], np.float64),
    )


def _axes(drawing: Drawing) -> FloatArray:
    """The direction of x in each view, (n, 2); that of the sheet if a view is degenerate."""
    along = drawing.views[:, :2]
    lengths = np.sqrt((along**2).sum(axis=1, keepdims=True))
    return np.where(lengths > 0, along / np.where(lengths > 0, lengths, 1.0), np.array([1.0, 0.0]))


def _colours(drawing: Drawing, ops: RecordArray, shade: Whole) -> npt.NDArray[np.float32]:
    """Premultiplied colours including the op's opacity, (n, 4); opaque white for masks, only alpha for shades."""
    marks, finishes = drawing.marks, drawing.finishes
    painted = np.flatnonzero(~ops["mask"] & ((ops["kind"] == POLYGON) | (ops["kind"] == SHADOW)))
    own, of_stroke = ops["source"][painted], ops["is_stroke"][painted]
    parts = marks["fill"][own].astype(np.float64)
    parts[of_stroke] = marks["stroke"][own[of_stroke]]
    is_shadow = ops["kind"][painted] == SHADOW
    if is_shadow.any():
        shadows = [finish.shadow for finish in finishes]
        colours = [(*each.colour[:3], each.colour.alpha * each.opacity) if each else (0, 0, 0, 0) for each in shadows]
        parts[is_shadow] = np.array(colours)[marks["finish"][own[is_shadow]]]
    parts[shade[painted] != NO_SHADE] = 1.0
    parts[:, 3] *= ops["opacity"][painted]
    parts[:, :3] *= parts[:, 3:]
    result = np.ones((len(ops), 4), np.float32)
    result[painted] = parts
    return result


def _outermost(kind: npt.NDArray[np.uint8]) -> npt.NDArray[np.bool]:
    """Which primitives lie in no group."""
    opened = np.cumsum(kind == OPEN) - np.cumsum(kind == CLOSE)
    result: npt.NDArray[np.bool] = (opened == 0) & (kind != CLOSE)
    return result


def _covered(
    kind: npt.NDArray[np.uint8],
    disc: FloatArray,
    kinds: npt.NDArray[np.uint8],
    matrix: FloatArray,
    is_fill: npt.NDArray[np.bool],
    least: float,
) -> FloatArray:
    """A box fully covered by each primitive, (n, 4): for axis-aligned rectangles, ellipses, and discs in which it has sides of
    at least `least`.
    """
    boxes = np.tile([math.inf, math.inf, -math.inf, -math.inf], (len(kind), 1))
    is_disc = is_fill & (kind == DISC) & (disc[:, 3] == 0) & (disc[:, 2] * (2 * _WITHIN) >= least)
    half = disc[is_disc, 2:3] * _WITHIN
    boxes[is_disc] = np.concatenate([disc[is_disc, :2] - half, disc[is_disc, :2] + half], axis=1)
    straight = is_fill & (kind == POLYGON) & (matrix[:, 1] == 0) & (matrix[:, 2] == 0)
    for which, low, high in ((straight & (kinds == RECT), 0.0, 1.0), (straight & IS_ROUND[kinds], -_WITHIN, _WITHIN)):
        sizes, places = matrix[which][:, [0, 3]], matrix[which][:, 4:]
        ends = np.stack([places + low * sizes, places + high * sizes])
        boxes[which] = np.concatenate([ends.min(axis=0), ends.max(axis=0)], axis=1)
    return boxes


def _least_covered(drawing: Drawing, scale: float) -> float:
    """The sides in pixels of the smallest box that can cover a tile, with a pixel to spare."""
    return min(TILE, drawing.width * scale, drawing.height * scale) - 1


def _can_be_discs(kind: npt.NDArray[np.uint8], sources: Sources) -> npt.NDArray[np.bool]:
    """Which sources are circles on the sheet too, or dots. A circle of radius 0 paints nothing; a line of length 0 paints its
    round caps.
    """
    is_circle = IS_ROUND[kind] & are_similarities(sources.matrix, _ROUND)
    is_point = (sources.matrix[:, :2] == 0).all(axis=1)
    is_dot = (kind == LINE_SEGMENT) & is_point & (sources.linecap == ROUND_CAP)
    result: npt.NDArray[np.bool] = is_circle | is_dot
    return result


def _discs(sources: Sources, source: Whole, is_stroke: npt.NDArray[np.bool]) -> FloatArray:
    """Centre, outer and inner radius (n, 4), as if every source were a circle."""
    a, b, _, _, e, f = sources.matrix[source].T
    radius = np.sqrt(a * a + b * b)
    half = np.where(is_stroke, sources.width[source] / 2, 0.0)
    inner = np.where(is_stroke, radius - half, 0.0)
    return np.stack([e, f, radius + half, inner], axis=1)


def _disc_bounds(kind: npt.NDArray[np.uint8], disc: FloatArray) -> FloatArray:
    """Left, top, right, bottom of each primitive (n, 4); other than discs start with an empty, inverted box, which their
    edges widen.
    """
    centre, radius = disc[:, :2], disc[:, 2:3]
    # Up to half a pixel's diagonal beyond its radius, a disc may cover the corner of a pixel.
    bounds = np.concatenate([centre - radius - 1, centre + radius + 1], axis=1)
    bounds[kind != DISC] = (math.inf, math.inf, -math.inf, -math.inf)
    return bounds
