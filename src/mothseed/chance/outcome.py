"""Random decisions that the artist gave a name, kept with the edition."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

from mothseed.colour.value import Colour


@dataclass(frozen=True, slots=True)
class Outcome:
    """One labelled decision: what it was called, what came, and how likely that was where that is known."""

    label: str
    value: Any
    odds: float | None = None


def as_plain(value: Any) -> Any:
    """A value that JSON can hold and a person can read: a motif becomes its name, a colour its CSS string."""
    if value is None or isinstance(value, bool | int | float | str):
        return value
    if isinstance(value, Colour):
        return value.css
    if isinstance(value, list | tuple):
        return [as_plain(item) for item in value]
    if hasattr(value, "tolist"):
        return value.tolist()
    name = getattr(value, "__name__", None)
    return name if isinstance(name, str) else str(value)


def outcomes_as_json(outcomes: tuple[Outcome, ...]) -> str:
    """The outcomes as a JSON list of objects, in the order in which they came."""
    return json.dumps([{"label": o.label, "value": o.value, "odds": o.odds} for o in outcomes], ensure_ascii=False)
