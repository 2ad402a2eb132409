"""What somebody who watches a sketch wants to see of it."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from mothseed.faults import FieldError, UsageError
from mothseed.records import RecordError, as_plain_record, as_record
from mothseed.sketch import Recipe
from mothseed.sketch.dials import Dial
from mothseed.sketch.perform import parsed_dials
from mothseed.sketch.recipe import AS_IT_IS
from mothseed.sketch.seeds import Seed, parse_seed


@dataclass(frozen=True, slots=True)
class Wish:
    """A recipe, whose dials are texts as a command line has them, with guides or none."""

    recipe: Recipe = AS_IT_IS
    guides: bool = False

    @classmethod
    def from_plain(cls, plain: object) -> Wish:
        """A wish as a page sends it; raises UsageError for what is none."""
        try:
            asked = as_record(plain, _Asked)
        except RecordError:
            raise UsageError("what the page asks for is not understood", hint="reload the page") from None
        reseeds = {stream: parse_seed(str(seed)) for stream, seed in asked.reseeds.items()}
        recipe = Recipe(seed=parse_seed(str(asked.seed)), dials={**asked.dials}, reseeds=reseeds, without=asked.without)
        return cls(recipe, asked.guides)

    def as_plain(self) -> dict[str, Any]:
        """The wish as JSON has it."""
        return {**as_plain_record(self.recipe), "guides": self.guides}


@dataclass(frozen=True, slots=True)
class _Asked:
    """What a page sends."""

    seed: Seed
    dials: dict[str, str]
    reseeds: dict[str, Seed]
    without: tuple[str, ...]
    guides: bool


def fitted(wish: Wish, dials: Mapping[str, Dial]) -> tuple[Wish, dict[str, Any], list[str]]:
    """The wish less what a sketch with these dials does not take, the values of its dials, and what was left out, in words.

    A sketch changes while it is watched: a dial may be gone, or take other values than before.
    """
    kept: dict[str, str] = {}
    values: dict[str, Any] = {}
    left_out = []
    for name, text in wish.recipe.dials.items():
        try:
            values |= parsed_dials(dials, {name: text})
            kept[name] = text
        except FieldError as fault:
            left_out.append(f"{name}={text} is left out: {fault.fault}")
    return replace(wish, recipe=replace(wish.recipe, dials=kept)), values, left_out


def next_seed(seed: Seed, steps: int = 1) -> Seed:
    """The seed so many further on: of 7 it is 8, of lamp it is lamp-2, of lamp-2 lamp-3; never below 0, or lamp."""
    if isinstance(seed, int):
        return max(seed + steps, 0)
    match = re.fullmatch(r"(.*)-(\d+)", seed)
    word, number = (match[1], int(match[2])) if match else (seed, 1)
    return word if number + steps <= 1 else f"{word}-{number + steps}"
