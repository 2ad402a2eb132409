"""Arguments of calls that draw from arrays: columns of numbers and colours, one value for all or one for each."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.colour.value import Colour, as_colour
from mothseed.faults import SketchError
from mothseed.sheet.finish import SHADES

Numbers = npt.ArrayLike
"""One number, or an array with one per shape."""


def is_varied(name: str, value: object) -> bool:
    """Whether paint is given separately for each shape."""
    if name == "dash" or isinstance(value, (Colour, *SHADES)):
        return False
    if name in ("fill", "stroke") and isinstance(value, tuple):
        return not all(isinstance(part, int | float) for part in value)
    return isinstance(value, list | tuple | np.ndarray)


def columns_of(call: str, given: Mapping[str, Numbers]) -> list[FloatArray]:
    """Numbers or arrays as float64 (n,), all of one length; raises SketchError if that is impossible."""
    columns = [column_of(call, name, column) for name, column in given.items()]
    try:
        return [column.ravel() for column in np.broadcast_arrays(*columns)]
    except ValueError:
        sizes = ", ".join(f"{name} {column.size}" for name, column in zip(given, columns, strict=True))
        raise SketchError(f"{call}: the arrays are of unlike length ({sizes})") from None


def column_of(call: str, name: str, values: Numbers) -> FloatArray:
    """Numbers as float64 in their given shape; raises SketchError for anything that is not a finite number."""
    try:
        column = np.asarray(values, dtype=np.float64)
    except (TypeError, ValueError):
        raise SketchError(f"{call}: {name} is a number or an array of numbers") from None
    if not np.isfinite(column).all():
        place = int(np.flatnonzero(~np.isfinite(column.ravel()))[0])
        raise SketchError(f"{call}: {name} is not finite at {place}", hint="check for a division by 0")
    return column


def colour_column(call: str, name: str, colours: Any, count: int) -> FloatArray:
    """float64 (count, 4) from a list of colours or an array."""
    if isinstance(colours, np.ndarray) and colours.dtype.kind == "f" and colours.ndim == 2:
        array = colours
    else:
        array = np.array([as_colour(colour) for colour in colours], dtype=np.float64).reshape(-1, 4)
    if array.shape not in ((count, 3), (count, 4)):
        raise SketchError(f"{call}: {len(array)} colours of {name} for {count} shapes", hint="give one for each, or one")
    if not ((array >= 0) & (array <= 1)).all():
        raise SketchError(f"{call}: colours of {name} are numbers from 0 to 1", hint="divide by 255")
    parts = np.ones((count, 4))
    parts[:, : array.shape[1]] = array
    return parts


def colours_of(call: str, name: str, colours: Any, count: int) -> FloatArray:
    """float64 (count, 4) from colours for each, or (1, 4) from one for all."""
    if is_varied("fill", colours):
        return colour_column(call, name, colours, count)
    return np.array([as_colour(colours)])


def shares_of(call: str, name: str, values: Numbers, count: int) -> FloatArray:
    """Numbers from 0 to 1: float64 (count,), or (1,) from one for all."""
    column = column_of(call, name, values).ravel()
    if column.size not in (1, count):
        raise SketchError(f"{call}: {column.size} values of {name} for {count} shapes")
    if ((column < 0) | (column > 1)).any():
        raise SketchError(f"{call}: {name} must be 0 or more, and at most 1")
    return column


def above_nothing(call: str, **columns: FloatArray) -> None:
    """Raises SketchError for lengths that are not above 0, float64 (n,) each."""
    for name, column in columns.items():
        if not (column > 0).all():
            worst = int(np.argmin(column))
            where = f" at {worst}" if len(column) > 1 else ""
            raise SketchError(f"{call}: {name} must be above 0 (got {column[worst]:g}{where})")
