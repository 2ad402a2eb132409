"""Recipes as tests write them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from mothseed.series import Edition
from mothseed.sketch import Recipe
from mothseed.sketch.seeds import Seed


def recipe(
    seed: Seed = 1, *, reseeds: Mapping[str, Seed] | None = None, without: Iterable[str] = (), **dials: object
) -> Recipe:
    """A recipe with dials by keyword."""
    return Recipe(seed=seed, dials=dials, reseeds=dict(reseeds or {}), without=tuple(without))


def known_edition(seed: Seed, dials: dict[str, object] | None = None, **known: object) -> Edition:
    """An edition as a ledger might have it; what is not told is of little interest."""
    plain: dict[str, object] = {"width": 60, "renderer": 1, "milliseconds": 1.0, **known}
    return Edition(seed=seed, dials=dials or {}, **plain)  # type: ignore[arg-type]  # whatever a test tells
