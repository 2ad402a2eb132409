"""Marks drawn twice in the same place."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

import numpy as np

from mothseed.arrays import WholeArray, WordArray
from mothseed.check.rule import Finding, Look, Rule
from mothseed.compare.columns import Numbering, Resolved, resolved
from mothseed.sheet.form_hash import combined
from mothseed.sheet.kinds import HAS_OUTLINE, UNIT_MIDDLES
from mothseed.sketch import Impression
from mothseed.sketch.trace import Line
from mothseed.told import counted

_STEP = 1e-5
"""Sheet units and colour values by which two marks may differ and still be the same."""


def _find(look: Look) -> Iterator[Finding]:
    pasted: dict[Line, list[Line | None]] = {}
    mirrored: dict[Line, list[int]] = {}
    for impression, drawn in zip(look.impressions, look.drawn, strict=True):
        words = _looks(resolved(impression.drawing, Numbering()))
        for line, marks in drawn.items():
            pasted.setdefault(line, []).append(_pasted_from(line, marks, drawn, words))
            mirrored.setdefault(line, []).append(_on_its_own_image(impression, marks, words))
    for line, found in pasted.items():
        first = found[0]
        if first is not None and all(each == first for each in found):
            yield RULE.finding("drawn-twice", line, f"it draws what {first} has drawn", "leave one of them out")
    for line, counts in mirrored.items():
        if min(counts) > 0:
            lying = f"{counted(counts[0], 'mark')} that lie on their own images, and are twice as opaque as they are written"
            remedy = "draw what lies on the axis on the view that is not mirrored or spun"
            yield RULE.finding("drawn-twice", line, lying, remedy)


def _looks(marks: Resolved) -> WordArray:
    """A hash for each mark, uint64 (n,), equal for marks that look alike: a mirrored circle is the same circle."""
    a, b, c, d, e, f = marks.matrices.T
    kind = marks.drawing.marks["kind"]
    middles = UNIT_MIDDLES[kind]
    x, y = middles.T
    # A shape that is unchanged by half a turn and by reflection is identified by its centre and its extent in each direction.
    places = [a * x + c * y + e, b * x + d * y + f, a * a + c * c, a * b + c * d, b * b + d * d]
    symmetric = combined(kind.astype(np.uint64), np.round(np.stack(places, axis=1) / _STEP))
    painted = combined(symmetric, np.round(np.concatenate([marks.colours, marks.styles], axis=1) / _STEP))
    return np.where(HAS_OUTLINE[kind], marks.words, painted)


def _pasted_from(line: Line, marks: WholeArray, drawn: dict[Line, WholeArray], words: WordArray) -> Line | None:
    """An earlier line with the same text that drew the same marks."""
    for other, its in drawn.items():
        earlier = other.file == line.file and other.number < line.number and other.text == line.text
        if earlier and sorted(words[its].tolist()) == sorted(words[marks].tolist()):
            return other
    return None


def _on_its_own_image(impression: Impression, marks: WholeArray, words: WordArray) -> int:
    """How many marks of a line, all translucent, lie on a mark drawn by the same call; 0 unless all do."""
    drawing, origins = impression.drawing, impression.origins
    assert origins is not None
    rows = drawing.marks[marks]
    if not (rows["opacity"] < 1).all():
        return 0
    # The same round of a loop after the same draws: one call, drawn more than once by its view.
    draws = list(
        zip(words[marks].tolist(), origins.of_marks[marks].tolist(), origins.draws_before[marks].tolist(), strict=True)
    )
    if min(Counter(draws).values()) == 1:
        return 0  # whatever the rounds, which may be long to write out
    calls = Counter(zip(draws, (repr(origins.turns[mark]) for mark in marks.tolist()), strict=True))
    return len(calls) if min(calls.values()) > 1 else 0


RULE = Rule({"drawn-twice": "a mark that is drawn twice in the same place"}, _find)
