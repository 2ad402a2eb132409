"""Parallel outlines."""

from __future__ import annotations

import numpy as np

from mothseed.arrays import PointArray
from mothseed.checks import finite
from mothseed.faults import SketchError
from mothseed.geometry.given_points import refuse_endless
from mothseed.geometry.lengths import pieces_of
from mothseed.geometry.outline import Outline, all_joined, through
from mothseed.geometry.vectors import sizes, squares

_MITER_LIMIT = 4.0
"""How far a corner may lie from its vertex, in distances, as for a stroke's miter join in SVG."""


def offset(outline: Outline, distance: float) -> Outline:
    """The outline parallel to this one, `distance` to its right as you travel along it; to its left if negative.

    Outlines such as `ngon` and `circle` run clockwise, so a positive distance lies inside. Curves come back as short straight
    lines; corners stay sharp up to four times the distance. Where an outline bends more tightly than the distance, the result
    crosses itself. Raises SketchError for a distance that is not finite, and for an outline of no length.
    """
    finite("offset", distance=distance)
    moved = [_beside(points, closed, distance) for points, closed in pieces_of(outline) if len(points) > 1]
    if not moved:
        raise SketchError("offset: the outline has no length", hint="give it at least two different points")
    return all_joined(moved)


def _beside(points: PointArray, closed: bool, distance: float) -> Outline:
    steps = np.roll(points, -1, axis=0) - points if closed else np.diff(points, axis=0)
    lengths = sizes(steps)
    normals = np.stack([-steps[:, 1], steps[:, 0]], axis=1) / lengths[:, None]
    if closed:
        before, after = np.roll(normals, 1, axis=0), normals
    else:
        before, after = np.concatenate([normals[:1], normals]), np.concatenate([normals, normals[-1:]])
    middle = before + after
    square = squares(middle)
    # The miter of two unit normals is their sum times 2 over its square; it is as long as 2 over the sum's length.
    reach = np.where(
        square * _MITER_LIMIT**2 >= 4, 2 / np.maximum(square, 1e-12), _MITER_LIMIT / np.sqrt(np.maximum(square, 1e-12))
    )
    moved = points + distance * middle * reach[:, None]
    refuse_endless(moved, "offset")
    return through(moved, closed=closed)
