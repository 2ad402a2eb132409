"""Strokes as polygons: both sides of a polyline, with joins and caps. The outline runs along one side and back along the
other. On the outer side of a bend it follows the join; on the inner side it ends where both sides cross, or, if a segment is
too short for the width of the stroke, passes through the vertex itself. So it is, edge for edge, the union of a rectangle for
each segment and a wedge for each join, all in the same direction, and no loop ever has the wrong winding. The sides of a
chord of a curve begin and end along the normals of the curve, so that together they are the strip that a line across the
curve sweeps. Only additions, products and square roots are used, which are the same on every processor.
"""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.kernels.primitives import BUTT_CAP, MITER_JOIN, ROUND_CAP, ROUND_JOIN, SQUARE_CAP, FlatOutline
from mothseed.native.jit import inlined, kernel

ARC_TOLERANCE = 1 / 40
"""Farthest, in pixels, that a chord may lie from its arc."""

_LEAST_MITER = 0.25
"""Square of the length of the sum of two unit normals at SVG's miter limit of 4; shorter means a sharper bend."""
_SLIGHT_BEND = 1 / 50
"""How far apart, in pixels, two sides may end at a bend without a join: pieces of a curve."""
_LEAST_CROSS = 1e-12
"""Sine of an angle below which two normals count as parallel."""
_NEARLY_BACK = -0.9999
"""Cosine of a bend beyond which two normals are too nearly opposite to have a middle."""

Edges = Array2[np.float64]
Pen = Array1[np.float64]
"""(4,): x and y of the pen, and x and y of the start of its contour"""


@kernel
def edges_of_stroke(points: int, half_width: float) -> int:
    """An upper bound on the edges in the stroke of a polyline with that many points."""
    return (points + 2) * 2 * (2 * arc_steps(2.0, half_width) + 8 * _side_steps(4.0, half_width) + 8)


@kernel
def arc_steps(square_of_chord: float, radius: float) -> int:
    """Number of chords for an arc of up to 90 degrees; its own chord is given on the unit circle."""
    # The middle of an arc of angle t is radius * t * t / 8 from its chord; up to 90 degrees, t is at most 1.111 chords.
    return max(int(math.ceil(1.111 * math.sqrt(square_of_chord * radius / (8.0 * ARC_TOLERANCE)))), 1)


@kernel
def start_contour(pen: Pen, x: float, y: float) -> None:
    """Lift the pen and put it down where a contour begins."""
    pen[0] = pen[2] = x
    pen[1] = pen[3] = y


@kernel
def _add_edge(edges: Edges, count: int, x1: float, y1: float, x2: float, y2: float) -> int:
    """Add an edge, unless it has no length."""
    if y1 == y2 and x1 == x2:
        return count
    edges[count, 0] = x1
    edges[count, 1] = y1
    edges[count, 2] = x2
    edges[count, 3] = y2
    return count + 1


@kernel
def draw_to(edges: Edges, count: int, pen: Pen, x: float, y: float) -> int:
    """Add the edge to a point."""
    count = _add_edge(edges, count, pen[0], pen[1], x, y)
    pen[0] = x
    pen[1] = y
    return count


@kernel
def close_contour(edges: Edges, count: int, pen: Pen) -> int:
    """Add the edge back to where the contour began."""
    return draw_to(edges, count, pen, pen[2], pen[3])


@kernel
def draw_arc(
    edges: Edges, count: int, pen: Pen, x: float, y: float, radius: float, ux: float, uy: float, vx: float, vy: float
) -> int:
    """The arc about (x, y) from unit direction u, where the pen is, to unit direction v, at most 90 degrees apart."""
    chord = (vx - ux) ** 2 + (vy - uy) ** 2
    steps = arc_steps(chord, radius)
    for step in range(1, steps):
        part = step / steps
        px = ux + (vx - ux) * part
        py = uy + (vy - uy) * part
        reach = radius / math.sqrt(px * px + py * py)
        count = draw_to(edges, count, pen, x + px * reach, y + py * reach)
    return draw_to(edges, count, pen, x + vx * radius, y + vy * radius)


@inlined
def _end_side_at(edges: Edges, count: int, pen: Pen, x: float, y: float) -> int:
    """Move the end of the last edge, where the pen is, to another point."""
    if count > 0 and edges[count - 1, 2] == pen[0] and edges[count - 1, 3] == pen[1] and edges[count - 1, 1] != y:
        edges[count - 1, 2] = x
        edges[count - 1, 3] = y
        pen[0] = x
        pen[1] = y
        return count
    return draw_to(edges, count, pen, x, y)


@inlined
def draw_join(
    edges: Edges,
    count: int,
    pen: Pen,
    x: float,
    y: float,
    half_width: float,
    join: int,
    from_x: float,
    from_y: float,
    to_x: float,
    to_y: float,
    shorter: float,
    is_straight: bool,
    way_back: bool,
) -> int:
    """From the end of one segment's side to the start of the next one's, or to where that may as well begin. `from` and `to`
    are their unit directions, `shorter` is the length of the shorter one, and `is_straight` says whether the first side is
    straight.
    """
    cross = from_x * to_y - from_y * to_x
    dot = from_x * to_x + from_y * to_y
    # A side lies to the left of its direction, as seen on the sheet.
    ux, uy, vx, vy = from_y, -from_x, to_y, -to_x
    straight_back = dot < _NEARLY_BACK
    if dot > 0.0 and abs(cross) * half_width < _SLIGHT_BEND:
        return count  # the next side begins where this one ended
    outer = not way_back if straight_back else cross > 0.0
    if not outer:
        if not straight_back and half_width * abs(cross) <= shorter * (1.0 + dot):
            # Where both sides cross, one ends and the next begins.
            reach = half_width / (1.0 + dot)
            return _end_side_at(edges, count, pen, x + (ux + vx) * reach, y + (uy + vy) * reach)
        count = draw_to(edges, count, pen, x, y)
        return draw_to(edges, count, pen, x + vx * half_width, y + vy * half_width)
    middle_x, middle_y = ux + vx, uy + vy
    square = middle_x * middle_x + middle_y * middle_y
    is_slight = join == ROUND_JOIN and half_width * half_width * 4.0 < (half_width + _SLIGHT_BEND) ** 2 * square
    if (join == MITER_JOIN and square >= _LEAST_MITER) or is_slight:
        reach = 2.0 * half_width / square
        if is_straight:
            # The tip also lies on the next side.
            return _end_side_at(edges, count, pen, x + middle_x * reach, y + middle_y * reach)
        count = draw_to(edges, count, pen, x + middle_x * reach, y + middle_y * reach)
    elif join == ROUND_JOIN:
        if dot < 0.0:
            if straight_back:
                middle_x, middle_y = from_x, from_y
            else:
                length = math.sqrt(square)
                middle_x, middle_y = middle_x / length, middle_y / length
            count = draw_arc(edges, count, pen, x, y, half_width, ux, uy, middle_x, middle_y)
            ux, uy = middle_x, middle_y
        return draw_arc(edges, count, pen, x, y, half_width, ux, uy, vx, vy)
    return draw_to(edges, count, pen, x + vx * half_width, y + vy * half_width)


@kernel
def draw_cap(edges: Edges, count: int, pen: Pen, x: float, y: float, half_width: float, cap: int, dx: float, dy: float) -> int:
    """Around an end, from the side before it to the side after it; (dx, dy) is the unit direction out of the end."""
    ux, uy = dy, -dx
    if cap == ROUND_CAP:
        count = draw_arc(edges, count, pen, x, y, half_width, ux, uy, dx, dy)
        return draw_arc(edges, count, pen, x, y, half_width, dx, dy, -ux, -uy)
    if cap == SQUARE_CAP:
        count = draw_to(edges, count, pen, x + (ux + dx) * half_width, y + (uy + dy) * half_width)
        count = draw_to(edges, count, pen, x + (dx - ux) * half_width, y + (dy - uy) * half_width)
    return draw_to(edges, count, pen, x - ux * half_width, y - uy * half_width)


@inlined
def _find_ways(line: FlatOutline, length: int, closed: bool) -> None:
    """Find the unit directions in which each segment begins and ends, those of the curve for a chord of a curve, and its
    length.
    """
    points, turns, ways = line.points, line.turns, line.ways
    for start in range(length if closed else length - 1):
        end = start + 1 if start + 1 < length else 0
        across, down = points[end, 0] - points[start, 0], points[end, 1] - points[start, 1]
        distance = math.sqrt(across * across + down * down)
        out_x, out_y, in_x, in_y = turns[start, 2], turns[start, 3], turns[end, 0], turns[end, 1]
        if (out_x == 0.0 and out_y == 0.0) or (in_x == 0.0 and in_y == 0.0):
            out_x = in_x = across / distance
            out_y = in_y = down / distance
        ways[start, 0], ways[start, 1], ways[start, 2], ways[start, 3], ways[start, 4] = out_x, out_y, in_x, in_y, distance


@inlined
def has_steps(square_of_chord: float, half_width: float) -> bool:
    """Whether the side of a segment follows a turn step by step; the chord is given on the unit circle."""
    return square_of_chord * half_width >= 16.0 * ARC_TOLERANCE  # twice the tolerance of chords


@kernel
def _side_steps(square_of_chord: float, half_width: float) -> int:
    """Number of steps in which a side follows a turn of up to half a circle; the chord is given on the unit circle."""
    return max(int(math.ceil(1.571 * math.sqrt(square_of_chord * half_width / (8.0 * ARC_TOLERANCE)))), 1)


@kernel
def _draw_side(
    edges: Edges,
    count: int,
    pen: Pen,
    line: FlatOutline,
    start: int,
    end: int,
    half_width: float,
    out_x: float,
    out_y: float,
    in_x: float,
    in_y: float,
) -> int:
    """One side of a segment, from its start, which is drawn already, to its end. If a curve turns far within a chord, as in a
    cusp, the side follows the turn step by step.
    """
    x1, y1, x2, y2 = line.points[start, 0], line.points[start, 1], line.points[end, 0], line.points[end, 1]
    if out_x == in_x and out_y == in_y:
        # That of a straight segment never runs backwards.
        return draw_to(edges, count, pen, x2 + in_y * half_width, y2 - in_x * half_width)
    chord = (in_x - out_x) ** 2 + (in_y - out_y) ** 2
    if not has_steps(chord, half_width):
        return _draw_strip(edges, count, pen, half_width, x1, y1, out_x, out_y, x2, y2, in_x, in_y)
    steps = _side_steps(chord, half_width)
    along_x, along_y = x2 - x1, y2 - y1
    length = math.sqrt(along_x * along_x + along_y * along_y)
    from_x, from_y, from_dx, from_dy = x1, y1, out_x, out_y
    for step in range(1, steps + 1):
        part = step / steps
        to_x, to_y = x1 + along_x * part, y1 + along_y * part
        if step == steps:
            to_dx, to_dy = in_x, in_y
        elif chord < 2.0:
            to_dx, to_dy = _between(out_x, out_y, in_x, in_y, part)
        elif part < 0.5:  # two that are nearly opposite have no meaningful middle
            to_dx, to_dy = _between(out_x, out_y, along_x / length, along_y / length, 2.0 * part)
        else:
            to_dx, to_dy = _between(along_x / length, along_y / length, in_x, in_y, 2.0 * part - 1.0)
        count = _draw_strip(edges, count, pen, half_width, from_x, from_y, from_dx, from_dy, to_x, to_y, to_dx, to_dy)
        from_x, from_y, from_dx, from_dy = to_x, to_y, to_dx, to_dy
    return count


@kernel
def _between(ax: float, ay: float, bx: float, by: float, part: float) -> tuple[float, float]:
    """The unit direction between two."""
    x, y = ax + (bx - ax) * part, ay + (by - ay) * part
    size = math.sqrt(x * x + y * y)
    return (x / size, y / size) if size > 0.0 else (bx, by)


@inlined
def _draw_strip(
    edges: Edges,
    count: int,
    pen: Pen,
    half_width: float,
    x1: float,
    y1: float,
    out_x: float,
    out_y: float,
    x2: float,
    y2: float,
    in_x: float,
    in_y: float,
) -> int:
    """A side from one point and direction to the next. On the inner side of a curve that bends more tightly than its stroke
    is wide, the side runs backwards, beyond the centre of curvature. What is swept there is drawn as triangles with the same
    orientation as everything else.
    """
    side_x1, side_y1 = x1 + out_y * half_width, y1 - out_x * half_width
    side_x2, side_y2 = x2 + in_y * half_width, y2 - in_x * half_width
    if (side_x2 - side_x1) * (x2 - x1) + (side_y2 - side_y1) * (y2 - y1) < 0.0:
        cross = out_x * in_y - out_y * in_x
        if abs(cross) > _LEAST_CROSS:
            # Where both normals meet.
            reach = ((x2 - x1) * -in_x - (y2 - y1) * in_y) / cross
            meet_x, meet_y = x1 + out_y * reach, y1 - out_x * reach
            count = _add_triangle(edges, count, x1, y1, x2, y2, meet_x, meet_y)
            count = _add_triangle(edges, count, side_x1, side_y1, side_x2, side_y2, meet_x, meet_y)
            count = draw_to(edges, count, pen, x1, y1)
            count = draw_to(edges, count, pen, x2, y2)
    return draw_to(edges, count, pen, side_x2, side_y2)


@kernel
def _add_triangle(edges: Edges, count: int, ax: float, ay: float, bx: float, by: float, cx: float, cy: float) -> int:
    """Add a separate triangle with the orientation of a stroke's outline."""
    if (bx - ax) * (cy - ay) - (by - ay) * (cx - ax) < 0.0:
        bx, by, cx, cy = cx, cy, bx, by
    count = _add_edge(edges, count, ax, ay, bx, by)
    count = _add_edge(edges, count, bx, by, cx, cy)
    return _add_edge(edges, count, cx, cy, ax, ay)


@kernel
def draw_stroke(
    edges: Edges,
    count: int,
    line: FlatOutline,
    length: int,
    closed: bool,
    half_width: float,
    cap: int,
    join: int,
    axis_x: float,
    axis_y: float,
    pen: Pen,
) -> int:
    """Add the stroke of a polyline of `length` distinct points, and find the ways of its segments."""
    points, ways = line.points, line.ways
    if length == 1:
        # A line without length: SVG gives it caps, along x of its frame, or along the line of which a dash is a dot.
        if cap != BUTT_CAP:
            x, y = points[0, 0], points[0, 1]
            start_contour(pen, x + axis_y * half_width, y - axis_x * half_width)
            count = draw_cap(edges, count, pen, x, y, half_width, cap, axis_x, axis_y)
            count = draw_cap(edges, count, pen, x, y, half_width, cap, -axis_x, -axis_y)
            count = close_contour(edges, count, pen)
        return count
    _find_ways(line, length, closed)
    segments = length if closed else length - 1
    for way in range(2):
        way_back = way == 1
        first_x = first_y = last_x = last_y = first_distance = last_distance = 0.0
        is_straight = False
        for segment in range(segments):
            start, end = segment, segment + 1 if segment + 1 < length else 0
            if way_back:
                start, end = length - 1 - start, length - 1 - end
            x, y = points[start, 0], points[start, 1]
            own = end if way_back else start
            out_x, out_y, in_x, in_y, distance = ways[own, 0], ways[own, 1], ways[own, 2], ways[own, 3], ways[own, 4]
            if way_back:
                out_x, out_y, in_x, in_y = -in_x, -in_y, -out_x, -out_y
            if segment > 0:
                shorter = min(last_distance, distance)
                count = draw_join(
                    edges, count, pen, x, y, half_width, join, last_x, last_y, out_x, out_y, shorter, is_straight, way_back
                )
            else:
                first_x, first_y, first_distance = out_x, out_y, distance
                if closed or not way_back:
                    start_contour(pen, x + out_y * half_width, y - out_x * half_width)
            count = _draw_side(edges, count, pen, line, start, end, half_width, out_x, out_y, in_x, in_y)
            last_x, last_y, last_distance, is_straight = in_x, in_y, distance, out_x == in_x and out_y == in_y
        if closed:
            corner = length - 1 if way_back else 0
            x, y = points[corner, 0], points[corner, 1]
            shorter = min(last_distance, first_distance)
            count = draw_join(
                edges, count, pen, x, y, half_width, join, last_x, last_y, first_x, first_y, shorter, is_straight, way_back
            )
            count = close_contour(edges, count, pen)
        else:
            tip = 0 if way_back else length - 1
            count = draw_cap(edges, count, pen, points[tip, 0], points[tip, 1], half_width, cap, last_x, last_y)
    if not closed:
        count = close_contour(edges, count, pen)
    return count
