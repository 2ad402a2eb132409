"""The element of each mark: the one that SVG has for it, in the coordinates of the frame it was drawn on."""

from __future__ import annotations

import math
from html import escape
from typing import NamedTuple

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.formats.decimals import places_for, several, spaced, written
from mothseed.formats.path_text import svg_path
from mothseed.geometry.affine import Affine, are_similarities, transformed
from mothseed.geometry.lettering import Lettered, Words
from mothseed.geometry.outline import Outline, known
from mothseed.geometry.verbs import LINE, MOVE
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.kinds import CIRCLE, ELLIPSE, KINDS, LINE_SEGMENT, PATH, POLYGON, POLYLINE, RECT
from mothseed.sheet.mark import Mark

_NATIVE = {
    CIRCLE: ("circle", ("cx", "cy", "r")),
    ELLIPSE: ("ellipse", ("cx", "cy", "rx", "ry")),
    RECT: ("rect", ("x", "y", "width", "height")),
    LINE_SEGMENT: ("line", ("x1", "y1", "x2", "y2")),
}
"""Kinds that have an element of their own, and the names of their numbers; one that is 0 is left out."""
_ROUND = 1e-9


class Placing(NamedTuple):
    """A frame as elements are written in it."""

    transform: str
    """the attribute's value; empty where coordinates are those of the sheet"""
    matrix: FloatArray
    """float64 (6,): from what is written to the sheet"""
    baked: FloatArray | None
    """of a skewed frame, whose strokes stay even: what coordinates are mapped by before they are written"""
    stroke_scale: float
    """what stroke widths and dashes are multiplied by before they are written"""
    places: int
    """after the point"""


def views_of(drawing: Drawing) -> list[Placing]:
    """How elements are written on each view of a drawing."""
    longer = max(drawing.width, drawing.height)
    return [placing(matrix, scale, longer) for matrix, scale in zip(drawing.views, drawing.stroke_scales.tolist(), strict=True)]


def placing(matrix: FloatArray, stroke_scale: float, longer: float) -> Placing:
    """How elements are written on a view, on a sheet whose longer side is given."""
    a, b, c, d, e, f = matrix.tolist()
    size = a * a + b * b
    places = places_for(longer)
    if not are_similarities(matrix, _ROUND):
        return Placing("", np.array([1.0, 0.0, 0.0, 1.0, 0.0, 0.0]), matrix, stroke_scale, places)
    scale = math.sqrt(size)
    fine = places_for(longer, scale)
    # A rotation needs as many decimals as the coordinates it is multiplied by have integer digits.
    # So does anything far larger there than on the sheet.
    linear = several((a, b, c, d), places + 3 + max(math.floor(-math.log10(scale)), 0))
    moved = several((e, f), places)
    if (linear, moved) == ("1 0 0 1", "0 0"):
        return Placing("", matrix, None, stroke_scale, places)
    transform = f"translate({moved})" if linear == "1 0 0 1" else f"matrix({linear} {moved})"
    return Placing(transform, matrix, None, stroke_scale / scale, fine)


def element_of(drawing: Drawing, mark: Mark, view: Placing) -> str:
    """The name of a mark's element and the attributes that say where it lies."""
    kind, put = mark.kind, view.places
    if view.baked is not None:
        return f'path d="{svg_path(shape_of(drawing, mark).transformed(tuple(view.baked)), put)}"'  # type: ignore[arg-type]
    if kind in _NATIVE:
        name, names = _NATIVE[kind]
        texts = spaced(mark.place[: len(names)], put).split(" ")
        # If it is flat, SVG does not show its stroke either, or takes a missing radius to equal the other.
        if kind == LINE_SEGMENT or "0" not in texts[2:]:
            return name + "".join(f' {each}="{text}"' for each, text in zip(names, texts, strict=True) if text != "0")
    outline = shape_of(drawing, mark)
    if kind in (POLYLINE, POLYGON) and _is_one_line(outline):
        return f'{"polygon" if kind == POLYGON else "polyline"} points="{several(outline.points.ravel().tolist(), put)}"'
    return f'path d="{svg_path(outline, put)}"'


def lettering_of(drawing: Drawing, mark: Mark, view: Placing) -> Words | None:
    """What a mark spells where it can be written as text: not on a skewed frame, where nothing is written as it was given."""
    if mark.kind != PATH or view.baked is not None:
        return None
    outline = drawing.outlines[mark.outline]
    return outline.words if isinstance(outline, Lettered) else None


def text_attributes(words: Words, view: Placing) -> str:
    """Where words lie and in which font, as attributes."""
    put = view.places
    x, y = written(words.x, put), written(words.y, put)
    # Elsewhere the last letter has its spacing too, which moves a line set from its middle or its end.
    begin = written(words.x + words.spacing * {"start": 0.0, "middle": 0.5, "end": 1.0}[words.align], put)
    turned = f"rotate({written(words.turn, 4)} {x} {y})" if words.turn else ""
    transform = " ".join(filter(None, [view.transform, turned]))
    kerning = f"font-kerning:{'normal' if words.kerning else 'none'}"
    style = [kerning, "white-space:pre"] + ["font-style:italic"] * words.italic + ["font-weight:bold"] * words.bold
    parts = [
        f' transform="{transform}"' if transform else "",
        f' x="{begin}" y="{y}" font-family="{escape(words.family)}, serif" font-size="{written(words.size, put)}"',
        f' text-anchor="{words.align}"' if words.align != "start" else "",
        f' letter-spacing="{written(words.spacing, put)}"' if words.spacing else "",
        f' style="{";".join(style)}"',
    ]
    return "".join(parts)


def path_data_on_sheet(outline: Outline, matrix: FloatArray, longer: float) -> str:
    """An outline under a map, as the `d` of a path."""
    return svg_path(outline.transformed(tuple(matrix)), places_for(longer))  # type: ignore[arg-type]


def box_in_view(box: FloatArray, matrix: FloatArray) -> FloatArray:
    """A box on the sheet as a box in the coordinates of a view, which holds it."""
    back = Affine(*matrix.tolist()).inverse()
    if back is None:
        return np.zeros(4)
    corners = transformed(np.stack([box[[0, 2, 0, 2]], box[[1, 1, 3, 3]]], axis=1), np.array(back))
    return np.concatenate([corners.min(axis=0), corners.max(axis=0)])


def _is_one_line(outline: Outline) -> bool:
    """Whether it is straight lines from point to point, without a break."""
    straight = outline.verbs[1:-1] if outline.closed else outline.verbs[1:]
    return bool(len(outline.verbs) and outline.verbs[0] == MOVE and (straight == LINE).all())


def shape_of(drawing: Drawing, mark: Mark) -> Outline:
    """The outline of any mark, in the coordinates of its view."""
    (x, y, u, v), kind = mark.place, mark.kind
    unit = KINDS[kind].unit
    if unit is None:
        outline = drawing.outlines[mark.outline]
        return outline.moved(x, y) if x or y else outline
    if kind == LINE_SEGMENT:
        return known(unit.verbs, np.array([(x, y), (u, v)]))
    return unit.transformed(Affine(u, 0.0, 0.0, u if kind == CIRCLE else v, x, y))
