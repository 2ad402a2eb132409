"""Turned rectangles of the sheet's size that do not reach its corners."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.check.rule import Finding, Look, Rule, line_of
from mothseed.geometry.affine import Affine
from mothseed.sheet.extents import mark_matrices
from mothseed.sheet.kinds import RECT
from mothseed.sheet.style import FILLED
from mothseed.sketch import Impression

_FULL = 0.97
"""In sides of the sheet: shapes at least so large are meant to fill it."""


def _find(look: Look) -> Iterator[Finding]:
    for impression in look.impressions:
        yield from _in_impression(impression)


def _in_impression(impression: Impression) -> Iterator[Finding]:
    """Filled, turned rectangles as large as the sheet that do not reach its corners."""
    drawing = impression.drawing
    rects = np.flatnonzero((drawing.marks["kind"] == RECT) & (drawing.marks["painted"] & FILLED > 0))
    matrices = mark_matrices(drawing)[rects]
    a, b, c, d, _, _ = matrices.T
    sides = np.sort(np.stack([np.hypot(a, b), np.hypot(c, d)], axis=1), axis=1)
    sheet = np.sort([drawing.width, drawing.height])
    turned = (np.abs(b) > 1e-3 * np.abs(a)) & (np.abs(a) > 1e-3 * np.abs(b))
    full = (sides >= _FULL * sheet).all(axis=1)
    for place in np.flatnonzero(turned & full).tolist():
        if not _covers_corners(matrices[place], drawing.width, drawing.height):
            line = line_of(impression, int(rects[place]))
            words = "once it is turned, corners of the sheet are bare"
            yield RULE.finding("edge-shows", line, words, "make it larger than the sheet, from -50 on")
            return


def _covers_corners(matrix: FloatArray, width: float, height: float) -> bool:
    """Whether the unit square under a map covers all corners of a sheet."""
    back = Affine(*matrix.tolist()).inverse()
    if back is None:
        return False
    corners = (back.point(x, y) for x, y in ((0, 0), (width, 0), (0, height), (width, height)))
    return all(-1e-6 <= across <= 1 + 1e-6 and -1e-6 <= down <= 1 + 1e-6 for across, down in corners)


RULE = Rule({"edge-shows": "a turned shape of the sheet's size leaves corners of the paper bare"}, _find)
