"""Surfaces: anything with a value at each place, such as a field, the lightness of a picture, or a function of x and y."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.checks import finite
from mothseed.faults import SketchError


class HasValues(Protocol):
    """A field: anything with a value at a place."""

    def at(self, x: Any, y: Any) -> Any:
        """The value there; for a picture, whose values are colours, the lightness is used."""
        ...


Surface = Callable[[Any, Any], Any] | HasValues
"""A field, a picture, or a function of x and y, such as `photo.lightness`; one that takes arrays is called once for all
places.
"""


def heights_of(surface: Surface, x: FloatArray, y: FloatArray, call: str, name: str) -> FloatArray:
    """The values of a surface at places: float64, of the shape of x and y. A function that takes only numbers, such as one
    with an `if` in it, is called for one place after another. Raises SketchError, naming the call, for anything that is not a
    surface, and for values that are not finite.
    """
    function = surface if callable(surface) else getattr(surface, "lightness", None) or getattr(surface, "at", None)
    if function is None:
        raise SketchError(
            f"{call}: {name} is a function of x and y (got {type(surface).__name__})",
            hint=f"write {call}(lambda x, y: x + y, ...), or the name of a field or a picture",
        )
    heights = _at_once(function, x, y)
    if heights is None:
        heights = np.empty(x.shape)
        for place, (across, down) in enumerate(zip(x.ravel().tolist(), y.ravel().tolist(), strict=True)):
            value = function(across, down)
            finite(call, **{name: value})
            heights.flat[place] = float(value)
    if not np.isfinite(heights).all():
        place = int(np.flatnonzero(~np.isfinite(heights))[0])
        raise SketchError(f"{call}: {name} at ({x.flat[place]:g}, {y.flat[place]:g}) is not finite")
    return heights


def _at_once(function: Callable[[Any, Any], Any], x: FloatArray, y: FloatArray) -> FloatArray | None:
    """The values if the function takes arrays, or None: then it may still take numbers."""
    try:
        with np.errstate(all="ignore"):  # values that are not finite are reported below, with their place
            given = np.asarray(function(x, y), np.float64)
    except (TypeError, ValueError, SketchError):
        return None
    return given if given.shape == x.shape else np.full(x.shape, given) if given.ndim == 0 else None
