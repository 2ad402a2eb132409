"""Adjoining images of one mark: halves of mirrored marks, sectors of spun ones.

Painted one after the other they would let through, along the line where they meet, what lies below: each covers part of a
pixel, and the second leaves some of what the first has left. Painted as one polygon they cover all of it.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from mothseed.arrays import BoolArray, FloatArray
from mothseed.geometry.vectors import squares
from mothseed.kernels.primitives import FREE, ONE_WAY, POLYGON, Ops
from mothseed.render.scene.edges import Whole
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.finish import SHADES

_NEAR = 1.0
"""Distance in pixels up to which boxes may share pixels."""
_ON_AXIS = 1e-3
"""Pixels by which a half may cross the axis without a visible difference."""
_SAME = 1e-9
"""Tolerance for a reflection done twice to be the identity."""


def joined_images(
    drawing: Drawing,
    ops: Ops,
    kind: npt.NDArray[np.uint8],
    matrix: FloatArray,
    bounds: FloatArray,
    folds: npt.NDArray[np.uint8],
    edge_spans: Whole,
    edges: FloatArray,
) -> BoolArray:
    """Which primitives begin a polygon, bool (n,): the edges of all others, up to the next that does, belong to it too.

    `matrix` is that of each source, to pixels. Joined are neighbours that are the same but for their views, painted
    in one solid colour, where they are opaque, or where they are the halves of a mirrored mark and do not reach over the axis:
    no more and no less is seen of them. Bounds are widened to hold what is joined, which may lie over itself, and edges of
    fills that a mirror has turned round are turned back.
    """
    begins = np.ones(len(kind), np.bool)
    candidates = _candidates(drawing, ops, kind, bounds)
    if not len(candidates):
        return begins
    marks = drawing.marks[ops.source[candidates]]
    stroke = ops.is_stroke[candidates]
    alpha = np.where(stroke, marks["stroke"][:, 3], marks["fill"][:, 3]) * marks["opacity"]
    may_overlap = (alpha >= 1) & ~ops.even_odd[candidates]
    with np.errstate(over="ignore", invalid="ignore"):  # what lies beyond all numbers is ignored
        reflections, are_mirrored = _reflections(matrix[ops.source[candidates - 1]], matrix[ops.source[candidates]])
    for number in np.flatnonzero(may_overlap | are_mirrored).tolist():
        second = candidates[number]
        own = edges[edge_spans[second - 1, 0] : edge_spans[second - 1, 2]]
        if may_overlap[number] or (begins[second - 1] and _lie_on_one_side(reflections[number], own)):
            begins[second] = False
    a, b, c, d, _, _ = matrix[ops.source].T
    determinants = a * d - b * c
    heads = np.maximum.accumulate(np.where(begins, np.arange(len(kind)), 0))
    for second in np.flatnonzero(~begins).tolist():
        head = heads[second]
        bounds[head, :2] = np.minimum(bounds[head, :2], bounds[second, :2])
        bounds[head, 2:] = np.maximum(bounds[head, 2:], bounds[second, 2:])
        folds[head] = ONE_WAY if ops.is_stroke[head] else FREE
        if not ops.is_stroke[second] and determinants[head] * determinants[second] < 0:
            own = edges[edge_spans[second, 0] : edge_spans[second, 2]]
            own[:] = own[::-1, [2, 3, 0, 1]]
    return begins


def _candidates(drawing: Drawing, ops: Ops, kind: npt.NDArray[np.uint8], bounds: FloatArray) -> Whole:
    """Numbers of primitives that equal the previous one apart from the view, and are close to it."""
    if len(drawing.views) < 2:
        return np.zeros(0, np.int64)
    marks, source = drawing.marks, ops.source
    is_own = (kind == POLYGON) & ~ops.mask
    # A mark with a stroke over its fill, or with a shadow, is more than one primitive; its seam is under the stroke.
    apart = np.diff(source, prepend=-1, append=-1) != 0
    is_own &= apart[:-1] & apart[1:]
    seconds = np.flatnonzero(is_own[1:] & is_own[:-1] & (np.diff(source) == 1)) + 1
    near = (bounds[seconds - 1, :2] - _NEAR < bounds[seconds, 2:]).all(axis=1)
    near &= (bounds[seconds, :2] - _NEAR < bounds[seconds - 1, 2:]).all(axis=1)
    seconds = seconds[near]
    seconds = seconds[marks["view"][source[seconds]] != marks["view"][source[seconds - 1]]]
    first, second = marks[source[seconds - 1]], marks[source[seconds]]
    for rows in (first, second):
        rows["view"] = 0
    width = marks.dtype.itemsize
    same = (first.view(np.uint8).reshape(-1, width) == second.view(np.uint8).reshape(-1, width)).all(axis=1)
    shaded = np.array([type(each.fill) in SHADES or type(each.stroke) in SHADES for each in drawing.finishes], np.bool)
    result: Whole = seconds[same & ~shaded[second["finish"]]]
    return result


def _reflections(first: FloatArray, second: FloatArray) -> tuple[FloatArray, BoolArray]:
    """The maps between pairs of images, (n, 2, 3), and whether they are reflections, from matrices (n, 6) each."""
    a, b = (each.reshape(-1, 3, 2).transpose(0, 2, 1) for each in (first, second))
    determinants = np.linalg.det(a[:, :, :2])
    is_map = np.abs(determinants) >= _SAME
    turns = b[:, :, :2] @ np.linalg.inv(np.where(is_map[:, None, None], a[:, :, :2], np.eye(2)))
    moves = b[:, :, 2:] - turns @ a[:, :, 2:]
    # Applied twice, it is the identity.
    again = np.abs(turns @ turns - np.eye(2)).max(axis=(1, 2), initial=0.0)
    back = np.abs(turns @ moves + moves).max(axis=(1, 2), initial=0.0)
    maps = np.concatenate([turns, moves], axis=2)
    sizes = np.maximum(1.0, np.abs(maps).max(axis=(1, 2), initial=0.0))
    return maps, is_map & (np.linalg.det(turns) < 0) & (np.maximum(again, back) <= _SAME * sizes**2)


def _lie_on_one_side(reflection: FloatArray, edges: FloatArray) -> bool:
    """Whether all edges are on one side of the axis of a reflection."""
    # It moves a point across the axis by twice the distance to it.
    points = edges[:, :2]
    with np.errstate(over="ignore", invalid="ignore"):  # what lies beyond all numbers is ignored
        moved = points @ reflection[:, :2].T + reflection[:, 2] - points
        farthest = moved[np.argmax(squares(moved))]
        ways = moved @ farthest / max(float(np.sqrt(farthest @ farthest)), _SAME)
        return bool(ways.min() >= -2 * _ON_AXIS)
