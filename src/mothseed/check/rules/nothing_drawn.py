"""Sketches that draw nothing."""

from __future__ import annotations

from collections.abc import Iterator

from mothseed.check.rule import Finding, Look, Rule
from mothseed.told import counted


def _find(look: Look) -> Iterator[Finding]:
    if not any(len(impression.drawing) for impression in look.impressions):
        words = f"none of {counted(len(look.impressions), 'seed')} draws a mark"
        yield RULE.finding("nothing-drawn", None, words, "draw on the sheet: sheet.circle(30, 20, 5)")


RULE = Rule({"nothing-drawn": "nothing is drawn"}, _find)
