"""Smooth curves through given points."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from mothseed.arrays import PointArray
from mothseed.faults import SketchError
from mothseed.geometry.outline import Outline, as_points, through
from mothseed.geometry.verbs import CLOSE, CUBIC, MOVE


def smooth(points: Iterable[object], *, closed: bool = False, tension: float = 0.0) -> Outline:
    """A smooth outline through all the points, in order.

    `tension` 0 is the roundest, 1 straight from point to point. It is a centripetal Catmull-Rom spline, which makes no
    loops or cusps between points; as Bézier segments after Yuksel, Schaefer and Keyser, "Parameterization and applications
    of Catmull-Rom curves", 2011. Points that repeat the one before are left out. Raises SketchError for fewer than two
    points, three where closed, or a tension outside 0 to 1.

    >>> smooth([(0, 0), (10, 5), (20, 0)]).closed
    False
    """
    if not 0 <= tension <= 1:
        raise SketchError(f"smooth: tension is a number from 0 (round) to 1 (straight) (got {tension!r})")
    knots = _without_repeats(as_points(points, "smooth", 3 if closed else 2), closed)
    if len(knots) < 2:
        return through(knots, closed=closed)
    run = _with_neighbours(knots, closed)
    spans = _root_distance(run[:-1], run[1:])
    before, start, end, after = run[:-3], run[1:-2], run[2:-1], run[3:]
    slack = 1.0 - tension
    leaving = start + slack * _reach(start, before, end, spans[:-2], spans[1:-1])
    arriving = end + slack * _reach(end, after, start, spans[2:], spans[1:-1])
    curves = np.stack([leaving, arriving, end], axis=1).reshape(-1, 2)
    verbs = np.full(1 + len(start) + closed, CUBIC, np.uint8)
    verbs[0] = MOVE
    if closed:
        verbs[-1] = CLOSE
    return Outline(verbs, np.concatenate([knots[:1], curves]))


def _without_repeats(points: PointArray, closed: bool) -> PointArray:
    differs = np.ones(len(points), np.bool)
    np.any(points[1:] != points[:-1], axis=1, out=differs[1:])
    if closed and len(points) > 1 and (points[0] == points[-1]).all():
        differs[-1] = False
    return points if differs.all() else points[differs]


def _with_neighbours(knots: PointArray, closed: bool) -> PointArray:
    """The knots that the curve runs through, with the one before its start and the one after its end."""
    if closed:
        return np.concatenate([knots[-1:], knots, knots[:2]])
    # Beyond an open end the curve goes straight on.
    return np.concatenate([2 * knots[:1] - knots[1:2], knots, 2 * knots[-1:] - knots[-2:-1]])


def _root_distance(first: PointArray, second: PointArray) -> PointArray:
    """Square root of the distance: the centripetal spacing of parameters, (n, 1)."""
    across, down = (second - first).T
    distances: PointArray = np.sqrt(np.sqrt(across * across + down * down))[:, None]
    return distances


def _reach(knot: PointArray, behind: PointArray, ahead: PointArray, span_behind: PointArray, span: PointArray) -> PointArray:
    """From a knot to its control point on the segment towards `ahead`."""
    numerator = span_behind**2 * (ahead - knot) + span**2 * (knot - behind)
    result: PointArray = numerator / (3 * span_behind * (span_behind + span))
    return result
