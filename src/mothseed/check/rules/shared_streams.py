"""Streams of chance from which two functions draw."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from mothseed.check.rule import Finding, Look, Rule
from mothseed.check.text import function_lines
from mothseed.sketch.trace import Line


def _find(look: Look) -> Iterator[Finding]:
    functions: dict[str, dict[int, str]] = {}
    told: set[tuple[str, str]] = set()
    for impression in look.impressions:
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
                words = f"{names[0]} ({first}) and {names[1]} both draw from {shown}"
                remedy = f'draw from a branch of its own, chance("{names[1]}"): then neither moves the other'
                yield RULE.finding("shared-stream", second, words, remedy)


RULE = Rule({"shared-stream": "one stream of chance is drawn from for two things"}, _find)
