"""Colours replaced wherever they were used, as when a palette changes."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from mothseed.arrays import BoolArray, FloatArray, WholeArray
from mothseed.colour.value import Colour
from mothseed.compare.columns import Resolved
from mothseed.compare.thresholds import COLOUR
from mothseed.sketch.trace import Origins

_TIMES = 2
"""Least average use of the colours of a palette: if each of many marks has its own colour, that is not one."""
_PLAIN = 1.0
"""The highest alpha; greater values stand for a ramp or a picture."""


class Repainting(NamedTuple):
    """A change of palette: each of some colours was replaced wherever it was used. Empty if there was none."""

    colours: tuple[tuple[Colour, Colour], ...]
    """old and new colours, most used first"""
    marks: BoolArray
    """bool (k,): pairs whose colours changed for no other reason"""


def repainting(first: Resolved, second: Resolved, origins: Origins, pairs: WholeArray, recoloured: BoolArray) -> Repainting:
    """The change of a palette, from pairs of marks, which of them were recoloured, and the origins of the first of each."""
    before, after = (
        np.concatenate([side.colours[marks, :4], side.colours[marks, 4:]])
        for side, marks in ((first, pairs[:, 0]), (second, pairs[:, 1]))
    )
    colours, kinds = _numbered(before)
    _, becomes = _numbered(after)
    distinct, at, uses = np.unique(np.stack([kinds, becomes]), axis=1, return_index=True, return_counts=True)
    always = np.bincount(distinct[0], minlength=len(colours))[distinct[0]] == 1
    plain = (before[at, 3] > 0) & (before[at, 3] <= _PLAIN) & (after[at, 3] > 0) & (after[at, 3] <= _PLAIN)
    swapped = always & plain & (np.abs(before[at] - after[at]) > COLOUR).any(axis=1)
    changed = (np.abs(before - after) > COLOUR).any(axis=1)
    explained = ~changed | np.isin(kinds, distinct[0, swapped])
    marks = recoloured & explained.reshape(2, -1).all(axis=0)
    used = np.bincount(kinds, np.tile(marks, 2), minlength=len(colours))[distinct[0]]
    swapped &= used > 0
    many = used[swapped].sum() >= _TIMES * swapped.sum() > 0
    if not many or not _choosing(origins.of_marks[pairs[:, 0]], kinds, np.isin(kinds, distinct[0, swapped])):
        return Repainting((), np.zeros(len(pairs), np.bool))
    order = np.flatnonzero(swapped)[np.argsort(-uses[swapped], kind="stable")]
    return Repainting(tuple((_colour(before[each]), _colour(after[each])) for each in at[order]), marks)


def _choosing(sources: WholeArray, kinds: WholeArray, swapped: BoolArray) -> bool:
    """Whether any line, given by number for each mark, takes its fill or stroke from several colours of which some changed. A
    line with a single colour does not use a palette.
    """
    lines = np.concatenate([2 * sources, 2 * sources + 1])
    chosen = np.unique(np.stack([lines, kinds]), axis=1)[0]
    return bool((np.bincount(chosen, minlength=lines.max() + 1)[lines[swapped]] > 1).any())


def _numbered(colours: FloatArray) -> tuple[FloatArray, WholeArray]:
    """The distinct colours, float64 (c, 4), and the index of each in them: int64 (n,)."""
    distinct, numbers = np.unique(np.round(colours / COLOUR), axis=0, return_inverse=True)
    return distinct, numbers.ravel()


def _colour(parts: FloatArray) -> Colour:
    return Colour(*parts.tolist())
