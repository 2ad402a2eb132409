"""Colours that became others wherever they were used, as where a palette was changed."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from mothseed.arrays import BoolArray, FloatArray, WholeArray
from mothseed.colour.value import Colour
from mothseed.compare.columns import Resolved
from mothseed.compare.thresholds import COLOUR
from mothseed.sketch.trace import Origins

_TIMES = 2
"""How often, on average, the colours of a palette are used at least: to give each of many marks a colour of its own is none."""
_PLAIN = 1.0
"""The highest alpha; what is above stands for a ramp or a picture."""


class Repainting(NamedTuple):
    """A palette that was changed: each of some colours became another wherever it was used; no colours where none was."""

    colours: tuple[tuple[Colour, Colour], ...]
    """what each was and is now, the most used first"""
    marks: BoolArray
    """bool (k,): the pairs whose colours changed for no other reason"""


def repainting(first: Resolved, second: Resolved, origins: Origins, pairs: WholeArray, recoloured: BoolArray) -> Repainting:
    """What a palette became, told from pairs of marks, which of them were recoloured, and the origins of the first of each."""
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
    """Whether some line, by its number for each mark, takes its fill or its stroke from several colours, of which some changed.

    A line that always has one colour has it of its own.
    """
    lines = np.concatenate([2 * sources, 2 * sources + 1])
    chosen = np.unique(np.stack([lines, kinds]), axis=1)[0]
    return bool((np.bincount(chosen, minlength=lines.max() + 1)[lines[swapped]] > 1).any())


def _numbered(colours: FloatArray) -> tuple[FloatArray, WholeArray]:
    """The colours that differ, float64 (c, 4), and which of them each is: int64 (n,)."""
    distinct, numbers = np.unique(np.round(colours / COLOUR), axis=0, return_inverse=True)
    return distinct, numbers.ravel()


def _colour(parts: FloatArray) -> Colour:
    return Colour(*parts.tolist())
