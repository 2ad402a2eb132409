"""Two pictures held against each other."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from mothseed.arrays import ByteArray, FloatArray
from mothseed.colour.value import Colour
from mothseed.compare.measures import Measures, measured, oklab_of
from mothseed.errors import UsageError
from mothseed.sketch.history import History

NOTICEABLE = 0.02
"""Distance in OKLab from which on most people see a difference between two colours side by side (CSS Color 4)."""


@dataclass(frozen=True, slots=True, eq=False)
class Pair:
    """How two pictures of one size differ."""

    first: Measures
    second: Measures
    difference: FloatArray
    """float64 (height, width): distance in OKLab of each pixel's two colours"""

    @property
    def mean(self) -> float:
        """Mean distance in OKLab."""
        return float(self.difference.mean())

    @property
    def largest(self) -> float:
        """Largest distance in OKLab."""
        return float(self.difference.max())

    @property
    def noticeable(self) -> float:
        """Share of pixels that differ noticeably, 0 to 1."""
        return float((self.difference >= NOTICEABLE).mean())


def paired(first: ByteArray, second: ByteArray, papers: tuple[Colour | None, Colour | None] = (None, None)) -> Pair:
    """Compare two images, uint8 (height, width, 3 or 4), on papers of these colours where they are known.

    Raises UsageError where the sizes differ.
    """
    if first.shape[:2] != second.shape[:2]:
        sizes = " and ".join(f"{image.shape[1]} x {image.shape[0]}" for image in (first, second))
        raise UsageError(f"pictures of unlike size cannot be compared: {sizes} px", hint="make both with the same --width")
    labs = oklab_of(first), oklab_of(second)
    shift = labs[0] - labs[1]
    difference = np.sqrt(np.einsum("...c,...c", shift, shift))
    return Pair(measured(first, labs[0], papers[0]), measured(second, labs[1], papers[1]), difference)


@dataclass(frozen=True, slots=True)
class Change:
    """Something in the history of two pictures that is not the same."""

    name: str
    first: Any
    second: Any


def history_changes(first: History, second: History) -> list[Change]:
    """What differs between two histories: the sketch, the seed, each dial and re-seeded stream, outcomes, the version."""
    changes = [
        Change(name, getattr(first, name), getattr(second, name))
        for name in ("sketch", "sketch_hash", "seed", "without", "version")
        if getattr(first, name) != getattr(second, name)
    ]
    for kind, before, after in (
        ("dial", first.dials, second.dials),
        ("stream", first.reseeds, second.reseeds),
        ("outcome", _by_label(first), _by_label(second)),
    ):
        names = [*before, *(name for name in after if name not in before)]
        changes += [
            Change(f"{kind} {name}", before.get(name), after.get(name)) for name in names if before.get(name) != after.get(name)
        ]
    return changes


def _by_label(history: History) -> dict[str, Any]:
    """What came for each label: the value, or all of them in order where it came more than once."""
    values: dict[str, list[Any]] = {}
    for outcome in history.outcomes:
        values.setdefault(outcome["label"], []).append(outcome["value"])
    return {label: came[0] if len(came) == 1 else came for label, came in values.items()}
