"""Outlines as straight chords: for lengths, places along them, and what lies inside."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from mothseed.arrays import BoolArray, FloatArray, PointArray, WholeArray
from mothseed.geometry.outline import Outline
from mothseed.geometry.vectors import sizes
from mothseed.geometry.verbs import CLOSE, CUBIC, MOVE, POINTS_TAKEN

PIECES_OF_CURVE = 64
"""Chords per cubic for measuring; the length is then off by less than one part in ten thousand."""
_PARTS = np.linspace(0.0, 1.0, PIECES_OF_CURVE + 1)[1:, None]
_RESTS = 1.0 - _PARTS
_POINTS_MADE = np.array([1, 1, PIECES_OF_CURVE, 1])
"""By verb: a close returns to the point where the subpath began."""


class Chords(NamedTuple):
    """Subpaths as points, one after another."""

    points: PointArray
    """float64 (n, 2); a closed subpath repeats its first point at the end"""
    counts: WholeArray
    """(k,): the number of points of each subpath"""
    closed: BoolArray
    """(k,): whether it is closed"""

    @property
    def subpaths(self) -> list[tuple[PointArray, bool]]:
        """The points of each subpath, and whether it is closed."""
        runs = np.split(self.points, np.cumsum(self.counts)[:-1]) if len(self.counts) else []
        return list(zip(runs, self.closed.tolist(), strict=True))

    @property
    def steps(self) -> tuple[FloatArray, FloatArray]:
        """The chords that have a length: their ends, float64 (m, 2, 2), and lengths, float64 (m,)."""
        ends = np.stack([self.points[:-1], self.points[1:]], axis=1)
        within = np.ones(len(ends), np.bool)
        within[np.cumsum(self.counts)[:-1] - 1] = False
        lengths = sizes(ends[:, 1] - ends[:, 0])
        kept = within & (lengths > 0)
        return ends[kept], lengths[kept]


def chords_of(outline: Outline) -> Chords:
    """The chords of an outline, each curve cut into `PIECES_OF_CURVE`."""
    verbs, points = outline.verbs, outline.points
    written = verbs.tobytes()
    if CUBIC not in written and written.count(MOVE) == 1:  # a polygon or a polyline, as most outlines that are combined are
        shut = written[-1] == CLOSE
        run = np.concatenate([points, points[:1]]) if shut else points
        return Chords(run, np.array([len(run)]), np.array([shut]))
    made, taken = _POINTS_MADE[verbs], np.array(POINTS_TAKEN)[verbs]
    places, first_points = np.cumsum(made) - made, np.cumsum(taken) - taken
    result = np.empty((int(made.sum()), 2))
    begins = verbs == MOVE
    straight = (verbs != CUBIC) & (verbs != CLOSE)
    result[places[straight]] = points[first_points[straight]]
    subpath = np.cumsum(begins) - 1
    starts = points[first_points[begins]]
    shuts = verbs == CLOSE
    result[places[shuts]] = starts[subpath[shuts]]
    curves = first_points[verbs == CUBIC]
    if len(curves):
        here, one, two, end = (points[curves + number][:, None] for number in (-1, 0, 1, 2))
        s, t = _RESTS, _PARTS
        along = s**3 * here + 3 * s * s * t * one + 3 * s * t * t * two + t**3 * end
        result[places[verbs == CUBIC][:, None] + np.arange(PIECES_OF_CURVE)] = along
    closed = np.zeros(len(starts), np.bool)
    closed[subpath[shuts]] = True
    return Chords(result, np.bincount(subpath, made, len(starts)).astype(np.int64), closed)
