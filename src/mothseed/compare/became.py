"""What changed about a mark for it to become another."""

from __future__ import annotations

import numpy as np

from mothseed.arrays import BoolArray, FloatArray, WholeArray
from mothseed.compare.columns import Resolved, fitted_turns
from mothseed.compare.thresholds import COLOUR, GROWTH, MISFIT, PLACE, TURN
from mothseed.geometry.affine import transformed
from mothseed.sheet.kinds import HAS_OUTLINE

MOVED, TURNED, RESIZED, RESHAPED, RECOLOURED, RESTYLED, REPAINTED, REORDERED = range(8)
CHANGES = ("moved", "turned", "resized", "reshaped", "recoloured", "restyled", "repainted", "reordered")
"""Kinds of change, of which a mark can have several. It is repainted rather than recoloured if a palette changed: each colour
was replaced by the same one wherever it was used.
"""
_BY_ITSELF = REPAINTED
"""How many of them follow from a pair of marks alone."""


def changes_of(first: Resolved, second: Resolved, pairs: WholeArray, misfit: float = MISFIT) -> BoolArray:
    """Which of CHANGES happened to each pair, among those that follow from the pair alone: bool (k, 8).

    An outline that fits the other to within `misfit`, relative to its extent, was turned or resized rather than reshaped.
    """
    changes = np.zeros((len(pairs), len(CHANGES)), np.bool)
    unlike = first.words[pairs[:, 0]] != second.words[pairs[:, 1]]
    changes[unlike, :_BY_ITSELF] = _changes_of_unlike(first, second, pairs[unlike], misfit)
    return changes


def _changes_of_unlike(first: Resolved, second: Resolved, pairs: WholeArray, most: float) -> BoolArray:
    """The same for pairs that are not identical: bool (k, 6)."""
    left, right = pairs.T
    changes = np.zeros((len(pairs), _BY_ITSELF), np.bool)
    longer = max(second.drawing.width, second.drawing.height)
    changes[:, MOVED] = (np.abs(first.centres[left] - second.centres[right]) > PLACE * longer).any(axis=1)
    size, other_size = first.sizes[left], second.sizes[right]
    half = first.half_turns[left]
    turn = np.abs((second.headings[right] - first.headings[left] + half) % (2 * half) - half)
    # A turn that visibly moves no end of a shape is ignored; the map of an outline does not say how far it extends.
    reach = np.where(half < 180, np.radians(turn) * np.maximum(size, other_size), np.inf)
    changes[:, TURNED] = (turn > TURN) & (reach > PLACE * longer)
    changes[:, RESIZED] = _unlike(size, other_size) | _unlike(first.proportions[left], second.proportions[right])
    outlined = HAS_OUTLINE[first.drawing.marks["kind"][left]]
    other = np.flatnonzero(outlined & (first.shapes[left] != second.shapes[right]))
    changes[other[:, None], np.array([TURNED, RESIZED, RESHAPED])] = _outline_changes(first, second, pairs[other], most)
    changes[:, RECOLOURED] = (np.abs(first.colours[left] - second.colours[right]) > COLOUR).any(axis=1)
    styles = np.abs(first.styles[left] - second.styles[right])
    styles[:, 0] /= np.maximum(np.maximum(first.styles[left, 0], second.styles[right, 0]), 1e-300)
    changes[:, RESTYLED] = (styles > GROWTH).any(axis=1)
    return changes


def _unlike(before: FloatArray, after: FloatArray) -> BoolArray:
    return np.abs(after - before) > GROWTH * np.maximum(np.maximum(np.abs(before), np.abs(after)), 1e-300)


def _outline_changes(first: Resolved, second: Resolved, pairs: WholeArray, most: float) -> BoolArray:
    """Whether differing outlines were turned, resized or reshaped: bool (k, 3)."""
    changes = np.zeros((len(pairs), 3), np.bool)
    sides = []
    for side, marks in zip((first, second), pairs.T, strict=True):
        points = [side.drawing.outlines[outline].points for outline in side.drawing.marks["outline"][marks]]
        sides.append((points, side.matrices[marks]))
    (before, before_matrices), (after, after_matrices) = sides
    lengths, others = (np.array([len(points) for points in outlines], np.int64) for outlines in (before, after))
    alike = np.flatnonzero((lengths == others) & (lengths > 0))
    changes[lengths != others, 2] = True
    if len(alike):
        places = [
            transformed(np.concatenate([outlines[row] for row in alike]), np.repeat(matrices[alike], lengths[alike], axis=0))
            for outlines, matrices in ((before, before_matrices), (after, after_matrices))
        ]
        turn, growth, misfit = fitted_turns(places[0], places[1], lengths[alike])
        fits = misfit <= most
        changes[alike] = np.stack([fits & (np.abs(turn) > TURN), fits & (np.abs(growth - 1) > GROWTH), ~fits], axis=1)
    return changes
