"""Directions at many places."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from mothseed.arrays import FloatArray


class Flow(NamedTuple):
    """A direction at each place, of length 1: two float64 arrays of one shape."""

    dx: FloatArray
    dy: FloatArray


def along_contours(across: FloatArray, down: FloatArray) -> Flow:
    """The direction along the contour lines of a landscape, with higher ground on the left, from its slopes across and down.
    It circles hills and hollows and never converges. On level ground it points along +x.
    """
    if isinstance(across, float):
        steepness = math.sqrt(across * across + down * down)
        ahead = (-down / steepness, across / steepness) if steepness else (1.0, 0.0)
        return Flow(*map(np.float64, ahead))
    length = np.sqrt(across * across + down * down)
    level = length == 0
    length = np.where(level, 1.0, length)
    return Flow(np.where(level, 1.0, -down / length), np.where(level, 0.0, across / length))
