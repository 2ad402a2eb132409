"""What a sketch does in other processes, while it is checked in this one."""

from __future__ import annotations

import os
import sys
import time
from collections.abc import Iterator, Sequence
from concurrent.futures import Future
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from mothseed.faults import MothSeedError, Whereabouts
from mothseed.making import make
from mothseed.repeat.processes import other_hashes
from mothseed.series.crew import processes
from mothseed.series.limits import OutOfTime, time_limit
from mothseed.sheet import Drawing
from mothseed.sketch import Recipe, Sketch, load_sketch
from mothseed.sketch.around import ends_of
from mothseed.sketch.dials import CHOICE, SWITCH
from mothseed.sketch.seeds import Seed

_PROCESSES = 2
_FURTHER_SEEDS = 200
"""Seeds to perform in search of failures: one that occurs once in fifty is found nearly always."""
_SECONDS = 2.5
"""Seconds for each of these processes."""
_ENDLESS = 20.0
"""Seconds after which a performance is taken never to end, if earlier ones took far less."""


@dataclass(frozen=True, slots=True)
class Failure:
    """A recipe for which a sketch fails."""

    recipe: Recipe
    message: str
    place: Whereabouts | None


@dataclass(frozen=True, slots=True)
class Elsewhere:
    """Results from another process."""

    drawings: tuple[Drawing, ...]
    """fingerprints for the recipes performed here, the last first"""
    opened: frozenset[str]
    """files that were opened"""
    failures: tuple[Failure, ...]
    """failures for further recipes"""


@contextmanager
def performing_elsewhere(sketch: Sketch, recipes: Sequence[Recipe]) -> Iterator[list[Future[Elsewhere]]]:
    """Perform some recipes, the last first, in processes with other hash seeds; then more seeds, and dials at the ends of
    their ranges.
    """
    further = list(_further(sketch, recipes[0], [recipe.seed for recipe in recipes]))
    with ExitStack() as stack:
        futures = []
        for number in range(_PROCESSES):
            pool = stack.enter_context(processes(1).open(1))
            # It starts with its first task, and takes its hash seed then.
            with other_hashes(number + 1):
                futures.append(pool.submit(_performed, sketch.path, recipes[::-1], further[number::_PROCESSES]))
        yield futures


def _further(sketch: Sketch, base: Recipe, known: Sequence[Seed]) -> Iterator[Recipe]:
    for name, dial in sketch.artwork.dials.items():
        value = base.dials.get(name, dial.default)
        others: list[Any] = []
        if dial.kind == SWITCH:
            others = [not value]
        elif dial.kind == CHOICE:
            others = [choice for choice in dial.choices if choice != value]
        elif dial.low is not None and dial.high is not None:
            others = ends_of(dial, value)
        for other in others:
            yield base.but(dials={name: other})
    for seed in range(1, _FURTHER_SEEDS + 1):
        if seed not in known:
            yield base.with_seed(seed)


def _performed(path: Path, recipes: Sequence[Recipe], further: Sequence[Recipe]) -> Elsewhere:
    """What a fresh process draws, which files it opens, as audited by Python, and what fails."""
    opened: set[str] = set()
    listening = True

    def heard(event: str, arguments: tuple[Any, ...]) -> None:
        if listening and event == "open" and isinstance(arguments[0], str):
            opened.add(os.path.realpath(arguments[0]))

    sys.addaudithook(heard)
    try:
        sketch = load_sketch(path)
        drawings = tuple(make(sketch, recipe).drawing for recipe in recipes)
    finally:
        listening = False
    started = time.perf_counter()
    failures = []
    for recipe in further:
        if time.perf_counter() - started > _SECONDS:
            break
        try:
            with time_limit(_ENDLESS):
                make(sketch, recipe)
        except MothSeedError as fault:
            failures.append(Failure(recipe, fault.message, fault.place))
        except OutOfTime:
            failures.append(Failure(recipe, f"it does not end within {_ENDLESS:g} s", None))
    return Elsewhere(drawings, frozenset(opened), tuple(failures))
