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
from typing import NamedTuple

import numpy as np

from mothseed.kernels.primitives import SQUARE_CAP, FlatOutline
from mothseed.kernels.simple import Segment, segments_meet
from mothseed.kernels.stroke import has_steps
from mothseed.native.jit import inlined, kernel

_ONE_WAY = 0.75
"""Least cosine of the angle between the direction to the end and any segment; the angle has to be less than 45 degrees."""
_LEAST_SPREAD = 2.0 * _ONE_WAY * _ONE_WAY - 1.0
"""Least cosine of the angle between any two directions of a line that goes one way: twice that angle."""
_NEARLY_BACK = -0.99
"""Cosine of a bend that leaves no room."""
_LOOKS = 64
"""Segments that are looked at for each segment, on average; finding out that a line keeps apart has to be quicker than painting
it as if it did not.
"""
_SHORT = 64
"""Up to so many segments, measuring all takes less time than looking up those nearby."""
_SPARE = 1.0 / 16.0
"""Pixels that have to lie between segments, as sides are moved a little at slight bends."""
_FARTHEST = 1e9
"""Cells from the first point within which they can be numbered."""
_NONE = -1

_Cone = tuple[float, float, float, float]
"""The outermost directions of some, x and y each, of any length; all 0 if two of them are at right angles or more."""


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
    return _keeps_apart(_Way(line, length, closed, is_straight, reach, longest + 2.0 * reach + _SPARE))


class _Way(NamedTuple):
    """A line whose stroke is judged, and what is known of it."""

    line: FlatOutline
    length: int
    closed: bool
    is_straight: bool
    """whether no segment is a chord of a curve"""
    reach: float
    """how far the stroke reaches from it"""
    apart: float
    """how far apart the middles of two segments are at most that come within twice the reach of each other"""


class _Course(NamedTuple):
    """How far back a line goes one way."""

    since: int
    """the segment from which on it does, up to the one reached"""
    reached: int
    cone: _Cone
    """of all from the one to the other; if it is not narrow, they go one way only from further on"""


@kernel
def _keeps_apart(way: _Way) -> bool:
    """Whether no two segments come within twice the reach of each other, unless the line goes one way from one to the other.
    Each is compared with those before it whose middles lie near its own.
    """
    segments = way.length if way.closed else way.length - 1
    if way.closed or segments > _SHORT:
        return _keeps_apart_on_grid(way, segments)
    return _keeps_apart_from_all(way, segments)


@inlined
def _keeps_apart_from_all(way: _Way, segments: int) -> bool:
    """That of a short open line, by measuring how far the middles of all segments are from each other."""
    looks, course = _LOOKS * segments, _Course(0, 0, _cone_of(way.line, 0, way.length))
    for segment in range(segments):
        x, y = _put_middle(way, segment)
        if not _can_be_numbered(way, x, y):
            return False
        others, near = _others_of(way, segment), 0
        for other in range(others):
            near += int(_is_near(way, other, x, y))
        for other in range(others if near > 0 else 0):
            if _is_near(way, other, x, y):
                is_clear, looks, course = _is_clear(way, segment, other, looks, course)
                if not is_clear:
                    return False
    return True


@inlined
def _keeps_apart_on_grid(way: _Way, segments: int) -> bool:
    """That of any line, by looking up middles in the same part of a hashed grid."""
    looks, course = _LOOKS * segments, _Course(0, 0, _cone_of(way.line, 0, way.length))
    heads, following, per_cell, size = way.line.heads, way.line.following, 0.5 / way.apart, 1
    while size < 2 * segments:
        size *= 2
    for slot in range(size):
        heads[slot] = _NONE
    for segment in range(segments):
        x, y = _put_middle(way, segment)
        if not _can_be_numbered(way, x, y):
            return False
        others = _others_of(way, segment)
        # Cells are twice as wide as what is near, so that lies in two columns and two rows.
        left, top = int(math.floor((x - way.apart) * per_cell)), int(math.floor((y - way.apart) * per_cell))
        for cell in range(4):
            other = heads[_slot_of(left + (cell & 1), top + (cell >> 1), size)]
            while other != _NONE:
                looks -= 1
                if other < others and _is_near(way, other, x, y):
                    is_clear, looks, course = _is_clear(way, segment, other, looks, course)
                    if not is_clear:
                        return False
                other = following[other]
        if looks < 0:
            return False
        slot = _slot_of(int(math.floor(x * per_cell)), int(math.floor(y * per_cell)), size)
        following[segment] = heads[slot]
        heads[slot] = segment
    return True


@inlined
def _put_middle(way: _Way, segment: int) -> tuple[float, float]:
    """Note the middle of a segment, from the first point of the line."""
    x0, y0, x1, y1 = _segment(way.line, segment, way.length)
    x, y = 0.5 * (x0 + x1) - way.line.points[0, 0], 0.5 * (y0 + y1) - way.line.points[0, 1]
    way.line.middles[0, segment], way.line.middles[1, segment] = x, y
    return x, y


@inlined
def _can_be_numbered(way: _Way, x: float, y: float) -> bool:
    """Whether the cell of a point has a number; not if it is no number either."""
    per_cell = 0.5 / way.apart
    return bool(abs(x) * per_cell < _FARTHEST and abs(y) * per_cell < _FARTHEST)


@inlined
def _others_of(way: _Way, segment: int) -> int:
    """How many segments before another are compared with it: the last cannot overlap it beyond the joint where they meet, if
    both are straight.
    """
    return segment - 1 if way.is_straight else segment


@inlined
def _is_near(way: _Way, other: int, x: float, y: float) -> bool:
    middles = way.line.middles
    return bool((middles[0, other] - x) ** 2 + (middles[1, other] - y) ** 2 <= way.apart * way.apart)


@kernel
def _is_clear(way: _Way, segment: int, other: int, looks: int, course: _Course) -> tuple[bool, int, _Course]:
    """Whether a segment and an earlier one near it are apart, or the line goes one way between them; with the looks that are
    left, and the course up to the segment.
    """
    line, length = way.line, way.length
    since, reached, cone = course
    while reached < segment:
        reached += 1
        cone = _widened(cone, line, reached, length)
    if not _is_narrow(cone):
        since, cone = _one_way_since(way, segment)
        looks -= segment - since
    is_clear = other >= since or _are_apart(way, segment, other)
    if not is_clear and way.closed:
        # The other way around may be the shorter one.
        ahead = other + length
        looks -= ahead - segment
        is_clear = looks >= 0 and ((ahead == segment + 1 and way.is_straight) or _goes_one_way(line, segment, ahead, length))
    return is_clear, looks, _Course(since, reached, cone)


@inlined
def _slot_of(column: int, row: int, size: int) -> int:
    """The slot of a cell; several may share one, as all that is found there is looked at more closely."""
    return (column * 73856093 ^ row * 19349663) & (size - 1)


@kernel
def _one_way_since(way: _Way, segment: int) -> tuple[int, _Cone]:
    """The first segment from which the line goes one way up to a segment, without looking further back than what is near, and
    the cone of both.
    """
    line, length = way.line, way.length
    number, cone = segment, _cone_of(line, segment, length)
    x, y = line.middles[0, segment], line.middles[1, segment]
    while number > 0 and _is_near(way, number, x, y):
        wider = _widened(cone, line, number - 1, length)
        if not _is_narrow(wider):
            break
        number, cone = number - 1, wider
    return number, cone


@kernel
def _goes_one_way(line: FlatOutline, first: int, last: int, length: int) -> bool:
    """Whether a closed line goes one way from a segment to another, which may be numbered on from its end."""
    cone, number = _cone_of(line, first, length), first
    while number < last and _is_narrow(cone):
        number += 1
        cone = _widened(cone, line, number if number < length else number - length, length)
    return _is_narrow(cone)


@inlined
def _is_narrow(cone: _Cone) -> bool:
    """Whether no two directions are further than 82 degrees apart."""
    left_x, left_y, right_x, right_y = cone
    dot = left_x * right_x + left_y * right_y
    squares = (left_x * left_x + left_y * left_y) * (right_x * right_x + right_y * right_y)
    return bool(dot > 0.0 and dot * dot > _LEAST_SPREAD * _LEAST_SPREAD * squares)


@inlined
def _cone_of(line: FlatOutline, segment: int, length: int) -> _Cone:
    x0, y0, x1, y1 = _segment(line, segment, length)
    return _widened((x1 - x0, y1 - y0, x1 - x0, y1 - y0), line, segment, length)


@inlined
def _widened(cone: _Cone, line: FlatOutline, segment: int, length: int) -> _Cone:
    """A cone that holds the directions of a segment as well."""
    end = segment + 1 if segment + 1 < length else 0
    x0, y0, x1, y1 = _segment(line, segment, length)
    cone = _with(cone, x1 - x0, y1 - y0)
    cone = _with(cone, line.turns[segment, 2], line.turns[segment, 3])
    return _with(cone, line.turns[end, 0], line.turns[end, 1])


@inlined
def _with(cone: _Cone, x: float, y: float) -> _Cone:
    """A cone that holds a direction as well, unless that is 0 and so is none."""
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


@kernel
def _are_apart(way: _Way, one: int, other: int) -> bool:
    """Whether two segments are further apart than twice the reach."""
    least = (2.0 * way.reach + _SPARE) ** 2
    first, second = _segment(way.line, one, way.length), _segment(way.line, other, way.length)
    if segments_meet(first, second):
        return False
    (ax, ay, bx, by), (cx, cy, dx, dy) = first, second
    from_first = min(_from_segment(cx, cy, first), _from_segment(dx, dy, first))
    return min(from_first, _from_segment(ax, ay, second), _from_segment(bx, by, second)) > least


@inlined
def _segment(line: FlatOutline, number: int, length: int) -> Segment:
    """A segment of a line; the last of a closed one ends where the line begins."""
    end = number + 1 if number + 1 < length else 0
    return line.points[number, 0], line.points[number, 1], line.points[end, 0], line.points[end, 1]


@inlined
def _from_segment(x: float, y: float, segment: Segment) -> float:
    """The square of the distance of a point from a segment."""
    start_x, start_y, end_x, end_y = segment
    across, down, x, y = end_x - start_x, end_y - start_y, x - start_x, y - start_y
    part = min(max((x * across + y * down) / (across * across + down * down), 0.0), 1.0)
    return (x - part * across) ** 2 + (y - part * down) ** 2
