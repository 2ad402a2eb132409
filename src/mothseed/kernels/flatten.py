"""Flattening: curves cut into as few chords as look the same."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.geometry.verbs import CUBIC, LINE, MOVE
from mothseed.kernels.primitives import FlatOutline
from mothseed.native.jit import kernel

CURVE_TOLERANCE = 1 / 40
"""How far, in pixels, a chord may lie from the curve it stands for."""
_MOST_CHORDS = 4096
_LOOKS = 16
"""Steps in which the curvature of a cubic is sampled."""
SAME = 1e-7
"""Pixels within which two points are one: a last step back to the start that rounding left is dropped."""

_SPARE_POINTS = 4
"""Extra points in what is derived from a line: a beginning and an end for a dash."""

Points = Array2[np.float64]
Verbs = Array1[np.uint8]


@kernel
def chords_of_cubic(points: Points, first: int, least: int, half_width: float) -> int:
    """Number of equal steps of the parameter, at least `least`, that keep a cubic, four points from `first` on, and the sides
    of its stroke within tolerance.

    Goldman, "Pyramid Algorithms", 2003, section 5.6: the distance from the chord is at most the second difference of the
    control points times 6/8, over the square of the number of steps. A side that turns by an angle t is half_width * t * t / 8
    farther from its chord.
    """
    largest = 0.0
    for k in range(2):
        i = first + k
        across = points[i, 0] - 2.0 * points[i + 1, 0] + points[i + 2, 0]
        down = points[i, 1] - 2.0 * points[i + 1, 1] + points[i + 2, 1]
        largest = max(largest, across * across + down * down)
    steps = math.ceil(math.sqrt(0.75 * math.sqrt(largest) / CURVE_TOLERANCE))
    if half_width > 0.0:
        sine = _largest_turn(points, first)
        steps = max(steps, math.ceil(_LOOKS * sine * math.sqrt(half_width / (8.0 * CURVE_TOLERANCE))))
    return int(min(max(steps, float(least)), float(_MOST_CHORDS)))


@kernel
def _largest_turn(points: Points, first: int) -> float:
    """The chord, on the unit circle, of the largest angle by which a cubic turns in one of some even steps."""
    largest = 0.0
    last_x = last_y = 0.0
    for look in range(_LOOKS + 1):
        dx, dy = _direction(points, first, look / _LOOKS)
        if look > 0:
            largest = max(largest, (dx - last_x) ** 2 + (dy - last_y) ** 2)
        last_x, last_y = dx, dy
    return math.sqrt(largest)


@kernel
def _direction(points: Points, first: int, t: float) -> tuple[float, float]:
    """The unit direction of a cubic; where its derivative is 0, that to the next distinct control point."""
    s = 1.0 - t
    w0, w1, w2 = s * s, 2.0 * s * t, t * t
    i = first
    x = w0 * (points[i + 1, 0] - points[i, 0]) + w1 * (points[i + 2, 0] - points[i + 1, 0])
    x += w2 * (points[i + 3, 0] - points[i + 2, 0])
    y = w0 * (points[i + 1, 1] - points[i, 1]) + w1 * (points[i + 2, 1] - points[i + 1, 1])
    y += w2 * (points[i + 3, 1] - points[i + 2, 1])
    size = math.sqrt(x * x + y * y)
    if size < SAME:
        start, end = (i, i + 2) if t < 0.5 else (i + 1, i + 3)
        x, y = points[end, 0] - points[start, 0], points[end, 1] - points[start, 1]
        size = math.sqrt(x * x + y * y)
    if size < SAME:
        x, y = points[i + 3, 0] - points[i, 0], points[i + 3, 1] - points[i, 1]
        size = math.sqrt(x * x + y * y)
    return (x / size, y / size) if size > 0.0 else (0.0, 0.0)


@kernel
def flatten_subpath(
    verbs: Verbs, last: int, points: Points, verb: int, place: int, line: FlatOutline, least: int, half_width: float
) -> tuple[int, int, int, bool]:
    """Flatten the subpath that begins at a MOVE verb, of an outline that ends before verb `last`.

    Points go to `line` without repetitions; for a stroke, which has a half width, `turns` has the directions of curves before
    and after each point. Returns the verb and the point after the subpath, the length, and whether it is closed; if there is
    no room, the length is minus the points needed so far.
    """
    is_stroke = half_width > 0.0
    line.points[0, 0], line.points[0, 1] = points[place, 0], points[place, 1]
    if is_stroke:
        _clear_turns(line, 0)
    length = int(np.int64(1))  # a variable: for a constant, Numba would compile what receives it again
    place += 1
    verb += 1
    closed = False
    while verb < last and verbs[verb] != MOVE:
        if length + _SPARE_POINTS > len(line.points):
            return verb, place, -(length + _SPARE_POINTS), closed
        if verbs[verb] == LINE:
            length = _add_point(line, length, points[place, 0], points[place, 1], is_stroke)
            place += 1
        elif verbs[verb] == CUBIC:
            chords = chords_of_cubic(points, place - 1, least, half_width)
            if length + chords + _SPARE_POINTS > len(line.points):
                return verb, place, -(length + chords + _SPARE_POINTS), closed
            length = _add_cubic(points, place - 1, line, length, chords, is_stroke)
            place += 3
        else:
            closed = True
        verb += 1
    if closed and length > 1 and is_at(line, length, line.points[0, 0], line.points[0, 1]):
        length -= 1
        if is_stroke:
            line.turns[0, 0], line.turns[0, 1] = line.turns[length, 0], line.turns[length, 1]
    return verb, place, length, closed


@kernel
def is_at(line: FlatOutline, length: int, x: float, y: float) -> bool:
    """Whether a line ends at a place, within tolerance."""
    return bool(abs(line.points[length - 1, 0] - x) < SAME and abs(line.points[length - 1, 1] - y) < SAME)


@kernel
def _clear_turns(line: FlatOutline, number: int) -> None:
    line.turns[number, 0] = line.turns[number, 1] = line.turns[number, 2] = line.turns[number, 3] = 0.0


@kernel
def _add_point(line: FlatOutline, length: int, x: float, y: float, is_stroke: bool) -> int:
    if is_at(line, length, x, y):
        return length
    line.points[length, 0], line.points[length, 1] = x, y
    if is_stroke:
        _clear_turns(line, length)
    return length + 1


@kernel
def _add_cubic(points: Points, first: int, line: FlatOutline, length: int, chords: int, is_stroke: bool) -> int:
    """Add the chords of a cubic; for a stroke, with the directions where they meet."""
    before = length
    for chord in range(1, chords + 1):
        t = chord / chords
        s = 1.0 - t
        w0, w1, w2, w3 = s * s * s, 3.0 * s * s * t, 3.0 * s * t * t, t * t * t
        x = w0 * points[first, 0] + w1 * points[first + 1, 0] + w2 * points[first + 2, 0] + w3 * points[first + 3, 0]
        y = w0 * points[first, 1] + w1 * points[first + 1, 1] + w2 * points[first + 2, 1] + w3 * points[first + 3, 1]
        if chord == chords:
            x, y = points[first + 3, 0], points[first + 3, 1]
        after = _add_point(line, length, x, y, is_stroke)
        if is_stroke and after > length:
            dx, dy = _direction(points, first, t)
            line.turns[length, 0], line.turns[length, 1] = dx, dy
            if chord < chords:
                line.turns[length, 2], line.turns[length, 3] = dx, dy
        length = after
    if is_stroke and length > before:
        line.turns[before - 1, 2], line.turns[before - 1, 3] = _direction(points, first, 0.0)
        # Its last point is its end, even if the end itself is within tolerance of it.
        line.turns[length - 1, 2] = line.turns[length - 1, 3] = 0.0
    return length
