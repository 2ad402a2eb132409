"""What is at a point of a picture, and what caused it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from mothseed.colour.value import Colour
from mothseed.render.at import Painting, colour_at, lying_at
from mothseed.sketch import Impression, Sketch
from mothseed.sketch.trace import Draw
from mothseed.study.attempt import Inquiry
from mothseed.study.causes import Cause, Causes, causes_of
from mothseed.study.trace_rows import Row, mark_rows
from mothseed.study.trying import Told

_SPOT = 1 / 1000
"""In widths of the sheet: the pixel of a usual proof."""
_FEW_DRAWS = 3
"""Most draws of a stream that are listed with it."""


@dataclass(frozen=True, slots=True)
class Lying:
    """Marks at a point that the same lines drew, one below the other."""

    paintings: tuple[Painting, ...]
    """the topmost first"""
    rows: tuple[Row, ...]
    """a description of each"""
    text: str
    """the source of the line that drew them; empty for the paper, which the sketch's code does not draw"""
    causes: Causes
    """of the topmost"""


@dataclass(frozen=True, slots=True)
class Point:
    """A point of a picture, and the marks there."""

    x: float
    y: float
    colour: Colour
    lying: tuple[Lying, ...]
    """the topmost first"""


def explained(
    sketch: Sketch,
    impression: Impression,
    x: float,
    y: float,
    *,
    workers: int = 1,
    told: Told = lambda _count: None,
) -> Point:
    """What is at a point of a traced impression, in sheet units, and what caused it; see `causes_of`."""
    drawing, origins = impression.drawing, impression.origins
    assert origins is not None
    side = drawing.width * _SPOT
    groups: dict[tuple[int, bool], list[Painting]] = {}
    for painting in lying_at(drawing, x, y, side):
        groups.setdefault((int(origins.of_marks[painting.mark]), painting.hidden), []).append(painting)
    targets = [Inquiry((group[0].mark,)) for (calls, _), group in groups.items() if origins.calls[calls]]
    causes = iter(causes_of(sketch, impression, targets, workers=workers, told=told) if targets else [])
    lying = []
    for (calls, _), group in groups.items():
        lines = origins.calls[calls]
        text, own = (lines[0].text, next(causes)) if lines else ("", Causes({}))
        rows = mark_rows(drawing, origins, [painting.mark for painting in group])
        lying.append(Lying(tuple(group), tuple(rows), text, own))
    return Point(x, y, colour_at(drawing, x, y, side), tuple(lying))


def draws_of(cause: Cause, impression: Impression) -> Sequence[Draw]:
    """The values a stream gave, if few enough to list."""
    assert impression.origins is not None
    name = "" if cause.name == "chance" else cause.name
    draws = [draw for draw in impression.origins.draws if draw.stream == name] if not cause.is_dial else []
    return draws if len(draws) <= _FEW_DRAWS else ()


def as_plain_causes(causes: Causes, impression: Impression) -> dict[str, Any]:
    """Causes as plain values for JSON."""

    def plain(cause: Cause) -> dict[str, Any]:
        if cause.is_dial:
            return {"dial": cause.name}
        draws = [{"distribution": draw.distribution, "value": draw.value} for draw in draws_of(cause, impression)]
        return {"stream": cause.name, "draws": draws}

    by_aspect = {aspect: [plain(cause) for cause in found] for aspect, found in causes.by_aspect.items()}
    return {"causes": by_aspect, "untried": [plain(cause) for cause in causes.untried]}
