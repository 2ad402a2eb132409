"""A hash for each mark of a drawing, equal for marks of the same form, for comparing many with many."""

from __future__ import annotations

import numpy as np

from mothseed.arrays import FloatArray, WholeArray, WordArray
from mothseed.bits import GOLDEN_GAMMA, finished
from mothseed.geometry.outline import starts_of
from mothseed.geometry.outlines import Outlines
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.extents import lattice_step, mark_matrices, on_lattice
from mothseed.sheet.kinds import HAS_OUTLINE

_GOLDEN = np.uint64(GOLDEN_GAMMA)


def form_words(drawing: Drawing, bits: int) -> WordArray:
    """A hash of kind, shape and place of each mark, uint64 (n,), to about 2**-bits of the sheet, ignoring paint."""
    return placed_words(shape_words(drawing, bits), mark_matrices(drawing), lattice_step(drawing, bits))


def placed_words(shapes: WordArray, matrices: FloatArray, step: float) -> WordArray:
    """Hashes of shapes (n,) with those of their places, to a multiple of `step`."""
    return combined(shapes, on_lattice(matrices, step))


def shape_words(drawing: Drawing, bits: int) -> WordArray:
    """A hash of the kind of each mark and its outline, if any, wherever it is: uint64 (n,)."""
    outlines = _outline_words(drawing.outlines, lattice_step(drawing, bits))
    marks = drawing.marks
    has_outline = HAS_OUTLINE[marks["kind"]]
    return np.where(has_outline, outlines[np.where(has_outline, marks["outline"], 0)], marks["kind"].astype(np.uint64))


def combined(words: WordArray, numbers: np.ndarray[tuple[int, ...], np.dtype[np.float64]] | WholeArray) -> WordArray:
    """Hashes (n,) combined with whole numbers (n, k)."""
    for column in numbers.astype(np.int64).view(np.uint64).T:
        words = finished(words + _GOLDEN) ^ column
    return finished(words)


def _outline_words(outlines: Outlines, step: float) -> WordArray:
    """A hash for each outline, of its points in order."""
    if not outlines:
        return np.zeros(1, np.uint64)
    every, lengths = outlines.end_to_end()
    points = on_lattice(every, step)
    starts = np.append(starts_of(lengths), len(points) - 1)
    # Mixed with its index in the outline, so that the order of points counts too.
    places = (np.arange(1, len(points) + 1) - np.repeat(starts, np.append(lengths, 1))).astype(np.uint64)
    x, y = points.view(np.uint64).T
    words = np.add.reduceat(finished(finished(x + _GOLDEN * places) ^ y), starts)[:-1]
    return np.where(lengths > 0, words, np.uint64(0))
