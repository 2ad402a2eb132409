"""Boolean operations on outlines, growing and shrinking.

Curves become polygons of fine chords on a grid too fine to notice, which pyclipper clips by the algorithm of Vatti, "A
generic solution to polygon clipping", 1992.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING

import numpy as np

from mothseed.arrays import PointArray
from mothseed.checks import finite, one_of
from mothseed.faults import SketchError
from mothseed.geometry.lengths import loops_of
from mothseed.geometry.outline import Outline, all_joined, through
from mothseed.geometry.trail import Trail, as_outline

if TYPE_CHECKING:
    Paths = Sequence[Sequence[Sequence[int]]]

_BITS = 45
"""Bits of a coordinate on the grid: as many as leave room for products of two."""
_FINEST = 1000
"""The largest power of two in use, near the limit of floats."""
_MITER_LIMIT = 4.0
_ARC = 1e-3
"""How far the chords of a round corner may lie from it, relative to the distance by which an outline is grown."""
JOINS = ("miter", "round", "bevel")


def combined(first: Outline, given: Outline | Trail | Iterable[object], way: str) -> Outline:
    """What lies in either outline ("union"), in both ("intersection"), only in the first ("difference"), or in exactly one of
    them ("exclusion"): straight lines, with holes running opposite to what surrounds them.
    """
    import pyclipper

    second = as_outline(given, way, f"write wing.{way}(Outline.circle(50, 40, 20))", closed=True)
    ways = {
        "union": pyclipper.CT_UNION,
        "intersection": pyclipper.CT_INTERSECTION,
        "difference": pyclipper.CT_DIFFERENCE,
        "exclusion": pyclipper.CT_XOR,
    }
    loops, others = loops_of(first), loops_of(second)
    scale = _scale([*loops, *others])
    clipper = pyclipper.Pyclipper()
    for each, kind in ((loops, pyclipper.PT_SUBJECT), (others, pyclipper.PT_CLIP)):
        for path in _on_grid(each, scale):
            if len(path) > 2:
                clipper.AddPath(path, kind, True)
    try:
        paths = clipper.Execute(ways[way], pyclipper.PFT_NONZERO, pyclipper.PFT_NONZERO)
    except pyclipper.ClipperException:  # nothing from nothing
        paths = []
    return _off_grid(paths, scale)


def united(given: Iterable[Outline | Trail | Iterable[object]]) -> Outline:
    """What lies in any of some outlines: straight lines, with holes running opposite to what surrounds them."""
    import pyclipper

    hint = "write Outline.united([wing, body])"
    outlines = [loops_of(as_outline(each, "united", hint, closed=True)) for each in given]
    scale = _scale([loop for loops in outlines for loop in loops])
    # Each by itself first: its winding must not cancel that of another.
    paths = [path for loops in outlines for path in _simple(loops, scale)]
    return _off_grid(pyclipper.SimplifyPolygons(paths, pyclipper.PFT_POSITIVE) if paths else [], scale)


def _simple(loops: Sequence[PointArray], scale: float) -> Paths:
    """Loops on the grid as paths that do not cross, with what they wind around on one side."""
    import pyclipper

    paths: Paths = pyclipper.SimplifyPolygons(_on_grid(loops, scale), pyclipper.PFT_NONZERO) if loops else []
    return paths


def grown(outline: Outline, distance: float, join: str) -> Outline:
    """The inside of an outline and everything within a distance of it, or the inside less a margin if the distance is
    negative. It never crosses itself. Raises SketchError for a distance that is not finite, and for a join that SVG does not
    have.
    """
    import pyclipper

    finite("grown", distance=distance)
    one_of("grown", "join", join, JOINS)
    loops = loops_of(outline)
    scale = _scale(loops, abs(distance))
    paths = _simple(loops, scale)
    joins = {"miter": pyclipper.JT_MITER, "round": pyclipper.JT_ROUND, "bevel": pyclipper.JT_SQUARE}
    arc = max(abs(distance) * scale * _ARC, 0.25)
    offset = pyclipper.PyclipperOffset(_MITER_LIMIT, arc)
    offset.AddPaths(paths, joins[join], pyclipper.ET_CLOSEDPOLYGON)
    return _off_grid(offset.Execute(distance * scale) if len(paths) else [], scale)


def _scale(loops: Sequence[PointArray], more: float = 0.0) -> float:
    """Steps of the grid per unit: a power of two, so that points come back unchanged."""
    largest = max((float(np.abs(points).max()) for points in loops), default=0.0) + 4 * more
    if not largest < math.ldexp(1.0, 900):
        raise SketchError("the outline is too large to be put together with another")
    return math.ldexp(1.0, min(_BITS - math.frexp(largest)[1], _FINEST))


def _on_grid(loops: Sequence[PointArray], scale: float) -> list[list[list[int]]]:
    return [np.rint(points * scale).astype(np.int64).tolist() for points in loops]


def _off_grid(paths: Paths, scale: float) -> Outline:
    return all_joined(through(np.array(path, np.float64) / scale, closed=True) for path in paths)
