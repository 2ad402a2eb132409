"""Points, walks and fields."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, overload

import numpy as np

from mothseed.arrays import FloatArray, PointArray
from mothseed.bits import word
from mothseed.chance.items import Items
from mothseed.checks import length, whole
from mothseed.faults import SketchError
from mothseed.geometry.region import Area, Region, region_of
from mothseed.portable import cosine_and_sine, cosines_and_sines

if TYPE_CHECKING:  # its kernels are compiled when a sketch first uses a field
    from mothseed.chance.field import Field

_FEWEST_HITS = 1 / 2000
"""Least share of its bounding box that an outline must fill for points to be found in it."""
_WAYS_ROUND = 24
"""Headings, 15 degrees apart, tried at a wall on alternate sides before a walk stays where it is."""


class Places(Items):
    """Random places."""

    __slots__ = ()

    @overload
    def point(self, area: Area, *, size: None = None) -> tuple[float, float]: ...
    @overload
    def point(self, area: Area, *, size: int) -> PointArray: ...
    def point(self, area: Area, *, size: int | None = None) -> tuple[float, float] | PointArray:
        """A point chosen uniformly from an area: x and y, or float64 (size, 2).

        An area is the rectangle of a view, in its own coordinates; the inside of an outline; or a circle, written `(x, y,
        radius)`. Takes two numbers from the stream per point, more for an outline. Raises SketchError for an outline without
        an inside.
        """
        region = region_of(area, "point")
        if region.edges is not None:
            points = self._points_within(region, 1 if size is None else size)
            return points if size is not None else tuple(points[0].tolist())
        if size is not None:
            units = self._units((size, 2))
            return _in_rectangle(region, units) if region.radius is None else _in_circle(region, units)
        first, second = self._unit(), self._unit()
        if region.radius is None:
            return first * region.width + region.left, second * region.height + region.top
        cosine, sine = cosine_and_sine(second * 360.0)
        reach = math.sqrt(first) * region.radius
        return cosine * reach + (region.left + region.radius), sine * reach + (region.top + region.radius)

    def _points_within(self, region: Region, count: int) -> PointArray:
        """Points of the rectangle until `count` of them lie inside; numbers drawn after the last one are given back."""
        found: list[PointArray] = []
        missing, tried = count, 0
        while missing > 0:
            tries = max(2 * missing, 16)
            points = _in_rectangle(region, self._units((tries, 2)))
            hits = np.flatnonzero(region.contains(points[:, 0], points[:, 1]))[:missing]
            tried += tries
            if len(hits) == missing:
                self._go_back(2 * (tries - int(hits[-1]) - 1))
            elif tried > count / _FEWEST_HITS + 10_000:
                raise SketchError("point: the outline has hardly any inside", hint="make it wider")
            found.append(points[hits])
            missing -= len(hits)
        return np.concatenate(found) if found else np.zeros((0, 2))

    def walk(
        self,
        area: Area,
        count: int,
        length: float,
        *,
        veer: float = 25.0,
        start: tuple[float, float] | None = None,
        heading: float | None = None,
    ) -> PointArray:
        """A walk of `count` steps within an area: float64 (count + 1, 2), starting point first.

        Each step is `length` long and veers by a normally distributed angle with a standard deviation of `veer` degrees. A
        step that would leave the area turns by as little as it must; if there is no way out, the walk stays where it is.
        `start` and `heading` are random unless given. Raises SketchError for a start outside the area, lengths that are not
        above 0, and areas as `point` does.
        """
        region = region_of(area, "walk")
        count = whole("walk", "count", count)
        if not (0 < length < math.inf and 0 <= veer < math.inf):
            raise SketchError(f"walk: length must be above 0 and veer 0 or more (got {length!r}, {veer!r})")
        x, y = self.point(area) if start is None else start
        if not region.contains(np.array([x], np.float64), np.array([y], np.float64))[0]:
            raise SketchError(f"walk: it starts outside of its area, at {x:g}, {y:g}")
        way = self.turn() if heading is None else heading
        points = [(x, y)]
        for turn in self.bell(0.0, veer, size=count).tolist():
            way += turn
            x, y, way = _step_within(region, x, y, way, length)
            points.append((x, y))
        return np.array(points, np.float64)

    def field(self, scale: float = 30.0, detail: int = 1, roughness: float = 0.5, *, isotropic: bool = False) -> Field:
        """A smooth random field: hills and hollows about `scale` apart.

        `detail` adds finer hills, each layer half as wide as the one before and `roughness` times as high. A field is 0 at
        every multiple of its scale, and its contours favour the diagonals slightly; an `isotropic` field has no such bias and
        takes three times as long. Takes one number from the stream, so every field is different. Raises SketchError unless
        the scale is above 0, the detail from 1 to 12, and the roughness above 0 and at most 1.
        """
        from mothseed.chance.field import Field

        length("field", scale=scale, roughness=roughness, hint="write chance.field(30), with hills about 30 apart")
        position = self._go_back(0)
        self._position = position + 1
        return Field(word(self._found_stream(), position), float(scale), detail, float(roughness), bool(isotropic))


def _in_rectangle(region: Region, units: FloatArray) -> PointArray:
    result: PointArray = units * (region.width, region.height) + (region.left, region.top)
    return result


def _in_circle(region: Region, units: FloatArray) -> PointArray:
    """The root makes up for there being more room farther out."""
    assert region.radius is not None
    reach = np.sqrt(units[:, :1]) * region.radius
    middle = (region.left + region.radius, region.top + region.radius)
    result: PointArray = np.stack(cosines_and_sines(units[:, 1] * 360.0), axis=1) * reach + middle
    return result


def _step_within(region: Region, x: float, y: float, heading: float, length: float) -> tuple[float, float, float]:
    """The end of a step, and its heading."""
    cosine, sine = cosine_and_sine(heading)
    there = (x + length * cosine, y + length * sine)
    if region.contains(np.array(there[:1]), np.array(there[1:]))[0]:
        return *there, heading
    # 0, +15, -15, +30 ... degrees: the first that stays inside is the smallest turn away from the wall.
    numbers = np.arange(1, _WAYS_ROUND + 1)
    ways = np.asarray(heading + np.where(numbers % 2 == 1, 15.0, -15.0) * ((numbers + 1) // 2), np.float64)
    cosines, sines = cosines_and_sines(ways)
    xs, ys = x + length * cosines, y + length * sines
    open_ways = np.flatnonzero(region.contains(xs, ys))
    if len(open_ways) == 0:
        return x, y, heading
    first = open_ways[0]
    return float(xs[first]), float(ys[first]), float(ways[first])
