"""Strokes as polygons: both sides of a polyline, with joins and caps.

The outline goes along one side and back along the other. On the outer side of a bend it follows the join; on the inner side,
where a segment is short beside the width of the stroke, it passes through the vertex itself. So it is, edge for edge, the
union of a rectangle for each segment and a wedge for each join, all turning the same way, and no loop ever has the wrong
winding. Where both segments are long the rectangles overlap on the inner side by the wedge between the two ends, and the
outline cuts that across: the winding number there is 1 instead of 2, and the edges are far shorter.
Curves are made of lines and square roots only, which are the same on every processor.
"""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.kernels.primitives import BUTT_CAP, MITER_JOIN, ROUND_CAP, ROUND_JOIN, SQUARE_CAP, FlatOutline
from mothseed.native.jit import kernel

ARC_TOLERANCE = 1 / 40
"""How far, in pixels, a chord may lie from the arc it stands for."""

_LEAST_MITER = 0.25
"""Square of the length of the sum of two unit normals at SVG's miter limit of 4; shorter means a sharper bend."""
_SLIGHT_BEND = 1 / 50
"""How far apart, in pixels, two sides may end at a bend for it to need no join: the pieces of a curve."""
_NEARLY_BACK = -0.9999
"""Cosine of a bend from which on the two normals are too opposite to say where their middle is."""

Edges = Array2[np.float64]
Pen = Array1[np.float64]
"""(4,): where it is, x and y, and where its contour began, x and y"""


@kernel
def edges_of_stroke(points: int, half_width: float) -> int:
    """More edges than the stroke of a polyline with that many points can have."""
    return (points + 1) * (2 * arc_steps(2.0, half_width) + 8) + 4 * arc_steps(2.0, half_width) + 16


@kernel
def arc_steps(square_of_chord: float, radius: float) -> int:
    """Into how many chords to divide an arc of up to 90 degrees; the chord is that of the unit circle."""
    # An arc of angle t has its middle radius * t * t / 8 away from its chord; up to 90 degrees, t is at most 1.111 chords.
    return max(int(math.ceil(1.111 * math.sqrt(square_of_chord * radius / (8.0 * ARC_TOLERANCE)))), 1)


@kernel
def start_contour(pen: Pen, x: float, y: float) -> None:
    """Lift the pen and put it down where a contour begins."""
    pen[0] = pen[2] = x
    pen[1] = pen[3] = y


@kernel
def draw_to(edges: Edges, count: int, pen: Pen, x: float, y: float) -> int:
    """Add the edge to a point; edges along a row add no area and are left out."""
    if y != pen[1]:
        edges[count, 0] = pen[0]
        edges[count, 1] = pen[1]
        edges[count, 2] = x
        edges[count, 3] = y
        count += 1
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


@kernel
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
    way_back: bool,
) -> int:
    """From the end of one segment's side to the start of the next one's.

    `from` and `to` are their unit directions, `shorter` the length of the shorter one.
    """
    cross = from_x * to_y - from_y * to_x
    dot = from_x * to_x + from_y * to_y
    # A side lies where the direction, turned a quarter to the left as seen on the sheet, points.
    ux, uy, vx, vy = from_y, -from_x, to_y, -to_x
    straight_back = dot < _NEARLY_BACK
    if dot > 0.0 and abs(cross) * half_width < _SLIGHT_BEND:
        return count  # the next side begins where this one ended
    outer = not way_back if straight_back else cross > 0.0
    if not outer:
        if shorter < half_width * (abs(cross) if dot > 0.0 else 1.0):
            count = draw_to(edges, count, pen, x, y)
        return draw_to(edges, count, pen, x + vx * half_width, y + vy * half_width)
    middle_x, middle_y = ux + vx, uy + vy
    square = middle_x * middle_x + middle_y * middle_y
    if join == MITER_JOIN and square >= _LEAST_MITER:
        reach = 2.0 * half_width / square
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
    pen: Pen,
) -> int:
    """Add the stroke of a polyline of `length` different points."""
    points, bends = line.points, line.bends
    if length == 1:
        # A line of no length: SVG gives it its caps, along x.
        if cap != BUTT_CAP:
            x, y = points[0, 0], points[0, 1]
            start_contour(pen, x, y - half_width)
            count = draw_cap(edges, count, pen, x, y, half_width, cap, 1.0, 0.0)
            count = draw_cap(edges, count, pen, x, y, half_width, cap, -1.0, 0.0)
            count = close_contour(edges, count, pen)
        return count
    for way in range(2):
        way_back = way == 1
        segments = length if closed else length - 1
        first_x = first_y = last_x = last_y = first_distance = last_distance = 0.0
        for segment in range(segments):
            start, end = segment, segment + 1
            if way_back:
                start, end = length - 1 - start, length - 1 - end
            start, end = start % length, end % length
            across, down = points[end, 0] - points[start, 0], points[end, 1] - points[start, 1]
            distance = math.sqrt(across * across + down * down)
            dx, dy = across / distance, down / distance
            x, y = points[start, 0], points[start, 1]
            if segment > 0:
                vertex_join = ROUND_JOIN if bends[start] else join
                shorter = min(last_distance, distance)
                count = draw_join(edges, count, pen, x, y, half_width, vertex_join, last_x, last_y, dx, dy, shorter, way_back)
            else:
                first_x, first_y, first_distance = dx, dy, distance
                if closed or not way_back:
                    start_contour(pen, x + dy * half_width, y - dx * half_width)
            count = draw_to(edges, count, pen, points[end, 0] + dy * half_width, points[end, 1] - dx * half_width)
            last_x, last_y, last_distance = dx, dy, distance
        if closed:
            corner = length - 1 if way_back else 0
            x, y = points[corner, 0], points[corner, 1]
            vertex_join = ROUND_JOIN if bends[corner] else join
            shorter = min(last_distance, first_distance)
            count = draw_join(
                edges, count, pen, x, y, half_width, vertex_join, last_x, last_y, first_x, first_y, shorter, way_back
            )
            count = close_contour(edges, count, pen)
        else:
            tip = 0 if way_back else length - 1
            count = draw_cap(edges, count, pen, points[tip, 0], points[tip, 1], half_width, cap, last_x, last_y)
    if not closed:
        count = close_contour(edges, count, pen)
    return count
