"""What a rule is, what it examines, and what it finds."""

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
    """A sketch performed by a recipe for some seeds, with the lines behind its marks."""

    sketch: Sketch
    recipe: Recipe
    """whose seed does not count"""
    impressions: tuple[Impression, ...]
    """one at least"""
    elsewhere: Sequence[Future[Elsewhere]] = ()
    """the same and more, performed in other processes meanwhile"""

    @cached_property
    def sources(self) -> list[SourceFile]:
        """The texts of the sketch and of its own modules."""
        return source_files(self.sketch)

    @cached_property
    def drawn(self) -> list[dict[Line, WholeArray]]:
        """For each impression, the marks that each line of the artist drew: int64 (k,) each, in painting order."""
        return [_marks_by_line(impression) for impression in self.impressions]

    @property
    def artwork_line(self) -> Line:
        """The line on which the artwork begins, for findings that no other line is to blame for."""
        return Line(str(self.sketch.path), self.sketch.artwork.line)


@dataclass(frozen=True, slots=True)
class Finding:
    """Something that is probably a mistake."""

    code: str
    says: str
    """what the rule says"""
    line: Line | None
    words: str
    """what was found, with numbers"""
    remedy: str
    fix: Fix | None = None
    """what to write instead, if that is certain"""


@dataclass(frozen=True, slots=True)
class Rule:
    """A check, or several made together. The table and other packages' entry points lead to these."""

    codes: Mapping[str, str]
    """its codes, and what each says"""
    find: Callable[[Look], Iterable[Finding]]
    several: bool = False
    """whether a line may have several different findings of one code"""

    def finding(self, code: str, line: Line | None, words: str, remedy: str, fix: Fix | None = None) -> Finding:
        """A finding of this rule."""
        return Finding(code, self.codes[code], line, words, remedy, fix)


def _marks_by_line(impression: Impression) -> dict[Line, WholeArray]:
    found: dict[Line, list[int]] = {}
    for mark in range(len(impression.drawing)):
        line = line_of(impression, mark)
        if line is not None:
            found.setdefault(line, []).append(mark)
    return {line: np.array(marks, np.int64) for line, marks in found.items()}


def line_of(impression: Impression, mark: int) -> Line | None:
    """The line that drew a mark of a traced impression, or None if it was not the artist's."""
    assert impression.origins is not None
    calls = impression.origins.calls[impression.origins.of_marks[mark]]
    return calls[0] if calls else None
