"""Lengths along outlines: points at a fraction, headings, even resampling."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from mothseed.arrays import FloatArray, PointArray
from mothseed.checks import whole
from mothseed.faults import SketchError
from mothseed.geometry.chords import chords_of
from mothseed.geometry.outline import Outline, OutlinePlace, through
from mothseed.geometry.vectors import differ, dots, squares
from mothseed.portable import heading


def length_of(outline: Outline) -> float:
    """The length of all its pieces, gaps between them left out."""
    return float(chords_along(outline)[1].sum())


def places_along(outline: Outline, fractions: FloatArray) -> list[OutlinePlace]:
    """Points of an outline at fractions of its length, from 0 (start) to 1 (end). Raises SketchError for an outline of no
    length.
    """
    ends_of_steps, lengths = chords_along(outline)
    total = lengths.sum()
    if not total > 0:
        raise SketchError("along: the outline has no length", hint="give it at least two different points")
    ends = np.cumsum(lengths)
    places = []
    for fraction in np.clip(fractions, 0.0, 1.0).tolist():
        step = min(int(np.searchsorted(ends, fraction * total, side="left")), len(lengths) - 1)
        part = (fraction * total - (ends[step] - lengths[step])) / lengths[step]
        (ax, ay), (bx, by) = ends_of_steps[step].tolist()
        places.append(OutlinePlace(float(ax + (bx - ax) * part), float(ay + (by - ay) * part), heading(bx - ax, by - ay)))
    return places


def resampled(outline: Outline, count: int) -> Outline:
    """The outline as `count` evenly spaced points, joined by straight lines."""
    count = whole("resampled", "count", count, 2)
    closed = outline.closed
    places = places_along(outline, np.arange(count) / (count if closed else count - 1))
    return through(np.array([(place.x, place.y) for place in places]), closed=closed)


def pieces_of(outline: Outline) -> list[tuple[PointArray, bool]]:
    """The pieces of an outline as polylines without repeated points, and whether each is closed."""
    pieces: list[tuple[PointArray, bool]] = []
    for chords, closed in chords_of(outline).subpaths:
        differs = np.ones(len(chords), np.bool)
        differs[1:] = differ(chords[1:], chords[:-1])
        points = chords[differs]
        if closed and len(points) > 1 and (points[0] == points[-1]).all():
            points = points[:-1]
        pieces.append((points, closed))
    return pieces


def loops_of(outline: Outline) -> list[PointArray]:
    """The pieces that can have an inside, each closed from its last point to its first."""
    return [points for points, _ in pieces_of(outline) if len(points) > 2]


def nearest_parts(starts: PointArray, steps: PointArray, points: PointArray) -> FloatArray:
    """How far along each step, from 0 to 1, the place nearest to a point is; for steps or points (n, 2), or one of either,
    (2,).
    """
    long = squares(steps)
    parts: FloatArray = np.clip(dots(points - starts, steps) / np.where(long > 0, long, 1.0), 0.0, 1.0)
    return parts


@lru_cache(maxsize=64)
def chords_along(outline: Outline) -> tuple[FloatArray, FloatArray]:
    """The chords of an outline that have a length: their ends (n, 2, 2), and lengths (n,). Cached, as places along an outline
    are asked for one by one.
    """
    return chords_of(outline).steps
