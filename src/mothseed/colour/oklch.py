"""OKLab and OKLCH: colour by perceived lightness, chroma and hue.

Björn Ottosson, "A perceptual color space for image processing", 2020, with the matrices of CSS Color 4 (section 9.2); the
transfer function of sRGB is IEC 61966-2-1.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.checks import finite, one_of
from mothseed.colour.value import Colour, as_colour
from mothseed.faults import SketchError
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
LINEAR_FROM_CONE = np.linalg.inv(_CONE_FROM_LINEAR)
_CONE_FROM_LAB = np.linalg.inv(_LAB_FROM_CONE)

NOTICEABLE = 0.02
"""Distance in OKLab from which most people see a difference between two colours side by side (CSS Color 4, section 13.2)."""
_CHROMA_STEP = 0.0001
_ROUNDING = 1e-5
"""How far a channel may lie outside 0 to 1 and still count as inside the gamut: a hundredth of a level at 10 bits."""
_FAINT = 4e-6
"""Chroma below which a colour has no hue of its own when mixed, as in CSS Color 4 (section 9.3)."""
_GREY = 1e-6
"""Chroma below which the hue is only rounding."""


def oklab_from_srgb(srgb: FloatArray) -> FloatArray:
    """Lightness, a and b of colours: float64 (..., 3) from sRGB of the same shape, 0 to 1."""
    return oklab_from_linear(linear_from_srgb(srgb))


def lightness_of(colour: Sequence[float]) -> float:
    """The lightness of red, green and blue, with the same bits as from `oklab_from_srgb`, in a tenth of the time."""
    channels = colour[:3]
    curved = np.power([(part + 0.055) / 1.055 for part in channels], 2.4).tolist()
    red, green, blue = [part / 12.92 if part <= 0.04045 else power for part, power in zip(channels, curved, strict=True)]
    cones = np.cbrt([red * row[0] + green * row[1] + blue * row[2] for row in _CONE_FROM_LINEAR_ROWS])
    long, middle, short = cones.tolist()
    row = _LAB_ROWS[0]
    return float(long * row[0] + middle * row[1] + short * row[2])


def linear_from_srgb(srgb: FloatArray) -> FloatArray:
    """Linear light from sRGB values from 0 to 1: float64 of any shape."""
    return np.where(srgb <= 0.04045, srgb / 12.92, np.power((np.maximum(srgb, 0.0) + 0.055) / 1.055, 2.4))


def oklab_from_linear(linear: FloatArray) -> FloatArray:
    """OKLab from linear red, green and blue: float64 (..., 3)."""
    return _product(_LAB_FROM_CONE, np.cbrt(_product(_CONE_FROM_LINEAR, linear)))


def cones_from_srgb(srgb: FloatArray) -> FloatArray:
    """The cube roots of the responses of the three kinds of cones to sRGB: float64 (..., 3). OKLab is a linear map of
    them.
    """
    return np.cbrt(_product(_CONE_FROM_LINEAR, linear_from_srgb(srgb)))


def _product(matrix: FloatArray, vectors: FloatArray) -> FloatArray:
    """A matrix times each vector (..., 3), with the same bits for one as for many, unlike in a linear algebra library."""
    parts = [vectors[..., 0] * row[0] + vectors[..., 1] * row[1] + vectors[..., 2] * row[2] for row in matrix.tolist()]
    return np.stack(parts, axis=-1)


def srgb_from_oklab(oklab: FloatArray) -> FloatArray:
    """SRGB from OKLab: float64 (..., 3), outside 0 to 1 for colours outside the gamut."""
    cone = _product(_CONE_FROM_LAB, oklab)
    # Multiplied rather than raised: quicker, and the same bits on every processor.
    return encoded_srgb(_product(LINEAR_FROM_CONE, cone * cone * cone))


def encoded_srgb(linear: FloatArray) -> FloatArray:
    """The sRGB value of linear light: float64 of any shape; negative values are mirrored."""
    size = np.abs(linear)
    curved = np.where(size <= 0.0031308, 12.92 * size, 1.055 * np.power(size, 1 / 2.4) - 0.055)
    return np.copysign(curved, linear)


def from_oklch(lightness: float, chroma: float, hue: float, alpha: float = 1.0, *, clip: bool = True) -> Colour:
    """The colour with that lightness (0 to 1), chroma (0 to about 0.4) and hue in degrees.

    A colour outside sRGB is mapped as in CSS Color 4 (section 13.2): chroma is lowered until clipping is no longer
    noticeable, then the rest is clipped, which shifts the hue of dark and light colours by up to ten degrees. Without `clip`,
    chroma is lowered until nothing needs clipping: lightness and hue stay, and the colour is duller. Raises SketchError for a
    lightness outside 0 to 1 or a negative chroma.
    """
    if not 0 <= lightness <= 1:
        raise SketchError(f"lightness must be a number from 0 (black) to 1 (white) (got {lightness!r})")
    if not 0 <= chroma < 10:
        raise SketchError(f"chroma is 0 for grey and at most about 0.4 (got {chroma!r})")
    cosine, sine = cosine_and_sine(hue)
    low, high = 0.0, chroma
    cannot_be = _clipping_shows if clip else _needs_clipping
    if cannot_be(lightness, high * cosine, high * sine):
        while high - low > _CHROMA_STEP:
            middle = (low + high) / 2
            if cannot_be(lightness, middle * cosine, middle * sine):
                high = middle
            else:
                low = middle
    else:
        low = high
    return Colour(*_clipped(_srgb_of(lightness, low * cosine, low * sine)), alpha)


Triple = tuple[float, float, float]


def _clipping_shows(lightness: float, a: float, b: float) -> bool:
    """Whether clipping a colour channel by channel makes a visible difference."""
    l2, a2, b2 = _lab_of(_clipped(_srgb_of(lightness, a, b)))
    return (l2 - lightness) ** 2 + (a2 - a) ** 2 + (b2 - b) ** 2 >= NOTICEABLE**2


def shown_in_srgb(lightness: float, chroma: float, hue: float) -> bool:
    """Whether a colour is inside the sRGB gamut."""
    cosine, sine = cosine_and_sine(hue)
    return 0 <= lightness <= 1 and not _needs_clipping(lightness, chroma * cosine, chroma * sine)


def _needs_clipping(lightness: float, a: float, b: float) -> bool:
    """Whether a colour is outside the sRGB gamut."""
    return any(not -_ROUNDING <= part <= 1 + _ROUNDING for part in _srgb_of(lightness, a, b))


def _clipped(srgb: Triple) -> Triple:
    red, green, blue = srgb
    return min(max(red, 0.0), 1.0), min(max(green, 0.0), 1.0), min(max(blue, 0.0), 1.0)


def _times(matrix: tuple[Triple, Triple, Triple], x: float, y: float, z: float) -> Triple:
    first, second, third = matrix
    return (
        first[0] * x + first[1] * y + first[2] * z,
        second[0] * x + second[1] * y + second[2] * z,
        third[0] * x + third[1] * y + third[2] * z,
    )


# One colour at a time: an array of three numbers would take ten times as long.


def _srgb_of(lightness: float, a: float, b: float) -> Triple:
    """As `srgb_from_oklab`."""
    long, middle, short = _times(_CONE_ROWS, lightness, a, b)
    red, green, blue = _times(_LINEAR_ROWS, long * long * long, middle * middle * middle, short * short * short)
    return _curved(red), _curved(green), _curved(blue)


def _lab_of(srgb: Triple) -> Triple:
    """As `oklab_from_srgb`, for colours inside the gamut."""
    red, green, blue = (part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in srgb)
    long, middle, short = _times(_CONE_FROM_LINEAR_ROWS, red, green, blue)
    return _times(_LAB_ROWS, math.cbrt(long), math.cbrt(middle), math.cbrt(short))


def _curved(part: float) -> float:
    size = abs(part)
    return math.copysign(12.92 * size if size <= 0.0031308 else 1.055 * size ** (1 / 2.4) - 0.055, part)


def _rows(matrix: FloatArray) -> tuple[Triple, Triple, Triple]:
    first, second, third = (tuple(row) for row in matrix.tolist())
    return first, second, third


_CONE_FROM_LINEAR_ROWS, _LAB_ROWS = _rows(_CONE_FROM_LINEAR), _rows(_LAB_FROM_CONE)
_LINEAR_ROWS, _CONE_ROWS = _rows(LINEAR_FROM_CONE), _rows(_CONE_FROM_LAB)


def oklch_of(colour: Colour) -> tuple[float, float, float]:
    """Lightness (0 to 1), chroma (0 to about 0.32) and hue in degrees of a colour; the hue of a grey is 0.

    >>> tuple(round(part, 3) for part in oklch_of(Colour.parse("#ff0000")))
    (0.628, 0.258, 29.234)
    """
    lightness, a, b = _lab_of(colour[:3])
    chroma = math.sqrt(a * a + b * b)
    return lightness, chroma, heading(a, b) if chroma > _GREY else 0.0


SPACES = ("oklab", "oklch")
"""Spaces in which colours are mixed."""


def mixed(first: object, second: object, amount: float, *, space: str = "oklab") -> Colour:
    """The colour `amount` of the way from one to the other, mixed in OKLab: 0 gives the first, 1 the second.

    In "oklch" the hue takes the shorter way round and colours stay vivid: blue and yellow pass through green rather than
    grey. A grey takes the hue of the other colour. Raises SketchError for an amount that is not a number, and for other
    spaces.

    >>> mixed("#000000", "#ffffff", 0.5).css, mixed("#5b8fb0", "#e8b44f", 0.5, space="oklch").css
    ('#636363', '#64b68b')
    """
    first, second = as_colour(first), as_colour(second)
    finite("mixed", amount=amount, hint='write mixed("navy", "teal", 0.5)')
    if space != "oklab":
        one_of("mixed", "space", space, SPACES)
    if amount <= 0:
        return first
    if amount >= 1:
        return second
    if space == "oklch":
        return _mixed_by_hue(first, second, amount)
    start, end = _lab_of(first[:3]), _lab_of(second[:3])
    lightness, a, b = (here + (there - here) * amount for here, there in zip(start, end, strict=True))
    return Colour(*_clipped(_srgb_of(lightness, a, b)), first.alpha + (second.alpha - first.alpha) * amount)


def _mixed_by_hue(first: Colour, second: Colour, amount: float) -> Colour:
    """CSS Color 4, sections 12.3 and 12.4: the shorter arc of hues; a colour without a hue takes that of the other."""
    (light, vivid, hue), (other_light, other_vivid, other_hue) = oklch_of(first), oklch_of(second)
    if vivid <= _FAINT:
        hue = other_hue
    elif other_vivid > _FAINT:
        hue += ((other_hue - hue + 180) % 360 - 180) * amount
    return from_oklch(
        light + (other_light - light) * amount,
        vivid + (other_vivid - vivid) * amount,
        hue,
        first.alpha + (second.alpha - first.alpha) * amount,
    )
