"""More marks than can be told apart."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from mothseed.check.rule import Finding, Look, Rule, line_of

_CROWDED = 1.0
"""Marks for each pixel of a proof of 1000 pixels."""


def _find(look: Look) -> Iterator[Finding]:
    for impression in look.impressions:
        drawing, origins = impression.drawing, impression.origins
        pixels = 1000 * 1000 * drawing.height / drawing.width
        if origins is not None and len(drawing) > _CROWDED * pixels:
            most = int(np.bincount(origins.of_marks).argmax())
            line = line_of(impression, int(np.flatnonzero(origins.of_marks == most)[0]))
            words = f"{len(drawing):,} marks on {pixels:,.0f} pixels"
            yield RULE.finding("crowded", line, words, "a tenth of them may look the same, in a tenth of the time")


RULE = Rule({"crowded": "more marks than can be told apart"}, _find)
