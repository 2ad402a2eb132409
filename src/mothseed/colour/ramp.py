"""Ramps as paint: gradients along a line, or outwards from a point."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from functools import lru_cache
from itertools import pairwise
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.checks import is_finite
from mothseed.colour.oklch import LINEAR_FROM_CONE, cones_from_srgb, encoded_srgb
from mothseed.colour.value import Colour, as_colour
from mothseed.faults import SketchError
from mothseed.kernels.tile_sizes import RAMP_STEPS
from mothseed.native.library import Kernel
from mothseed.spellings import also_spelled
from mothseed.told import counted
from mothseed.values import fixed

LINEAR, RADIAL = "linear", "radial"

_fill_tables = Kernel("ramps.fill_tables")

_ENCODING_STEPS = 4096
_LINEAR_FROM_CONE = np.ascontiguousarray(LINEAR_FROM_CONE)

Stops = tuple[tuple[float, Colour], ...]


@fixed('make another: linear_ramp((0, 0), (100, 100), ["navy", "teal"])')
class Ramp(NamedTuple):
    """A gradient, in the coordinates of the view that is painted on; beyond its ends the colour stays the same."""

    kind: str
    place: tuple[float, float, float, float]
    """x1 y1 x2 y2 of a linear ramp, x y radius 0 of a radial one"""
    stops: Stops
    """the position of each colour, from 0 to 1"""

    def tinted(self, colour: object) -> Ramp:
        """The same ramp with all its colours multiplied by another: white changes nothing."""
        tint = as_colour(colour)
        return self._replace(stops=tuple((place, each.multiplied(tint)) for place, each in self.stops))


Point = tuple[float, float]


def linear_ramp(start: Point, end: Point, colours: Iterable[object], at: Sequence[float] | None = None) -> Ramp:
    """A gradient from one point to another: `fill=linear_ramp((0, 0), (0, 80), ["#14213d", "#e8b44f"])`.

    `at` gives the position of each colour, from 0 to 1; by default they are evenly spaced. Colours are mixed in OKLab. Raises
    SketchError for fewer than two colours, positions that are not ascending, and identical end points.
    """
    (x1, y1), (x2, y2) = _point("linear_ramp", "start", start), _point("linear_ramp", "end", end)
    if (x1, y1) == (x2, y2):
        raise SketchError("linear_ramp: its ends are the same point", hint="move one of them")
    return Ramp(LINEAR, (x1, y1, x2, y2), _stops("linear_ramp", colours, at))


@also_spelled(center="centre")
def radial_ramp(centre: Point, radius: float, colours: Iterable[object], at: Sequence[float] | None = None) -> Ramp:
    """A gradient from a centre out to a radius: `fill=radial_ramp((0, 0), 40, ["#fdf3cf", "#fdf3cf00"])`.

    `at` works as in `linear_ramp`. Raises SketchError as that does, and for a radius that is not above 0.
    """
    x, y = _point("radial_ramp", "centre", centre)
    if not 0 < radius < math.inf:
        raise SketchError(f"radial_ramp: radius must be above 0 (got {radius!r})")
    return Ramp(RADIAL, (x, y, float(radius), 0.0), _stops("radial_ramp", colours, at))


def ramp_table(ramp: Ramp) -> FloatArray:
    """The colours at RAMP_STEPS + 1 evenly spaced positions: float64 (257, 4), sRGB and alpha, not premultiplied."""
    table: FloatArray = ramp_tables([ramp.stops])[0].astype(np.float64)
    return table


def ramp_tables(ramps: Sequence[Stops]) -> npt.NDArray[np.float32]:
    """The tables of many ramps at once: float32 (n, 257, 4), each as from `ramp_table`."""
    colours = np.array([colour for stops in ramps for _, colour in stops]).reshape(-1, 4)
    cones = np.concatenate([cones_from_srgb(colours[:, :3]), colours[:, 3:]], axis=1)
    places = np.array([place for stops in ramps for place, _ in stops])
    first = np.cumsum([0, *map(len, ramps)])
    tables = np.empty((len(ramps), RAMP_STEPS + 1, 4), np.float32)
    if ramps:
        _fill_tables(first, places, cones, _LINEAR_FROM_CONE, _encoded(), tables)
    return tables


@lru_cache(maxsize=1)
def _encoded() -> FloatArray:
    """SRGB of the squares of even steps from 0 to 1; linear in between to within a millionth."""
    return encoded_srgb((np.arange(_ENCODING_STEPS + 1) / _ENCODING_STEPS) ** 2)


def _point(call: str, name: str, point: object) -> Point:
    try:
        x, y = map(float, point)  # type: ignore[call-overload]  # whatever is no pair of numbers is told below
    except (TypeError, ValueError):
        x = y = math.nan
    if not (is_finite(x) and is_finite(y)):
        raise SketchError(f"{call}: {name} is a point (got {point!r})", hint=f"write {call}((0, 0), ...)")
    return x, y


def _stops(call: str, colours: Iterable[object], at: Sequence[float] | None) -> Stops:
    parsed = [as_colour(colour) for colour in colours]
    if len(parsed) < 2:
        raise SketchError(
            f"{call}: at least two colours are needed (got {len(parsed)})", hint="for one colour use a plain fill"
        )
    places = [index / (len(parsed) - 1) for index in range(len(parsed))] if at is None else [float(place) for place in at]
    if len(places) != len(parsed):
        raise SketchError(f"{call}: {counted(len(parsed), 'colour')} but {len(places)} places", hint="give each colour a place")
    rises = all(first <= second for first, second in pairwise(places))
    if not (rises and places[0] >= 0 and places[-1] <= 1):
        raise SketchError(f"{call}: places rise from 0 to 1 (got {places})")
    return tuple(zip(places, parsed, strict=True))
