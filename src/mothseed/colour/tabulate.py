"""Ramps as tables of colours: thousands of different ones in a picture are mixed by a kernel."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.colour.oklch import LINEAR_FROM_CONE, encoded_srgb
from mothseed.jit import kernel

_ENCODING_STEPS = 4096
_ENCODED = encoded_srgb((np.arange(_ENCODING_STEPS + 1) / _ENCODING_STEPS) ** 2)
"""sRGB of the squares of even steps from 0 to 1, between which it is straight to within a millionth."""


@kernel
def fill_tables(
    first: npt.NDArray[np.int64],
    places: FloatArray,
    cones: FloatArray,
    tables: npt.NDArray[np.float32],
) -> None:
    """Fill each table from its stops, of which ramp i has those from first[i] to first[i + 1].

    What is mixed are the roots of the cones' responses: OKLab is a linear map of them, and mixing there comes to the same.
    """
    cube, places_in_table, steps = np.zeros(3), tables.shape[1], float(_ENCODING_STEPS)
    for ramp in range(len(tables)):
        stop, last = first[ramp], first[ramp + 1] - 1
        for step in range(places_in_table):
            place = step / (places_in_table - 1)
            while stop < last and places[stop + 1] <= place:
                stop += 1
            following = min(stop + 1, last)
            way = places[following] - places[stop]
            part = min(max((place - places[stop]) / way, 0.0), 1.0) if way > 0.0 else 0.0
            for cone in range(3):
                root = cones[stop, cone] + (cones[following, cone] - cones[stop, cone]) * part
                cube[cone] = root * root * root
            for channel in range(3):
                linear = LINEAR_FROM_CONE[channel, 0] * cube[0]
                linear += LINEAR_FROM_CONE[channel, 1] * cube[1]
                linear += LINEAR_FROM_CONE[channel, 2] * cube[2]
                at = math.sqrt(min(max(linear, 0.0), 1.0)) * steps
                lower = min(int(at), _ENCODING_STEPS - 1)
                value = _ENCODED[lower] + (_ENCODED[lower + 1] - _ENCODED[lower]) * (at - lower)
                tables[ramp, step, channel] = np.float32(value)
            tables[ramp, step, 3] = np.float32(cones[stop, 3] + (cones[following, 3] - cones[stop, 3]) * part)
