"""Small calculations that sketches need all the time."""

from __future__ import annotations

import math
from typing import TypeVar

from mothseed.arrays import FloatArray
from mothseed.checks import finite
from mothseed.faults import SketchError
from mothseed.portable import cosine_and_sine

Place = TypeVar("Place", float, FloatArray)


def clamp(value: float, low: float, high: float) -> float:
    """The value, but at least `low` and at most `high`.

    >>> clamp(12, 0, 10)
    10
    """
    if not low <= high:
        raise SketchError(f"clamp: low is at most high (got {low!r}, {high!r})")
    return min(max(value, low), high)


def mix(first: float, second: float, amount: float) -> float:
    """The number `amount` of the way from one to another: 0 gives the first, 1 the second.

    >>> mix(10, 20, 0.25)
    12.5
    """
    return first + (second - first) * amount


def rescale(value: float, low: float, high: float, new_low: float, new_high: float) -> float:
    """A value mapped from one range to another; raises SketchError if the first range has no width.

    >>> rescale(5, 0, 10, 100, 200)
    150.0
    """
    if low == high:
        raise SketchError(f"rescale: the range from {low!r} to {high!r} has no width")
    return mix(new_low, new_high, (value - low) / (high - low))


def snap(value: float, step: float) -> float:
    """The nearest multiple of a step; raises SketchError unless that is above 0.

    >>> snap(37, 15)
    30
    """
    if not step > 0:
        raise SketchError(f"snap: step must be above 0 (got {step!r})")
    return round(value / step) * step


def oblique(x: Place, y: Place, height: Place, *, angle: float = 90.0, foreshortening: float = 0.5) -> tuple[Place, Place]:
    """A point of a floor plan, at some height above it, in oblique projection; takes numbers or arrays.

    The x of the plan stays horizontal; its y, from far to near, runs along the heading `angle`, foreshortened; heights go
    straight up. Use the lightness of a picture as height and it becomes a landscape. Raises SketchError unless both settings
    are finite.

    >>> oblique(10.0, 20.0, 5.0)
    (10.0, 5.0)
    """
    finite("oblique", angle=angle, foreshortening=foreshortening)
    cosine, sine = cosine_and_sine(angle)
    return x + y * (foreshortening * cosine), y * (foreshortening * sine) - height


def distance(x1: float, y1: float, x2: float, y2: float) -> float:
    """How far one point is from another.

    >>> distance(0, 0, 3, 4)
    5.0
    """
    return math.sqrt((x2 - x1) ** 2 + (y2 - y1) ** 2)
