"""Guides: the sheet's units, its frames and the outlines of its shapes, laid over a drawing."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.colour.value import Colour
from mothseed.sheet.derive import CLEAR, laid_over, outlined
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.extents import mark_boxes
from mothseed.sheet.sheet import Sheet

_GRID, _WORDS = "#2f6fb7", "#1d4a80"
_ACROSS, _DOWN = "#c8392f", "#2f8f57"
_OUTLINE, _BOX = "#7b4fb0", "#c9761b"
_STEPS = 12
"""Lines of the grid along the longer side, about."""
_MOST_OUTLINES, _MOST_BOXES, _MOST_AXES, _MOST_ORIGINS = 1500, 60, 60, 600
"""More of them would hide the picture: then there are none, of frames only their origins."""


def guided(drawing: Drawing) -> Drawing:
    """The drawing with guides: a grid in sheet units, for each frame its origin with the axes x (red) and y (green), for each
    shape its outline (violet) and the box around it (orange).
    """
    longer = max(drawing.width, drawing.height)
    hair = longer / 1600
    result = drawing
    if 0 < len(drawing) <= _MOST_OUTLINES:
        marks = np.arange(len(drawing))
        colours = np.tile(np.array(Colour.parse(_OUTLINE)), (len(drawing), 1))
        result = laid_over(result, outlined(drawing, marks, colours, hair))
    sheet = Sheet(drawing.width, drawing.height, drawing.unit, CLEAR)
    _grid(sheet, longer, hair)
    if len(drawing) <= _MOST_BOXES:
        left, top, right, bottom = mark_boxes(drawing).T
        sheet.rects(left, top, right - left, bottom - top, fill=None, stroke=_BOX, stroke_width=1.5 * hair)
    _frames(sheet, drawing.views, longer, hair)
    return laid_over(result, sheet.drawing())


def grid_step(longer: float) -> float:
    """The distance of the lines of the grid: 1, 2 or 5 times a power of ten, so that there are about twelve."""
    wanted = longer / _STEPS
    power = 10.0 ** math.floor(math.log10(wanted))
    return next(factor * power for factor in (1.0, 2.0, 5.0, 10.0) if factor * power >= wanted)


def _grid(sheet: Sheet, longer: float, hair: float) -> None:
    step = grid_step(longer)
    size = longer / 75
    lines = sheet.styled(stroke=_GRID, stroke_width=0.7 * hair, opacity=0.45, fill=None)
    words = sheet.styled(fill=_WORDS, stroke=None)
    for place in range(1, math.ceil(sheet.width / step)):
        lines.line(place * step, 0, place * step, sheet.height)
        words.text(place * step + size / 4, size, _label(place * step), size)
    for place in range(1, math.ceil(sheet.height / step)):
        lines.line(0, place * step, sheet.width, place * step)
        words.text(size / 4, place * step - size / 4, _label(place * step), size)
    words.text(size / 4, size, sheet.unit, size)


def _frames(sheet: Sheet, views: FloatArray, longer: float, hair: float) -> None:
    """The origin of each frame that is not the sheet, and its axes where there are not too many."""
    own = np.unique(np.round(views, 6), axis=0)
    own = own[(np.abs(own - np.array([1.0, 0.0, 0.0, 1.0, 0.0, 0.0])) > 1e-6).any(axis=1)]
    origins = np.unique(own[:, 4:], axis=0)[:_MOST_ORIGINS]
    if len(own) <= _MOST_AXES:
        length = longer / 28
        for a, b, c, d, e, f in own.tolist():
            for x, y, colour in ((a, b, _ACROSS), (c, d, _DOWN)):
                reach = math.hypot(x, y)
                if reach > 0:
                    sheet.line(e, f, e + length * x / reach, f + length * y / reach, stroke=colour, stroke_width=2 * hair)
    if len(origins):
        sheet.circles(origins[:, 0], origins[:, 1], 2.2 * hair, fill=_ACROSS)


def _label(number: float) -> str:
    return f"{number:g}"
