"""OKLab and OKLCH: colour by how light, how colourful and of which hue it looks.

Björn Ottosson, "A perceptual color space for image processing", 2020, with the matrices of CSS Color 4 (section 9.2); the
transfer function of sRGB is IEC 61966-2-1.
"""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.colour.value import Colour
from mothseed.errors import SketchError
from mothseed.portable import cosine_and_sine, heading

_CONE_FROM_LINEAR = np.array([
    [0.4122214708, 0.5363325363, 0.0514459929],
    [0.2119034982, 0.6806995451, 0.1073969566],
    [0.0883024619, 0.2817188376, 0.6299787005],
])  # fmt: skip
_LAB_FROM_CONE = np.array([
    [0.2104542553, 0.7936177850, -0.0040720468],
    [1.9779984951, -2.4285922050, 0.4505937099],
    [0.0259040371, 0.7827717662, -0.8086757660],
])  # fmt: skip
_LINEAR_FROM_CONE = np.linalg.inv(_CONE_FROM_LINEAR)
_CONE_FROM_LAB = np.linalg.inv(_LAB_FROM_CONE)

_JUST_NOTICEABLE = 0.02
"""Distance in OKLab below which CSS Color 4 (section 13.2) takes two colours for the same to the eye."""
_CHROMA_STEP = 0.0001
_GREY = 1e-6
"""Chroma below which the hue is a matter of rounding."""


def oklab_from_srgb(srgb: FloatArray) -> FloatArray:
    """Lightness, a and b of colours: float64 (..., 3) from sRGB of the same shape, 0 to 1."""
    return oklab_from_linear(linear_from_srgb(srgb))


def linear_from_srgb(srgb: FloatArray) -> FloatArray:
    """Light, in proportion to its energy, of sRGB values from 0 to 1: float64 of any shape."""
    return np.where(srgb <= 0.04045, srgb / 12.92, np.power((np.maximum(srgb, 0.0) + 0.055) / 1.055, 2.4))


def oklab_from_linear(linear: FloatArray) -> FloatArray:
    """OKLab from linear red, green and blue: float64 (..., 3)."""
    result: FloatArray = np.cbrt(linear @ _CONE_FROM_LINEAR.T) @ _LAB_FROM_CONE.T
    return result


def srgb_from_oklab(oklab: FloatArray) -> FloatArray:
    """SRGB of colours: float64 (..., 3), outside 0 to 1 where no screen shows them."""
    linear = (oklab @ _CONE_FROM_LAB.T) ** 3 @ _LINEAR_FROM_CONE.T
    size = np.abs(linear)
    curved = np.where(size <= 0.0031308, 12.92 * size, 1.055 * np.power(size, 1 / 2.4) - 0.055)
    result: FloatArray = np.copysign(curved, linear)
    return result


def from_oklch(lightness: float, chroma: float, hue: float, alpha: float = 1.0) -> Colour:
    """The colour of that lightness (0 to 1), chroma (0 to about 0.4) and hue in degrees.

    One that sRGB lacks is mapped as CSS Color 4 (section 13.2) says: lightness and hue stay, chroma is lowered until
    clipping can no longer be noticed. Raises SketchError for a lightness outside 0 to 1 or a negative chroma.
    """
    if not 0 <= lightness <= 1:
        raise SketchError(f"lightness is a number from 0 (black) to 1 (white) (got {lightness!r})")
    if not 0 <= chroma < 10:
        raise SketchError(f"chroma is 0 for grey and at most about 0.4 (got {chroma!r})")
    cosine, sine = cosine_and_sine(hue)
    direction = np.array([0.0, cosine, sine])
    base = np.array([lightness, 0.0, 0.0])

    def at(amount: float) -> tuple[FloatArray, FloatArray]:
        wanted = base + amount * direction
        return wanted, srgb_from_oklab(wanted)

    def clipping_shows(amount: float) -> bool:
        wanted, srgb = at(amount)
        shift = oklab_from_srgb(np.clip(srgb, 0.0, 1.0)) - wanted
        return bool(shift @ shift >= _JUST_NOTICEABLE**2)

    low, high = 0.0, chroma
    if clipping_shows(high):
        while high - low > _CHROMA_STEP:
            middle = (low + high) / 2
            low, high = (low, middle) if clipping_shows(middle) else (middle, high)
    else:
        low = high
    red, green, blue = np.clip(at(low)[1], 0.0, 1.0).tolist()
    return Colour(red, green, blue, alpha)


def oklch_of(colour: Colour) -> tuple[float, float, float]:
    """Lightness (0 to 1), chroma (0 to about 0.32) and hue in degrees of a colour; the hue of a grey is 0.

    >>> tuple(round(part, 3) for part in oklch_of(Colour.parse("#ff0000")))
    (0.628, 0.258, 29.234)
    """
    lightness, a, b = oklab_from_srgb(np.array(colour[:3])).tolist()
    chroma = math.sqrt(a * a + b * b)
    return lightness, chroma, heading(a, b) if chroma > _GREY else 0.0


def mixed(first: Colour, second: Colour, amount: float) -> Colour:
    """The colour `amount` of the way from one to the other, mixed in OKLab: 0 is the first, 1 the second.

    >>> mixed(Colour.parse("#000000"), Colour.parse("#ffffff"), 0.5).css
    '#636363'
    """
    if amount <= 0:
        return first
    if amount >= 1:
        return second
    ends = oklab_from_srgb(np.array([first[:3], second[:3]]))
    red, green, blue = np.clip(srgb_from_oklab(ends[0] + (ends[1] - ends[0]) * amount), 0.0, 1.0).tolist()
    return Colour(red, green, blue, first.alpha + (second.alpha - first.alpha) * amount)
