"""Outlines of figures about the origin: polygons, stars, arcs, rings, rounded rectangles, rolling curves."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from mothseed.arrays import FloatArray, PointArray
from mothseed.checks import finite, is_finite, length, one_of, whole
from mothseed.faults import SketchError
from mothseed.geometry.affine import shifted
from mothseed.geometry.outline import Outline, through
from mothseed.geometry.smooth import smooth
from mothseed.geometry.verbs import CLOSE, CUBIC, LINE, MOVE
from mothseed.portable import cosine_and_sine, cosines_and_sines

_LARGEST_ARC = 90.0
"""Most degrees of arc per cubic; off by at most 0.03 % of the radius."""
ARC_KINDS = ("open", "chord", "sector")

_KEPT = lru_cache(maxsize=1024, typed=True)
"""Outlines never change, and a sketch asks for the same few figures again and again. 3 and 3.0 are cached separately."""


@_KEPT
def ngon(sides: int, *, radius: float | None = None, side: float | None = None) -> Outline:
    """A regular polygon around the origin with a corner at the top, given by its circumradius or the length of a side.

    Raises SketchError for fewer than 3 sides, and unless exactly one of the two is given and above 0.

    >>> ngon(6, side=10).points[0].tolist()
    [0.0, -10.0]
    """
    whole("ngon", "sides", sides, 3)
    if (radius is None) == (side is None):
        raise SketchError("ngon: give its radius or its side", hint="write ngon(6, radius=10) or ngon(6, side=10)")
    if radius is None:
        assert side is not None
        # The side of a hexagon is its radius, to the last bit.
        radius = side if sides == 6 else side / (2 * cosine_and_sine(180 / sides)[1])
    length("ngon", size=radius)
    return through(_around(np.arange(float(sides)) * (360 / sides), np.full(sides, radius)), closed=True)


@_KEPT
def star(points: int, outer: float, inner: float) -> Outline:
    """A star around the origin with a point at the top; its points and notches lie at the two radii.

    Raises SketchError for fewer than 2 points and radii that are not above 0.
    """
    whole("star", "points", points, 2)
    length("star", outer=outer, inner=inner)
    return through(_around(np.arange(2.0 * points) * (180 / points), np.tile([outer, inner], points)), closed=True)


@_KEPT
def arc(radius: float, start: float, sweep: float, *, kind: str = "open") -> Outline:
    """Part of a circle about the origin, from heading `start` on by `sweep` degrees, clockwise where it is positive.

    `kind` is "open", "chord" (closed by a straight line) or "sector" (closed by way of the centre). A sweep of 360 or more
    is the whole circle. Raises SketchError for a radius that is not above 0, angles that are not finite, other kinds.
    """
    length("arc", radius=radius)
    finite("arc", start=start, sweep=sweep, hint="angles are in degrees")
    one_of("arc", "kind", kind, ARC_KINDS)
    if abs(sweep) >= 360:
        return _with_verbs([_arc_points(radius, start, math.copysign(360, sweep))], [True])
    points = _arc_points(radius, start, sweep)
    curves = (len(points) - 1) // 3
    verbs = [MOVE, *[CUBIC] * curves, *([LINE] if kind == "sector" else []), *([CLOSE] if kind != "open" else [])]
    if kind == "sector":
        points = np.concatenate([points, [[0.0, 0.0]]])
    return Outline(np.array(verbs, np.uint8), points)


@_KEPT
def annulus(outer: float, inner: float) -> Outline:
    """A ring around the origin: a disc with a hole, under either fill rule.

    Raises SketchError unless 0 < inner < outer.
    """
    length("annulus", outer=outer)
    if not 0 < inner < outer:
        raise SketchError(f"annulus: inner is between 0 and outer, {outer} (got {inner!r})")
    return _with_verbs([_arc_points(outer, 0, 360), _arc_points(inner, 0, -360)], [True, True])


@_KEPT
def rounded_rect(width: float, height: float, radius: float) -> Outline:
    """A rectangle with its top left corner at the origin, its corners rounded as far as they have room."""
    r = min(radius, width / 2, height / 2)
    corners = [(width - r, r, -90), (width - r, height - r, 0), (r, height - r, 90), (r, r, 180)]
    points: list[PointArray] = []
    verbs = []
    for index, (cx, cy, start) in enumerate(corners):
        points.append(shifted(_arc_points(r, start, 90), cx, cy))
        verbs += [LINE if index else MOVE, CUBIC]
    return Outline(np.array([*verbs, CLOSE], np.uint8), np.concatenate(points))


def trochoid(fixed: float, rolling: float, pen: float, *, turns: float | None = None, points_per_turn: int = 120) -> Outline:
    """The curve of a pen on a circle that rolls around a fixed circle at the origin, starting on its right.

    `rolling` above 0 rolls on the outside (an epitrochoid), below 0 on the inside (a hypotrochoid). `pen` is the distance of
    the pen from the centre of the rolling circle. Without `turns`, it continues until the curve closes, which needs radii
    whose ratio is a fraction of numbers up to 200. Raises SketchError for radii of 0, and if the curve does not close.
    """
    length("trochoid", fixed=fixed)
    if not (is_finite(rolling) and rolling != 0 and is_finite(pen)):
        raise SketchError(f"trochoid: rolling must be above 0 (outside) or below 0 (inside) (got {rolling!r})")
    closed = turns is None
    if turns is None:
        turns = _turns_to_close(fixed, rolling)
    count = max(int(abs(turns) * points_per_turn), 3)
    angles = np.arange(float(count + (not closed))) * (360 * turns / count)
    cosine, sine = cosines_and_sines(angles)
    rolled = cosines_and_sines(angles * ((fixed + rolling) / rolling))
    reach = fixed + rolling
    points = np.stack([reach * cosine - pen * rolled[0], reach * sine - pen * rolled[1]], axis=1)
    return smooth(points, closed=closed)


def _turns_to_close(fixed: float, rolling: float) -> int:
    """Turns until the pen is back where it began: the denominator of fixed/rolling."""
    for turns in range(1, 201):
        quotient = turns * fixed / abs(rolling)
        if abs(quotient - round(quotient)) < 1e-9 * max(quotient, 1):
            return turns
    raise SketchError("trochoid: with these radii it does not close", hint="give turns=, or radii such as 60 and 25")


def _around(angles: FloatArray, radii: FloatArray) -> PointArray:
    """Points at angles clockwise from the top."""
    cosine, sine = cosines_and_sines(angles)
    return np.stack([sine * radii + 0.0, -cosine * radii + 0.0], axis=1)


def _arc_points(radius: float, start: float, sweep: float) -> PointArray:
    """The points of the cubics of an arc: the first, then three for each."""
    count = max(math.ceil(abs(sweep) / _LARGEST_ARC), 1)
    piece = sweep / count
    cosine, sine = cosine_and_sine(piece / 4)
    arm = (
        radius * 4 / 3 * sine / cosine
    )  # tan(t/4) times 4/3: Goldapp, "Approximation of circular arcs by cubic polynomials", 1991
    cosines, sines = cosines_and_sines(start + piece * np.arange(count + 1.0))
    ends = np.stack([cosines, sines], axis=1) * radius
    ahead = np.stack([-sines, cosines], axis=1) * arm
    curves = np.stack([ends[:-1] + ahead[:-1], ends[1:] - ahead[1:], ends[1:]], axis=1).reshape(-1, 2)
    return np.concatenate([ends[:1], curves])


def _with_verbs(loops: list[PointArray], closed: list[bool]) -> Outline:
    verbs = [[MOVE, *[CUBIC] * ((len(loop) - 1) // 3), *[CLOSE] * shut] for loop, shut in zip(loops, closed, strict=True)]
    return Outline(np.array([verb for each in verbs for verb in each], np.uint8), np.concatenate(loops))
