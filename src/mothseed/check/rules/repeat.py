"""Whether a sketch draws the same in other processes, and which files it opens there."""

from __future__ import annotations

import site
import sys
from collections.abc import Iterator, Sequence
from pathlib import Path

import platformdirs

from mothseed.check.elsewhere import Failure
from mothseed.check.rule import Finding, Look, Rule, line_of
from mothseed.repeat.difference import first_difference, first_mark_that_differs
from mothseed.sheet import Drawing, fingerprint
from mothseed.sketch import Impression
from mothseed.sketch.trace import Line
from mothseed.told import told as value_told


def _find(look: Look) -> Iterator[Finding]:
    """Compare drawings from processes with other hash seeds, the last seed first, with those made here."""
    told = False
    files: set[str] = set()
    failures: list[Failure] = []
    for each in look.elsewhere:
        seen = each.result()
        files |= seen.opened
        failures += seen.failures
        for impression, drawing in zip(look.impressions, seen.drawings[::-1], strict=True):
            if not told and fingerprint(drawing) != fingerprint(impression.drawing):
                told = True
                yield _irreproducible(impression, drawing)
    for file in sorted(files):
        if _is_foreign(Path(file), look.sketch.folder):
            remedy = "put it beside the sketch, so that a series keeps a copy of it"
            yield RULE.finding("outside-file", look.artwork_line, f"{file} is read", remedy)
    yield from _failing(failures, look)


def _failing(failures: Sequence[Failure], look: Look) -> Iterator[Finding]:
    """Each distinct failure once, with the first recipe that shows it."""
    told: set[tuple[str, int]] = set()
    base = look.impressions[0].recipe
    for failure in failures:
        line = Line(str(failure.place.file), failure.place.line) if failure.place else look.artwork_line
        if (line.file, line.number) in told:
            continue
        told.add((line.file, line.number))
        turned = [
            f"{name} {value_told(value)}" for name, value in failure.recipe.dials.items() if base.dials.get(name) != value
        ]
        words = f"with {', '.join(turned)}" if turned else f"with seed {failure.recipe.seed}"
        remedy = "narrow the dial, or see to that case" if turned else "see to that case: some editions of a series would fail"
        yield RULE.finding("fails", line, f"{words}: {failure.message}", remedy)


def _irreproducible(impression: Impression, other: Drawing) -> Finding:
    words = first_difference(impression.drawing, other) or "its sheet differs"
    mark = first_mark_that_differs(impression.drawing, other)
    line = None if mark is None else line_of(impression, mark)
    remedy = "look for what no seed decides: times, sets, files, random"
    return RULE.finding("irreproducible", line, f"seed {impression.recipe.seed}: {words}", remedy)


def _is_foreign(file: Path, folder: Path) -> bool:
    """Whether a file belongs neither to the sketch's folder, nor to Python, its libraries or the system."""
    libraries = [*site.getsitepackages(), site.getusersitepackages(), platformdirs.user_cache_dir()]
    system = ("/proc", "/dev", "/sys", "/etc", "/usr", sys.prefix, sys.base_prefix)
    compiled = [sys.pycache_prefix] if sys.pycache_prefix else []
    own = [folder, Path(__file__).resolve().parents[2], *map(Path, (*libraries, *system, *compiled))]
    return file.is_file() and not any(file.is_relative_to(place.resolve()) for place in own)


RULE = Rule(
    {
        "irreproducible": "the same seed gave another picture in another process",
        "outside-file": "a file is read that lies outside of the sketch's folder",
        "fails": "the sketch fails with some seed, or with a dial at its end",
    },
    _find,
    several=True,
)
