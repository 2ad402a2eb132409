"""What marks cover, found slowly and plainly: by rows of fine lines, each cut exactly where outlines cross it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from mothseed.arrays import FloatArray, PointArray
from mothseed.geometry import Outline
from mothseed.geometry.verbs import CLOSE, CUBIC, LINE, MOVE

_EVEN = 0.9999
"""Cosine of a turn up to which what is swept is a triangle as well as a sector."""
_SMOOTH = 0.98
"""Cosine of a turn from which on two curves go on into each other: what is swept there lies on both sides."""
_SAME = 1e-9
LINES = 64
"""Lines in a row of pixels: what is level in a pixel is told within a 128th of it."""
_FINE = 4
"""Chords of a curve to the pixel."""


def covered(
    contours: Sequence[PointArray], width: int, height: int, *, even_odd: bool = False, lines: int = LINES
) -> FloatArray:
    """How much of each pixel closed contours cover by a winding rule, (height, width): 0 to 1."""
    starts = np.concatenate(contours)
    ends = np.concatenate([np.roll(contour, -1, axis=0) for contour in contours])
    upright = starts[:, 1] != ends[:, 1]
    starts, ends = starts[upright], ends[upright]
    result = np.zeros((height, width))
    for row in range(height):
        near = (np.minimum(starts[:, 1], ends[:, 1]) < row + 1) & (np.maximum(starts[:, 1], ends[:, 1]) > row)
        if near.any():
            result[row] = _row(starts[near], ends[near], row, width, even_odd, lines)
    return result


def _row(starts: PointArray, ends: PointArray, row: int, width: int, even_odd: bool, lines: int) -> FloatArray:
    lefts, rights = [], []
    for line in range(lines):
        y = row + (line + 0.5) / lines
        crossing = (starts[:, 1] <= y) != (ends[:, 1] <= y)
        (x1, y1), (x2, y2) = starts[crossing].T, ends[crossing].T
        x = x1 + (y - y1) * (x2 - x1) / (y2 - y1)
        order = np.argsort(x, kind="stable")
        x, winding = x[order], np.cumsum(np.where(y2 > y1, 1, -1)[order])
        inside = (winding % 2 == 1) if even_odd else winding != 0
        lefts.append(x[:-1][inside[:-1]])
        rights.append(x[1:][inside[:-1]])
    return (_left_of(np.concatenate(rights), width) - _left_of(np.concatenate(lefts), width)) / lines


def _left_of(x: FloatArray, width: int) -> FloatArray:
    """How much of each pixel of a row lies left of some places, added up."""
    x = np.clip(x, 0, width)
    cell = np.minimum(x.astype(np.int64), width - 1)
    part = np.bincount(cell, x - cell, width)
    whole = np.bincount(cell, minlength=width)[::-1].cumsum()[::-1]
    result: FloatArray = part + np.append(whole[1:], 0)
    return result


_EVEN = 0.9999
"""Cosine of a turn up to which what is swept is a triangle as well as a sector."""
_SMOOTH = 0.98
"""Cosine of a turn from which on two curves go on into each other: what is swept there lies on both sides."""


class Turn(NamedTuple):
    """A point of a line where it turns at once: its number, the directions before and after, and whether a curve does so."""

    place: int
    before: PointArray
    after: PointArray
    in_curve: bool


class FineLine(NamedTuple):
    """A subpath as many short lines."""

    points: PointArray
    turns: list[Turn]
    ends: tuple[PointArray, PointArray]
    """the directions in which it begins and ends"""
    closed: bool


class _Piece(NamedTuple):
    points: PointArray
    begins: PointArray
    ends: PointArray


def lines_of(outline: Outline, half: float) -> list[FineLine]:
    """Each subpath as a line that is fine for a stroke of that half width."""
    result = []
    for verbs, points in outline.subpaths():
        pieces: list[_Piece] = []
        place = 0
        for verb in verbs.tolist():
            if verb == MOVE:
                last = first = points[0]
                place = 1
            elif verb == LINE:
                pieces += _piece(np.array([last, points[place]]), 1)
                last, place = points[place], place + 1
            elif verb == CUBIC:
                controls = np.array([last, *points[place : place + 3]])
                length = float(np.linalg.norm(np.diff(controls, axis=0), axis=1).sum())
                pieces += _piece(controls, math.ceil(_FINE * (length + 4 * half)) + 16)
                last, place = points[place + 2], place + 3
        closed = bool(verbs[-1] == CLOSE)
        if closed and np.linalg.norm(last - first) > _SAME:
            pieces += _piece(np.array([last, first]), 1)
        if pieces:
            result.append(_joined(pieces, closed))
    return result


def _piece(controls: PointArray, chords: int) -> list[_Piece]:
    """A line or a curve; none where it has no length."""
    apart = controls[np.linalg.norm(controls - controls[0], axis=1) > _SAME]
    if not len(apart):
        return []
    t = np.linspace(0, 1, chords + 1)[:, None]
    most = len(controls) - 1
    weights = [math.comb(most, k) * t**k * (1 - t) ** (most - k) for k in range(most + 1)]
    points = np.sum([weight * control for weight, control in zip(weights, controls, strict=True)], axis=0)
    kept = np.concatenate([[True], np.linalg.norm(np.diff(points, axis=0), axis=1) > _SAME])
    before_end = controls[np.linalg.norm(controls - controls[-1], axis=1) > _SAME][-1]
    return [_Piece(points[kept], _unit(apart[0] - controls[0]), _unit(controls[-1] - before_end))]


def _joined(pieces: list[_Piece], closed: bool) -> FineLine:
    line, turns = [pieces[0].points], []
    count = len(pieces[0].points)
    for before, after in pairwise(pieces):
        turns += _turns_at(count - 1, before, after)
        line.append(after.points[1:])
        count += len(after.points) - 1
    if closed:
        turns += _turns_at(0, pieces[-1], pieces[0])
    else:
        turns += _turns_at(count - 1, pieces[-1], None) + _turns_at(0, None, pieces[0])
    return FineLine(np.concatenate(line), turns, (pieces[0].begins, pieces[-1].ends), closed)


def _turns_at(place: int, before: _Piece | None, after: _Piece | None) -> list[Turn]:
    """Where two pieces meet, and what they turn between their last chord and their end."""
    turns = []
    if before is not None:
        turns.append(Turn(place, _unit(before.points[-1] - before.points[-2]), before.ends, True))
    if after is not None:
        turns.append(Turn(place, after.begins, _unit(after.points[1] - after.points[0]), True))
    if before is not None and after is not None:
        turns.append(Turn(place, before.ends, after.begins, bool(before.ends @ after.begins > _SMOOTH)))
    return turns


def _unit(step: PointArray) -> PointArray:
    result: PointArray = step / np.linalg.norm(step)
    return result


def stroke_contours(outline: Outline, stroke_width: float, cap: str = "butt", join: str = "miter") -> list[PointArray]:
    """What a stroke covers, as convex contours that all turn one way: a box for each bit of the line, its joins and caps."""
    half = stroke_width / 2
    contours: list[PointArray] = []
    for line, turns, ends, closed in lines_of(outline, half):
        steps = np.diff(line, axis=0)
        along = steps / np.linalg.norm(steps, axis=1)[:, None]
        across = half * np.stack([-along[:, 1], along[:, 0]], axis=1)
        contours += list(np.stack([line[:-1] + across, line[1:] + across, line[1:] - across, line[:-1] - across], axis=1))
        met = {turn.place for turn in turns}
        bends = [Turn(at, along[at - 1], along[at], True) for at in range(1, len(line) - 1) if at not in met]
        for at, before, after, in_curve in (*bends, *turns):
            contours += _join(line[at], before, after, half, join if not in_curve else _of_curve(before, after))
            if in_curve:
                contours += _join(line[at], after, before, half, _of_curve(before, after))
        if not closed:
            contours += _cap(line[0], -ends[0], half, cap) + _cap(line[-1], ends[1], half, cap)
    return [_turned_one_way(contour) for contour in contours]


def _of_curve(before: PointArray, after: PointArray) -> str:
    """What is swept where a curve turns: a sector, or a triangle where nobody could tell."""
    return "bevel" if before @ after > _EVEN else "round"


def _join(at: PointArray, before: PointArray, after: PointArray, half: float, join: str) -> list[PointArray]:
    cross, dot = before[0] * after[1] - before[1] * after[0], float(before @ after)
    side = -1.0 if cross > 0 else 1.0
    if join == "round":
        start, turn = math.atan2(side * before[0], -side * before[1]), math.atan2(cross, dot)
        angles = start + turn * np.linspace(0, 1, 200)
        return [np.concatenate([at[None], at + half * np.stack([np.cos(angles), np.sin(angles)], axis=1)])]
    first, second = (at + half * side * np.array([-each[1], each[0]]) for each in (before, after))
    # A miter is as long as 4 half widths at most, else it is cut off: stroke-miterlimit of SVG.
    if join == "miter" and 1 / max(math.sqrt(max((1 + dot) / 2, 1e-12)), 1e-9) <= 4:
        middle = (first + second) / 2 - at
        return [np.array([at, first, at + middle * (half**2 / float(middle @ middle)), second])]
    return [np.array([at, first, second])]


def _cap(at: PointArray, out: PointArray, half: float, cap: str) -> list[PointArray]:
    if cap == "round":
        # A half circle: where a line turns back at once, not what lies on its other side.
        start = math.atan2(-out[0], out[1])
        angles = start + math.pi * np.linspace(0, 1, 128)
        return [at + half * 1.0001 * np.stack([np.cos(angles), np.sin(angles)], axis=1)]
    if cap == "square":
        side = half * np.array([-out[1], out[0]])
        return [np.array([at + side, at + side + half * out, at - side + half * out, at - side])]
    return []


def _turned_one_way(contour: PointArray) -> PointArray:
    x, y = contour.T
    area = float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum())
    return contour if area >= 0 else contour[::-1]


def worst_patch(ours: FloatArray, truth: FloatArray, side: int = 12) -> float:
    """The mean difference, in levels, of the patch of so many pixels that is farthest off; patches overlap by half."""
    apart = np.abs(ours - truth) * 255
    height, width = (max(length, side) for length in apart.shape)
    padded = np.zeros((height, width))
    padded[: apart.shape[0], : apart.shape[1]] = apart
    sums = np.pad(padded.cumsum(axis=0).cumsum(axis=1), ((1, 0), (1, 0)))
    patches = sums[side:, side:] - sums[:-side, side:] - sums[side:, :-side] + sums[:-side, :-side]
    return float(patches.max()) / side**2
