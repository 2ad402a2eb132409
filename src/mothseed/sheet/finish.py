"""Paint that few marks have: ramps, pictures, dashes, blending, shadows. Marks refer to it by number."""

from __future__ import annotations

import math
from typing import NamedTuple

from mothseed.checks import from_nothing, is_finite
from mothseed.colour.placed import Picture
from mothseed.colour.ramp import Ramp
from mothseed.colour.value import Colour, as_colour
from mothseed.faults import SketchError
from mothseed.spellings import also_spelled
from mothseed.values import fixed


@fixed("make another: soft_shadow(2, 3)")
class Shadow(NamedTuple):
    """A soft shadow: how far it falls, how soft its edge is, and its colour. The sheet's light says which way it falls."""

    distance: float
    blur: float
    colour: Colour
    opacity: float

    @property
    def deviation(self) -> float:
        """The standard deviation of its blur: as with CSS half of it, so that the edge spreads over the blur to either side."""
        return self.blur * 0.5


@also_spelled(color="colour")
def soft_shadow(distance: float, blur: float, colour: object = "#000000", opacity: float = 0.35) -> Shadow:
    """A shadow that falls `distance` away, in sheet units, with an edge blurred over about `blur` to either side.

    Give it to shapes and styles as `shadow=soft_shadow(2, 3)`. Raises SketchError for lengths that are negative or not
    finite, and for an opacity outside 0 to 1.
    """
    from_nothing("soft_shadow", distance=distance, blur=blur)
    if not (is_finite(opacity) and 0 <= opacity <= 1):
        raise SketchError(f"soft_shadow: opacity must be a number from 0 to 1 (got {opacity!r})")
    return Shadow(float(distance), float(blur), as_colour(colour), float(opacity))


SHADES = (Ramp, Picture)
"""Kinds of paint other than a single colour."""


class Finish(NamedTuple):
    """The rarely used part of a style."""

    fill: Ramp | Picture | None = None
    stroke: Ramp | Picture | None = None
    dash: tuple[float, ...] | None = None
    blend: str = "normal"
    shadow: Shadow | None = None


def is_none(value: object) -> bool:
    """Whether paint is none, in Python's word or SVG's."""
    return value is None or (isinstance(value, str) and value == "none")


def checked_dash(value: object) -> tuple[float, ...] | None:
    """Dash and gap lengths of a stroke, in units of the view; an odd number of them is repeated."""
    if is_none(value):
        return None
    parts = value.replace(",", " ").split() if isinstance(value, str) else value  # as SVG writes them: "4 2"
    try:
        lengths = tuple(float(length) for length in parts)  # type: ignore[attr-defined]
    except (TypeError, ValueError):
        lengths = ()
    if not (lengths and all(0 <= length < math.inf for length in lengths) and sum(lengths) > 0):
        raise SketchError(f"dash is on and off lengths, 0 or more, not all 0 (got {value!r})", hint="write dash=(3, 2)")
    return lengths * 2 if len(lengths) % 2 else lengths
