"""Drawings derived from others: overlaid, reduced to some marks, outlined."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from mothseed.arrays import FloatArray, WholeArray
from mothseed.colour.value import Colour
from mothseed.geometry.outlines import Outlines
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.finish import Finish
from mothseed.sheet.group import NO_CLIP, Group
from mothseed.sheet.kinds import HAS_OUTLINE
from mothseed.sheet.style import STROKED

CLEAR = Colour(1.0, 1.0, 1.0, 0.0)


def laid_over(lower: Drawing, upper: Drawing) -> Drawing:
    """A drawing with all marks of another on top, from a sheet of the same size, whose paper is ignored."""
    views, outlines, groups = len(lower.views), len(lower.outlines), len(lower.groups) - 1
    marks = upper.marks.copy()
    marks["view"] += views
    marks["outline"] += outlines
    marks["group"] = np.where(marks["group"] > 0, marks["group"] + groups, 0)
    marks["finish"] += len(lower.finishes)
    moved = [_moved(group, views, outlines, groups) for group in upper.groups[1:]]
    drawn = int(lower.order.max()) + 1 if len(lower) else 0
    return replace(
        lower,
        marks=np.concatenate([lower.marks, marks]),
        views=np.concatenate([lower.views, upper.views]),
        stroke_scales=np.concatenate([lower.stroke_scales, upper.stroke_scales]),
        outlines=Outlines.of([lower.outlines, upper.outlines]),
        groups=(*lower.groups, *moved),
        finishes=(*lower.finishes, *upper.finishes),
        order=np.concatenate([lower.order, upper.order + drawn]),
        uses=(*lower.uses, *(each._replace(firsts=each.firsts + drawn) for each in upper.uses)),
    )


def alone(drawing: Drawing, marks: WholeArray) -> Drawing:
    """Some marks, by index, as they are painted, on transparent paper."""
    return replace(drawing.part(marks), paper=CLEAR)


def outlined(drawing: Drawing, marks: WholeArray, colours: FloatArray, stroke: float) -> Drawing:
    """Some marks as outlines in colours float64 (n, 4), with a stroke in sheet units, on transparent paper."""
    rows = drawing.marks[marks].copy()
    rows["painted"], rows["group"], rows["finish"], rows["opacity"] = STROKED, 0, 0, 1.0
    rows["stroke"] = colours
    rows["stroke_width"] = stroke / np.maximum(drawing.stroke_scales[rows["view"]], 1e-9)
    order = drawing.order[marks]
    return replace(drawing, paper=CLEAR, marks=rows, groups=(Group(-1),), finishes=(Finish(),), order=order)


def trimmed(drawing: Drawing) -> Drawing:
    """The drawing without outlines that no mark or clip uses, which would otherwise be prepared as well."""
    if not drawing.outlines:
        return drawing
    has_outline = HAS_OUTLINE[drawing.marks["kind"]]
    clips = [group.outline for group in drawing.groups if group.outline != NO_CLIP]
    is_used = np.zeros(len(drawing.outlines), np.bool)
    is_used[drawing.marks["outline"][has_outline]] = True
    is_used[clips] = True
    if is_used.all():
        return drawing
    used = np.flatnonzero(is_used)
    numbers = np.where(is_used, np.cumsum(is_used) - 1, 0)
    marks = drawing.marks.copy()
    marks["outline"] = numbers[marks["outline"]]
    groups = tuple(
        group if group.outline == NO_CLIP else group._replace(outline=int(numbers[group.outline])) for group in drawing.groups
    )
    return replace(drawing, marks=marks, outlines=drawing.outlines.chosen(used), groups=groups)


def _moved(group: Group, views: int, outlines: int, groups: int) -> Group:
    parent = group.parent + groups if group.parent > 0 else group.parent
    if group.outline == NO_CLIP:
        return group._replace(parent=parent)
    return group._replace(parent=parent, outline=group.outline + outlines, view=group.view + views)
