"""Stacks of faint marks, which no viewer adds up correctly, and their replacement.

Viewers keep 8 bits for each colour. A layer at one percent becomes one at three 255ths there, and forty of them a shadow that
is too dark and has bands. So a long run of them is written as the picture that they come to.
"""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from mothseed.arrays import ByteArray
from mothseed.render import rendered
from mothseed.sheet.derive import CLEAR, trimmed
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.extents import mark_boxes
from mothseed.sheet.group import Group
from mothseed.sheet.style import FILLED, STROKED

_FAINTEST = 0.06
"""Highest opacity of a faint mark: rounding it to 8 bits is then off by more than a thirtieth."""
_FEWEST = 8
"""Marks in a run: the errors of so many add up to something visible."""
_PIXELS = 2400
"""Pixels of the sheet's longer side in such a picture; faint edges need not be sharp."""


def faint_runs(drawing: Drawing) -> dict[int, int]:
    """Starts of runs of faint marks, with their ends."""
    marks = drawing.marks
    plain = np.array([each.fill is None and each.stroke is None and each.blend == "normal" and each.shadow is None
                      for each in drawing.finishes])[marks["finish"]]  # fmt: skip
    filled, stroked = (marks["painted"] & FILLED) != 0, (marks["painted"] & STROKED) != 0
    alpha = np.maximum(np.where(filled, marks["fill"][:, 3], 0), np.where(stroked, marks["stroke"][:, 3], 0)) * marks["opacity"]
    faint = plain & (alpha > 0) & (alpha <= _FAINTEST)
    changes = np.flatnonzero((np.diff(faint, prepend=False) != 0) | (np.diff(marks["group"], prepend=0) != 0))
    bounds = [*changes.tolist(), len(marks)]
    return {first: last for first, last in pairwise(bounds) if faint[first] and last - first >= _FEWEST}


class Patch(NamedTuple):
    """A picture placed on the sheet."""

    pixels: ByteArray
    """uint8 (height, width, 4), not premultiplied"""
    place: tuple[float, float, float, float]
    """left, top, width and height"""


def picture_of_run(drawing: Drawing, first: int, last: int) -> Patch | None:
    """The picture of the marks of a run, or None if nothing is visible."""
    return picture_of(alone(drawing, first, last), _PIXELS)


def alone(drawing: Drawing, first: int, last: int) -> Drawing:
    """Some consecutive marks on their own on transparent paper, outside all groups, with only the outlines they use."""
    part = drawing.part(np.arange(first, last))
    marks = part.marks.copy()
    marks["group"] = 0
    return trimmed(replace(part, marks=marks, groups=(Group(-1),), paper=CLEAR))


def picture_of(drawing: Drawing, longer_side: int) -> Patch | None:
    """A drawing on transparent paper as a picture, cropped to its marks, with so many pixels along the longer side of the
    sheet.
    """
    size = max(drawing.width, drawing.height) / longer_side
    boxes = mark_boxes(drawing) / size
    left, top = (max(math.floor(boxes[:, place].min()), 0) for place in (0, 1))
    right = min(math.ceil(boxes[:, 2].max()), math.ceil(drawing.width / size))
    bottom = min(math.ceil(boxes[:, 3].max()), math.ceil(drawing.height / size))
    if right <= left or bottom <= top:
        return None
    columns, rows = right - left, bottom - top
    moved = drawing.views - np.array([0, 0, 0, 0, left * size, top * size])
    part = replace(drawing, width=columns * size, height=rows * size, views=moved)
    return Patch(rendered(part, columns), (left * size, top * size, columns * size, rows * size))
