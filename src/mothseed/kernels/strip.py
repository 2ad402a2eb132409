"""Strokes that cannot overlap themselves, judged by the line they follow.

A stroke has many times as many edges as its line has segments. It is a strip without folds if each segment has room for the
crossings of its inner sides, and if the line is either closed and bends to one side, once around, or goes one way, turning at
most 41 degrees from the direction to its end. In the latter case, what lies beside one point is separate from what lies
beside another: points differ along the line, and what lies beside them across it.
"""

from __future__ import annotations

import math

import numpy as np

from mothseed.kernels.primitives import FlatOutline
from mothseed.kernels.stroke import directions_of, has_steps
from mothseed.native.jit import kernel

_ONE_WAY = 0.75
"""Least cosine of the angle between the direction to the end and any segment; the angle has to be less than 45 degrees."""
_NEARLY_BACK = -0.99
"""Cosine of a bend that leaves no room."""


@kernel
def is_strip(line: FlatOutline, length: int, closed: bool, half_width: float) -> bool:
    """Whether the stroke of a polyline of `length` distinct points cannot overlap itself; False if in doubt."""
    points = line.points
    if length < 2:
        return True
    segments = length if closed else length - 1
    way_x, way_y = points[length - 1, 0] - points[0, 0], points[length - 1, 1] - points[0, 1]
    least = _ONE_WAY * math.sqrt(way_x * way_x + way_y * way_y)
    last_x = last_y = last_room = first_room = taken = side = 0.0
    changes = np.int64(0)
    for segment in range(segments + 1 if closed else segments):
        start = segment if segment < length else 0
        end = start + 1 if start + 1 < length else 0
        across, down = points[end, 0] - points[start, 0], points[end, 1] - points[start, 1]
        out_x, out_y, in_x, in_y = directions_of(line, start, end, False)
        if not closed and not (
            out_x * way_x + out_y * way_y > least
            and in_x * way_x + in_y * way_y > least
            and across * way_x + down * way_y > least * math.sqrt(across * across + down * down)
        ):
            return False
        turn = (in_x - out_x) ** 2 + (in_y - out_y) ** 2
        if has_steps(turn, half_width):
            return False
        room = math.sqrt(across * across + down * down) - half_width * math.sqrt(turn)
        bend = out_x * in_y - out_y * in_x
        if segment > 0:
            cross, dot = last_x * out_y - last_y * out_x, last_x * out_x + last_y * out_y
            if not dot > _NEARLY_BACK:
                return False
            taken = half_width * abs(cross) / (1.0 + dot)
            last_room -= taken
            room -= taken
            if closed and (cross * side < 0.0 or bend * side < 0.0 or cross * bend < 0.0):
                return False
            side = side if cross == 0.0 else cross
            changes += int((last_y < 0.0) != (out_y < 0.0))
        side = side if bend == 0.0 else bend
        changes += int((out_y < 0.0) != (in_y < 0.0))
        if segment == segments:
            # The first one again, clipped at its end. Once around, a line turns from up to down and back.
            return bool(first_room - taken >= 0.0 and last_room >= 0.0 and changes <= 3)
        if segment == 1:
            first_room = last_room
        elif segment > 1 and not last_room >= 0.0:
            return False
        last_x, last_y, last_room = in_x, in_y, room
    return bool(last_room >= 0.0 and (segments < 2 or first_room >= 0.0))
