"""Performing a sketch with something changed, to see what happens to some of its marks."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np

from mothseed.arrays import WholeArray, WordArray
from mothseed.chance.studied import Bend, Names, StudiedChance, Study
from mothseed.compare.became import MOVED, RECOLOURED, RESHAPED, RESIZED, RESTYLED, TURNED, changes_of
from mothseed.compare.columns import Numbering, resolved
from mothseed.compare.thresholds import COLOUR, PLACE
from mothseed.faults import MothSeedError
from mothseed.sheet import Drawing
from mothseed.sheet.derive import trimmed
from mothseed.sheet.form_hash import form_words
from mothseed.sheet.kinds import HAS_OUTLINE
from mothseed.sketch import Recipe, Sketch, load_sketch
from mothseed.sketch.addresses import Address, AddressTracer
from mothseed.sketch.perform import TooManyMarks, performed_with
from mothseed.sketch.trace import Places

THERE = "there at all"
ASPECTS = (THERE, "place", "turn", "size", "shape", "fill", "stroke", "style")
"""What can change about a mark."""
_OF_CHANGES = {MOVED: "place", TURNED: "turn", RESIZED: "size", RESHAPED: "shape", RESTYLED: "style"}
_GONE = -1
_MISFIT = 1e-4
"""In extents of an outline: if it changes by more, its shape has changed."""
_BITS = 20
_TIMES_AS_MANY = 4
_ALWAYS = 50_000
"""An attempt is given up once it has so many times the marks of the picture, and more than so many: at an end of its range, a
dial may make a thousand times as many, and the attempt take a thousand times as long.
"""

Aspects = frozenset[str]


class Inquiry(NamedTuple):
    """Marks whose causes are asked for."""

    marks: tuple[int, ...]
    """indices in the drawing"""
    lines: Places = ()
    """lines that drew all of them; their existence has changed if a line draws more or fewer"""


@dataclass(frozen=True, slots=True)
class Subject:
    """A picture of a sketch, and some of its marks."""

    path: Path
    recipe: Recipe
    targets: tuple[Inquiry, ...]
    wanted: frozenset[Places] | None
    """the lines that drew them and the lines that called these; None for the whole sketch"""

    def bench(self) -> Bench:
        """A bench of another process."""
        return Bench(load_sketch(self.path), self)


class Attempt(NamedTuple):
    """A change to a performance."""

    dials: tuple[tuple[str, Any], ...] = ()
    streams: tuple[Names, ...] = ()
    """streams that give other numbers"""
    bend: Bend = Bend("", 0.0, 1.0)


Effect = tuple[Aspects, ...] | None
"""What has changed about each target; None if the sketch fails, or draws far more."""


@dataclass(slots=True)
class Bench:
    """The unchanged sketch, with which attempts are compared."""

    sketch: Sketch
    subject: Subject
    drawn: tuple[Names, ...] = field(init=False)
    """the streams that can have caused the targets: those drawn from before the last of them was recorded"""
    at_hand: frozenset[Names] = field(init=False)
    """the keyed streams that were in scope on the lines that drew the targets"""
    _drawing: Drawing = field(init=False)
    _at: dict[Address, WholeArray] = field(init=False)
    _numbering: Numbering = field(init=False, default_factory=Numbering)
    _targets: WholeArray = field(init=False)
    _enough: dict[Address, int] | None = field(init=False, default=None)
    """how many marks each address of a target has; once an attempt has recorded these, its rest does not matter"""
    _most: float = field(init=False, default=math.inf)
    """how many marks an attempt may record"""
    _words: WordArray | None = field(init=False, default=None)
    """hashes of the forms of the marks, once they are needed"""

    def __post_init__(self) -> None:
        """Perform it; raises as `perform` does."""
        study = Study({})
        self._drawing, self._at, before = self._performed(Attempt(), study)
        self.drawn = tuple(study.drawn[:before])
        self._most = max(_TIMES_AS_MANY * len(self._drawing), _ALWAYS)
        self._targets = np.unique(np.concatenate([np.array(target.marks, np.int64) for target in self.subject.targets]))
        of_targets = {address: len(marks) for address, marks in self._at.items() if np.isin(marks, self._targets).any()}
        at_hand = {value for address in of_targets for _, value in address.turns}
        self.at_hand = frozenset(names for names in at_hand if isinstance(names, tuple) and len(names) > 1)
        # A layer to leave out must exist, which is known only at the end.
        if not self.subject.recipe.without and all(not target.lines for target in self.subject.targets):
            self._enough = of_targets

    def tried(self, attempt: Attempt) -> Effect:
        """What an attempt changes about the targets."""
        try:
            drawing, at, _ = self._performed(attempt, Study(dict.fromkeys(attempt.streams, attempt.bend)))
            counterparts = self._counterparts(drawing, at)
            found = self._aspects(drawing, counterparts)
        except (MothSeedError, TooManyMarks):
            return None
        result = []
        for target in self.subject.targets:
            aspects = frozenset().union(*(found[mark] for mark in target.marks))
            more = bool(target.lines) and _count(self._at, target.lines) != _count(at, target.lines)
            result.append(aspects | {THERE} if more else aspects)
        return tuple(result)

    def _performed(self, attempt: Attempt, study: Study) -> tuple[Drawing, dict[Address, WholeArray], int]:
        recipe = self.subject.recipe.but(dials=dict(attempt.dials))
        tracer = AddressTracer(self.sketch.is_own, self.subject.wanted, study, self._enough, self._most)
        chance = StudiedChance(recipe.seed, recipe.reseeds, study)
        drawing = performed_with(self.sketch, recipe, chance, tracer.marks).drawing
        before = max((run[1] for run in tracer.marks.runs if tracer.lines[run[0]]), default=0)
        return drawing, tracer.addressed(drawing), before

    def _counterparts(self, drawing: Drawing, at: dict[Address, WholeArray]) -> WholeArray:
        """The counterpart of each mark in another drawing, or _GONE: int64 (n,), computed for targets only.

        They are found by their addresses. Where turns of a loop have other numbers, or fewer things are drawn at once, those
        that are alike are the same, and then those of the same place in line.
        """
        found = np.full(len(self._drawing), _GONE)
        rest: dict[object, tuple[list[WholeArray], list[WholeArray]]] = {}
        for address, own in self._at.items():
            there = at.get(address)
            if there is not None and len(there) == len(own):
                found[own] = there
                continue
            left, right = rest.setdefault(address if there is not None else address.lines, ([], []))
            left.append(own)
            if there is not None:
                right.append(there)
        for address, there in at.items():
            if address not in self._at and address.lines in rest:
                rest[address.lines][1].append(there)
        for left, right in rest.values():
            if right:
                own, there = np.concatenate(left), np.concatenate(right)
                found[own] = self._in_line(own, drawing, there)
        return found

    def _in_line(self, own: WholeArray, drawing: Drawing, there: WholeArray) -> WholeArray:
        if len(own) == len(there):
            return there
        found = np.full(len(own), _GONE)
        if self._words is None:
            self._words = form_words(self._drawing, _BITS)
        others = form_words(trimmed(drawing.part(there)), _BITS)
        _, at, to = np.intersect1d(self._words[own], others, return_indices=True)
        found[at] = there[to]
        if 2 * len(at) < min(len(own), len(there)):
            free, left = np.delete(np.arange(len(own)), at), np.delete(np.arange(len(there)), to)
            count = min(len(free), len(left))
            found[free[:count]] = there[left[:count]]
        return found

    def _aspects(self, drawing: Drawing, counterparts: WholeArray) -> dict[int, Aspects]:
        """What has changed about each mark of a target."""
        there = counterparts[self._targets]
        found = {mark: frozenset([THERE]) for mark in self._targets[there == _GONE].tolist()}
        own, there = self._targets[there != _GONE], there[there != _GONE]
        kinds = self._drawing.marks["kind"][own], drawing.marks["kind"][there]
        other_kind = (kinds[0] != kinds[1]) & ~(HAS_OUTLINE[kinds[0]] & HAS_OUTLINE[kinds[1]])
        found |= {mark: frozenset(["shape"]) for mark in own[other_kind].tolist()}
        own, there = own[~other_kind], there[~other_kind]
        first, second = (
            resolved(trimmed(side.part(marks)), self._numbering) for side, marks in ((self._drawing, own), (drawing, there))
        )
        rows = np.arange(len(own))
        changes = changes_of(first, second, np.stack([rows, rows], axis=1), _MISFIT)
        # Another outline has another middle; its place is given by its view.
        view_moved = (np.abs(first.matrices[:, 4:] - second.matrices[:, 4:]) > PLACE * first.drawing.width).any(axis=1)
        changes[:, MOVED] &= np.logical_or(view_moved, ~changes[:, RESHAPED])
        apart = np.abs(first.colours - second.colours) > COLOUR
        painted = changes[:, [RECOLOURED]] & np.stack([apart[:, :4].any(axis=1), apart[:, 4:].any(axis=1)], axis=1)
        for row, mark in enumerate(own.tolist()):
            names = [name for change, name in _OF_CHANGES.items() if changes[row, change]]
            names += [name for name, other in zip(("fill", "stroke"), painted[row], strict=True) if other]
            found[mark] = frozenset(names)
        return found


def _count(at: dict[Address, WholeArray], lines: Places) -> int:
    return sum(len(marks) for address, marks in at.items() if set(lines).intersection(address.lines))
