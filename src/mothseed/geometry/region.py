"""Regions that a point can lie in."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Protocol

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.faults import SketchError
from mothseed.geometry.lengths import loops_of, nearest_parts
from mothseed.geometry.outline import Outline
from mothseed.geometry.vectors import squares

_MOST_AT_ONCE = 2_000_000
"""Pairs of a point and an edge processed at once, which limits memory."""


Box = tuple[float, float, float, float]
"""Left, top, width, height."""


def box_about_middle(width: float, height: float) -> Box:
    """A box centred on the origin."""
    return -width / 2, -height / 2, width, height


class Rectangle(Protocol):
    """Anything with a rectangle in its own coordinates: a sheet, a frame, a cell."""

    @property
    def left(self) -> float:
        """The x of its left edge."""
        ...

    @property
    def top(self) -> float:
        """The y of its top edge."""
        ...

    @property
    def width(self) -> float:
        """How wide it is."""
        ...

    @property
    def height(self) -> float:
        """How high it is."""
        ...


Area = Rectangle | Outline | tuple[float, float, float]
"""A view's rectangle, the inside of an outline, or a circle as (x, y, radius)."""


@dataclass(frozen=True, slots=True, eq=False)
class Region:
    """A rectangle, and the part of it that counts: all, the circle within it, or what some edges wind around."""

    left: float
    top: float
    width: float
    height: float
    radius: float | None = None
    edges: FloatArray | None = None
    """float64 (m, 4): x and y of both ends, in closed loops"""

    @property
    def is_rectangle(self) -> bool:
        """Whether the whole rectangle counts."""
        return self.radius is None and self.edges is None

    def contains(self, x: FloatArray, y: FloatArray) -> np.ndarray[tuple[int], np.dtype[np.bool]]:
        """Which points, float64 (n,) and (n,), lie inside; for an outline, by the nonzero winding rule."""
        if self.radius is not None:
            across, down = x - (self.left + self.radius), y - (self.top + self.radius)
            return np.asarray(across * across + down * down <= self.radius * self.radius)
        within = (x >= self.left) & (x <= self.left + self.width) & (y >= self.top) & (y <= self.top + self.height)
        if self.edges is None:
            return np.asarray(within)
        candidates = np.flatnonzero(within)
        chunk = max(_MOST_AT_ONCE // max(len(self.edges), 1), 1)
        for start in range(0, len(candidates), chunk):
            some = candidates[start : start + chunk]
            within[some] = _winding_numbers(x[some], y[some], self.edges) != 0
        return np.asarray(within)

    def room_at(self, x: float, y: float) -> float:
        """The distance of a point from the edge; 0 or less outside."""
        if self.radius is not None:
            return self.radius - math.hypot(x - self.left - self.radius, y - self.top - self.radius)
        if self.edges is None:
            return min(x - self.left, y - self.top, self.left + self.width - x, self.top + self.height - y)
        if not self.contains(np.array([x]), np.array([y]))[0]:
            return 0.0
        point, starts, steps = np.array([x, y]), self.edges[:, :2], self.edges[:, 2:] - self.edges[:, :2]
        off = point - starts - nearest_parts(starts, steps, point)[:, None] * steps
        return math.sqrt(float(squares(off).min()))


def region_of(area: Area, call: str) -> Region:
    """The region of an area; raises SketchError, naming the call, for what is no area or has no inside."""
    if isinstance(area, Outline):
        return _inside(area, call)
    if isinstance(area, tuple) and len(area) == 3:
        x, y, radius = area
        if not (math.isfinite(x) and math.isfinite(y) and 0 < radius < math.inf):
            raise SketchError(f"{call}: a circle is (x, y, radius), all finite, the radius above 0 (got {area!r})")
        return Region(x - radius, y - radius, 2 * radius, 2 * radius, radius=float(radius))
    if not all(hasattr(area, name) for name in ("left", "top", "width", "height")):
        raise SketchError(
            f"{call}: an area is a view, an outline, or a circle as (x, y, radius) (got {area!r})",
            hint=f"write {call}(sheet), or {call}((60, 40, 12))",
        )
    assert not isinstance(area, tuple)
    return Region(area.left, area.top, area.width, area.height)


@lru_cache(maxsize=64)
def _inside(outline: Outline, call: str) -> Region:
    loops = loops_of(outline)
    if not loops:
        raise SketchError(f"{call}: the outline has no inside", hint="close it: smooth(points, closed=True)")
    edges = np.concatenate([np.concatenate([loop, np.roll(loop, -1, axis=0)], axis=1) for loop in loops])
    left, top = edges[:, :2].min(axis=0).tolist()
    right, bottom = edges[:, :2].max(axis=0).tolist()
    if not (right > left and bottom > top):
        raise SketchError(f"{call}: the outline has no inside", hint="its points lie on one line")
    return Region(left, top, right - left, bottom - top, edges=edges)


def _winding_numbers(x: FloatArray, y: FloatArray, edges: FloatArray) -> np.ndarray[tuple[int], np.dtype[np.int64]]:
    """Winding numbers of edges around points: Sunday, "Inclusion of a point in a polygon", 2001."""
    x1, y1, x2, y2 = edges.T
    px, py = x[:, None], y[:, None]
    side = (x2 - x1) * (py - y1) - (px - x1) * (y2 - y1)
    up = (y1 <= py) & (y2 > py) & (side > 0)
    down = (y1 > py) & (y2 <= py) & (side < 0)
    return np.asarray(up.sum(axis=1) - down.sum(axis=1))
