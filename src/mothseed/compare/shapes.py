"""What changed between two drawings, shape by shape."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

import numpy as np

from mothseed.arrays import BoolArray, FloatArray, WholeArray
from mothseed.colour import Colour
from mothseed.compare.became import CHANGES, RECOLOURED, REORDERED, REPAINTED, changes_of
from mothseed.compare.columns import Numbering, resolved
from mothseed.compare.matching import matched
from mothseed.compare.reordered import reordered
from mothseed.compare.repainted import repainting
from mothseed.sheet import Drawing
from mothseed.sketch.perform import Impression
from mothseed.sketch.trace import Line, Origins, drawing_lines


@dataclass(frozen=True, slots=True, eq=False)
class ShapeChanges:
    """Two drawings, their corresponding marks, and what happened to each."""

    first: Drawing
    second: Drawing
    origins: tuple[Origins, Origins]
    same: WholeArray
    """int64 (s, 2): unchanged marks, as indices of the first and the second"""
    pairs: WholeArray
    """int64 (k, 2): changed marks"""
    changes: BoolArray
    """bool (k, 8): which of CHANGES"""
    palette: tuple[tuple[Colour, Colour], ...]
    """colours replaced wherever they were used, old and new"""
    removed: WholeArray
    """int64 (r,): indices of the first"""
    added: WholeArray
    """int64 (a,): indices of the second"""
    centres: tuple[FloatArray, FloatArray]
    """float64 (n, 2) for each drawing: centres of marks, in sheet units"""

    @property
    def counts(self) -> dict[str, int]:
        """Counts of marks added, removed, and changed in each way; a mark may count several times."""
        changed = {name: int(self.changes[:, place].sum()) for place, name in enumerate(CHANGES)}
        return {"added": len(self.added), "removed": len(self.removed), **changed}

    def uses(self) -> dict[str, dict[str, int]]:
        """For each kind of change, the symbols affected, with the number of uses."""
        behind = {"added": (self.second, self.added), "removed": (self.first, self.removed)}
        for place, name in enumerate(CHANGES):
            behind[name] = self.second, self.pairs[self.changes[:, place], 1]
        return {name: used for name, (drawing, marks) in behind.items() if (used := _used(drawing, marks))}

    def lines(self) -> dict[str, list[tuple[Line, int]]]:
        """For each kind of change, the lines of the sketch behind it, with numbers of marks, most first."""
        _, after = self.origins
        behind = {"added": drawing_lines(after, self.added), "removed": drawing_lines(self.origins[0], self.removed)}
        for place, name in enumerate(CHANGES):
            behind[name] = drawing_lines(after, self.pairs[self.changes[:, place], 1])
        return {name: lines for name, lines in behind.items() if lines}


def shape_changes(first: Impression, second: Impression) -> ShapeChanges:
    """Compare the marks of two traced impressions; sheets may differ in size, but not in unit."""
    assert first.origins is not None
    assert second.origins is not None
    numbering = Numbering()
    left, right = (resolved(impression.drawing, numbering) for impression in (first, second))
    matching = matched(left, right, (first.origins, second.origins))
    pairs = matching.pairs
    changes = changes_of(left, right, pairs)
    repainted = repainting(left, right, first.origins, pairs, changes[:, RECOLOURED])
    changes[:, REPAINTED] = repainted.marks
    changes[:, RECOLOURED] &= ~repainted.marks
    changes[:, REORDERED] = reordered(right, matching)
    seen = changes.any(axis=1)
    return ShapeChanges(
        first.drawing, second.drawing, (first.origins, second.origins), pairs[~seen], pairs[seen], changes[seen],
        repainted.colours, matching.removed, matching.added, (left.centres, right.centres),
    )  # fmt: skip


def _used(drawing: Drawing, marks: WholeArray) -> dict[str, int]:
    """The symbols of some marks, with the number of uses."""
    of_each = np.stack(drawing.use_of_each(), axis=1)[marks]
    uses = np.unique(of_each[of_each[:, 0] >= 0], axis=0)
    return dict(Counter(drawing.uses[symbol].name for symbol in uses[:, 0].tolist()))
