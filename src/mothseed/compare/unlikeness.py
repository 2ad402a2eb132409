"""How much a mark would have to change to become another."""

from __future__ import annotations

from dataclasses import dataclass
from difflib import SequenceMatcher
from functools import lru_cache

import numpy as np

from mothseed.arrays import BoolArray, FloatArray, WholeArray
from mothseed.compare.columns import Resolved
from mothseed.compare.thresholds import COLOUR, GROWTH, PLACE, TURN
from mothseed.sheet.kinds import CIRCLE, ELLIPSE, HAS_OUTLINE, KINDS
from mothseed.sketch.trace import Calls, Origins

NEVER = 1e6
"""Cost between marks of which neither can have become the other."""
_BEGUN, _FULLY = 0.6, 0.4
"""Costs of any change, and of the largest possible change."""
_RESHAPED = 0.8
_ELSEWHERE = 1.5
"""Cost of two marks from lines that have nothing in common."""
_OUTER = 0.25
"""Weight of calling lines relative to the line that draws."""
_FAMILY = np.array([CIRCLE if kind == ELLIPSE else len(KINDS) if HAS_OUTLINE[kind] else kind for kind in range(len(KINDS))])
"""Kinds that can become one another: circle and ellipse, polygon and path."""


@dataclass(frozen=True, slots=True, eq=False)
class Unlikeness:
    """Marks of two drawings, any of which can be compared."""

    first: Resolved
    second: Resolved
    origins: tuple[Origins, Origins]
    sources: FloatArray
    """float64 (s, t): unlikeness of the lines that drew them, 0 to 1, by their numbers in both origins"""

    @classmethod
    def of(cls, first: Resolved, second: Resolved, origins: tuple[Origins, Origins]) -> Unlikeness:
        """All marks of two drawings, and where they come from."""
        return cls(first, second, origins, _unlike_sources(*(side.calls for side in origins)))

    def between(self, rows: WholeArray, columns: WholeArray) -> FloatArray:
        """Cost for marks of the first to have become marks of the second: float64 (k, m).

        0 for identical marks drawn by the same line, about 1 for each change, and NEVER for a circle and a line. Changes
        count half between marks of the same line, so that even a completely changed mark is still recognized.
        """
        first, second = self.first, self.second
        longer = max(second.drawing.width, second.drawing.height)
        across, down = (first.centres[rows, axis, None] - second.centres[None, columns, axis] for axis in (0, 1))
        far = np.hypot(across, down) / longer
        cost = _cost(far > PLACE, 2 * far)
        grown = np.abs(_logarithms(first.sizes[rows])[:, None] - _logarithms(second.sizes[columns])[None])
        wider = np.abs(first.proportions[rows, None] - second.proportions[None, columns])
        wider /= np.maximum(np.abs(first.proportions[rows, None]), 1e-300)
        cost += _cost((grown > GROWTH) | (wider > GROWTH), grown + wider)
        half = first.half_turns[rows, None]
        turn = np.abs((second.headings[None, columns] - first.headings[rows, None] + half) % (2 * half) - half)
        cost += _cost(turn > TURN, turn / half)
        families = [_FAMILY[side.drawing.marks["kind"][marks]] for side, marks in ((first, rows), (second, columns))]
        family = families[0][:, None] == families[1][None]
        outlined = families[0][:, None] == len(KINDS)
        cost += _RESHAPED * (outlined & (first.shapes[rows, None] != second.shapes[None, columns]))
        # A column at a time: eight at once would be copied around in memory.
        for values, others, least in ((first.colours, second.colours, COLOUR), (first.styles, second.styles, GROWTH)):
            apart = np.zeros(cost.shape)
            for one, other in zip(values[rows].T, others[columns].T, strict=True):
                np.maximum(apart, np.abs(one[:, None] - other[None]), out=apart)
            cost += _cost(apart > least, apart)
        source = self.sources[np.ix_(self.origins[0].of_marks[rows], self.origins[1].of_marks[columns])]
        cost = cost * (1 + source) / 2 + _ELSEWHERE * source
        cost[~family] = NEVER
        return cost


def _cost(changed: BoolArray, far: FloatArray) -> FloatArray:
    result: FloatArray = changed * (_BEGUN + _FULLY * np.minimum(far, 1.0))
    return result


def _logarithms(sizes: FloatArray) -> FloatArray:
    result: FloatArray = np.log(np.maximum(sizes, 1e-12))
    return result


def _unlike_sources(first: tuple[Calls, ...], second: tuple[Calls, ...]) -> FloatArray:
    """Unlikeness of the lines of all pairs of calls, 0 to 1: float64 (s, t), with at least one of each. The source of a line
    counts, not its number or file, which change whenever a line is inserted above.
    """
    texts = [[tuple(line.text for line in calls) for calls in side] or [()] for side in (first, second)]
    known = [{text for calls in side for text in calls} for side in texts]
    kept = known[0] & known[1]
    inner, outer = ([[calls[part] for calls in side] for side in texts] for part in (slice(1), slice(1, None)))
    numbers: dict[tuple[str, ...], int] = {}
    outers = [np.array([numbers.setdefault(calls, len(numbers)) for calls in side]) for side in outer]
    lines = [list(dict.fromkeys(side)) for side in inner]
    apart = np.array([[_unlike_lines(one, other, kept) for other in lines[1]] for one in lines[0]])
    places = [np.array([own.index(calls) for calls in side]) for own, side in zip(lines, inner, strict=True)]
    result: FloatArray = (1 - _OUTER) * apart[np.ix_(*places)] + _OUTER * (outers[0][:, None] != outers[1][None])
    return result


def _unlike_lines(one: tuple[str, ...], other: tuple[str, ...], kept: set[str]) -> float:
    """Unlikeness of two lines, each in a tuple that may be empty; identical lines were not edited."""
    if one == other:
        return 0.0
    if not one or not other or one[0] in kept or other[0] in kept:
        return 1.0
    return _edited(one[0], other[0])


@lru_cache(maxsize=4096)
def _edited(one: str, other: str) -> float:
    return 1.0 - SequenceMatcher(None, one, other, autojunk=False).ratio()
