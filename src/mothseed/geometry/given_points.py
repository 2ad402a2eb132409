"""Points as an artist gives them: an array, pairs of numbers, or places."""

from __future__ import annotations

import math
import struct
from collections.abc import Callable, Iterable, Sequence
from contextlib import suppress
from functools import lru_cache
from typing import Any

import numpy as np

from mothseed.arrays import FloatArray, PointArray
from mothseed.faults import SketchError

_POINT = np.dtype(np.float64)
_ARRAYS = (np.ndarray, list)
_ADDED_BY_PYTHON = 24
"""Most numbers that Python adds up before a call of NumPy has begun to."""
_ON_ONE_THREAD = 10_000
"""Most numbers that BLAS adds up on one thread. Of more, it waits for others, which takes milliseconds while processors are
busy.
"""


def refuse_endless(points: PointArray, call: str) -> None:
    """Raises SketchError, naming the call, unless points are finite."""
    if _are_surely_finite(points):
        return
    if not np.isfinite(points).all():
        place = int(np.flatnonzero(~np.isfinite(points).all(axis=1))[0])
        raise SketchError(
            f"{call}: point {place} is not finite ({points[place, 0]:g}, {points[place, 1]:g})",
            hint="check for a division by 0, or the logarithm or root of a negative number",
        )


def _are_surely_finite(points: PointArray) -> bool:
    # A sum is finite only if all are, and one of squares takes a third of the time of checking each.
    if points.size <= _ADDED_BY_PYTHON:
        return math.isfinite(sum(points.ravel().tolist()))
    return points.size <= _ON_ONE_THREAD and math.isfinite(np.vdot(points, points))


def packed_points(points: Iterable[object], call: str, fewest: int) -> bytes:
    """Points as `as_points` has them, packed one after another. Sketches hand over thousands of small lists and arrays, one by
    one.
    """
    if type(points) is np.ndarray and points.dtype is _POINT and points.ndim == 2 and points.shape[1] == 2:
        if len(points) >= fewest and _are_surely_finite(points):
            return points.tobytes()
    elif type(points) is list and (packed := _packed_pairs(points, fewest)):
        return packed
    return as_points(points, call, fewest).tobytes()


def _packed_pairs(points: list[Any], fewest: int) -> bytes | None:
    """The numbers of pairs, packed one after another; None if there are none, or anything is wrong with them. NumPy takes three
    times as long, and so do loops that take pairs apart one by one.
    """
    with suppress(TypeError, ValueError, OverflowError, struct.error):
        xs, ys = zip(*points, strict=True)
        numbers = [0.0] * (2 * len(xs))
        numbers[::2], numbers[1::2] = xs, ys
        # A sum is finite only if all are.
        if len(xs) >= fewest and math.isfinite(sum(numbers)):
            return _packer(len(numbers))(*numbers)
    return None


@lru_cache(256)
def _packer(count: int) -> Callable[..., bytes]:
    """Packs so many numbers."""
    return struct.Struct(f"{count}d").pack


def as_points(points: Iterable[object], call: str, fewest: int) -> PointArray:
    """Points as a new float64 (n, 2), from an array, a list of pairs, or a list of places with an x and a y. Raises
    SketchError, naming the call, if they are too few, not pairs of numbers, not finite, or beyond all floats.
    """
    packed = _packed_pairs(points, fewest) if type(points) is list else None
    if packed:
        return np.frombuffer(bytearray(packed)).reshape(-1, 2)
    try:
        given = np.array(points if isinstance(points, _ARRAYS) else list(points), _POINT)
    except OverflowError:  # an integer beyond all floats
        raise SketchError(
            f"{call}: a coordinate is too large to draw", hint="check for a power or a product that runs away"
        ) from None
    except (TypeError, ValueError):
        given = np.zeros(0)
    if given.shape == (0,) and fewest == 0 and isinstance(points, Sequence) and not len(points):
        return np.zeros((0, 2))
    if given.ndim != 2 or given.shape[1] != 2:
        given = _places(points)
    if given.ndim != 2 or given.shape[1] != 2:
        raise SketchError(f"{call}: points are pairs of numbers", hint=f"write {call}([(0, 0), (10, 0), (10, 5)])")
    if len(given) < fewest:
        raise SketchError(f"{call}: at least {fewest} points are needed (got {len(given)})")
    refuse_endless(given, call)
    return given


def _places(given: Iterable[object]) -> FloatArray:
    """The positions of things with an x and a y, such as cells and corners: float64 (n, 2), or an empty array (0,) for
    anything else.
    """
    if isinstance(given, Sequence) and len(given):
        places = [(getattr(each, "x", None), getattr(each, "y", None)) for each in given]
        if all(isinstance(part, float) for place in places for part in place):
            return np.array(places, np.float64).reshape(-1, 2)
    return np.zeros(0)
