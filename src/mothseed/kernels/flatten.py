"""Outlines as polylines: curves cut into as few chords as look the same."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.geometry.verbs import CLOSE, CUBIC, LINE, MOVE
from mothseed.kernels.primitives import FlatOutline
from mothseed.native.jit import kernel

CURVE_TOLERANCE = 1 / 40
"""How far, in pixels, a chord may lie from the curve it stands for."""
_MOST_CHORDS = 4096

Points = Array2[np.float64]
Verbs = Array1[np.uint8]


@kernel
def chords_of_cubic(points: Points, first: int, least: int) -> int:
    """Number of equal steps of the parameter, at least some, that keep a cubic, four points from `first` on, in tolerance.

    Goldman, "Pyramid Algorithms", 2003, section 5.6: the distance from the chord is at most the second difference of the
    control points times 6/8, over the square of the number of steps.
    """
    largest = 0.0
    for k in range(2):
        i = first + k
        across = points[i, 0] - 2.0 * points[i + 1, 0] + points[i + 2, 0]
        down = points[i, 1] - 2.0 * points[i + 1, 1] + points[i + 2, 1]
        largest = max(largest, across * across + down * down)
    steps = math.ceil(math.sqrt(0.75 * math.sqrt(largest) / CURVE_TOLERANCE))
    return int(min(max(steps, float(least)), float(_MOST_CHORDS)))


@kernel
def points_of_outline(verbs: Verbs, first: int, last: int, points: Points, least: int) -> int:
    """At most how many points an outline has when it is flattened; its verbs are those from `first` to `last`."""
    total = 0
    place = 0
    for number in range(first, last):
        verb = verbs[number]
        if verb == CUBIC:
            total += chords_of_cubic(points, place - 1, least)
            place += 3
        elif verb != CLOSE:
            total += 1
            place += 1
    return total


@kernel
def flatten_subpath(
    verbs: Verbs, last: int, points: Points, verb: int, place: int, line: FlatOutline, least: int
) -> tuple[int, int, int, bool]:
    """Flatten the subpath that begins at a MOVE verb, of an outline that ends before verb `last`.

    Points go to `line`, none equal to the one before; `bends` is 1 for those inside a curve or between two that meet
    smoothly enough to look like one. Returns the verb and the point after the subpath, the length, and whether it is closed.
    """
    line.points[0, 0], line.points[0, 1] = points[place, 0], points[place, 1]
    line.bends[0] = 0
    length = int(np.int64(1))  # a variable: for a constant Numba would compile what it is handed to anew
    place += 1
    verb += 1
    closed = False
    while verb < last and verbs[verb] != MOVE:
        if verbs[verb] == LINE:
            length = _add_point(line, length, points[place, 0], points[place, 1], 0)
            place += 1
        elif verbs[verb] == CUBIC:
            length = _add_cubic(points, place - 1, line, length, least)
            place += 3
        else:
            closed = True
        verb += 1
    if closed and length > 1 and _is_at(line, length, line.points[0, 0], line.points[0, 1]):
        length -= 1
    return verb, place, length, closed


@kernel
def _is_at(line: FlatOutline, length: int, x: float, y: float) -> bool:
    """Whether a line of some points ends there."""
    return bool(line.points[length - 1, 0] == x and line.points[length - 1, 1] == y)


@kernel
def _add_point(line: FlatOutline, length: int, x: float, y: float, bend: int) -> int:
    if _is_at(line, length, x, y):
        return length
    line.points[length, 0], line.points[length, 1] = x, y
    line.bends[length] = bend
    return length + 1


@kernel
def _add_cubic(points: Points, first: int, line: FlatOutline, length: int, least: int) -> int:
    chords = chords_of_cubic(points, first, least)
    for chord in range(1, chords):
        t = chord / chords
        s = 1.0 - t
        w0, w1, w2, w3 = s * s * s, 3.0 * s * s * t, 3.0 * s * t * t, t * t * t
        x = w0 * points[first, 0] + w1 * points[first + 1, 0] + w2 * points[first + 2, 0] + w3 * points[first + 3, 0]
        y = w0 * points[first, 1] + w1 * points[first + 1, 1] + w2 * points[first + 2, 1] + w3 * points[first + 3, 1]
        length = _add_point(line, length, x, y, 1)
    return _add_point(line, length, points[first + 3, 0], points[first + 3, 1], 0)
