"""Hatching, and lines of varying width."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from mothseed.arrays import FloatArray, PointArray
from mothseed.checks import finite, length
from mothseed.faults import SketchError
from mothseed.geometry.lengths import loops_of, pieces_of
from mothseed.geometry.outline import EMPTY, Outline, all_joined, through
from mothseed.geometry.vectors import differ, distances_along, sizes
from mothseed.geometry.verbs import LINE, MOVE
from mothseed.portable import cosine_and_sine

_MOST_LINES = 1_000_000


def hatched(outline: Outline, spacing: float, turn: float) -> Outline:
    """Parallel lines inside an outline, by the nonzero winding rule, at heading `turn` and `spacing` apart.

    One of them would pass through the origin, so that hatching continues from one outline to its neighbour. Every second line
    runs backwards, as a pen would draw them. Raises SketchError for a spacing that is not above 0, a turn that is not finite,
    and more than a million lines.
    """
    length("hatched", spacing=spacing)
    finite("hatched", turn=turn, hint="angles are in degrees")
    cosine, sine = cosine_and_sine(turn)
    # In a frame in which the lines are horizontal, a step apart.
    level = [
        np.stack([x * cosine + y * sine, (y * cosine - x * sine) / spacing], axis=1)
        for x, y in (points.T for points in loops_of(outline))
    ]
    lines, ends = _level_lines(level)
    if len(lines) == 0:
        return EMPTY
    runs_back = lines % 2 == 1
    ends[runs_back] = ends[runs_back, ::-1]
    # Stretches of a line that runs backwards start from its far end.
    order = np.lexsort((np.where(runs_back, -ends[:, 0], ends[:, 0]), lines))
    along, down = ends[order].ravel(), np.repeat(lines[order] * spacing, 2)
    points = np.stack([along * cosine - down * sine, along * sine + down * cosine], axis=1)
    return Outline(np.tile(np.array([MOVE, LINE], np.uint8), len(lines)), points)


def _level_lines(loops: list[PointArray]) -> tuple[FloatArray, FloatArray]:
    """Stretches at whole-numbered heights that lie inside: the height of each (k,), and where it begins and ends (k, 2)."""
    if not loops:
        return np.zeros(0), np.zeros((0, 2))
    starts = np.concatenate(loops)
    ends = np.concatenate([np.roll(points, -1, axis=0) for points in loops])
    (x1, y1), (x2, y2) = starts.T, ends.T
    low, high = np.ceil(np.minimum(y1, y2)), np.ceil(np.maximum(y1, y2))
    counts = high - low
    if not counts.sum() <= _MOST_LINES:
        raise SketchError("hatched: these are more than a million lines", hint="make the spacing larger")
    number = np.repeat(np.arange(len(starts)), counts.astype(np.int64))
    height = low[number] + np.arange(len(number)) - np.repeat(np.cumsum(counts) - counts, counts.astype(np.int64))
    at = x1[number] + (height - y1[number]) * (x2[number] - x1[number]) / (y2[number] - y1[number])
    order = np.lexsort((at, height))
    height, at, turns = height[order], at[order], np.sign(y2 - y1)[number][order]
    windings = np.cumsum(turns)  # 0 again at the end of each height
    inside = windings != 0
    begins = np.flatnonzero(inside & ~np.concatenate([[False], inside[:-1]]))
    stops = np.flatnonzero(~inside & np.concatenate([[False], inside[:-1]]))
    stretches = np.stack([at[begins], at[stops]], axis=1)
    has_length = stretches[:, 1] > stretches[:, 0]
    return height[begins][has_length], stretches[has_length]


def swelled(outline: Outline, widths: Iterable[float]) -> Outline:
    """The outline of a line of varying width, which changes evenly from each given width to the next. Two widths taper it,
    three swell and taper it. Each piece of an outline goes through all widths; its ends are square, and a closed piece goes
    round from the last width to the first. Raises SketchError for fewer than two widths, and for negative ones.
    """
    try:
        steps = np.array(list(widths), np.float64)
    except (TypeError, ValueError):
        steps = np.full(2, np.nan)
    if steps.ndim != 1 or len(steps) < 2 or not (np.isfinite(steps) & (steps >= 0)).all():
        raise SketchError("swelled: widths are two or more numbers, 0 or above", hint="write line.swelled([0, 2, 0])")
    pieces = [(points, closed) for points, closed in pieces_of(outline) if len(points) > 1]
    if not pieces:
        raise SketchError("swelled: the outline has no length", hint="give it at least two different points")
    return all_joined(_swelled_piece(points, closed, steps) for points, closed in pieces)


def _with_points_at(points: PointArray, fractions: FloatArray) -> PointArray:
    """A polyline with points added at fractions of its length."""
    far = distances_along(points)
    wanted = np.setdiff1d(fractions * far[-1], far)
    places = np.searchsorted(far, wanted)
    more = np.stack([np.interp(wanted, far, points[:, 0]), np.interp(wanted, far, points[:, 1])], axis=1)
    apart = differ(more, points[places - 1]) & differ(more, points[np.minimum(places, len(points) - 1)])
    return np.insert(points, places[apart], more[apart], axis=0)


def _swelled_piece(points: PointArray, closed: bool, widths: FloatArray) -> Outline:
    ring = _with_points_at(np.concatenate([points, points[:1]]) if closed else points, np.linspace(0, 1, len(widths)))
    ways = np.diff(ring, axis=0)
    lengths = sizes(ways)
    ways /= lengths[:, None]
    before = np.concatenate([ways[-1:] if closed else ways[:1], ways])
    after = np.concatenate([ways, ways[:1] if closed else ways[-1:]])
    middle = before + after
    size = sizes(middle)
    middle = np.where(size[:, None] > 1e-9, middle / np.maximum(size, 1e-9)[:, None], after)
    far = np.concatenate([[0.0], np.cumsum(lengths)])
    half = np.interp(far / far[-1], np.linspace(0, 1, len(widths)), widths) / 2
    aside = np.stack([-middle[:, 1], middle[:, 0]], axis=1) * half[:, None]
    left, right = ring - aside, ring + aside
    if not closed:
        return through(np.concatenate([left, right[::-1]]), closed=True)
    return through(left[:-1].copy(), closed=True).joined(through(right[:-1][::-1].copy(), closed=True))
