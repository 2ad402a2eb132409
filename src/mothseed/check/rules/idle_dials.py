"""Dials that change nothing."""

from __future__ import annotations

import re
from collections.abc import Iterator

from mothseed.check.rule import Finding, Look, Rule
from mothseed.faults import MothSeedError
from mothseed.making import make
from mothseed.sheet import fingerprint
from mothseed.sketch import Recipe, Sketch
from mothseed.sketch.around import settings_around
from mothseed.sketch.trace import Line
from mothseed.told import told


def _find(look: Look) -> Iterator[Finding]:
    known = [(each.recipe.seed, fingerprint(each.drawing)) for each in look.impressions]
    values = look.impressions[0].recipe.dials
    for name, dial in look.sketch.artwork.dials.items():
        tried = [setting.after(look.recipe) for setting in settings_around(name, dial, values[name])]
        if tried and not any(_changes(look.sketch, each.with_seed(seed), before) for each in tried for seed, before in known):
            words = f"{name} set to {', '.join(told(each.dials[name]) for each in tried)} draws the same"
            yield RULE.finding("idle-dial", _dial_line(look.sketch, name), words, f"use {name} in the sketch, or drop it")


def _changes(sketch: Sketch, recipe: Recipe, before: str) -> bool:
    try:
        return fingerprint(make(sketch, recipe).drawing) != before
    except MothSeedError:
        return True  # whatever it does, it does something


def _dial_line(sketch: Sketch, name: str) -> Line:
    """The line on which a dial is declared."""
    first = sketch.artwork.line
    lines = sketch.path.read_text(encoding="utf-8", errors="replace").splitlines()
    declared = (number for number, text in enumerate(lines[first - 1 :], first) if re.search(rf"\b{name}\s*(:[^=]+)?=", text))
    return Line(str(sketch.path), next(declared, first))


RULE = Rule({"idle-dial": "a dial that changes nothing"}, _find, several=True)
