"""The painting order: for each mark its shadow, fill and stroke, with brackets for groups around them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from mothseed.arrays import FloatArray, RecordArray
from mothseed.kernels.primitives import CLOSE, OPEN, POLYGON, SHADOW
from mothseed.sheet.blends import BLENDS
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.group import chain, in_common
from mothseed.sheet.style import EVEN_ODD, STROKED, filled_marks

OP = np.dtype([
    ("kind", "u1"),
    ("source", "i8"),  # number of the mark; of a clip's mask, the number of marks and that of the group added
    ("is_stroke", "?"),
    ("even_odd", "?"),
    ("mask", "?"),
    ("clipped", "?"),
    ("blend", "u1"),
    ("opacity", "f4"),
])  # fmt: skip
"""One step of painting, before its place is computed."""

_KIND_OF_SLOT = (SHADOW, OPEN, POLYGON, POLYGON, CLOSE)
"""The steps a mark may need, in order: shadow, bracket, fill, stroke, end of the bracket."""
_FILL_SLOT, _STROKE_SLOT, _CLOSE_SLOT = 2, 3, 4


def ops_of(drawing: Drawing, widths: FloatArray) -> RecordArray:
    """All ops of a drawing, OP (n,); `widths` are the stroke widths of its marks."""
    marks = drawing.marks
    finish = marks["finish"]
    blends = np.array([BLENDS.index(each.blend) for each in drawing.finishes], np.uint8)[finish]
    has_shadow = np.array([each.shadow is not None for each in drawing.finishes])[finish]
    filled = filled_marks(marks)
    stroked = ((marks["painted"] & STROKED) != 0) & (widths > 0)
    # A fill and a stroke fade as one, and anything blended is composited as a whole.
    grouped = (filled & stroked & (marks["opacity"] < 1)) | ((blends > 0) & (filled | stroked))

    needed = np.stack([has_shadow & (filled | stroked), grouped, filled, stroked, grouped], axis=1)
    mark, slot = np.nonzero(needed)
    ops = np.zeros(len(mark), OP)
    ops["kind"] = np.array(_KIND_OF_SLOT, np.uint8)[slot]
    ops["source"] = mark
    ops["is_stroke"] = slot == _STROKE_SLOT
    ops["even_odd"] = ((marks["painted"] & EVEN_ODD) != 0)[mark] & (slot != _STROKE_SLOT)
    is_close = slot == _CLOSE_SLOT
    ops["blend"] = np.where(is_close, blends[mark], 0)
    # The group takes the opacity of its marks, which are then painted as if they were solid.
    is_within = grouped[mark] & ((slot == _FILL_SLOT) | (slot == _STROKE_SLOT))
    ops["opacity"] = np.where(is_within, 1.0, marks["opacity"][mark])
    if len(drawing.groups) == 1:
        return ops
    before = np.concatenate([[0], np.cumsum(needed.sum(axis=1))])
    return _with_brackets(drawing, ops, before)


def _with_brackets(drawing: Drawing, ops: RecordArray, before: np.ndarray[tuple[int], np.dtype[np.int64]]) -> RecordArray:
    """The ops, with those that open and close layers and clips; `before` counts the ops before each mark."""
    groups = drawing.marks["group"]
    changes = np.flatnonzero(np.diff(groups, prepend=0, append=0))
    places: list[int] = []
    brackets: list[_Bracket] = []
    open_groups: list[int] = []
    for mark in changes.tolist():
        wanted = chain(drawing.groups, int(groups[mark])) if mark < len(groups) else []
        common = in_common(open_groups, wanted)
        for number in reversed(open_groups[common:]):
            brackets += _closing(drawing, number)
        brackets += [_OPENING] * (len(wanted) - common)
        places += [int(before[mark])] * (len(brackets) - len(places))
        open_groups = wanted
    return np.insert(ops, places, np.array(brackets, OP)) if brackets else ops


class _Bracket(NamedTuple):
    """A row of OP, in which thousands of groups are collected before they become an array."""

    kind: int
    source: int = 0
    is_stroke: bool = False
    even_odd: bool = False
    mask: bool = False
    clipped: bool = False
    blend: int = 0
    opacity: float = 1.0


_OPENING = _Bracket(OPEN)


def _closing(drawing: Drawing, number: int) -> Iterator[_Bracket]:
    group = drawing.groups[number]
    if not group.is_layer:
        yield _Bracket(POLYGON, source=len(drawing.marks) + number, even_odd=group.even_odd, mask=True)
    yield _Bracket(CLOSE, clipped=not group.is_layer, blend=BLENDS.index(group.blend), opacity=group.opacity)
