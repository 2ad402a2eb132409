"""Marks too small to print, cut at an edge, or with too little contrast to be read."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from functools import cache, partial

import numpy as np

from mothseed.arrays import BoolArray, FloatArray, WholeArray
from mothseed.check.rule import Finding, Look, Rule
from mothseed.colour import Colour, contrast
from mothseed.render import Painted
from mothseed.sheet import Drawing
from mothseed.sheet.extents import mark_boxes, stroke_widths
from mothseed.sheet.kinds import LINE_SEGMENT, POLYLINE
from mothseed.sheet.style import FILLED
from mothseed.sketch import Impression
from mothseed.sketch.trace import Line
from mothseed.told import counted
from mothseed.units import UNITS_PER_INCH

_TEXT = re.compile(r"\.texts?\(")
_MILLIMETRES = 25.4
_THINNEST = 25.4 / 600
"""Millimetres: a dot of a printer with 600 dots an inch."""
_LONG = 2.0
"""Least size in millimetres of something with a visible stroke; on anything smaller the stroke is a detail."""
_SMALLEST_LETTERS = 0.8
"""Height in millimetres of text that can just be read: three-point type."""
_CUT, _BLEEDS = 0.01, 0.25
"""Portion of a shape beyond an edge: less is not noticed, more looks intended."""
_SMALL = 0.25
"""In sides of the sheet: larger shapes are backgrounds, which cross its edges on purpose."""
_READABLE = 3.0
"""Least contrast of large text with its background: WCAG 2.2, success criterion 1.4.3."""
_SOLID = 0.5
_WIDTH = 600


def _find(look: Look) -> Iterator[Finding]:
    thin: dict[Line, list[float]] = {}
    cut: dict[Line, list[bool]] = {}
    for impression, drawn in zip(look.impressions, look.drawn, strict=True):
        drawing = impression.drawing
        # The size on paper of a sheet in pixels is unknown.
        unit = 0.0 if drawing.unit == "px" else _MILLIMETRES / UNITS_PER_INCH[drawing.unit]
        widths, boxes = stroke_widths(drawing) * unit, mark_boxes(drawing)
        painted = cache(partial(Painted, drawing, _WIDTH))
        for line, marks in drawn.items():
            stroked = marks[(widths[marks] > 0) & (_lengths(boxes[marks]) * unit > _LONG)]
            if unit and len(stroked):
                thin.setdefault(line, []).append(float(widths[stroked].max()))
            cut.setdefault(line, []).append(_is_cut(drawing, marks, boxes))
            if _TEXT.search(line.text):
                yield from _in_text(impression, line, marks, boxes[marks], unit, painted)
    for line, found in thin.items():
        if max(found) < _THINNEST:
            words = f"strokes of {max(found):.2g} mm at most, as they come out; a dot of 600 to the inch is {_THINNEST:.2g} mm"
            yield RULE.finding("thin-stroke", line, words, "make them wider, or the scale of the frame that they are drawn in")
    for line, every in cut.items():
        if len(every) > 1 and all(every) and not _TEXT.search(line.text):
            remedy = "move it in, or well over the edge where it is to bleed"
            yield RULE.finding("cut-shape", line, "a little of it lies beyond the edge of the sheet, with every seed", remedy)


def _lengths(boxes: FloatArray) -> FloatArray:
    """The longer side of each box: float64 (n,)."""
    result: FloatArray = (boxes[:, 2:] - boxes[:, :2]).max(axis=1)
    return result


def _is_cut(drawing: Drawing, marks: WholeArray, boxes: FloatArray) -> bool:
    """Whether the only filled shape of a line reaches slightly over one edge."""
    if len(marks) != 1 or not drawing.marks["painted"][marks[0]] & FILLED:
        return False
    if drawing.marks["kind"][marks[0]] in (LINE_SEGMENT, POLYLINE):
        return False
    left, top, right, bottom = boxes[marks[0]].tolist()
    wide, high = right - left, bottom - top
    if not (0 < wide < _SMALL * drawing.width and 0 < high < _SMALL * drawing.height):
        return False
    beyond = [-left / wide, (right - drawing.width) / wide, -top / high, (bottom - drawing.height) / high]
    return bool(_CUT < max(beyond) < _BLEEDS)


def _in_text(
    impression: Impression,
    line: Line,
    marks: WholeArray,
    boxes: FloatArray,
    unit: float,
    painted: Callable[[], Painted],
) -> Iterator[Finding]:
    drawing = impression.drawing
    seen = _meets(boxes, drawing)
    high = (boxes[:, 3] - boxes[:, 1]) * unit
    if unit and seen.any() and 0 < high.max() < _SMALLEST_LETTERS:
        words = f"letters {high.max():.2g} mm high, as they come out"
        yield RULE.finding("small-text", line, words, "make the size larger, or the scale of the frame that it is drawn in")
    reach = _CUT * (boxes[:, 2:] - boxes[:, :2]).min(axis=1)
    over = (boxes[:, 0] < -reach) | (boxes[:, 1] < -reach)
    over |= (boxes[:, 2] > drawing.width + reach) | (boxes[:, 3] > drawing.height + reach)
    if (over & seen).any():
        count = counted(int((over & seen).sum()), "line")
        words = f"{count} of text over the edge of the sheet, with seed {impression.recipe.seed}"
        yield RULE.finding("cut-text", line, words, "move it in, or make it smaller")
    yield from _contrast(impression, line, marks, painted)


def _meets(boxes: FloatArray, drawing: Drawing) -> BoolArray:
    result: BoolArray = (boxes[:, 2] > 0) & (boxes[:, 3] > 0) & (boxes[:, 0] < drawing.width) & (boxes[:, 1] < drawing.height)
    return result


def _contrast(impression: Impression, line: Line, marks: WholeArray, painted: Callable[[], Painted]) -> Iterator[Finding]:
    """Text with too little contrast to what is under it."""
    rows = impression.drawing.marks[marks]
    plain = (rows["painted"] & FILLED > 0) & (rows["finish"] == 0) & (rows["opacity"] * rows["fill"][:, 3] >= _SOLID)
    if not plain.all():
        return
    without = painted().without(marks)
    changed = (without != painted().pixels).any(axis=2)
    if not changed.any():
        return
    ground = Colour(*(without[changed][:, :3].mean(axis=0) / 255).tolist())
    strength = float((rows["opacity"] * rows["fill"][:, 3]).max())
    ink = Colour(*(np.array(ground[:3]) * (1 - strength) + rows["fill"][0, :3] * strength).tolist())
    ratio = contrast(ink, ground)
    if ratio < _READABLE:
        words = f"{ink.css} on {ground.css} has a contrast of {ratio:.1f} to 1; {_READABLE:g} to 1 can be read"
        yield RULE.finding("faint-text", line, words, "make it darker or lighter: legible(colour, ground) does")


RULE = Rule(
    {
        "thin-stroke": "all strokes of a line are too thin to print",
        "small-text": "text too small to read",
        "cut-text": "text that is cut at an edge of the sheet",
        "cut-shape": "a shape that is cut a little at an edge of the sheet",
        "faint-text": "text too like its ground to read",
    },
    _find,
)
