"""Contours: lines along which a surface passes a level, and the areas above it. contourpy finds them by marching squares on
an even grid.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import Any

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.checks import finite, length
from mothseed.faults import SketchError
from mothseed.geometry.outline import Outline, all_joined, through
from mothseed.geometry.region import Box
from mothseed.geometry.surface import Surface, heights_of

_STEPS = 200
"""Squares along the longer side of an area if no step is given."""
_MOST = 4_000_000
"""Most places at which a surface is sampled."""
_GRID = 2.0**-30
"""Points are rounded to this fraction of the step, so that they do not depend on a processor's last bits."""


def contours_of(surface: Surface, levels: Sequence[float], box: Box, step: float | None, *, filled: bool) -> list[Outline]:
    """For each level, the lines along which a surface in a box (left, top, width, height) reaches it, with higher ground on
    their left; if filled, the areas above it, cut off at the edge of the box.

    Raises SketchError for levels that are not finite, for a step that is not above 0 or too small, and for what `heights_of`
    refuses.
    """
    from contourpy import FillType, LineType, contour_generator

    for level in levels:
        finite("contours", level=level)
    left, top, width, height = box
    size = max(width, height) / _STEPS if step is None else step
    length("contours", step=size)
    across, down = (max(int(np.ceil(side / size - 1e-9)), 1) for side in (width, height))
    if (across + 1) * (down + 1) > _MOST:
        raise SketchError(
            f"contours: a step of {size:g} asks for {(across + 1) * (down + 1):,} places, more than {_MOST:,}",
            hint=f"make it {max(width, height) / _STEPS:.2g}, or leave it out",
        )
    xs, ys = left + width * np.arange(across + 1) / across, top + height * np.arange(down + 1) / down
    x, y = np.meshgrid(xs, ys)
    generator = contour_generator(
        xs, ys, heights_of(surface, x, y, "contours", "surface"),
        name="serial", line_type=LineType.Separate, fill_type=FillType.OuterOffset,
    )  # fmt: skip
    if filled:
        return [_areas(generator.filled(float(level), np.inf), size * _GRID) for level in levels]
    return [_lines(generator.lines(float(level)), size * _GRID) for level in levels]


def _lines(lines: Any, grain: float) -> Outline:
    """Lines, float64 (k, 2), as one outline; those that return to their start are closed."""
    return all_joined(
        _ring(line, grain) if len(line) > 3 and (line[0] == line[-1]).all() else through(_rounded(line, grain), closed=False)
        for line in lines
        if len(line) > 1
    )


def _areas(filled: Any, grain: float) -> Outline:
    """Polygons with holes as one outline: for each its points, ring after ring, and the offsets of the rings."""
    return all_joined(
        _ring(points[first:last], grain)
        for points, places in zip(*filled, strict=True)
        for first, last in pairwise(places.tolist())
    )


def _ring(points: FloatArray, grain: float) -> Outline:
    return through(_rounded(points[:-1], grain), closed=True)


def _rounded(points: FloatArray, grain: float) -> FloatArray:
    return np.round(points / grain) * grain
