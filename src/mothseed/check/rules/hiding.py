"""Marks that hide everything drawn before them."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from mothseed.arrays import ByteArray
from mothseed.check.rule import Finding, Look, Rule, line_of
from mothseed.render import rendered
from mothseed.sheet.derive import alone
from mothseed.sheet.extents import mark_boxes
from mothseed.sheet.style import FILLED
from mothseed.sketch import Impression
from mothseed.told import counted


def _find(look: Look) -> Iterator[Finding]:
    for impression in look.impressions:
        yield from _in_impression(impression)


def _in_impression(impression: Impression) -> Iterator[Finding]:
    """The last mark that covers the whole sheet, if others were drawn before it."""
    drawing = impression.drawing
    boxes = mark_boxes(drawing)
    whole = (boxes[:, 0] <= 0) & (boxes[:, 1] <= 0) & (boxes[:, 2] >= drawing.width) & (boxes[:, 3] >= drawing.height)
    solid = (drawing.marks["painted"] & FILLED > 0) & (drawing.marks["opacity"] == 1)
    for mark in np.flatnonzero(whole & solid)[::-1].tolist():
        if mark == 0:
            return
        covers = _is_solid(rendered(alone(drawing, np.array([mark])), 64))
        if covers and drawing.finishes[drawing.marks["finish"][mark]].blend == "normal":
            words = f"it hides {counted(mark, 'mark')} drawn before it"
            yield RULE.finding("hides-all", line_of(impression, mark), words, "draw it first, or give it an opacity")
            return


def _is_solid(pixels: ByteArray) -> bool:
    # The last row and column may extend beyond the sheet.
    return bool((pixels[:-1, :-1, 3] == 255).all())


RULE = Rule({"hides-all": "a mark hides everything that was drawn before it"}, _find)
