"""What changed from one drawing to another, shape by shape."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

import numpy as np

from mothseed.arrays import BoolArray, FloatArray, WholeArray
from mothseed.colour import Colour
from mothseed.compare.columns import Numbering, Resolved, fitted_turns, resolved
from mothseed.compare.matching import matched
from mothseed.compare.reordered import reordered
from mothseed.compare.repainted import repainting
from mothseed.compare.thresholds import COLOUR, GROWTH, MISFIT, PLACE, TURN
from mothseed.geometry.affine import transformed
from mothseed.sheet import Drawing
from mothseed.sheet.kinds import HAS_OUTLINE
from mothseed.sketch.perform import Impression
from mothseed.sketch.trace import Line, Origins, drawing_lines

MOVED, TURNED, RESIZED, RESHAPED, RECOLOURED, RESTYLED, REPAINTED, REORDERED = range(8)
CHANGES = ("moved", "turned", "resized", "reshaped", "recoloured", "restyled", "repainted", "reordered")
"""What can happen to a mark; several of them at once. It is repainted, and not recoloured, where a palette was changed: each of
its colours became the same one wherever that was used.
"""
_BY_ITSELF = REPAINTED
"""How many of them are told from a pair of marks alone."""


@dataclass(frozen=True, slots=True, eq=False)
class ShapeChanges:
    """Two drawings, which mark of one is which of the other, and what became of it."""

    first: Drawing
    second: Drawing
    origins: tuple[Origins, Origins]
    same: WholeArray
    """int64 (s, 2): marks that are alike in both, as indices of the first and the second"""
    pairs: WholeArray
    """int64 (k, 2): marks that were changed"""
    changes: BoolArray
    """bool (k, 8): which of CHANGES"""
    palette: tuple[tuple[Colour, Colour], ...]
    """colours that became others wherever they were used, what each was and is now"""
    removed: WholeArray
    """int64 (r,): indices of the first"""
    added: WholeArray
    """int64 (a,): indices of the second"""
    centres: tuple[FloatArray, FloatArray]
    """float64 (n, 2) of each drawing: the middle of each mark, in sheet units"""

    @property
    def counts(self) -> dict[str, int]:
        """How many marks were added, removed, and changed in each way; a mark may be in several of them."""
        changed = {name: int(self.changes[:, place].sum()) for place, name in enumerate(CHANGES)}
        return {"added": len(self.added), "removed": len(self.removed), **changed}

    def uses(self) -> dict[str, dict[str, int]]:
        """For each thing that happened the symbols that it happened to, with in how many uses."""
        behind = {"added": (self.second, self.added), "removed": (self.first, self.removed)}
        for place, name in enumerate(CHANGES):
            behind[name] = self.second, self.pairs[self.changes[:, place], 1]
        return {name: used for name, (drawing, marks) in behind.items() if (used := _used(drawing, marks))}

    def lines(self) -> dict[str, list[tuple[Line, int]]]:
        """For each thing that happened the lines of the sketch behind it, with how many marks, the most first."""
        _, after = self.origins
        behind = {"added": drawing_lines(after, self.added), "removed": drawing_lines(self.origins[0], self.removed)}
        for place, name in enumerate(CHANGES):
            behind[name] = drawing_lines(after, self.pairs[self.changes[:, place], 1])
        return {name: lines for name, lines in behind.items() if lines}


def shape_changes(first: Impression, second: Impression) -> ShapeChanges:
    """Hold the marks of two traced impressions against each other; sheets may be of unlike size, in the same unit."""
    assert first.origins is not None
    assert second.origins is not None
    numbering = Numbering()
    left = resolved(first.drawing, first.origins, numbering)
    right = resolved(second.drawing, second.origins, numbering)
    matching = matched(left, right)
    pairs = matching.pairs
    changes = _changes(left, right, pairs)
    repainted = repainting(left, right, pairs, changes[:, RECOLOURED])
    changes[:, REPAINTED] = repainted.marks
    changes[:, RECOLOURED] &= ~repainted.marks
    changes[:, REORDERED] = reordered(right, matching)
    seen = changes.any(axis=1)
    return ShapeChanges(
        first.drawing, second.drawing, (first.origins, second.origins), pairs[~seen], pairs[seen], changes[seen],
        repainted.colours, matching.removed, matching.added, (left.centres, right.centres),
    )  # fmt: skip


def _changes(first: Resolved, second: Resolved, pairs: WholeArray) -> BoolArray:
    """Which of CHANGES happened to each pair, those that are told from it alone: bool (k, 8)."""
    changes = np.zeros((len(pairs), len(CHANGES)), np.bool)
    unlike = first.words[pairs[:, 0]] != second.words[pairs[:, 1]]
    changes[unlike, :_BY_ITSELF] = _changes_of_unlike(first, second, pairs[unlike])
    return changes


def _changes_of_unlike(first: Resolved, second: Resolved, pairs: WholeArray) -> BoolArray:
    """The same of pairs that are not alike in all: bool (k, 6)."""
    left, right = pairs.T
    changes = np.zeros((len(pairs), _BY_ITSELF), np.bool)
    longer = max(second.drawing.width, second.drawing.height)
    changes[:, MOVED] = (np.abs(first.centres[left] - second.centres[right]) > PLACE * longer).any(axis=1)
    size, other_size = first.sizes[left], second.sizes[right]
    half = first.half_turns[left]
    turn = np.abs((second.headings[right] - first.headings[left] + half) % (2 * half) - half)
    # A turn that moves no end of a shape by what can be seen is none; the map of an outline does not say how far it reaches.
    reach = np.where(half < 180, np.radians(turn) * np.maximum(size, other_size), np.inf)
    changes[:, TURNED] = (turn > TURN) & (reach > PLACE * longer)
    changes[:, RESIZED] = _unlike(size, other_size) | _unlike(first.proportions[left], second.proportions[right])
    outlined = HAS_OUTLINE[first.drawing.marks["kind"][left]]
    other = np.flatnonzero(outlined & (first.shapes[left] != second.shapes[right]))
    changes[other[:, None], np.array([TURNED, RESIZED, RESHAPED])] = _outline_changes(first, second, pairs[other])
    changes[:, RECOLOURED] = (np.abs(first.colours[left] - second.colours[right]) > COLOUR).any(axis=1)
    styles = np.abs(first.styles[left] - second.styles[right])
    styles[:, 0] /= np.maximum(np.maximum(first.styles[left, 0], second.styles[right, 0]), 1e-300)
    changes[:, RESTYLED] = (styles > GROWTH).any(axis=1)
    return changes


def _used(drawing: Drawing, marks: WholeArray) -> dict[str, int]:
    """The symbols that some marks are of, each with how many uses."""
    of_each = np.stack(drawing.use_of_each(), axis=1)[marks]
    uses = np.unique(of_each[of_each[:, 0] >= 0], axis=0)
    return dict(Counter(drawing.uses[symbol].name for symbol in uses[:, 0].tolist()))


def _unlike(before: FloatArray, after: FloatArray) -> BoolArray:
    return np.abs(after - before) > GROWTH * np.maximum(np.maximum(np.abs(before), np.abs(after)), 1e-300)


def _outline_changes(first: Resolved, second: Resolved, pairs: WholeArray) -> BoolArray:
    """Whether outlines that are not the same were turned, grew, or have another form: bool (k, 3)."""
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
        fits = misfit <= MISFIT
        changes[alike] = np.stack([fits & (np.abs(turn) > TURN), fits & (np.abs(growth - 1) > GROWTH), ~fits], axis=1)
    return changes
