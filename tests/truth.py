"""What marks cover, found slowly and plainly: by rows of fine lines, each cut exactly where outlines cross it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from mothseed.arrays import FloatArray, PointArray
from mothseed.geometry import Outline
from mothseed.geometry.verbs import CLOSE, CUBIC, LINE, MOVE

LINES = 64
"""Lines in a row of pixels: what is level in a pixel is told within a 128th of it."""
_FINE = 4
"""Chords of a curve to the pixel."""


def covered(contours: Sequence[PointArray], width: int, height: int, *, even_odd: bool = False) -> FloatArray:
    """How much of each pixel closed contours cover by a winding rule, (height, width): 0 to 1."""
    starts = np.concatenate(contours)
    ends = np.concatenate([np.roll(contour, -1, axis=0) for contour in contours])
    upright = starts[:, 1] != ends[:, 1]
    starts, ends = starts[upright], ends[upright]
    result = np.zeros((height, width))
    for row in range(height):
        near = (np.minimum(starts[:, 1], ends[:, 1]) < row + 1) & (np.maximum(starts[:, 1], ends[:, 1]) > row)
        if near.any():
            result[row] = _row(starts[near], ends[near], row, width, even_odd)
    return result


def _row(starts: PointArray, ends: PointArray, row: int, width: int, even_odd: bool) -> FloatArray:
    lefts, rights = [], []
    for line in range(LINES):
        y = row + (line + 0.5) / LINES
        crossing = (starts[:, 1] <= y) != (ends[:, 1] <= y)
        (x1, y1), (x2, y2) = starts[crossing].T, ends[crossing].T
        x = x1 + (y - y1) * (x2 - x1) / (y2 - y1)
        order = np.argsort(x, kind="stable")
        x, winding = x[order], np.cumsum(np.where(y2 > y1, 1, -1)[order])
        inside = (winding % 2 == 1) if even_odd else winding != 0
        lefts.append(x[:-1][inside[:-1]])
        rights.append(x[1:][inside[:-1]])
    return (_left_of(np.concatenate(rights), width) - _left_of(np.concatenate(lefts), width)) / LINES


def _left_of(x: FloatArray, width: int) -> FloatArray:
    """How much of each pixel of a row lies left of some places, added up."""
    x = np.clip(x, 0, width)
    cell = np.minimum(x.astype(np.int64), width - 1)
    part = np.bincount(cell, x - cell, width)
    whole = np.bincount(cell, minlength=width)[::-1].cumsum()[::-1]
    result: FloatArray = part + np.append(whole[1:], 0)
    return result


_SMOOTH = 0.98
"""Cosine of a turn from which on two curves go on into each other: what is swept there lies on both sides."""
Corner = tuple[int, PointArray, PointArray]
"""A point of a line where it turns at once: its number, and the directions before and after it."""


def lines_of(outline: Outline, half: float) -> list[tuple[PointArray, list[Corner], bool]]:
    """Each subpath as a line that is fine for a stroke that wide, with its corners, and whether it is closed."""
    result = []
    for verbs, points in outline.subpaths():
        pieces: list[PointArray] = []
        place = 0
        for verb in verbs.tolist():
            if verb == MOVE:
                last = first = points[0]
                place = 1
            elif verb == LINE:
                pieces.append(np.array([last, points[place]]))
                last, place = points[place], place + 1
            elif verb == CUBIC:
                controls = np.array([last, *points[place : place + 3]])
                length = float(np.linalg.norm(np.diff(controls, axis=0), axis=1).sum())
                chords = math.ceil(_FINE * (length + 4 * half)) + 16
                t = np.linspace(0, 1, chords + 1)[:, None]
                weights = [math.comb(3, k) * t**k * (1 - t) ** (3 - k) for k in range(4)]
                pieces.append(np.sum([weight * control for weight, control in zip(weights, controls, strict=True)], axis=0))
                last, place = points[place + 2], place + 3
        closed = bool(verbs[-1] == CLOSE)
        if closed and np.linalg.norm(last - first) > 1e-9:
            pieces.append(np.array([last, first]))
        result.append(_joined([piece for piece in map(_different, pieces) if len(piece) > 1], closed))
    return result


def _different(points: PointArray) -> PointArray:
    """The points without those that lie on the one before."""
    kept = np.concatenate([[True], np.linalg.norm(np.diff(points, axis=0), axis=1) > 1e-9])
    result: PointArray = points[kept]
    return result


def _joined(pieces: list[PointArray], closed: bool) -> tuple[PointArray, list[Corner], bool]:
    line, corners = [pieces[0]], []
    count = len(pieces[0])
    for before, after in pairwise(pieces):
        corners.append((count - 1, _direction(before[-2:]), _direction(after[:2])))
        line.append(after[1:])
        count += len(after) - 1
    if closed:
        corners.append((0, _direction(pieces[-1][-2:]), _direction(pieces[0][:2])))
    return np.concatenate(line), corners, closed


def _direction(pair: PointArray) -> PointArray:
    step = pair[1] - pair[0]
    result: PointArray = step / np.linalg.norm(step)
    return result


def stroke_contours(outline: Outline, stroke_width: float, cap: str = "butt", join: str = "miter") -> list[PointArray]:
    """What a stroke covers, as convex contours that all turn one way: a box for each bit of the line, its joins and caps."""
    half = stroke_width / 2
    contours: list[PointArray] = []
    for line, corners, closed in lines_of(outline, half):
        steps = np.diff(line, axis=0)
        along = steps / np.linalg.norm(steps, axis=1)[:, None]
        across = half * np.stack([-along[:, 1], along[:, 0]], axis=1)
        contours += list(np.stack([line[:-1] + across, line[1:] + across, line[1:] - across, line[:-1] - across], axis=1))
        # Between two bits of a curve the line turns a little: what it sweeps there on either side.
        bends = set(range(1, len(line) - 1)) - {place for place, _, _ in corners}
        for place in bends:
            for side in (across, -across):
                contours.append(np.array([line[place], line[place] + side[place - 1], line[place] + side[place]]))
        for place, before, after in corners:
            contours += _join(line[place], before, after, half, join)
            if before @ after > _SMOOTH:
                contours += [contour[::-1] for contour in _join(line[place], -after, -before, half, "bevel")]
        if not closed:
            contours += _cap(line[0], -along[0], half, cap) + _cap(line[-1], along[-1], half, cap)
    return [_turned_one_way(contour) for contour in contours]


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
        return [_disc(at, half)]
    if cap == "square":
        side = half * np.array([-out[1], out[0]])
        return [np.array([at + side, at + side + half * out, at - side + half * out, at - side])]
    return []


def _disc(at: PointArray, radius: float) -> PointArray:
    angles = np.arange(256) * (2 * np.pi / 256)
    # As large as the disc itself, to within a part in a hundred thousand.
    return at + radius * 1.0001 * np.stack([np.cos(angles), np.sin(angles)], axis=1)


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
