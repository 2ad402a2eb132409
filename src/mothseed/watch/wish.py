"""What somebody who watches a sketch wants to see of it."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import asdict, dataclass, field, replace
from typing import Any

from mothseed.errors import UsageError
from mothseed.series import Seed, parse_seed
from mothseed.sketch.dials import Dial
from mothseed.sketch.perform import parsed_dials


@dataclass(frozen=True, slots=True)
class Wish:
    """A seed, and what is changed about the sketch: dials as a command line has them, streams, layers; with guides or none."""

    seed: Seed = 1
    dials: dict[str, str] = field(default_factory=dict)
    reseeds: dict[str, Seed] = field(default_factory=dict)
    without: tuple[str, ...] = ()
    guides: bool = False

    @classmethod
    def from_plain(cls, plain: object) -> Wish:
        """A wish as a page sends it; raises UsageError for what is none."""
        match plain:
            case {
                "seed": seed,
                "dials": dict(dials),
                "reseeds": dict(reseeds),
                "without": list(without),
                "guides": bool(guides),
            }:
                if all(isinstance(word, str) for word in [*dials, *dials.values(), *reseeds, *without]):
                    streams = {stream: parse_seed(str(value)) for stream, value in reseeds.items()}
                    return cls(parse_seed(str(seed)), dials, streams, tuple(without), guides)
        raise UsageError("what the page asks for is not understood", hint="load the page anew")

    def as_plain(self) -> dict[str, Any]:
        """The wish as JSON has it."""
        return asdict(self)


def fitted(wish: Wish, dials: Mapping[str, Dial]) -> tuple[Wish, dict[str, Any], list[str]]:
    """The wish less what a sketch with these dials does not take, the values of its dials, and what was left out, in words.

    A sketch changes while it is watched: a dial may be gone, or take other values than before.
    """
    kept: dict[str, str] = {}
    values: dict[str, Any] = {}
    left_out = []
    for name, text in wish.dials.items():
        try:
            values |= parsed_dials(dials, {name: text})
            kept[name] = text
        except UsageError as fault:
            left_out.append(f"{name}={text} is left out: {fault.message}")
    return replace(wish, dials=kept), values, left_out


def next_seed(seed: Seed, steps: int = 1) -> Seed:
    """The seed so many further on: of 7 it is 8, of lamp it is lamp-2, of lamp-2 lamp-3; never below 0, or lamp."""
    if isinstance(seed, int):
        return max(seed + steps, 0)
    match = re.fullmatch(r"(.*)-(\d+)", seed)
    word, number = (match[1], int(match[2])) if match else (seed, 1)
    return word if number + steps <= 1 else f"{word}-{number + steps}"
