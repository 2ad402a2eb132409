"""The marks at a point of a picture, from top to bottom."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from mothseed.colour.value import Colour
from mothseed.render.painting import rendered
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.extents import mark_boxes

_LEVELS = 255


@dataclass(frozen=True, slots=True)
class Painting:
    """A mark that paints a point, with the colour it paints there."""

    mark: int
    """its index in the drawing"""
    colour: Colour
    """its colour there; alpha is how much of what lies below is covered"""
    hidden: bool
    """whether marks above cover it completely"""


def lying_at(drawing: Drawing, x: float, y: float, side: float) -> list[Painting]:
    """The marks that paint a square about a point, in sheet units, topmost first. Each is rendered on its own, with its
    layer, clips and shadow.
    """
    boxes = mark_boxes(drawing)
    reach = side / 2
    near = (boxes[:, 0] <= x + reach) & (boxes[:, 2] >= x - reach) & (boxes[:, 1] <= y + reach) & (boxes[:, 3] >= y - reach)
    spot = _spot(drawing, x, y, side)
    found: list[Painting] = []
    covered = False
    for mark in np.flatnonzero(near)[::-1].tolist():
        colour = _colour(replace(spot, marks=spot.marks[mark : mark + 1], order=spot.order[mark : mark + 1]))
        if colour.alpha > 0:
            found.append(Painting(mark, colour, covered))
            covered = covered or colour.alpha == 1
    return found


def colour_at(drawing: Drawing, x: float, y: float, side: float) -> Colour:
    """The colour of a square about a point, in sheet units."""
    return _colour(replace(_spot(drawing, x, y, side), paper=drawing.paper))


def _spot(drawing: Drawing, x: float, y: float, side: float) -> Drawing:
    """The drawing on a transparent sheet the size of the square."""
    views = drawing.views.copy()
    views[:, 4] -= x - side / 2
    views[:, 5] -= y - side / 2
    return replace(drawing, width=side, height=side, views=views, paper=Colour(0.0, 0.0, 0.0, 0.0))


def _colour(spot: Drawing) -> Colour:
    parts = rendered(spot, 1, threads=1)[0, 0] / _LEVELS
    return Colour(*parts.tolist())
