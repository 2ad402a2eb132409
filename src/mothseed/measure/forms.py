"""Which forms two drawings share, told from a short signature of each."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from mothseed.arrays import WordArray
from mothseed.geometry.outline import Outline
from mothseed.sheet import Drawing
from mothseed.sheet.drawing import LINE_SEGMENT
from mothseed.sheet.resolved import lattice_step, mark_matrices

_BINS_BITS = 7
_BINS = 1 << _BINS_BITS
"""Parts of a signature: with 128 the shared part is told within 4 hundredths, mostly."""
_PLACE_BITS = 12
"""Forms count as the same within a four thousandth of the sheet, which nobody sees."""
_BETWEEN = 0.3819660112501051
"""Where in a step one number ends and the next begins: an irrational part, as round numbers would often lie on a boundary."""
_FIRST, _SECOND = np.uint64(0xBF58476D1CE4E5B9), np.uint64(0x94D049BB133111EB)
_GOLDEN = np.uint64(0x9E3779B97F4A7C15)


def forms_of(drawing: Drawing) -> bytes:
    """A signature of the forms of a drawing, their kinds, shapes and places without paint: 128 numbers of 16 bits.

    One-permutation min-wise hashing: Li, Owen and Zhang, "One permutation hashing", 2012.
    """
    smallest = np.zeros(_BINS, "<u2")
    if not len(drawing):
        return smallest.tobytes()
    hashes = np.sort(_hashes(drawing))
    bins = (hashes >> np.uint64(64 - _BINS_BITS)).astype(np.int64)
    first = np.flatnonzero(np.diff(bins, prepend=-1))
    # 0 says that a part is empty.
    smallest[bins[first]] = (hashes[first] & np.uint64(0xFFFF)) % np.uint64(0xFFFF) + np.uint64(1)
    return smallest.tobytes()


def signatures(kept: list[bytes]) -> npt.NDArray[np.uint16]:
    """Kept signatures as uint16 (n, 128)."""
    return np.frombuffer(b"".join(kept), "<u2").reshape(len(kept), _BINS)


def shared_forms(some: npt.NDArray[np.uint16], others: npt.NDArray[np.uint16]) -> npt.NDArray[np.float32]:
    """The part of the forms of two drawings that both have, estimated: float32 (n, m) from signatures (n, 128) and (m, 128).

    Of all forms that either has (Jaccard's index); 0 where both are empty.
    """
    same = np.zeros((len(some), len(others)), np.uint8)
    either = np.zeros_like(same)
    for left, right in zip(some.T, np.ascontiguousarray(others.T), strict=True):
        has_left, has_right = left[:, None] > 0, right[None, :] > 0
        same += (left[:, None] == right[None, :]) & has_left
        either += has_left | has_right
    result: npt.NDArray[np.float32] = np.divide(same, np.maximum(either, 1), dtype=np.float32)
    return result


def _hashes(drawing: Drawing) -> WordArray:
    """A well-mixed word for each mark: the same for the same form."""
    step = lattice_step(drawing, _PLACE_BITS)
    outlines = _outline_words(drawing.outlines, step)
    marks = drawing.marks
    has_outline = marks["kind"] > LINE_SEGMENT
    words = np.where(has_outline, outlines[np.where(has_outline, marks["outline"], 0)], marks["kind"].astype(np.uint64))
    for column in np.floor(mark_matrices(drawing) / step + _BETWEEN).astype(np.int64).view(np.uint64).T:
        words = _mixed(words + _GOLDEN) ^ column
    return _mixed(words)


def _outline_words(outlines: Sequence[Outline], step: float) -> WordArray:
    """A word for each outline, of its points in their order."""
    if not outlines:
        return np.zeros(1, np.uint64)
    points = np.floor(np.concatenate([outline.points for outline in outlines]) / step + _BETWEEN).astype(np.int64)
    lengths = [len(outline.points) for outline in outlines]
    starts = np.concatenate([[0], np.cumsum(lengths)[:-1]])
    # Mixed with its place in its outline, a point counts by its order too.
    places = (np.arange(1, len(points) + 1) - np.repeat(starts, lengths)).astype(np.uint64)
    x, y = points.view(np.uint64).T
    result: WordArray = np.add.reduceat(_mixed(_mixed(x + _GOLDEN * places) ^ y), starts)
    return result


def _mixed(words: WordArray) -> WordArray:
    """The finisher of SplitMix64 (Steele, Lea and Flood, 2014)."""
    words = (words ^ (words >> np.uint64(30))) * _FIRST
    words = (words ^ (words >> np.uint64(27))) * _SECOND
    return words ^ (words >> np.uint64(31))
