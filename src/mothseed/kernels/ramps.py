"""Tables of colours for ramps: a picture may have thousands of different ones."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2, Array3
from mothseed.native.jit import entry, inlined


@entry
def fill_tables(
    first: Array1[np.int64],
    places: Array1[np.float64],
    cones: Array2[np.float64],
    linear_from_cone: Array2[np.float64],
    encoded: Array1[np.float64],
    tables: Array3[np.float32],
) -> None:
    """Fill each table from its stops; those of ramp i run from first[i] to first[i + 1]. `encoded` is sRGB of the squares of
    even steps from 0 to 1, linear in between. The cube roots of the cones' responses are mixed: OKLab is a linear map of
    them, so the result is the same as mixing there.
    """
    places_in_table, steps = tables.shape[1], len(encoded) - 1
    for ramp in range(len(tables)):
        stop, last = first[ramp], first[ramp + 1] - 1
        for step in range(places_in_table):
            place = step / (places_in_table - 1)
            while stop < last and places[stop + 1] <= place:
                stop += 1
            following = min(stop + 1, last)
            way = places[following] - places[stop]
            part = min(max((place - places[stop]) / way, 0.0), 1.0) if way > 0.0 else 0.0
            long = _cube_between(cones[stop, 0], cones[following, 0], part)
            middle = _cube_between(cones[stop, 1], cones[following, 1], part)
            short = _cube_between(cones[stop, 2], cones[following, 2], part)
            for channel in range(3):
                linear = linear_from_cone[channel, 0] * long
                linear += linear_from_cone[channel, 1] * middle
                linear += linear_from_cone[channel, 2] * short
                at = math.sqrt(min(max(linear, 0.0), 1.0)) * float(steps)
                lower = min(int(at), steps - 1)
                value = encoded[lower] + (encoded[lower + 1] - encoded[lower]) * (at - lower)
                tables[ramp, step, channel] = np.float32(value)
            tables[ramp, step, 3] = np.float32(cones[stop, 3] + (cones[following, 3] - cones[stop, 3]) * part)


@inlined
def _cube_between(first: float, second: float, part: float) -> float:
    root = first + (second - first) * part
    return root * root * root
