"""What a rule is, what it looks at, and what it finds."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from concurrent.futures import Future
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from mothseed.arrays import WholeArray
from mothseed.check.elsewhere import Elsewhere
from mothseed.check.fix import Fix
from mothseed.check.text import SourceFile, source_files
from mothseed.sketch import Impression, Recipe, Sketch
from mothseed.sketch.trace import Line


@dataclass(frozen=True, eq=False)
class Look:
    """A sketch, performed by a recipe for some seeds, each with the lines behind its marks."""

    sketch: Sketch
    recipe: Recipe
    """whose seed does not count"""
    impressions: tuple[Impression, ...]
    """one at least"""
    elsewhere: Sequence[Future[Elsewhere]] = ()
    """the same performed in other processes, and more, while it is looked over here"""

    @cached_property
    def sources(self) -> list[SourceFile]:
        """The texts of the sketch and of its own modules."""
        return source_files(self.sketch)

    @cached_property
    def drawn(self) -> list[dict[Line, WholeArray]]:
        """For each impression the marks that each line of the artist's drew: int64 (k,) each, in painting order."""
        return [_marks_by_line(impression) for impression in self.impressions]

    @property
    def artwork_line(self) -> Line:
        """The line on which the artwork begins: for what no other line is to blame for."""
        return Line(str(self.sketch.path), self.sketch.artwork.line)


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing that is probably not meant."""

    code: str
    says: str
    """what the rule says"""
    line: Line | None
    words: str
    """what was found, with numbers"""
    remedy: str
    fix: Fix | None = None
    """what is to be written instead, where that is certain"""


@dataclass(frozen=True, slots=True)
class Rule:
    """A check, or several that are made at once. The table and other packages' entry points lead to these."""

    codes: Mapping[str, str]
    """its codes, and what each says"""
    find: Callable[[Look], Iterable[Finding]]
    several: bool = False
    """whether a line may have several findings of one code that are not the same"""

    def finding(self, code: str, line: Line | None, words: str, remedy: str, fix: Fix | None = None) -> Finding:
        """What it found."""
        return Finding(code, self.codes[code], line, words, remedy, fix)


def _marks_by_line(impression: Impression) -> dict[Line, WholeArray]:
    found: dict[Line, list[int]] = {}
    for mark in range(len(impression.drawing)):
        line = line_of(impression, mark)
        if line is not None:
            found.setdefault(line, []).append(mark)
    return {line: np.array(marks, np.int64) for line, marks in found.items()}


def line_of(impression: Impression, mark: int) -> Line | None:
    """The line that drew a mark of a traced impression, or None where none of the artist's did."""
    assert impression.origins is not None
    calls = impression.origins.calls[impression.origins.of_marks[mark]]
    return calls[0] if calls else None
