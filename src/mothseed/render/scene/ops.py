"""The painting order: for each mark its shadow, fill and stroke, with brackets for groups around them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, NamedTuple

import numpy as np

from mothseed.arrays import BoolArray, WholeArray
from mothseed.kernels.primitives import CLOSE, OPEN, POLYGON, MarkPaint, Ops, Sources
from mothseed.native.library import Kernel
from mothseed.render.threads import Threads
from mothseed.sheet.blends import BLENDS
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.group import chain, in_common
from mothseed.sheet.style import EVEN_ODD

_list_ops = Kernel("placing.list_ops")

_MICROSECONDS_A_MARK = 0.05
"""Roughly, to copy its paint out of its record."""
_MOST_OF_MARK = 5
"""Most ops of a mark: a shadow, a bracket, a fill, a stroke, and the end of the bracket."""


def paint_of(drawing: Drawing, threads: Threads) -> MarkPaint:
    """What the marks of a drawing are painted with."""
    marks, shadows = drawing.marks, [finish.shadow for finish in drawing.finishes]
    colours = [(*each.colour[:3], each.colour.alpha * each.opacity) if each else (0.0,) * 4 for each in shadows]
    # Copies: kernels take contiguous arrays, and a column of records is not.
    names = ("fill", "stroke", "finish", "opacity", "painted")
    tasks = [marks[name].copy for name in names]
    fill, stroke, finish, opacity, painted = threads.results(tasks, len(marks) * _MICROSECONDS_A_MARK)
    return MarkPaint(
        finish=finish,
        even_odd=(painted & EVEN_ODD) != 0,
        opacity=opacity,
        fill=fill,
        stroke=stroke,
        blend=np.array([BLENDS.index(each.blend) for each in drawing.finishes], np.uint8),
        has_shadow=np.array([each is not None for each in shadows], np.bool),
        shadow=np.array(colours, np.float64),
    )


def ops_of(drawing: Drawing, sources: Sources, paint: MarkPaint) -> Ops:
    """All ops of a drawing."""
    count = len(drawing)
    room = _MOST_OF_MARK * count
    before = np.empty(count + 1, np.int64)
    # Unused room costs nothing: the system provides memory when it is first written to.
    ops = Ops(
        kind=np.empty(room, np.uint8),
        source=np.empty(room, np.int64),
        is_stroke=np.empty(room, np.bool),
        even_odd=np.empty(room, np.bool),
        mask=np.empty(room, np.bool),
        clipped=np.empty(room, np.bool),
        blend=np.empty(room, np.uint8),
        opacity=np.empty(room, np.float32),
    )
    listed = _list_ops(sources, paint, before, ops)
    ops = chosen_ops(ops, np.s_[:listed])
    return ops if len(drawing.groups) == 1 else _with_brackets(drawing, ops, before)


def chosen_ops(ops: Ops, which: BoolArray | slice) -> Ops:
    """Some of the ops: a slice, or by a flag for each."""
    columns: list[Any] = [column[which] for column in ops]
    return Ops(*columns)


def _with_brackets(drawing: Drawing, ops: Ops, before: WholeArray) -> Ops:
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
        brackets += [_Bracket(OPEN, _source_of(drawing, number)) for number in wanted[common:]]
        places += [int(before[mark])] * (len(brackets) - len(places))
        open_groups = wanted
    if not brackets:
        return ops
    columns: list[Any] = list(ops)
    added = zip(*brackets, strict=True)
    return Ops(*(np.insert(column, places, values) for column, values in zip(columns, added, strict=True)))


class _Bracket(NamedTuple):
    """A row of `Ops`, in which thousands of groups are collected before they become arrays."""

    kind: int
    source: int
    is_stroke: bool = False
    even_odd: bool = False
    mask: bool = False
    clipped: bool = False
    blend: int = 0
    opacity: float = 1.0


def _source_of(drawing: Drawing, number: int) -> int:
    """The index of a group in `Sources`, where groups other than the sheet itself follow the marks."""
    return len(drawing) + number - 1


def _closing(drawing: Drawing, number: int) -> Iterator[_Bracket]:
    group, source = drawing.groups[number], _source_of(drawing, number)
    if not group.is_layer:
        yield _Bracket(POLYGON, source, even_odd=group.even_odd, mask=True)
    yield _Bracket(CLOSE, source, clipped=not group.is_layer, blend=BLENDS.index(group.blend), opacity=group.opacity)
