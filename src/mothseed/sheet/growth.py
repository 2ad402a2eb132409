"""The drawing as it builds up: for each step on the way to it which of its marks are there, bool (marks,)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from mothseed.arrays import BoolArray
from mothseed.faults import FieldError
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.extents import mark_boxes
from mothseed.sheet.group import chain


def mark_by_mark(drawing: Drawing, count: int) -> Iterator[BoolArray]:
    """The drawing as it builds up in the order in which the sketch draws, in `count` steps of as many marks, or fewer. The last
    has all of them.
    """
    steps = min(count, max(len(drawing), 1))
    return _building_up(drawing, [round(step * len(drawing) / steps) for step in range(1, steps + 1)])


def at_an_even_pace(drawing: Drawing, count: int) -> Iterator[BoolArray]:
    """The drawing as it builds up, in `count` steps or fewer that each change about as much: a sky takes as long as some stars.

    How much a mark changes is taken to be the side of the square as large as the part of the sheet that it may cover: by its
    area alone a ground would take all the time, and by number alone none.
    """
    if not len(drawing):
        return mark_by_mark(drawing, count)
    sheet = np.array([drawing.width, drawing.height])
    boxes = mark_boxes(drawing)
    sides = np.minimum(boxes[:, 2:], sheet) - np.maximum(boxes[:, :2], 0.0)
    change = np.sqrt(sides.clip(0.0).prod(axis=1))[np.argsort(drawing.order, kind="stable")]
    done = np.cumsum(change + change.mean() / 100 + 1e-12)
    ends = np.searchsorted(done, done[-1] * np.arange(1, count) / count) + 1
    return _building_up(drawing, [*np.unique(ends[ends < len(drawing)]).tolist(), len(drawing)])


def _building_up(drawing: Drawing, counts: list[int]) -> Iterator[BoolArray]:
    """The marks that were drawn first, as many as each count says."""
    ranks = np.argsort(np.argsort(drawing.order, kind="stable"), kind="stable")
    for count in counts:
        yield ranks < count


def layer_by_layer(drawing: Drawing) -> Iterator[BoolArray]:
    """The drawing as it builds up layer by layer, from the lowest on; what lies in none is there from the first.

    Raises FieldError where there are no layers.
    """
    names = list(drawing.layers)
    if not names:
        raise FieldError(
            "by", "the picture has no layers to build it up by", hint='make some with layer("name"), or go by marks'
        )
    around = [
        {drawing.groups[each].name for each in chain(drawing.groups, number)} & set(names)
        for number in range(len(drawing.groups))
    ]
    for count in range(len(names) + 1):
        shown = set(names[:count])
        keep = np.array([layers <= shown for layers in around])
        yield keep[drawing.marks["group"]]
