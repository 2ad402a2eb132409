"""The recipe of a picture: every choice about it besides the sketch itself."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Self

from mothseed.sketch.dials import Dial
from mothseed.sketch.seeds import Seed
from mothseed.told import told


@dataclass(frozen=True, slots=True, kw_only=True)
class Recipe:
    """A seed, dials that are set, streams that are redrawn, layers that are left out.

    Records that hold more about a picture, its history and its edition, are recipes too: a new field here becomes one in all
    of them.
    """

    seed: Seed = 1
    dials: dict[str, Any] = field(default_factory=dict)
    """dials with their values; others have their defaults"""
    reseeds: dict[str, Seed] = field(default_factory=dict)
    """streams of chance that are redrawn, each with its seed"""
    without: tuple[str, ...] = ()
    """layers that are left out, in alphabetical order, each once"""

    def with_seed(self, seed: Seed) -> Self:
        """The same for another seed."""
        return replace(self, seed=seed)

    def but(
        self,
        *,
        seed: Seed | None = None,
        dials: Mapping[str, Any] | None = None,
        reseeds: Mapping[str, Seed] | None = None,
        without: Iterable[str] = (),
    ) -> Self:
        """The same with further changes: another seed, more dials and streams, more layers left out."""
        return replace(
            self,
            seed=self.seed if seed is None else seed,
            dials={**self.dials, **(dials or {})},
            reseeds={**self.reseeds, **(reseeds or {})},
            without=tuple(sorted({*self.without, *without})),
        )

    def fitting(self, dials: Mapping[str, Dial]) -> Recipe:
        """The bare recipe without dials that a sketch lacks, as it may after a change."""
        known = {name: value for name, value in self.dials.items() if name in dials}
        return Recipe(seed=self.seed, dials=known, reseeds=self.reseeds, without=tuple(sorted(set(self.without))))


def dial_texts(recipe: Recipe) -> dict[str, str]:
    """The dials of a recipe as texts for a command line, which parse to the same values."""
    return {name: str(value) if isinstance(value, float) else told(value) for name, value in recipe.dials.items()}


AS_IT_IS = Recipe()
"""A sketch as it is written."""
