"""All that is found in a sketch."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from mothseed.check.elsewhere import performing_elsewhere
from mothseed.check.registry import found_by_all
from mothseed.check.rule import Finding, Look
from mothseed.making import make
from mothseed.sketch import Recipe, Sketch
from mothseed.sketch.recipe import AS_IT_IS
from mothseed.sketch.seeds import Seed


def findings(sketch: Sketch, seeds: Sequence[Seed], recipe: Recipe = AS_IT_IS) -> Iterator[Finding]:
    """All findings in a sketch, performed by a recipe for some seeds; for most codes, one per line. Raises the same errors as
    `perform` if it does not run.
    """
    first = make(sketch, recipe.with_seed(seeds[0]), tracing=True).impression
    told: set[tuple[str, str, str]] = set()
    # It has been performed once here, so it runs; what it does in other surroundings is looked at last.
    with performing_elsewhere(sketch, [first.recipe.with_seed(seed) for seed in seeds]) as elsewhere:
        others = (make(sketch, recipe.with_seed(seed), tracing=True).impression for seed in seeds[1:])
        impressions = (first, *others)
        for rule, found in found_by_all(Look(sketch, recipe, impressions, elsewhere)):
            key = found.code, str(found.line), found.words if rule.several else ""
            if key not in told:
                told.add(key)
                yield found
