"""What can be told from drawings: marks that nobody sees, marks that hide others."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from mothseed.arrays import ByteArray, FloatArray, WholeArray
from mothseed.check.finding import Finding
from mothseed.colour.value import Colour
from mothseed.render import rendered
from mothseed.sheet import Drawing
from mothseed.sheet.drawing import RECT
from mothseed.sheet.resolved import mark_boxes, mark_matrices
from mothseed.sheet.style import FILLED, STROKED
from mothseed.sketch import Impression
from mothseed.sketch.trace import Line

_WIDTH = 400
"""Pixels of the pictures in which it is looked whether something can be seen."""
_CROWDED = 1.0
"""Marks for each pixel of a proof of 1000 pixels."""
_FULL = 0.97
"""Of the sheet's sides, from which on a shape is meant to fill it."""
_CLEAR = Colour(0.0, 0.0, 0.0, 0.0)


def drawing_findings(impressions: Sequence[Impression]) -> Iterator[Finding]:
    """What is found in the drawings of one sketch for some seeds; what is said of a line holds for all of them."""
    if all(len(impression.drawing) == 0 for impression in impressions):
        words = f"none of {len(impressions)} seeds draws a mark"
        yield Finding("nothing-drawn", None, words, "draw on the sheet: sheet.circle(30, 20, 5)")
        return
    yield from _unseen_lines(impressions)
    for impression in impressions:
        yield from _hiding(impression)
        yield from _bare_corners(impression)
        yield from _crowded(impression)


def _line_of(impression: Impression, mark: int) -> Line | None:
    assert impression.origins is not None
    calls = impression.origins.calls[impression.origins.of_marks[mark]]
    return calls[0] if calls else None


@dataclass(frozen=True, slots=True)
class _Unseen:
    code: str
    words: str
    remedy: str


def _unseen_lines(impressions: Sequence[Impression]) -> Iterator[Finding]:
    """Lines of which nothing is seen in any of the pictures."""
    reasons: dict[Line, list[_Unseen | None]] = {}
    for impression in impressions:
        drawing = impression.drawing
        marks_of: dict[Line, list[int]] = {}
        for mark in range(len(drawing)):
            line = _line_of(impression, mark)
            if line is not None:
                marks_of.setdefault(line, []).append(mark)
        whole = rendered(drawing, _WIDTH)
        for line, marks in marks_of.items():
            if line not in reasons or None not in reasons[line]:
                reasons.setdefault(line, []).append(_why_unseen(drawing, np.array(marks), whole))
    for line, found in reasons.items():
        first = found[0]
        if first is not None and None not in found:
            yield Finding(first.code, line, first.words, first.remedy)


def _why_unseen(drawing: Drawing, marks: WholeArray, whole: ByteArray) -> _Unseen | None:
    """Why none of some marks is seen, or None where any is."""
    keep = np.ones(len(drawing), np.bool)
    keep[marks] = False
    if not np.array_equal(rendered(drawing.part(keep), _WIDTH), whole):
        return None
    count = f"{len(marks):,} mark{'s' * (len(marks) > 1)}"
    rows = drawing.marks[marks]
    fill = (rows["painted"] & FILLED > 0) & ((rows["fill"][:, 3] > 0) | (rows["finish"] > 0))
    stroke = (rows["painted"] & STROKED > 0) & ((rows["stroke"][:, 3] > 0) | (rows["finish"] > 0)) & (rows["stroke_width"] > 0)
    if not ((fill | stroke) & (rows["opacity"] > 0)).any():
        return _Unseen("no-paint", f"{count} with nothing to be seen by", 'give it fill="teal", or stroke="#333"')
    boxes = mark_boxes(drawing)[marks]
    off = (boxes[:, 0] >= drawing.width) | (boxes[:, 1] >= drawing.height) | (boxes[:, 2] <= 0) | (boxes[:, 3] <= 0)
    if off.all():
        x, y = boxes[0, :2] + (boxes[0, 2:] - boxes[0, :2]) / 2
        words = f"{count}, the first about {x:.4g}, {y:.4g} on a sheet of {drawing.width:g} x {drawing.height:g}"
        return _Unseen("off-sheet", words, "look at the origin of its frame: (0, 0) is the sheet's top left corner")
    if ((boxes[:, 2] - boxes[:, 0]) * (boxes[:, 3] - boxes[:, 1]) == 0).all():
        return _Unseen("no-size", f"{count} of no width or height", "look for a length of 0, or a whole-number division")
    # As it was when the last of them was drawn: seen then and not now, they were covered.
    until = np.arange(len(drawing)) <= marks.max()
    if np.array_equal(rendered(drawing.part(keep & until), _WIDTH), rendered(drawing.part(until), _WIDTH)):
        return _Unseen("same-paint", f"{count} in the colour of what lies under them", "change its colour, or leave it out")
    return _Unseen("covered", f"{count}, covered by what is drawn later", "draw it later, or on a layer above")


def _hiding(impression: Impression) -> Iterator[Finding]:
    """The last mark that covers all of the sheet, where others were drawn before it."""
    drawing = impression.drawing
    boxes = mark_boxes(drawing)
    whole = (boxes[:, 0] <= 0) & (boxes[:, 1] <= 0) & (boxes[:, 2] >= drawing.width) & (boxes[:, 3] >= drawing.height)
    solid = (drawing.marks["painted"] & FILLED > 0) & (drawing.marks["opacity"] == 1)
    for mark in np.flatnonzero(whole & solid)[::-1].tolist():
        if mark == 0:
            return
        alone = replace(drawing.part(np.array([mark])), paper=_CLEAR)
        if drawing.finishes[drawing.marks["finish"][mark]].blend == "normal" and _is_solid(rendered(alone, 64)):
            words = f"it hides {mark:,} mark{'s' * (mark > 1)} drawn before it"
            yield Finding("hides-all", _line_of(impression, mark), words, "draw it first, or give it an opacity")
            return


def _is_solid(pixels: ByteArray) -> bool:
    # The last row and column may reach beyond the sheet.
    return bool((pixels[:-1, :-1, 3] == 255).all())


def _bare_corners(impression: Impression) -> Iterator[Finding]:
    """Filled rectangles as large as the sheet that were turned and do not reach its corners."""
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
            line = _line_of(impression, int(rects[place]))
            words = "once it is turned, corners of the sheet are bare"
            yield Finding("edge-shows", line, words, "make it larger than the sheet, from -50 on")
            return


def _covers_corners(matrix: FloatArray, width: float, height: float) -> bool:
    a, b, c, d, e, f = matrix.tolist()
    area = a * d - b * c
    for x, y in ((0, 0), (width, 0), (0, height), (width, height)):
        across, down = (d * (x - e) - c * (y - f)) / area, (a * (y - f) - b * (x - e)) / area
        if not (-1e-6 <= across <= 1 + 1e-6 and -1e-6 <= down <= 1 + 1e-6):
            return False
    return True


def _crowded(impression: Impression) -> Iterator[Finding]:
    drawing = impression.drawing
    pixels = 1000 * 1000 * drawing.height / drawing.width
    if len(drawing) > _CROWDED * pixels:
        lines = np.bincount(impression.origins.of_marks) if impression.origins else np.zeros(1)
        calls = impression.origins.calls[int(lines.argmax())] if impression.origins else ()
        words = f"{len(drawing):,} marks on {pixels:,.0f} pixels"
        yield Finding(
            "crowded", calls[0] if calls else None, words, "a tenth of them may look the same, in a tenth of the time"
        )
