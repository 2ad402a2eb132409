"""The unit circle, square and segment, of which figures are images."""

from __future__ import annotations

import numpy as np

from mothseed.geometry.outline import Outline
from mothseed.geometry.verbs import CLOSE, CUBIC, LINE, MOVE

CIRCLE_ARM = 0.5522847498307936
"""Length of the control arms of four cubics that make a unit circle, off by at most 0.03 % of its radius."""


def _circle() -> Outline:
    k = CIRCLE_ARM
    quarters = [(1, k), (k, 1), (0, 1), (-k, 1), (-1, k), (-1, 0), (-1, -k), (-k, -1), (0, -1), (k, -1), (1, -k), (1, 0)]
    return Outline(np.array([MOVE, CUBIC, CUBIC, CUBIC, CUBIC, CLOSE], np.uint8), np.array([(1, 0), *quarters], np.float64))


UNIT_CIRCLE = _circle()
"""Radius 1 about the origin."""
UNIT_SQUARE = Outline(
    np.array([MOVE, LINE, LINE, LINE, CLOSE], np.uint8), np.array([(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)])
)
"""From the origin to (1, 1)."""
UNIT_SEGMENT = Outline(np.array([MOVE, LINE], np.uint8), np.array([(0.0, 0.0), (1.0, 0.0)]))
"""From the origin to (1, 0)."""
