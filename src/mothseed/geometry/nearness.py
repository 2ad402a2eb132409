"""Neighbourhoods of points: triangles between them, cells around them, and points moved until they are evenly spread. SciPy
finds the triangles; everything else follows from them. Points in a box are mirrored in its four sides, so that each cell ends
there by itself.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from mothseed.arrays import PointArray, WholeArray
from mothseed.faults import SketchError
from mothseed.geometry.outline import starts_of
from mothseed.geometry.region import Box
from mothseed.geometry.surface import Surface, heights_of
from mothseed.geometry.vectors import differ, squares

_NEAR = 1e-7
"""Distance, relative to the longer side of a box, below which two places are one."""
_REACH = 4.0
"""How near to a side points are mirrored at first, in units of the spacing of evenly spread points."""
_FEWEST_SAMPLES, _MOST_SAMPLES, _SAMPLES_EACH = 20_000, 200_000, 32
"""Samples of the weight: so many per point, and the fewest and most in all."""


class VoronoiCells(NamedTuple):
    """The cells of a Voronoi diagram in a box, as polygons one after another."""

    corners: PointArray
    """float64 (m, 2), clockwise on a sheet whose y goes down"""
    counts: WholeArray
    """(n,): the number of corners of each; 0 if an earlier point lies in the same place"""
    pairs: WholeArray
    """(k, 2): which cells share an edge, the lower number first"""

    def polygons(self) -> list[PointArray]:
        """The corners of each."""
        return np.split(self.corners, np.cumsum(self.counts)[:-1]) if len(self.counts) else []


def triangles_between(points: PointArray, call: str) -> WholeArray:
    """The Delaunay triangles of points: int64 (k, 3), indices of points, clockwise on a sheet, in order. Raises SketchError,
    naming the call, if there are none.
    """
    unique = len(np.unique(points, axis=0)) if len(points) else 0
    if unique < 3:
        raise SketchError(f"{call}: at least 3 points in different places are needed (got {unique})")
    found = _delaunay(points)
    if not len(found):
        raise SketchError(f"{call}: the points lie on one line", hint="move one of them off it")
    return _in_order(points, found)


def cells_around(points: PointArray, box: Box) -> VoronoiCells:
    """For each point, the part of a box that is nearer to it than to any other; points lie inside the box.

    Georges Voronoi, "Nouvelles applications des paramètres continus à la théorie des formes quadratiques", 1908.
    """
    size = max(box[2], box[3])
    own, first, twin = np.unique(points, axis=0, return_index=True, return_inverse=True)
    inside = _kept_inside(own, box)
    corners, counts, pairs = _cells(inside, box, size * _NEAR)
    # Cells in the order of the given points; the first of several in one place gets it.
    begins = starts_of(counts)
    is_first = first[twin.ravel()] == np.arange(len(points))
    which = twin.ravel()[is_first]
    all_counts = np.zeros(len(points), np.int64)
    all_counts[is_first] = counts[which]
    order = np.concatenate([np.arange(begin, begin + count) for begin, count in zip(begins[which], counts[which], strict=True)]
                           or [np.zeros(0, np.int64)])  # fmt: skip
    renamed = np.sort(first[pairs], axis=1)
    return VoronoiCells(corners[order], all_counts, renamed[np.lexsort((renamed[:, 1], renamed[:, 0]))])


def relaxed(points: PointArray, box: Box, rounds: int, weight: Surface | None, call: str) -> PointArray:
    """Points moved to the centroid of their cell, again and again: Lloyd, "Least squares quantization in PCM", 1982. With a
    weight, it is the weighted centroid, so that their density follows the weight: Secord, "Weighted Voronoi stippling", 2002.
    The weight is squared, as the density of points in the plane follows the root of what weighs them: Zador, "Asymptotic
    quantization error", 1982.
    """
    if not rounds or not len(points):
        return points
    if weight is not None:
        return _relaxed_by(points, box, rounds, weight, call)
    for _ in range(rounds):
        cells = cells_around(points, box)
        there = cells.counts > 0
        moved = points.copy()
        moved[there] = _centroids(cells.corners, cells.counts[there])
        points = moved
    return points


def _relaxed_by(points: PointArray, box: Box, rounds: int, weight: Surface, call: str) -> PointArray:
    from scipy.spatial import cKDTree

    left, top, width, height = box
    wanted = min(max(_SAMPLES_EACH * len(points), _FEWEST_SAMPLES), _MOST_SAMPLES)
    side = np.sqrt(width * height / wanted)
    cols, rows = max(int(width / side), 1), max(int(height / side), 1)
    xs, ys = left + width * (np.arange(cols) + 0.5) / cols, top + height * (np.arange(rows) + 0.5) / rows
    x, y = (part.ravel() for part in np.meshgrid(xs, ys))
    weights = heights_of(weight, x, y, call, "weight").clip(0.0)
    counts = weights > 0
    places, weights = np.stack([x, y], axis=1)[counts], weights[counts] ** 2
    for _ in range(rounds):
        _, nearest = cKDTree(points).query(places, workers=-1)
        total = np.bincount(nearest, weights, len(points))
        middles = [np.bincount(nearest, weights * places[:, axis], len(points)) for axis in (0, 1)]
        held = total > 0
        points = np.where(held[:, None], np.stack(middles, axis=1) / np.where(held, total, 1.0)[:, None], points)
    return points


def _kept_inside(points: PointArray, box: Box) -> PointArray:
    """The points, a hair's breadth inside the box, so that none coincides with its mirror image."""
    left, top, width, height = box
    edge = np.array([width, height]) * _NEAR
    return points.clip(np.array([left, top]) + edge, np.array([left + width, top + height]) - edge)


def _cells(points: PointArray, box: Box, near: float) -> tuple[PointArray, WholeArray, WholeArray]:
    """Corners, their counts and pairs of neighbours, for the cells of distinct points inside the box."""
    count = len(points)
    left, top, width, height = box
    low, high = np.array([left, top]), np.array([left + width, top + height])
    # Inside the box, no image is nearer than its original: if all cells end inside it, there were enough images.
    for reach in (_REACH / np.sqrt(count), 1.0):
        everywhere = np.concatenate([points, *_images(points, low, high, reach)])
        triangles = _delaunay(everywhere)
        triangles = triangles[(triangles < count).any(axis=1)]
        middles = _circumcentres(everywhere, triangles)
        if ((middles > low - near) & (middles < high + near)).all():
            break
    middles = middles.clip(low, high)
    # Each triangle is a corner of the cells of its three points; around each point they are sorted by angle.
    owners, which = triangles.ravel(), np.repeat(np.arange(len(triangles)), 3)
    ours = owners < count
    owners, which = owners[ours], which[ours]
    away = middles[which] - points[owners]
    order = np.lexsort((np.arctan2(away[:, 1], away[:, 0]), owners))
    owners, corners = owners[order], middles[which[order]]
    # If more than three points lie on one circle, several triangles have the same circumcentre.
    counts = np.bincount(owners, minlength=count)
    ends = np.cumsum(counts) - 1
    before = np.arange(len(corners)) - 1
    before[ends - counts + 1] = ends
    apart = np.abs(corners - corners[before]).max(axis=1) > near
    return corners[apart], np.bincount(owners[apart], minlength=count), _pairs(triangles, middles, count, near)


def _images(points: PointArray, low: PointArray, high: PointArray, reach: float) -> Iterator[PointArray]:
    """The mirror images of points in the sides of a box that are within reach, a fraction of its width and height."""
    for axis in (0, 1):
        for edge in (low[axis], high[axis]):
            image = points[np.abs(points[:, axis] - edge) <= reach * (high - low)[axis]].copy()
            image[:, axis] = 2 * edge - image[:, axis]
            yield image


def _pairs(triangles: WholeArray, middles: PointArray, count: int, near: float) -> WholeArray:
    """Points whose cells share an edge: those of two adjacent triangles with different circumcentres."""
    edges = np.sort(np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]]), axis=1)
    which = np.tile(np.arange(len(triangles)), 3)
    ours = edges[:, 1] < count
    edges, which = edges[ours], which[ours]
    order = np.lexsort((edges[:, 1], edges[:, 0]))
    edges, which = edges[order], which[order]
    same = ~differ(edges[1:], edges[:-1])
    apart = np.abs(middles[which[1:]] - middles[which[:-1]]).max(axis=1) > near
    pairs: WholeArray = edges[1:][same & apart]
    return pairs


def _delaunay(points: PointArray) -> WholeArray:
    from scipy.spatial import Delaunay, QhullError

    low = points.min(axis=0)
    size = float((points.max(axis=0) - low).max())
    try:
        found: npt.NDArray[np.int32] = Delaunay((points - low) / size).simplices
    except (QhullError, ValueError):  # all on one line
        return np.zeros((0, 3), np.int64)
    triangles: WholeArray = found.astype(np.int64)
    return triangles


def _in_order(points: PointArray, triangles: WholeArray) -> WholeArray:
    """Triangles clockwise from their lowest index, sorted by it."""
    first, second, third = (points[triangles[:, corner]] for corner in range(3))
    one, other = second - first, third - first
    backward = one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0] < 0
    turned = np.where(backward[:, None], triangles[:, ::-1], triangles)
    lowest = turned.argmin(axis=1)
    turned = np.take_along_axis(turned, (lowest[:, None] + np.arange(3)) % 3, axis=1)
    ordered: WholeArray = turned[np.lexsort((turned[:, 2], turned[:, 1], turned[:, 0]))]
    return ordered


def _circumcentres(points: PointArray, triangles: WholeArray) -> PointArray:
    """The circumcentre of each triangle; the mean of its corners if it is flat."""
    origin = points[triangles[:, 0]]
    b, c = points[triangles[:, 1]] - origin, points[triangles[:, 2]] - origin
    twice = 2 * (b[:, 0] * c[:, 1] - b[:, 1] * c[:, 0])
    b2, c2 = squares(b), squares(c)
    flat = twice == 0
    safe = np.where(flat, 1.0, twice)
    middle = np.stack([(c[:, 1] * b2 - b[:, 1] * c2) / safe, (b[:, 0] * c2 - c[:, 0] * b2) / safe], axis=1)
    return origin + np.where(flat[:, None], (b + c) / 3, middle)


def _centroids(corners: PointArray, counts: WholeArray) -> PointArray:
    """The centroids of polygons stored one after another, all with an inside."""
    begins = starts_of(counts)
    after = np.arange(len(corners)) + 1
    after[begins + counts - 1] = begins
    # Relative to one of its corners, each polygon is near the origin, and no digits are lost.
    anchor = np.repeat(corners[begins], counts, axis=0)
    here, there = corners - anchor, corners[after] - anchor
    cross = here[:, 0] * there[:, 1] - here[:, 1] * there[:, 0]
    area = np.add.reduceat(cross, begins)
    moment = np.add.reduceat((here + there) * cross[:, None], begins)
    safe = np.where(area == 0, 1.0, area)
    return corners[begins] + np.where((area == 0)[:, None], 0.0, moment / (3 * safe)[:, None])
