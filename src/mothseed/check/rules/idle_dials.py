"""Dials that change nothing."""

from __future__ import annotations

import re
from collections.abc import Iterator

from mothseed.check.rule import Finding, Look, Rule
from mothseed.sketch import Sketch
from mothseed.sketch.trace import Line
from mothseed.study.turning import Turning
from mothseed.told import told


def _find(look: Look) -> Iterator[Finding]:
    """Dials for which no case is found in which they have an effect, alone or together with others."""
    base = look.impressions[0].recipe
    turning = Turning(look.sketch, base, tuple(impression.recipe.seed for impression in look.impressions))
    for name in look.sketch.artwork.dials:
        tried = turning.tried(name)
        if tried and turning.works(name) is None:
            words = f"{name} set to {', '.join(map(told, tried))} draws the same, whatever the other dials are set to"
            remedy = (
                f"see that what reads {name} is reached" if turning.is_read(name) else f"use {name} in the sketch, or drop it"
            )
            yield RULE.finding("idle-dial", _dial_line(look.sketch, name), words, remedy)


def _dial_line(sketch: Sketch, name: str) -> Line:
    """The line on which a dial is declared."""
    first = sketch.artwork.line
    lines = sketch.path.read_text(encoding="utf-8", errors="replace").splitlines()
    declared = (number for number, text in enumerate(lines[first - 1 :], first) if re.search(rf"\b{name}\s*(:[^=]+)?=", text))
    return Line(str(sketch.path), next(declared, first))


RULE = Rule({"idle-dial": "a dial that changes nothing"}, _find, several=True)
