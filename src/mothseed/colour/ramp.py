"""Ramps as paint: colours along a line, or outwards from a point."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.colour.oklch import LINEAR_FROM_CONE, cones_from_srgb, encoded_srgb
from mothseed.colour.value import Colour, as_colour
from mothseed.errors import SketchError
from mothseed.jit import kernel

LINEAR, RADIAL = "linear", "radial"

TABLE_STEPS = 256
"""A ramp is tabulated in so many steps; between them it is straight, which no eye and no 8-bit level can tell."""


Stops = tuple[tuple[float, Colour], ...]


class Ramp(NamedTuple):
    """Colours that pass into each other, in the coordinates of the view that is painted on; beyond its ends it stays even."""

    kind: str
    place: tuple[float, float, float, float]
    """x1 y1 x2 y2 of a linear ramp, x y radius 0 of a radial one"""
    stops: Stops
    """where each colour lies, from 0 to 1"""


Point = tuple[float, float]


def linear_ramp(start: Point, end: Point, colours: Iterable[object], at: Sequence[float] | None = None) -> Ramp:
    """Colours from one point to another: `fill=linear_ramp((0, 0), (0, 80), ["#14213d", "#e8b44f"])`.

    `at` says where each colour lies, from 0 to 1; without it they are spread evenly. Mixed in OKLab. Raises SketchError for
    fewer than two colours, places that do not rise, and ends that are the same point.
    """
    (x1, y1), (x2, y2) = _point("linear_ramp", "start", start), _point("linear_ramp", "end", end)
    if (x1, y1) == (x2, y2):
        raise SketchError("linear_ramp: its ends are the same point", hint="move one of them")
    return Ramp(LINEAR, (x1, y1, x2, y2), _stops("linear_ramp", colours, at))


def radial_ramp(centre: Point, radius: float, colours: Iterable[object], at: Sequence[float] | None = None) -> Ramp:
    """Colours from a centre out to a radius: `fill=radial_ramp((0, 0), 40, ["#fdf3cf", "#fdf3cf00"])`.

    `at` as in `linear_ramp`. Raises SketchError as that does, and for a radius that is not above 0.
    """
    x, y = _point("radial_ramp", "centre", centre)
    if not 0 < radius < math.inf:
        raise SketchError(f"radial_ramp: radius is above 0 (got {radius!r})")
    return Ramp(RADIAL, (x, y, float(radius), 0.0), _stops("radial_ramp", colours, at))


def ramp_table(ramp: Ramp) -> FloatArray:
    """The colours at TABLE_STEPS + 1 even places from start to end: float64 (257, 4), sRGB and alpha, not premultiplied."""
    table: FloatArray = ramp_tables([ramp.stops])[0].astype(np.float64)
    return table


def ramp_tables(ramps: Sequence[Stops]) -> npt.NDArray[np.float32]:
    """The tables of the stops of many ramps at once: float32 (n, 257, 4), as `ramp_table` gives one."""
    colours = np.array([colour for stops in ramps for _, colour in stops]).reshape(-1, 4)
    cones = np.concatenate([cones_from_srgb(colours[:, :3]), colours[:, 3:]], axis=1)
    places = np.array([place for stops in ramps for place, _ in stops])
    first = np.cumsum([0, *map(len, ramps)])
    tables = np.empty((len(ramps), TABLE_STEPS + 1, 4), np.float32)
    _fill_tables(first, places, cones, LINEAR_FROM_CONE, _ENCODED, tables)
    return tables


_ENCODING_STEPS = 4096
_ENCODED = encoded_srgb((np.arange(_ENCODING_STEPS + 1) / _ENCODING_STEPS) ** 2)
"""sRGB of the squares of even steps from 0 to 1, between which it is straight to within a millionth."""


@kernel
def _fill_tables(
    first: npt.NDArray[np.int64],
    places: FloatArray,
    cones: FloatArray,
    linear_from_cone: FloatArray,
    encoded: FloatArray,
    tables: npt.NDArray[np.float32],
) -> None:
    """Fill each table from its stops, of which ramp i has those from first[i] to first[i + 1].

    What is mixed are the roots of the cones' responses: OKLab is a linear map of them, and mixing there comes to the same.
    """
    cube, steps = np.zeros(3), float(_ENCODING_STEPS)
    for ramp in range(len(tables)):
        stop, last = first[ramp], first[ramp + 1] - 1
        for step in range(TABLE_STEPS + 1):
            place = step / TABLE_STEPS
            while stop < last and places[stop + 1] <= place:
                stop += 1
            following = min(stop + 1, last)
            way = places[following] - places[stop]
            part = min(max((place - places[stop]) / way, 0.0), 1.0) if way > 0.0 else 0.0
            for cone in range(3):
                root = cones[stop, cone] + (cones[following, cone] - cones[stop, cone]) * part
                cube[cone] = root * root * root
            for channel in range(3):
                linear = linear_from_cone[channel, 0] * cube[0]
                linear += linear_from_cone[channel, 1] * cube[1]
                linear += linear_from_cone[channel, 2] * cube[2]
                at = math.sqrt(min(max(linear, 0.0), 1.0)) * steps
                lower = min(int(at), _ENCODING_STEPS - 1)
                value = encoded[lower] + (encoded[lower + 1] - encoded[lower]) * (at - lower)
                tables[ramp, step, channel] = np.float32(value)
            tables[ramp, step, 3] = np.float32(cones[stop, 3] + (cones[following, 3] - cones[stop, 3]) * part)


def _point(call: str, name: str, point: object) -> Point:
    try:
        x, y = map(float, point)  # type: ignore[call-overload]  # whatever is no pair of numbers is told below
    except (TypeError, ValueError):
        x = y = math.nan
    if not (math.isfinite(x) and math.isfinite(y)):
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
        raise SketchError(f"{call}: {len(parsed)} colours but {len(places)} places", hint="give each colour a place")
    rises = all(first <= second for first, second in pairwise(places))
    if not (rises and places[0] >= 0 and places[-1] <= 1):
        raise SketchError(f"{call}: places rise from 0 to 1 (got {places})")
    return tuple(zip(places, parsed, strict=True))
