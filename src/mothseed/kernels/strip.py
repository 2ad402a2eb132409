"""Strokes that cannot overlap themselves, judged by the line they follow.

A stroke has many times as many edges as its line has segments. It is a strip without folds if each segment has room for the
crossings of its inner sides, and if the line

- goes one way, turning at most 41 degrees from the direction to its end: points differ along the line, and what lies beside
  them across it, so that what lies beside one point is separate from what lies beside another; or
- is closed and bends to one side, once around; or
- keeps apart: any two segments are further from each other than the stroke is wide, or the line goes one way between them.
"""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array2
from mothseed.kernels.lanes import near_lanes
from mothseed.kernels.primitives import SQUARE_CAP, FlatOutline
from mothseed.kernels.stroke import has_steps
from mothseed.kernels.tile_sizes import LANES
from mothseed.native.jit import inlined, kernel

_ONE_WAY = 0.75
"""Least cosine of the angle between the direction to the end and any segment; the angle has to be less than 45 degrees."""
_LEAST_SPREAD = 2.0 * _ONE_WAY * _ONE_WAY - 1.0
"""Least cosine of the angle between any two directions of a line that goes one way: twice that angle."""
_NEARLY_BACK = -0.99
"""Cosine of a bend that leaves no room."""
_LOOKS = 32
"""Pairs of segments that are looked at for each segment; finding out that a line keeps apart has to be quicker than painting
it as if it did not.
"""
_FARTHEST = 65536.0
"""Pixels from the first point within which float32 tells a hundredth of a pixel."""
_SPARE = 1.0 / 16.0
"""Pixels that have to lie between segments, as sides are moved a little at slight bends."""


@kernel
def is_strip(line: FlatOutline, length: int, closed: bool, half_width: float, cap: int) -> bool:
    """Whether the stroke drawn along a polyline of `length` distinct points cannot overlap itself; False if in doubt."""
    points, ways = line.points, line.ways
    if length < 2:
        return True
    segments = length if closed else length - 1
    way_x, way_y = points[length - 1, 0] - points[0, 0], points[length - 1, 1] - points[0, 1]
    least = _ONE_WAY * math.sqrt(way_x * way_x + way_y * way_y)
    last_x = last_y = last_room = first_room = taken = side = longest = 0.0
    sharpest, changes = 1.0, np.int64(0)
    goes_one_way, bends_one_way, is_straight = not closed, closed, True
    for segment in range(segments + 1 if closed else segments):
        start = segment if segment < length else 0
        end = start + 1 if start + 1 < length else 0
        across, down = points[end, 0] - points[start, 0], points[end, 1] - points[start, 1]
        out_x, out_y, in_x, in_y, distance = ways[start, 0], ways[start, 1], ways[start, 2], ways[start, 3], ways[start, 4]
        goes_one_way = goes_one_way and (
            out_x * way_x + out_y * way_y > least
            and in_x * way_x + in_y * way_y > least
            and across * way_x + down * way_y > least * distance
        )
        turn = (in_x - out_x) ** 2 + (in_y - out_y) ** 2
        is_straight = is_straight and line.turns[start, 2] == 0.0 and line.turns[start, 3] == 0.0
        if has_steps(turn, half_width):
            return False
        room = distance - half_width * math.sqrt(turn)
        longest = max(longest, distance)
        bend = out_x * in_y - out_y * in_x
        if segment > 0:
            cross, dot = last_x * out_y - last_y * out_x, last_x * out_x + last_y * out_y
            if not dot > _NEARLY_BACK:
                return False
            sharpest = min(sharpest, dot)
            taken = half_width * abs(cross) / (1.0 + dot)
            last_room -= taken
            room -= taken
            bends_one_way = bends_one_way and cross * side >= 0.0 and bend * side >= 0.0 and cross * bend >= 0.0
            side = side if cross == 0.0 else cross
            changes += int((last_y < 0.0) != (out_y < 0.0))
        side = side if bend == 0.0 else bend
        changes += int((out_y < 0.0) != (in_y < 0.0))
        if segment == 1:
            first_room = last_room
        elif segment > 1 and not last_room >= 0.0:
            return False
        last_x, last_y, last_room = in_x, in_y, room
    # Of a closed line, the first segment came again, to be clipped at its end.
    first_room -= taken if closed else 0.0
    has_room = segments < 2 or first_room >= 0.0
    if not (has_room and (closed or last_room >= 0.0)):
        return False
    # Once around, a line turns from up to down and back.
    if goes_one_way or (bends_one_way and changes <= 3):
        return True
    # The tip of a miter is as far from its corner as this.
    reach = half_width * math.sqrt(2.0 / (1.0 + sharpest))
    if cap == SQUARE_CAP and not closed:
        reach = max(reach, half_width * math.sqrt(2.0))
    return _keeps_apart(line, length, closed, is_straight, reach, longest)


_Cone = tuple[float, float, float, float]
"""The outermost directions of some, x and y each, of any length; all 0 if two of them are at right angles or more."""


@kernel
def _keeps_apart(line: FlatOutline, length: int, closed: bool, is_straight: bool, reach: float, longest: float) -> bool:
    """Whether no two segments, none longer than `longest`, come within twice the reach of each other, unless the line goes one
    way from one to the other.
    """
    points, middles = line.points, line.middles
    segments = length if closed else length - 1
    # Of a closed line, each segment looks at half of the others, and past the end.
    ahead = segments // 2 if closed else segments - 1
    first_x, first_y = points[0, 0], points[0, 1]
    for number in range(segments + ahead if closed else segments):
        segment = number if number < segments else number - segments
        end = segment + 1 if segment + 1 < length else 0
        x, y = points[segment, 0] + points[end, 0], points[segment, 1] + points[end, 1]
        middles[0, number], middles[1, number] = np.float32(0.5 * x - first_x), np.float32(0.5 * y - first_y)
        if not (abs(middles[0, number]) < _FARTHEST and abs(middles[1, number]) < _FARTHEST):
            return False
    room = middles.shape[1]
    apart = np.float32(longest + 2.0 * reach + _SPARE)
    square = apart * apart
    # From there on, a line needs more than eight segments to come back.
    far = apart + np.float32(LANES) * np.float32(longest)
    looks = _LOOKS * segments
    for segment in range(segments):
        x, y = middles[0, segment], middles[1, segment]
        last, other = segment + ahead if closed else segments - 1, segment + 1
        while other <= last and _square(middles, other, x, y) <= square:
            other += 1
        # Between a straight segment and the next, the room for their crossing is enough.
        beyond = segment + 2 if is_straight else segment + 1
        if other > beyond:
            for near_one in range(max(_goes_one_way_to(line, segment, other, length), beyond), other):
                if not _are_apart(line, segment, near_one, length, reach):
                    return False
        looks -= other - segment
        while other <= last:
            near = near_lanes(middles, other, room + other, x, y, square)
            if last - other < LANES - 1:
                near &= (2 << (last - other)) - 1
            near_one = other
            while near:
                if near & 1 and not _are_apart(line, segment, near_one, length, reach):
                    return False
                near >>= 1
                near_one += 1
            gap = _square(middles, other, x, y)
            if gap > far * far:
                other += int(min((math.sqrt(gap) - float(apart)) / longest, float(segments)))
            else:
                other += LANES
            looks -= 1
        if looks < 0:
            return False
    return True


@kernel
def _are_apart(line: FlatOutline, one: int, other: int, length: int, reach: float) -> bool:
    """Whether two segments, which may be numbered on from the end of a closed line, are further apart than twice the reach."""
    points = line.points
    least = (2.0 * reach + _SPARE) ** 2
    a, c = one, other if other < length else other - length
    b, d = a + 1 if a + 1 < length else 0, c + 1 if c + 1 < length else 0
    is_left = _left_of(points, a, b, c) * _left_of(points, a, b, d) <= 0.0
    if is_left and _left_of(points, c, d, a) * _left_of(points, c, d, b) <= 0.0:
        return False
    from_one = min(_from_segment(points, c, a, b), _from_segment(points, d, a, b))
    return bool(min(from_one, _from_segment(points, a, c, d), _from_segment(points, b, c, d)) > least)


@inlined
def _left_of(points: Array2[np.float64], start: int, end: int, at: int) -> float:
    """How far a point lies to the left of the line from one point to another, times their distance."""
    across, down = points[end, 0] - points[start, 0], points[end, 1] - points[start, 1]
    return float(across * (points[at, 1] - points[start, 1]) - down * (points[at, 0] - points[start, 0]))


@inlined
def _from_segment(points: Array2[np.float64], at: int, start: int, end: int) -> float:
    """The square of the distance of a point from a segment."""
    across, down = points[end, 0] - points[start, 0], points[end, 1] - points[start, 1]
    x, y = points[at, 0] - points[start, 0], points[at, 1] - points[start, 1]
    part = min(max((x * across + y * down) / (across * across + down * down), 0.0), 1.0)
    return float((x - part * across) ** 2 + (y - part * down) ** 2)


@inlined
def _square(middles: Array2[np.float32], number: int, x: np.float32, y: np.float32) -> np.float32:
    """The square of the distance of a middle from (x, y)."""
    across, down = middles[0, number] - x, middles[1, number] - y
    return np.float32(across * across + down * down)


@kernel
def _goes_one_way_to(line: FlatOutline, first: int, last: int, length: int) -> int:
    """The segment after `first`, at most `last`, up to which no two directions are further than 82 degrees apart."""
    cone = 0.0, 0.0, 0.0, 0.0
    for number in range(first, last):
        start = number if number < length else number - length
        end = start + 1 if start + 1 < length else 0
        across, down = line.points[end, 0] - line.points[start, 0], line.points[end, 1] - line.points[start, 1]
        if number == first:
            cone = across, down, across, down
        cone = _with(cone, across, down)
        cone = _with(cone, line.turns[start, 2], line.turns[start, 3])
        cone = _with(cone, line.turns[end, 0], line.turns[end, 1])
        left_x, left_y, right_x, right_y = cone
        dot = left_x * right_x + left_y * right_y
        squares = (left_x * left_x + left_y * left_y) * (right_x * right_x + right_y * right_y)
        if not (dot > 0.0 and dot * dot > _LEAST_SPREAD * _LEAST_SPREAD * squares):
            return number
    return last


@inlined
def _with(cone: _Cone, x: float, y: float) -> _Cone:
    left_x, left_y, right_x, right_y = cone
    if x == 0.0 and y == 0.0:
        return cone
    if not (x * left_x + y * left_y > 0.0 and x * right_x + y * right_y > 0.0):
        return 0.0, 0.0, 0.0, 0.0
    if left_x * y - left_y * x > 0.0:
        left_x, left_y = x, y
    if right_x * y - right_y * x < 0.0:
        right_x, right_y = x, y
    return left_x, left_y, right_x, right_y
