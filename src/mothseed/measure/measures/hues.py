"""Colour: how much of it, and which."""

from __future__ import annotations

import numpy as np

from mothseed.measure.measure import Measure, Sight
from mothseed.portable import heading

_HUES = 36
_GREY = 0.004
"""Mean chroma below which a picture has no hue."""


def _colourfulness(sight: Sight) -> float:
    return float(sight.chroma.mean())


def _hue(sight: Sight) -> float:
    """The mean hue within the fullest twelfth of the hue circle, weighted by chroma."""
    if sight.chroma.mean() < _GREY:
        return -1.0
    a, b = sight.lab[..., 1].ravel(), sight.lab[..., 2].ravel()
    # A hue that is off by its last bit falls into the same part of the circle, or the next.
    parts = np.floor(np.arctan2(b, a) * (_HUES / (2 * np.pi))).astype(np.int64) % _HUES
    across, down, weight = (np.bincount(parts, each, _HUES) for each in (a, b, sight.chroma.ravel()))
    fullest = int((weight + np.roll(weight, 1) + np.roll(weight, -1)).argmax())
    around = [(fullest + step) % _HUES for step in (-1, 0, 1)]
    return heading(float(across[around].sum()), float(down[around].sum()))


COLOURFULNESS = Measure(
    "colourfulness", "mean chroma: 0 is grey, 0.1 clearly coloured, 0.3 as vivid as a screen gets", _colourfulness
)
HUE = Measure(
    "hue",
    "the dominant hue, weighted by chroma, in degrees: 30 red, 90 yellow, 145 green, 230 blue, 310 violet; -1 for grey",
    _hue,
)
