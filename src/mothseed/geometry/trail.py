"""Trails: outlines built by stepping and veering."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import NamedTuple

import numpy as np

from mothseed.arrays import PointArray
from mothseed.checks import finite
from mothseed.faults import SketchError
from mothseed.geometry.figures import arc
from mothseed.geometry.given_points import as_points
from mothseed.geometry.outline import Outline, through
from mothseed.geometry.verbs import CLOSE, CUBIC, LINE, MOVE, POINTS_TAKEN
from mothseed.portable import cosine_and_sine
from mothseed.values import closed, fixed

Points = tuple[tuple[float, float], ...]


class Corner(NamedTuple):
    """A place on a trail, and the heading in which the trail reached it."""

    x: float
    y: float
    heading: float


class _Open:
    """A trail under construction."""

    __slots__ = ("_points", "_verbs", "corners", "heading", "x", "y")

    x: float
    y: float
    heading: float
    """Its heading, in degrees clockwise from +x."""
    corners: tuple[Corner, ...]
    """Every place it reached, its start first."""
    _verbs: tuple[int, ...]
    _points: Points


@fixed("each step gives a new trail: trail = trail.walk(20).veer(90)")
class Trail(_Open):
    """A point that walks and leaves a line: `Trail(0, 0, heading=0).walk(20).veer(90).walk(20)`.

    Each step returns a new trail, so you can continue one trail in several ways. Heading 0 points along +x; angles are in
    degrees, clockwise.

    >>> trail = Trail(0, 0)
    >>> for _ in range(4):
    ...     trail = trail.walk(10).veer(90)
    >>> (trail.x, trail.y, trail.heading, len(trail.corners))
    (0.0, 0.0, 0.0, 5)
    """

    __slots__ = ()

    def __init__(self, x: float = 0.0, y: float = 0.0, heading: float = 0.0) -> None:
        """Start at a place, facing a heading; raises SketchError unless they are finite."""
        finite("Trail", x=x, y=y, heading=heading)
        put = object.__setattr__
        corner = Corner(float(x), float(y), float(heading) % 360)
        for name, value in zip(Corner._fields, corner, strict=True):
            put(self, name, value)
        put(self, "_verbs", (MOVE,))
        put(self, "_points", ((corner.x, corner.y),))
        put(self, "corners", (corner,))

    def _gone(self, x: float, y: float, heading: float, verbs: tuple[int, ...], points: Points) -> Trail:
        """This trail, continued."""
        trail = _Open()
        trail.x, trail.y, trail.heading = x, y, heading % 360
        trail._verbs, trail._points = self._verbs + verbs, self._points + points
        trail.corners = (*self.corners, Corner(x, y, heading % 360)) if points else self.corners
        return closed(trail, Trail)

    def _ahead(self, distance: float) -> tuple[float, float]:
        cosine, sine = cosine_and_sine(self.heading)
        return self.x + distance * cosine, self.y + distance * sine

    def walk(self, distance: float) -> Trail:
        """Straight on, leaving a line; a negative distance goes backwards."""
        finite("walk", distance=distance)
        x, y = self._ahead(distance)
        return self._gone(x, y, self.heading, (LINE,), ((x, y),))

    def leap(self, distance: float) -> Trail:
        """Straight on without leaving a line: what follows is another piece of the outline."""
        finite("leap", distance=distance)
        x, y = self._ahead(distance)
        return self._gone(x, y, self.heading, (MOVE,), ((x, y),))

    def veer(self, degrees: float) -> Trail:
        """Turn on the spot; positive is clockwise."""
        finite("veer", degrees=degrees)
        return self._gone(self.x, self.y, self.heading + degrees, (), ())

    def face(self, heading: float) -> Trail:
        """Turn to a heading, whatever the present one."""
        finite("face", heading=heading)
        return self._gone(self.x, self.y, float(heading), (), ())

    def bend(self, radius: float, sweep: float) -> Trail:
        """An arc of that radius through `sweep` degrees: to the right if both are positive; a negative radius or sweep
        mirrors it. Raises SketchError for a radius of 0.
        """
        finite("bend", radius=radius, sweep=sweep)
        if radius == 0:
            raise SketchError("bend: a radius of 0 is a turn on the spot", hint="write veer(degrees)")
        side = math.copysign(1.0, radius) * math.copysign(1.0, sweep)
        turn, size = side * abs(sweep), abs(radius)
        cosine, sine = cosine_and_sine(self.heading + 90 * side)
        middle = (self.x + size * cosine, self.y + size * sine)
        if sweep == 0:
            return self
        curve = arc(size, self.heading - 90 * side, turn)
        points = tuple((x + middle[0], y + middle[1]) for x, y in curve.points[1:].tolist())
        return self._gone(*points[-1], self.heading + turn, (CUBIC,) * (len(points) // 3), points)

    def close(self) -> Trail:
        """A straight line back to where this piece of the outline started."""
        start = self._points[len(self._points) - 1 - self._since_move()]
        return self._gone(*start, self.heading, (CLOSE,), ())

    def _since_move(self) -> int:
        """How many points came after the last MOVE."""
        count = 0
        for verb in reversed(self._verbs):
            if verb == MOVE:
                break
            count += POINTS_TAKEN[verb]
        return count

    @property
    def outline(self) -> Outline:
        """The line it has left so far; draw it with `path`."""
        points: PointArray = np.array(self._points, np.float64)
        return Outline(np.array(self._verbs, np.uint8), points)


def as_outline(given: Outline | Trail | Iterable[object], call: str, hint: str, *, closed: bool) -> Outline:
    """The outline of anything that stands for one: an outline, a trail, SVG path data, or points to join with straight lines.
    Raises SketchError, naming the call, for anything else, with the hint, and for invalid points.
    """
    if isinstance(given, Outline):
        return given
    if isinstance(given, Trail):
        return given.outline
    if isinstance(given, str) and given.lstrip()[:1] in ("M", "m"):
        return Outline.from_svg(given)
    if isinstance(given, str) or not hasattr(given, "__iter__"):
        raise SketchError(f"{call}: an outline is needed (got {type(given).__name__})", hint=hint)
    return through(as_points(given, call, 2), closed=closed)
