"""Light and dark: how light, how far apart, how busy, how even."""

from __future__ import annotations

import numpy as np

from mothseed.measure.measure import Measure, Sight


def _lightness(sight: Sight) -> float:
    return float(sight.lightness.mean())


def _spread(sight: Sight) -> float:
    return float(sight.lightness.std())


def _contrast(sight: Sight) -> float:
    low, high = np.quantile(sight.lightness, (0.05, 0.95))
    return float(high - low)


def _detail(sight: Sight) -> float:
    steps = [np.abs(np.diff(sight.lightness, axis=axis)) for axis in (0, 1)]
    count = sum(step.size for step in steps)
    return 100 * float(sum(step.sum() for step in steps) / count) if count else 0.0


def _symmetry(sight: Sight) -> float:
    centred = sight.lightness - sight.lightness.mean()
    power = float((centred * centred).sum())
    return float((centred * centred[:, ::-1]).sum() / power) if power > 1e-9 else 1.0


LIGHTNESS = Measure("lightness", "mean lightness, 0 (black) to 1 (white)", _lightness)
SPREAD = Measure("lightness_spread", "standard deviation of lightness", _spread)
CONTRAST = Measure("contrast", "95th percentile of lightness minus the 5th", _contrast)
DETAIL = Measure("detail", "mean difference in lightness between neighbouring pixels, times 100", _detail)
SYMMETRY = Measure(
    "symmetry", "correlation of the picture with its mirror image, left to right: 1 is identical, 0 unrelated", _symmetry
)
