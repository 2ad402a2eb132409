"""Colours as seen with a colour vision deficiency.

Machado, Oliveira and Fernandes, "A physiologically-based model for simulation of color vision deficiency", 2009: the matrices
for a severity of 1, on linear light.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from mothseed.checks import one_of
from mothseed.colour.oklch import encoded_srgb, linear_from_srgb, oklab_from_srgb
from mothseed.colour.value import Colour

_MATRICES = {
    "protanopia": (
        (0.152286, 1.052583, -0.204868),
        (0.114503, 0.786281, 0.099216),
        (-0.003882, -0.048116, 1.051998),
    ),
    "deuteranopia": (
        (0.367322, 0.860646, -0.227968),
        (0.280085, 0.672501, 0.047413),
        (-0.011820, 0.042940, 0.968881),
    ),
    "tritanopia": (
        (1.255528, -0.076749, -0.178779),
        (-0.078411, 0.930809, 0.147602),
        (0.004733, 0.691367, 0.303900),
    ),
}
VISIONS = tuple(_MATRICES)
"""Without the cones for long wavelengths (red), medium ones (green), or short ones (blue)."""
APART = 0.1
"""Distance in OKLab from which two colours in a picture are told apart, even if they are not side by side."""


class Confusion(NamedTuple):
    """Two colours that most people can tell apart, but not all."""

    vision: str
    first: Colour
    second: Colour
    distance: float
    """between them in OKLab, as seen with that deficiency"""


def seen_with(colour: Colour, vision: str) -> Colour:
    """A colour as seen with "protanopia", "deuteranopia" or "tritanopia"; alpha is unchanged. Raises SketchError for anything
    else.
    """
    one_of("seen_with", "vision", vision, VISIONS)
    linear = linear_from_srgb(np.array(colour[:3]))
    rows = _MATRICES[vision]
    seen = np.array([sum(part * weight for part, weight in zip(linear.tolist(), row, strict=True)) for row in rows])
    red, green, blue = encoded_srgb(seen.clip(0.0, 1.0)).clip(0.0, 1.0).tolist()
    return Colour(red, green, blue, colour.alpha)


def confusions(colours: Sequence[Colour]) -> list[Confusion]:
    """Pairs of colours that most people can tell apart and some cannot, by deficiency, in the order of the colours."""
    apart = _distances(colours) >= APART
    found = []
    for vision in VISIONS:
        seen = _distances([seen_with(colour, vision) for colour in colours])
        for first, second in zip(*np.nonzero(np.triu(apart & (seen < APART / 2), 1)), strict=True):
            found.append(Confusion(vision, colours[first], colours[second], float(seen[first, second])))
    return found


def _distances(colours: Sequence[Colour]) -> np.ndarray[tuple[int, int], np.dtype[np.float64]]:
    lab = oklab_from_srgb(np.array([colour[:3] for colour in colours]))
    return np.asarray(np.sqrt(((lab[:, None] - lab[None]) ** 2).sum(axis=2)))
