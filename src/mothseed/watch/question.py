"""What somebody who watches a sketch wants to know about a point of the picture."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from mothseed.making import make
from mothseed.sketch import Sketch
from mothseed.study.point import Lying, as_plain_causes, explained
from mothseed.watch.result import Problem
from mothseed.watch.wish import Wish, fitted


@dataclass(frozen=True, slots=True)
class Question:
    """A point of the picture of a wish, in parts of its width and height."""

    sketch: Path
    state: int
    """changes whenever a file of the sketch does; it is loaded anew then"""
    wish: Wish
    across: float
    down: float


@dataclass(frozen=True, slots=True)
class Answer:
    """What lies there and what made it so, as JSON has it, or why that is not known."""

    known: dict[str, Any] | None = None
    problem: Problem | None = None

    def as_plain(self) -> dict[str, Any]:
        """The answer as JSON has it."""
        return {**(self.known or {}), "problem": self.problem.as_plain() if self.problem else None}


def answered(sketch: Sketch, question: Question) -> Answer:
    """What there is to know of a point; raises as `perform` does."""
    wish, dials, _ = fitted(question.wish, sketch.artwork.dials)
    impression = make(sketch, replace(wish.recipe, dials=dials), tracing=True).impression
    drawing = impression.drawing
    point = explained(sketch, impression, question.across * drawing.width, question.down * drawing.height)

    def plain(lying: Lying) -> dict[str, Any]:
        painting, row = lying.paintings[0], lying.rows[0]
        told = {name: row[name] for name in ("mark", "kind", "line", "called_from", "layer", "turns")}
        told |= {"paints": painting.colour.css, "hidden": painting.hidden, "of": len(lying.rows), "text": lying.text}
        return told | as_plain_causes(lying.causes, impression)

    return Answer({"x": point.x, "y": point.y, "colour": point.colour.css, "marks": [plain(lying) for lying in point.lying]})
