"""A drawing prepared for comparison: the place and paint of each mark on the sheet."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from mothseed.arrays import FloatArray, PointArray, WholeArray, WordArray
from mothseed.geometry.affine import are_similarities
from mothseed.geometry.outline import starts_of
from mothseed.geometry.vectors import dots, squares
from mothseed.sheet import Drawing
from mothseed.sheet.extents import lattice_step, mark_centres, mark_matrices, stroke_widths
from mothseed.sheet.form_hash import combined, placed_words, shape_words
from mothseed.sheet.group import chain
from mothseed.sheet.kinds import HAS_OUTLINE, IS_ROUND, LINE_SEGMENT
from mothseed.sheet.style import FILLED, STROKED

_BITS = 20
"""Places are rounded to a millionth of the sheet, as in a fingerprint."""
_LEVELS = 65535
_NOTHING = 1e-300
_ROUND = 1e-6


@dataclass(frozen=True, slots=True, eq=False)
class Resolved:
    """The marks of a drawing in columns, with a row for each mark."""

    drawing: Drawing
    words: WordArray
    """equal for identical marks"""
    shapes: WordArray
    """equal for marks of the same kind and outline, wherever they are"""
    matrices: FloatArray
    """float64 (n, 6): see `mark_matrices`"""
    centres: FloatArray
    """float64 (n, 2), in sheet units"""
    colours: FloatArray
    """float64 (n, 8): fill and stroke, 0 if there is none; for a ramp or picture its number"""
    styles: FloatArray
    """float64 (n, 7): stroke width, opacity, caps, joins, what is painted, number of the finish, number of the layers"""
    headings: FloatArray
    """float64 (n,): rotation of each mark's map in degrees, up to `half_turns`; 0 for circles that are still round"""
    sizes: FloatArray
    """float64 (n,): its scale"""
    proportions: FloatArray
    """float64 (n,): its aspect ratio; negative if it mirrors"""

    @property
    def half_turns(self) -> FloatArray:
        """float64 (n,): the turn after which each mark looks the same, in degrees, halved."""
        return np.where(HAS_OUTLINE[self.drawing.marks["kind"]], 180.0, 90.0)


class Numbering:
    """Numbers for things that are only tested for equality, shared by both drawings."""

    def __init__(self) -> None:
        self._numbers: dict[Any, int] = {}

    def of(self, thing: Any) -> int:
        """The number of a thing, which equal things share."""
        return self._numbers.setdefault(thing, len(self._numbers))


def resolved(drawing: Drawing, numbering: Numbering) -> Resolved:
    """Prepare a drawing; both drawings need the same numbering."""
    marks = drawing.marks
    matrices = mark_matrices(drawing)
    colours = np.zeros((len(marks), 8))
    shades = np.zeros((2, len(marks)))
    for side, (name, flag) in enumerate((("fill", FILLED), ("stroke", STROKED))):
        painted = (marks["painted"] & flag) > 0
        colours[painted, 4 * side : 4 * side + 4] = marks[name][painted]
        numbers = np.array([numbering.of(getattr(finish, name)) for finish in drawing.finishes])
        shades[side] = np.where(painted, numbers[marks["finish"]], numbering.of(None))
    finishes = [numbering.of(finish._replace(fill=None, stroke=None)) for finish in drawing.finishes]
    groups = [numbering.of(_around(drawing, number)) for number in range(len(drawing.groups))]
    styles = np.stack(
        [
            stroke_widths(drawing),
            np.where(marks["painted"] > 0, marks["opacity"], 0.0),
            marks["linecap"],
            marks["linejoin"],
            marks["painted"],
            np.array(finishes)[marks["finish"]],
            np.array(groups)[marks["group"]],
        ],
        axis=1,
    )
    colours[:, [3, 7]] += 2 * shades.T  # alpha never exceeds 1, so no colour is mistaken for a shade
    longer = max(drawing.width, drawing.height)
    shapes = shape_words(drawing, _BITS)
    words = combined(placed_words(shapes, matrices, lattice_step(drawing, _BITS)), np.round(colours * _LEVELS))
    words = combined(words, np.round(styles * np.array([_LEVELS * 16 / longer, _LEVELS, *[1.0] * 5])))
    return Resolved(
        drawing, words, shapes, matrices, mark_centres(drawing, matrices), colours, styles,
        *_turns(marks["kind"], matrices),
    )  # fmt: skip


def _around(drawing: Drawing, number: int) -> tuple[object, ...]:
    """A group and those around it, by their properties rather than their numbers."""
    around: list[object] = []
    for each in chain(drawing.groups, number):
        group = drawing.groups[each]
        if group.is_layer:
            around.append((group.name, group.opacity, group.blend))
        else:
            outline = drawing.outlines[group.outline]
            view = tuple(np.round(drawing.views[group.view], 6).tolist())
            around.append((outline.points.tobytes(), outline.verbs.tobytes(), view, group.even_odd))
    return tuple(around)


def _turns(kind: WholeArray, matrices: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Heading in degrees, scale and aspect ratio of marks of those kinds, from their maps to the sheet: three float64 (n,).
    Headings of marks that look the same after half a turn are from 0 to 180; those of circles that are still round are 0.
    """
    a, b, c, d = matrices[:, :4].T
    segment = kind == LINE_SEGMENT
    across, down = np.hypot(a, b), np.hypot(c, d)
    size = np.where(segment, across, np.sqrt(np.abs(a * d - b * c)))
    proportion = np.where(segment, 1.0, np.copysign(across / np.maximum(down, _NOTHING), a * d - b * c))
    heading = np.degrees(np.arctan2(b, a))
    # Unchanged by half a turn and by reflection: circles, ellipses, rectangles, lines.
    symmetric = ~HAS_OUTLINE[kind]
    proportion = np.where(symmetric, np.abs(proportion), proportion)
    heading = np.where(symmetric, heading % 180, heading)
    is_round = IS_ROUND[kind] & are_similarities(matrices, _ROUND)
    return np.where(is_round, 0.0, heading), size, proportion


def fitted_turns(first: PointArray, second: PointArray, lengths: WholeArray) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Rotation in degrees, scale and misfit of the similarity that best maps each run of points to another: float64 (k,).
    Points are (n, 2), concatenated runs of `lengths` (k,). The misfit is the remaining root mean square distance, relative to
    the extent of the second run. Umeyama, "Least-squares estimation of transformation parameters between two point patterns",
    1991.
    """
    starts = starts_of(lengths)

    def total(values: FloatArray) -> FloatArray:
        result: FloatArray = np.add.reduceat(values, starts)
        return result

    left, right = (points - np.repeat(total(points) / lengths[:, None], lengths, axis=0) for points in (first, second))
    power, extent = (total(squares(points)) for points in (left, right))
    along = total(dots(left, right))
    crosswise = total(left[:, 0] * right[:, 1] - left[:, 1] * right[:, 0])
    # An outline that is a single point has no extent that could grow.
    growth = np.where(power > 0, np.hypot(along, crosswise) / np.maximum(power, _NOTHING), 1.0)
    rest = np.maximum(extent - growth * growth * power, 0.0)
    return np.degrees(np.arctan2(crosswise, along)), growth, np.sqrt(rest / np.maximum(extent, _NOTHING))
