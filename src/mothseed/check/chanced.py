"""What can be told from dials, outcomes and streams."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from pathlib import Path

from mothseed.check.finding import Finding
from mothseed.check.source import function_lines
from mothseed.errors import MothSeedError
from mothseed.series import Seed, Variant
from mothseed.series.around import settings_around
from mothseed.series.job import AS_IT_IS
from mothseed.sheet import fingerprint
from mothseed.sketch import Impression, Sketch, perform
from mothseed.sketch.trace import Line

_HARDLY = 0.02
"""Times that a value is expected among all that was seen, below which it hardly ever comes."""


def chance_findings(sketch: Sketch, impressions: Sequence[Impression], variant: Variant = AS_IT_IS) -> Iterator[Finding]:
    """What is found in how a sketch uses its dials and chance, for some seeds of a variant."""
    yield from _idle_dials(sketch, impressions, variant)
    yield from _rarities(sketch, impressions)
    yield from _shared_streams(impressions)


def _idle_dials(sketch: Sketch, impressions: Sequence[Impression], variant: Variant) -> Iterator[Finding]:
    known = [(impression.seed, fingerprint(impression.drawing)) for impression in impressions]
    for name, dial in sketch.artwork.dials.items():
        settings = settings_around(name, dial, impressions[0].dials[name])
        tried = [setting.after(variant) for setting in settings]
        if tried and not any(_changes(sketch, seed, each, before) for each in tried for seed, before in known):
            values = ", ".join(f"{getattr(each.dials[name], 'css', each.dials[name])}" for each in tried)
            yield Finding(
                "idle-dial",
                _dial_line(sketch, name),
                f"{name} set to {values} draws the same",
                f"use {name} in the sketch, or drop it",
            )


def _dial_line(sketch: Sketch, name: str) -> Line:
    """The line on which a dial is declared."""
    first = sketch.artwork.line
    lines = sketch.path.read_text(encoding="utf-8", errors="replace").splitlines()
    declared = (number for number, text in enumerate(lines[first - 1 :], first) if re.search(rf"\b{name}\s*(:[^=]+)?=", text))
    return Line(str(sketch.path), next(declared, first))


def _changes(sketch: Sketch, seed: Seed, variant: Variant, before: str) -> bool:
    try:
        return fingerprint(perform(sketch, seed, variant.dials, variant.reseeds).drawing) != before
    except MothSeedError:
        return True  # whatever it does, it does something


def _rarities(sketch: Sketch, impressions: Sequence[Impression]) -> Iterator[Finding]:
    expected: dict[tuple[str, str], float] = {}
    came: set[tuple[str, str]] = set()
    for impression in impressions:
        for outcome in impression.outcomes:
            came.add((outcome.label, str(outcome.value)))
            for value, odds in outcome.promised:
                key = outcome.label, str(value)
                expected[key] = expected.get(key, 0.0) + odds
    line = Line(str(sketch.path), sketch.artwork.line)
    for (label, value), times in expected.items():
        if 0 < times < _HARDLY * len(impressions) and (label, value) not in came:
            words = f"{label} = {value} comes once in {len(impressions) / times:,.0f} pictures"
            yield Finding("hardly-ever", line, words, "raise its odds, or look for it with mothseed seek")


def _shared_streams(impressions: Sequence[Impression]) -> Iterator[Finding]:
    """Streams from which two functions of the sketch draw."""
    functions: dict[str, dict[int, str]] = {}
    told: set[tuple[str, str]] = set()
    for impression in impressions:
        origins = impression.origins
        assert origins is not None
        users: dict[str, dict[str, Line]] = {}
        for draw in origins.draws:
            calls = origins.calls[draw.calls]
            if calls:
                line = calls[0]
                if line.file not in functions:
                    functions[line.file] = function_lines(Path(line.file).read_text(encoding="utf-8"))
                users.setdefault(draw.stream, {}).setdefault(functions[line.file].get(line.number, ""), line)
        for stream, lines in users.items():
            names = list(lines)
            if len(names) > 1 and (names[0], names[1]) not in told:
                told.add((names[0], names[1]))
                first, second = lines[names[0]], lines[names[1]]
                shown = f'chance("{stream}")' if stream else "the chance that the sketch is given"
                yield Finding("shared-stream", second, f"{names[0]} ({first}) and {names[1]} both draw from {shown}",
                              f'draw from a branch of its own, chance("{names[1]}"): then neither moves the other')  # fmt: skip
