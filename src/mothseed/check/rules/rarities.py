"""Outcomes so rare that they hardly ever come up."""

from __future__ import annotations

from collections.abc import Iterator

from mothseed.check.rule import Finding, Look, Rule
from mothseed.told import told

_HARDLY = 0.02
"""A value expected fewer times than this among all draws hardly ever comes up."""


def _find(look: Look) -> Iterator[Finding]:
    expected: dict[tuple[str, str], float] = {}
    came: set[tuple[str, str]] = set()
    for impression in look.impressions:
        for outcome in impression.outcomes:
            came.add((outcome.label, told(outcome.value)))
            for value, odds in outcome.promised:
                key = outcome.label, told(value)
                expected[key] = expected.get(key, 0.0) + odds
    count = len(look.impressions)
    for (label, value), times in expected.items():
        if 0 < times < _HARDLY * count and (label, value) not in came:
            words = f"{label} = {value} comes once in {count / times:,.0f} pictures"
            yield RULE.finding("hardly-ever", look.artwork_line, words, "raise its odds, or look for it with mothseed seek")


RULE = Rule({"hardly-ever": "an outcome so rare that it hardly ever comes"}, _find, several=True)
