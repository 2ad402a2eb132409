"""The lines and curves of an outline one by one: lengths, parts, and corners."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from mothseed.arrays import FloatArray, PointArray
from mothseed.checks import finite, is_finite, length
from mothseed.faults import SketchError
from mothseed.geometry.chords import PIECES_OF_CURVE
from mothseed.geometry.lengths import chords_along, nearest_parts, pieces_of
from mothseed.geometry.outline import Bounds, Outline, OutlinePlace, all_joined, through
from mothseed.geometry.trail import Trail, as_outline
from mothseed.geometry.vectors import distances_along, squares
from mothseed.geometry.verbs import CLOSE, CUBIC, LINE, MOVE, POINTS_TAKEN
from mothseed.portable import heading

_PARTS = np.linspace(0.0, 1.0, PIECES_OF_CURVE + 1)


class Segment(NamedTuple):
    """A straight line or a cubic of an outline."""

    points: PointArray
    """float64 (2, 2) or (4, 2): start, control points, end"""
    begins: bool
    """whether a subpath begins with it"""
    closes: bool
    """whether its subpath is closed and ends with it"""


def segments_of(outline: Outline) -> list[Segment]:
    """The lines and curves that have a length, in order, including the line that closes a subpath."""
    result: list[Segment] = []
    for verbs, points in outline.subpaths():
        own: list[PointArray] = []
        place = 0
        for verb in verbs[1:].tolist():
            if verb == CLOSE:
                own.append(points[[place, 0]])
                continue
            taken = POINTS_TAKEN[verb]
            own.append(points[place : place + taken + 1])
            place += taken
        own = [each for each in own if (each != each[0]).any()]
        closes = bool(verbs[-1] == CLOSE)
        result += [Segment(each, n == 0, closes and n == len(own) - 1) for n, each in enumerate(own)]
    return result


def bounds_of(outline: Outline) -> Bounds:
    """The bounding box of an outline's lines and curves; raises SketchError if it is empty."""
    if not len(outline.points):
        raise SketchError("bounds: the outline is empty")
    taken = np.array(POINTS_TAKEN)[outline.verbs]
    ends = np.cumsum(taken) - 1
    on_it = outline.points[ends]
    first = ends[outline.verbs == CUBIC] - 3
    points = np.concatenate([on_it, _extremes(outline.points[first[:, None] + np.arange(4)])])
    return Bounds(*points.min(axis=0).tolist(), *points.max(axis=0).tolist())


def _extremes(cubics: FloatArray) -> PointArray:
    """The points, float64 (n, 2), at which cubics (k, 4, 2) turn back across or down."""
    steps = np.diff(cubics, axis=1)
    # The derivative of each coordinate is a (1 - t)^2 + 2 b t (1 - t) + c t^2, up to a factor.
    a, b, c = steps[:, 0], steps[:, 1], steps[:, 2]
    square, half = a - 2 * b + c, b - a
    root = half * half - square * a
    # Computed without subtracting nearly equal numbers.
    with np.errstate(divide="ignore", invalid="ignore"):
        larger = -(half + np.copysign(np.sqrt(root), half))
        parts = np.stack([larger / square, a / larger])
        turns_back = (parts > 0) & (parts < 1)
    which = np.nonzero(turns_back)[1]
    return _on_curve(cubics[which].transpose(1, 0, 2), parts[turns_back][:, None])


def _on_curve(points: PointArray, t: FloatArray) -> PointArray:
    """The points at t (k, 1) of a line or a cubic, or of one cubic each (4, k, 2)."""
    s = 1 - t
    if len(points) == 2:
        return np.asarray(s * points[0] + t * points[1])
    return np.asarray(s * s * s * points[0] + 3 * s * s * t * points[1] + 3 * s * t * t * points[2] + t * t * t * points[3])


def _distances(points: PointArray) -> FloatArray:
    """Arc lengths from the start of a line or a curve at even steps of t, float64 (k,)."""
    return distances_along(_on_curve(points, _PARTS[:, None]) if len(points) == 4 else points)


def corners_of(outline: Outline) -> tuple[OutlinePlace, ...]:
    """The points where an outline begins and ends, and where its lines and curves meet. Headings are those of SVG markers: in
    between, halfway between the directions of arrival and departure.
    """
    places = []
    for run in _runs(segments_of(outline)):
        closes = run[-1].closes
        for before, after in pairwise([run[-1] if closes else None, *run, *([] if closes else [None])]):
            at = after.points[0] if after is not None else run[-1].points[-1]
            places.append(_corner(at, before, after))
    return tuple(places)


def _runs(segments: Sequence[Segment]) -> list[Sequence[Segment]]:
    """The segments of each subpath."""
    begins = [number for number, segment in enumerate(segments) if segment.begins]
    return [segments[first:last] for first, last in pairwise([*begins, len(segments)])]


def _corner(at: PointArray, before: Segment | None, after: Segment | None) -> OutlinePlace:
    ways = [] if before is None else [-_way(before.points[::-1])]
    ways += [] if after is None else [_way(after.points)]
    middle = np.sum(ways, axis=0)
    if not (middle * middle).sum() > 1e-18:  # it reverses
        middle = ways[-1]
    return _place(at, middle)


def _place(at: PointArray, way: PointArray) -> OutlinePlace:
    return OutlinePlace(float(at[0]), float(at[1]), heading(float(way[0]), float(way[1])))


def _way(points: PointArray) -> PointArray:
    """The unit direction (2,) of a segment at its start."""
    step: PointArray = next(each - points[0] for each in points[1:] if (each != points[0]).any())
    return step / math.sqrt(float((step * step).sum()))


def part_of(outline: Outline, start: float, end: float) -> Outline:
    """The part of an outline between two fractions of its length; curves stay curves. If the end comes before the start, it
    passes through the start of a closed outline of one piece. Raises SketchError for fractions outside 0 to 1, for descending
    ones on any other outline, and for an outline of no length.
    """
    finite("part", start=start, end=end)
    if not (0 <= start <= 1 and 0 <= end <= 1):
        raise SketchError(f"part: fractions are from 0 to 1 (got {start!r} and {end!r})", hint="part(0, 0.5) is the first half")
    segments = segments_of(outline)
    if not segments:
        raise SketchError("part: the outline has no length", hint="give it at least two different points")
    if end > start:
        return _drawn(_cut(segments, start, end))
    if sum(segment.begins for segment in segments) > 1 or not segments[-1].closes:
        raise SketchError(
            f"part: the end comes after the start (got {start!r} and {end!r})",
            hint="only a closed outline of one piece goes round",
        )
    return _drawn([*_cut(segments, start, 1.0), *(each._replace(begins=False) for each in _cut(segments, 0.0, end))])  # a copy


def _cut(segments: Sequence[Segment], start: float, end: float) -> list[Segment]:
    reaches = [_distances(segment.points) for segment in segments]
    ends = np.cumsum([reach[-1] for reach in reaches])
    low, high = start * ends[-1], end * ends[-1]
    result: list[Segment] = []
    for segment, reach, until in zip(segments, reaches, ends.tolist(), strict=True):
        begin = until - reach[-1]
        if until <= low or begin >= high:
            continue
        even = _PARTS if len(segment.points) == 4 else np.array([0.0, 1.0])
        first, last = (float(np.interp(np.clip(at - begin, 0, reach[-1]), reach, even)) for at in (low, high))
        if last > first:
            whole = first == 0 and last == 1
            points = segment.points if whole else _between(segment.points, first, last)
            result.append(Segment(points, segment.begins or not result, segment.closes and whole))
    return result


def _between(points: PointArray, start: float, end: float) -> PointArray:
    """A line or a cubic from one t to another: de Casteljau's algorithm, blossomed at both."""
    if len(points) == 2:
        return _on_curve(points, np.array([[start], [end]]))
    return np.array([_blossom(points, *each) for each in ((start,) * 3, (start, start, end), (start, end, end), (end,) * 3)])


def _blossom(points: PointArray, *parts: float) -> PointArray:
    for t in parts:
        points = points[:-1] + (points[1:] - points[:-1]) * t
    return np.asarray(points[0])


def _drawn(segments: Sequence[Segment]) -> Outline:
    """An outline made of segments; a subpath is closed if all of it is there."""
    verbs: list[int] = []
    points: list[PointArray] = []
    for run in _runs(segments):
        is_whole = run[-1].closes and bool((run[-1].points[-1] == run[0].points[0]).all())
        # Closing it draws its last line.
        drawn = run[:-1] if is_whole and len(run[-1].points) == 2 else run
        verbs += [MOVE, *(CUBIC if len(each.points) == 4 else LINE for each in drawn), *[CLOSE] * is_whole]
        points += [run[0].points[:1], *(each.points[1:] for each in drawn)]
    return Outline(np.array(verbs, np.uint8), np.concatenate(points))


def nearest_to(outline: Outline, x: float, y: float) -> OutlinePlace:
    """The place on an outline nearest to a point, to within a few thousandths of the length of its curve. Raises SketchError
    for a point that is not finite, and for an outline of no length.
    """
    if not (is_finite(x) and is_finite(y)):
        raise SketchError(f"nearest: x and y are finite (got {x!r} and {y!r})")
    chords, lengths = chords_along(outline)
    if not len(lengths):
        raise SketchError("nearest: the outline has no length", hint="give it at least two different points")
    starts, steps = chords[:, 0], chords[:, 1] - chords[:, 0]
    point = np.array([x, y])
    feet = starts + nearest_parts(starts, steps, point)[:, None] * steps
    best = int(np.argmin(squares(feet - point)))
    return _place(feet[best], steps[best])


def continued(first: Outline, given: Outline | Trail | Iterable[object]) -> Outline:
    """Two outlines as one line: from the end of the first straight to the start of the second, unless they meet there."""
    second = as_outline(given, "continued", "write line.continued(smooth(points))", closed=False)
    if not len(first.verbs) or not len(second.verbs):
        return second if not len(first.verbs) else first
    if first.closed:
        raise SketchError("continued: the outline is closed, so it has no end to go on from", hint="write joined(other)")
    meets = bool((first.points[-1] == second.points[0]).all())
    verbs = second.verbs[1:] if meets else np.concatenate([np.array([LINE], np.uint8), second.verbs[1:]])
    return Outline(np.concatenate([first.verbs, verbs]), np.concatenate([first.points, second.points[1 if meets else 0 :]]))


def simplified(outline: Outline, tolerance: float) -> Outline:
    """Straight lines through as few of an outline's points as keep all within the tolerance. Ramer, "An iterative procedure
    for the polygonal approximation of plane curves", 1972. Curves are cut into chords first. Raises SketchError for a
    tolerance that is not above 0.
    """
    length("simplified", tolerance=tolerance)
    pieces = []
    for points, closed in pieces_of(outline):
        # A closed one is cut at the point farthest from its first, so that it has two ends to begin with.
        ends = [0, int(np.argmax(squares(points - points[0]))), len(points)] if closed else [0, len(points) - 1]
        ring = np.concatenate([points, points[:1]]) if closed else points
        kept = sorted({place for first, last in pairwise(ends) for place in _kept(ring, first, last, tolerance)})
        kept = [place for place in kept if place < len(points)]
        pieces.append(through(points[kept], closed=closed and len(kept) > 2))
    return all_joined(pieces)


def _kept(points: PointArray, first: int, last: int, tolerance: float) -> list[int]:
    kept, spans = [first, last], [(first, last)]
    while spans:
        low, high = spans.pop()
        if high - low < 2:
            continue
        along = points[high] - points[low]
        aside = points[low + 1 : high] - points[low]
        part = nearest_parts(points[low], along, points[low + 1 : high])
        away = squares(aside - part[:, None] * along)
        farthest = int(np.argmax(away))
        if away[farthest] > tolerance * tolerance:
            middle = low + 1 + farthest
            kept.append(middle)
            spans += [(low, middle), (middle, high)]
    return kept
