"""How a picture looks as a whole, in numbers.

They are taken from the reduced picture, 192 pixels across, in OKLab: what one sees from across the room, whatever the
resolution. What lies on the paper is what differs noticeably from its colour.
"""

from __future__ import annotations

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.colour.oklch import oklab_from_srgb
from mothseed.colour.value import Colour
from mothseed.portable import heading

MEASURES = {
    "coverage": "share of the picture that is not bare paper, 0 to 1",
    "lightness": "mean lightness, 0 (black) to 1 (white)",
    "lightness_spread": "standard deviation of lightness",
    "contrast": "lightness that nineteen twentieths do not exceed, less that which one twentieth does not",
    "colourfulness": "mean chroma: 0 is grey, 0.1 plainly coloured, 0.3 as vivid as a screen can",
    "hue": "the most frequent hue by chroma, in degrees: 30 red, 90 yellow, 145 green, 230 blue, 310 violet; -1 for grey",
    "detail": "mean difference in lightness between neighbouring pixels, times 100",
    "balance_x": "how far the middle of what lies on the paper is right of the middle, in parts of the width",
    "balance_y": "how far it is below, in parts of the height",
    "symmetry": "correlation of the picture with its mirror image, left and right: 1 is the same, 0 nothing alike",
    "margin": "least empty margin, in parts of the width",
}
"""The measures by name, and what each says."""

_NOTICEABLE = 0.02
"""Distance in OKLab from which on two colours differ to the eye (CSS Color 4)."""
_HUES = 36
_GREY = 0.004
"""Mean chroma below which a picture has no hue."""


def look_of(lab: FloatArray, paper: Colour) -> dict[str, float]:
    """The MEASURES of a reduced picture in OKLab, float64 (rows, columns, 3); of its paper transparent parts are white."""
    white = Colour(1.0, 1.0, 1.0)
    shift = lab - oklab_from_srgb(np.array(paper.over(white)[:3]))
    weight = np.sqrt(np.einsum("...c,...c", shift, shift))
    drawn = weight >= _NOTICEABLE
    lightness = lab[..., 0]
    chroma = np.sqrt(lab[..., 1] ** 2 + lab[..., 2] ** 2)
    low, high = np.quantile(lightness, (0.05, 0.95))
    balance_x, balance_y = _balance(np.where(drawn, weight, 0.0))
    values = {
        "coverage": drawn.mean(),
        "lightness": lightness.mean(),
        "lightness_spread": lightness.std(),
        "contrast": high - low,
        "colourfulness": chroma.mean(),
        "hue": _main_hue(lab, chroma),
        "detail": 100 * _mean_step(lightness),
        "balance_x": balance_x,
        "balance_y": balance_y,
        "symmetry": _symmetry(lightness),
        "margin": _margin(drawn),
    }
    return {name: round(float(values[name]), 5) for name in MEASURES}


def _balance(weight: FloatArray) -> tuple[float, float]:
    total = weight.sum()
    if total == 0:
        return 0.0, 0.0
    rows, columns = weight.shape
    across, down = (np.arange(columns) + 0.5) / columns - 0.5, (np.arange(rows) + 0.5) / rows - 0.5
    return float((weight.sum(axis=0) * across).sum() / total), float((weight.sum(axis=1) * down).sum() / total)


def _main_hue(lab: FloatArray, chroma: FloatArray) -> float:
    """The mean hue of the fullest twelfth of the circle of hues, each pixel weighed by its chroma."""
    if chroma.mean() < _GREY:
        return -1.0
    a, b = lab[..., 1].ravel(), lab[..., 2].ravel()
    # A hue that is off by its last bit is in the same part of the circle, or next to where it would be.
    parts = np.floor(np.arctan2(b, a) * (_HUES / (2 * np.pi))).astype(np.int64) % _HUES
    across, down, weight = (np.bincount(parts, each, _HUES) for each in (a, b, chroma.ravel()))
    fullest = int((weight + np.roll(weight, 1) + np.roll(weight, -1)).argmax())
    around = [(fullest + step) % _HUES for step in (-1, 0, 1)]
    return heading(float(across[around].sum()), float(down[around].sum()))


def _mean_step(lightness: FloatArray) -> float:
    steps = [np.abs(np.diff(lightness, axis=axis)) for axis in (0, 1)]
    count = sum(step.size for step in steps)
    return float(sum(step.sum() for step in steps) / count) if count else 0.0


def _symmetry(lightness: FloatArray) -> float:
    centred = lightness - lightness.mean()
    power = float((centred * centred).sum())
    return float((centred * centred[:, ::-1]).sum() / power) if power > 1e-9 else 1.0


def _margin(drawn: np.ndarray[tuple[int, int], np.dtype[np.bool]]) -> float:
    if not drawn.any():
        return 0.5
    rows, columns = np.flatnonzero(drawn.any(axis=1)), np.flatnonzero(drawn.any(axis=0))
    high, wide = drawn.shape
    return float(min(rows[0], high - 1 - rows[-1], columns[0], wide - 1 - columns[-1]) / wide)
