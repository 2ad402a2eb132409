"""Structural similarity of two pictures."""

from __future__ import annotations

import numpy as np

from mothseed.arrays import FloatArray

_REACH, _SPREAD = 5, 1.5
"""Radius of the window in pixels, and standard deviation of its weights."""
_STEADY_MEAN, _STEADY_SPREAD = 0.01**2, 0.03**2
"""Constants that stabilize the two fractions near 0."""
_SEEN_AT = 256
"""Shorter side in pixels to which pictures are reduced first, as seen whole."""


def structural_similarity(first: FloatArray, second: FloatArray) -> float:
    """The mean structural similarity of two images of lightness, float64 (height, width) from 0 to 1: 1 is the same.

    Wang, Bovik, Sheikh and Simoncelli, "Image quality assessment: from error visibility to structural similarity", 2004,
    equation 13 with its constants and Gaussian window, on pictures reduced as its authors advise. Pictures smaller than the
    window are taken as a single window.
    """
    factor = max(round(min(first.shape) / _SEEN_AT), 1)
    x, y = (_reduced(image, factor) for image in (first, second))
    mean = _blurred if min(x.shape) > 2 * _REACH else _whole_mean
    mean_x, mean_y = mean(x), mean(y)
    variance_x, variance_y = mean(x * x) - mean_x**2, mean(y * y) - mean_y**2
    alike = (2 * mean_x * mean_y + _STEADY_MEAN) * (2 * (mean(x * y) - mean_x * mean_y) + _STEADY_SPREAD)
    unlike = (mean_x**2 + mean_y**2 + _STEADY_MEAN) * (variance_x + variance_y + _STEADY_SPREAD)
    return float((alike / unlike).mean())


def _reduced(image: FloatArray, factor: int) -> FloatArray:
    """Means of blocks of pixels; a remainder at the right and bottom is dropped."""
    height, width = (length // factor * factor for length in image.shape)
    blocks = image[:height, :width].reshape(height // factor, factor, width // factor, factor)
    result: FloatArray = blocks.mean(axis=(1, 3))
    return result


def _whole_mean(image: FloatArray) -> FloatArray:
    return np.full((1, 1), image.mean())


def _blurred(image: FloatArray) -> FloatArray:
    """Means in a Gaussian window, wherever it lies within the image."""
    weights = np.exp(-0.5 * (np.arange(-_REACH, _REACH + 1) / _SPREAD) ** 2)
    weights /= weights.sum()
    for axis in (0, 1):
        image = np.asarray(np.lib.stride_tricks.sliding_window_view(image, len(weights), axis=axis) @ weights, np.float64)
    return image
