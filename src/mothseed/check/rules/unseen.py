"""Lines whose marks are not visible in any picture, and why."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache, partial

import numpy as np

from mothseed.arrays import ByteArray, WholeArray
from mothseed.check.rule import Finding, Look, Rule
from mothseed.colour.oklch import NOTICEABLE, linear_from_srgb, oklab_from_linear
from mothseed.render import Painted, rendered
from mothseed.sheet import Drawing
from mothseed.sheet.extents import mark_boxes
from mothseed.sheet.style import FILLED, STROKED
from mothseed.sketch.trace import Line
from mothseed.told import counted

_SOLID = 0.5
"""Opacity below which marks are meant to be faint."""
_LINEAR_OF_LEVEL = linear_from_srgb(np.arange(256) / 255)
_WIDTH = 400
"""Width in pixels of the pictures in which visibility is checked."""


@dataclass(frozen=True, slots=True)
class _Unseen:
    code: str
    words: str
    remedy: str


def _find(look: Look) -> Iterator[Finding]:
    """Lines whose marks are not visible in any of the pictures; the reason given holds for all of them."""
    reasons: dict[Line, list[_Unseen | None]] = {}
    for impression, drawn in zip(look.impressions, look.drawn, strict=True):
        painted = cache(partial(Painted, impression.drawing, _WIDTH))
        for line, marks in drawn.items():
            if line not in reasons or None not in reasons[line]:
                reasons.setdefault(line, []).append(_why_unseen(impression.drawing, marks, painted()))
    for line, found in reasons.items():
        first = found[0]
        if first is not None and None not in found:
            yield RULE.finding(first.code, line, first.words, first.remedy)


def _why_unseen(drawing: Drawing, marks: WholeArray, painted: Painted) -> _Unseen | None:
    """Why none of some marks is visible, or None if any is."""
    rows = drawing.marks[marks]
    solid = (rows["opacity"] * np.maximum(rows["fill"][:, 3], rows["stroke"][:, 3]) >= _SOLID) & (rows["finish"] == 0)
    is_solid = solid.all() and not (rows["group"] > 0).any()
    count, far = counted(len(marks), "mark"), 0.0
    differ, them = ("differs", "it") if len(marks) == 1 else ("differ", "them")
    for without in painted.gradually_without(marks):
        far = _apart(without, painted.pixels)
        if far >= NOTICEABLE or (far > 0 and not is_solid):
            return None
    if far > 0:
        words = f"{count} that {differ} from what lies under {them} by {far:.3f} in OKLab at most; the eye notices {NOTICEABLE}"
        return _Unseen("hardly-seen", words, "make it lighter or darker than its ground, or leave it out")
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
    # As when the last of them was drawn: if visible then and not now, they were covered.
    until = np.arange(len(drawing)) <= marks.max()
    keep = until.copy()
    keep[marks] = False
    if np.array_equal(rendered(drawing.part(keep), _WIDTH), rendered(drawing.part(until), _WIDTH)):
        return _Unseen("same-paint", f"{count} in the colour of what lies under {them}", "change its colour, or leave it out")
    return _Unseen("covered", f"{count}, covered by what is drawn later", "draw it later, or on a layer above")


def _apart(image: ByteArray, other: ByteArray) -> float:
    """How far apart two pictures are at most, in OKLab or in alpha; 0 only if they are the same."""
    changed = (image != other).any(axis=2)
    one, another = image[changed], other[changed]
    colours, others = (oklab_from_linear(_LINEAR_OF_LEVEL[each[:, :3]]) for each in (one, another))
    far = np.linalg.norm(others - colours, axis=1).max(initial=0.0)
    thinner = np.abs(another[:, 3:] / 255 - one[:, 3:] / 255).max(initial=0.0)
    return float(max(far, thinner))


RULE = Rule(
    {
        "off-sheet": "all that a line draws lies off the sheet",
        "no-paint": "all that a line draws has no paint",
        "no-size": "all that a line draws has no size",
        "same-paint": "all that a line draws has the colour of what lies under it",
        "hardly-seen": "all that a line draws has nearly the colour of what lies under it",
        "covered": "all that a line draws is covered by what is drawn later",
    },
    _find,
)
