"""Whether a sketch draws the same in other processes, and which files it opens there."""

from __future__ import annotations

import os
import site
import sys
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

import platformdirs

from mothseed.check.rule import Finding, Look, Rule, line_of
from mothseed.making import make
from mothseed.repeat.difference import first_difference, first_mark_that_differs
from mothseed.repeat.processes import fresh_processes
from mothseed.sheet import Drawing, fingerprint
from mothseed.sketch import Impression, Recipe, load_sketch

_PROCESSES = 2


def _find(look: Look) -> Iterator[Finding]:
    """Perform the seeds again, the last first, in processes with other hash seeds; hold them against what was drawn here."""
    again = look.impressions[::-1]
    recipes = [look.recipe.with_seed(each.recipe.seed) for each in again]
    files: set[str] = set()
    told = False
    for number in range(1, _PROCESSES + 1):
        with fresh_processes(1, number) as pool:
            drawings, opened = pool.submit(_performed, look.sketch.path, recipes).result()
        files |= opened
        for impression, drawing in zip(again[::-1], drawings[::-1], strict=True):
            if not told and fingerprint(drawing) != fingerprint(impression.drawing):
                told = True
                yield _irreproducible(impression, drawing)
    for file in sorted(files):
        if _is_foreign(Path(file), look.sketch.folder):
            remedy = "put it beside the sketch, so that a series keeps a copy of it"
            yield RULE.finding("outside-file", look.artwork_line, f"{file} is read", remedy)


def _performed(path: Path, recipes: Sequence[Recipe]) -> tuple[list[Drawing], set[str]]:
    """What a fresh process draws, and which files it opens meanwhile; of these Python itself tells."""
    opened: set[str] = set()
    listening = True

    def heard(event: str, arguments: tuple[Any, ...]) -> None:
        if listening and event == "open" and isinstance(arguments[0], str):
            opened.add(os.path.realpath(arguments[0]))

    sys.addaudithook(heard)
    try:
        sketch = load_sketch(path)
        return [make(sketch, recipe).drawing for recipe in recipes], opened
    finally:
        listening = False


def _irreproducible(impression: Impression, other: Drawing) -> Finding:
    words = first_difference(impression.drawing, other) or "its sheet differs"
    mark = first_mark_that_differs(impression.drawing, other)
    line = None if mark is None else line_of(impression, mark)
    remedy = "look for what no seed decides: times, sets, files, random"
    return RULE.finding("irreproducible", line, f"seed {impression.recipe.seed}: {words}", remedy)


def _is_foreign(file: Path, folder: Path) -> bool:
    """Whether a file is none of the sketch's folder, of Python, of its libraries, or of the system."""
    libraries = [*site.getsitepackages(), site.getusersitepackages(), platformdirs.user_cache_dir()]
    system = ("/proc", "/dev", "/sys", "/etc", "/usr", sys.prefix, sys.base_prefix)
    own = [folder, Path(__file__).resolve().parents[2], *map(Path, (*libraries, *system))]
    return file.is_file() and not any(file.is_relative_to(place.resolve()) for place in own)


RULE = Rule(
    {
        "irreproducible": "the same seed gave another picture in another process",
        "outside-file": "a file is read that lies outside of the sketch's folder",
    },
    _find,
    several=True,
)
