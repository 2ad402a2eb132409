"""Lengths along outlines: points at a fraction, headings, even resampling, bounds."""

from __future__ import annotations

from itertools import pairwise
from typing import NamedTuple

import numpy as np

from mothseed.arrays import FloatArray, PointArray
from mothseed.errors import SketchError
from mothseed.geometry.outline import CLOSE, CUBIC, MOVE, Outline, through
from mothseed.portable import heading

_PIECES_OF_CURVE = 64
"""Chords that a cubic is measured by; its length is then off by less than one part in ten thousand."""


class OutlinePlace(NamedTuple):
    """A point of an outline, and the heading in which it goes on from there."""

    x: float
    y: float
    heading: float


def length_of(outline: Outline) -> float:
    """The length of all its pieces, gaps between them left out."""
    return float(_steps(outline)[1].sum())


def bounds_of(outline: Outline) -> tuple[float, float, float, float]:
    """Left, top, right, bottom of the curve itself; raises SketchError for an outline without points."""
    points = _steps(outline)[2]
    if len(points) == 0:
        raise SketchError("bounds: the outline is empty")
    return (*points.min(axis=0).tolist(), *points.max(axis=0).tolist())


def places_along(outline: Outline, fractions: FloatArray) -> list[OutlinePlace]:
    """Where an outline is at fractions of its length, 0 its start and 1 its end.

    Raises SketchError for an outline of no length.
    """
    starts, lengths, _ = _steps(outline)
    total = lengths.sum()
    if not total > 0:
        raise SketchError("along: the outline has no length", hint="give it at least two different points")
    ends = np.cumsum(lengths)
    places = []
    for fraction in np.clip(fractions, 0.0, 1.0).tolist():
        step = min(int(np.searchsorted(ends, fraction * total, side="left")), len(lengths) - 1)
        part = (fraction * total - (ends[step] - lengths[step])) / lengths[step]
        (ax, ay), (bx, by) = starts[step].tolist()
        places.append(OutlinePlace(ax + (bx - ax) * part, ay + (by - ay) * part, heading(bx - ax, by - ay)))
    return places


def resampled(outline: Outline, count: int) -> Outline:
    """The outline as `count` points evenly along it, joined by straight lines."""
    if not (isinstance(count, int) and count >= 2):
        raise SketchError(f"resampled: count is a whole number from 2 on (got {count!r})")
    closed = outline.closed
    places = places_along(outline, np.arange(count) / (count if closed else count - 1))
    return through(np.array([(place.x, place.y) for place in places]), closed=closed)


def pieces_of(outline: Outline) -> list[tuple[PointArray, bool]]:
    """The pieces of an outline as polylines, no point equal to the one before, and whether each is closed."""
    pieces = []
    starts = np.flatnonzero(outline.verbs == MOVE).tolist()
    place = 0
    for first, last in pairwise([*starts, len(outline.verbs)]):
        verbs = outline.verbs[first:last]
        count = int(np.choose(verbs, [1, 1, 3, 0]).sum())
        _, _, points = _steps(Outline(verbs.copy(), outline.points[place : place + count].copy()))
        place += count
        closed = bool(verbs[-1] == CLOSE)
        differs = np.ones(len(points), np.bool)
        differs[1:] = (points[1:] != points[:-1]).any(axis=1)
        points = points[differs]
        if closed and len(points) > 1 and (points[0] == points[-1]).all():
            points = points[:-1]
        pieces.append((points, closed))
    return pieces


def _steps(outline: Outline) -> tuple[PointArray, FloatArray, PointArray]:
    """Short straight steps along an outline: their ends (n, 2, 2), those of no length left out, lengths (n,), all points."""
    runs: list[PointArray] = []
    steps: list[PointArray] = []
    place = 0
    start = here = np.zeros(2)
    for verb in outline.verbs.tolist():
        if verb == MOVE:
            start = here = outline.points[place]
            runs.append(here[None, :])
            place += 1
            continue
        if verb == CLOSE:
            line = np.stack([here, start])
        elif verb == CUBIC:
            t = np.linspace(0.0, 1.0, _PIECES_OF_CURVE + 1)[:, None]
            s = 1.0 - t
            first, second, third = outline.points[place : place + 3]
            line = s**3 * here + 3 * s * s * t * first + 3 * s * t * t * second + t**3 * third
            place += 3
        else:
            line = np.stack([here, outline.points[place]])
            place += 1
        steps.append(np.stack([line[:-1], line[1:]], axis=1))
        runs.append(line[1:])
        here = line[-1]
    if not steps:
        return np.zeros((0, 2, 2)), np.zeros(0), np.concatenate(runs) if runs else np.zeros((0, 2))
    ends = np.concatenate(steps)
    across, down = (ends[:, 1] - ends[:, 0]).T
    lengths = np.sqrt(across * across + down * down)
    return ends[lengths > 0], lengths[lengths > 0], np.concatenate(runs)
