"""Cosines and sines of many angles, and smooth curves through points."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.native.jit import entry, inlined
from mothseed.portable import COSINE_TERMS, RADIANS_PER_DEGREE, SINE_TERMS

_S3, _S5, _S7, _S9, _S11, _S13, _S15, _S17 = SINE_TERMS
_C2, _C4, _C6, _C8, _C10, _C12, _C14, _C16, _C18 = COSINE_TERMS

Numbers = Array1[np.float64]
Points = Array2[np.float64]


@entry
def turn(degrees: Numbers, cosines: Numbers, sines: Numbers) -> None:
    """Cosine and sine of each angle, exact at every multiple of 90: the bits of `portable.cosine_and_sine`."""
    for n in range(len(degrees)):
        quarter = np.rint(degrees[n] / 90)
        x = (degrees[n] - 90.0 * quarter) * RADIANS_PER_DEGREE
        q = x * x
        high = ((((_S17 * q + _S15) * q + _S13) * q + _S11) * q + _S9) * q
        sine = x * ((((high + _S7) * q + _S5) * q + _S3) * q + 1.0)
        high = ((((_C18 * q + _C16) * q + _C14) * q + _C12) * q + _C10) * q
        cosine = ((((high + _C8) * q + _C6) * q + _C4) * q + _C2) * q + 1.0
        which = quarter - 4.0 * math.floor(quarter / 4.0)
        if which == 1.0:
            cosine, sine = 0.0 - sine, cosine
        elif which == 2.0:
            cosine, sine = -cosine, 0.0 - sine
        elif which == 3.0:
            cosine, sine = sine, -cosine
        cosines[n], sines[n] = cosine, sine


@entry
def smooth(points: Points, closed: bool, tension: float, knots: Points, curves: Points) -> int:
    """The points of the curve that `geometry.smooth` makes, in `curves` (3 n + 1, 2); returns the number of knots. `knots` (n
    + 3, 2) receives the neighbour of the first point, then the points without repetitions.
    """
    count = 0
    last = len(points) - 1
    for n in range(len(points)):
        repeats = n > 0 and points[n, 0] == points[n - 1, 0] and points[n, 1] == points[n - 1, 1]
        if n == last and closed and n > 0 and points[n, 0] == points[0, 0] and points[n, 1] == points[0, 1]:
            repeats = True
        if not repeats:
            knots[1 + count, 0], knots[1 + count, 1] = points[n, 0], points[n, 1]
            count += 1
    if count < 2:
        return count
    end = count + 1
    for k in range(2):
        if closed:
            knots[0, k], knots[end, k], knots[end + 1, k] = knots[count, k], knots[1, k], knots[2, k]
        else:
            # Beyond an open end, the curve continues straight.
            knots[0, k] = 2 * knots[1, k] - knots[2, k]
            knots[end, k] = 2 * knots[count, k] - knots[count - 1, k]
        curves[0, k] = knots[1, k]
    slack = 1.0 - tension
    behind, span = _root_distance(knots, 0), _root_distance(knots, 1)
    for n in range(count if closed else count - 1):
        ahead = _root_distance(knots, n + 2)
        for k in range(2):
            before, start, stop, after = knots[n, k], knots[n + 1, k], knots[n + 2, k], knots[n + 3, k]
            curves[3 * n + 1, k] = start + slack * _reach(start, before, stop, behind, span)
            curves[3 * n + 2, k] = stop + slack * _reach(stop, after, start, ahead, span)
            curves[3 * n + 3, k] = stop
        behind, span = span, ahead
    return count


@inlined
def _root_distance(knots: Points, n: int) -> float:
    """Square root of the distance from one knot to the next: the centripetal spacing of parameters."""
    across, down = knots[n + 1, 0] - knots[n, 0], knots[n + 1, 1] - knots[n, 1]
    return math.sqrt(math.sqrt(across * across + down * down))


@inlined
def _reach(knot: float, behind: float, ahead: float, span_behind: float, span: float) -> float:
    """From a knot to its control point on the segment towards `ahead`, along one axis."""
    numerator = span_behind * span_behind * (ahead - knot) + span * span * (knot - behind)
    return numerator / (3 * span_behind * (span_behind + span))
