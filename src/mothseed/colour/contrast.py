"""Contrast between two colours, as the Web Content Accessibility Guidelines measure it."""

from __future__ import annotations

import numpy as np

from mothseed.colour.oklch import from_oklch, linear_from_srgb, oklch_of
from mothseed.colour.value import Colour, as_colour
from mothseed.faults import SketchError

_LUMINANCE = (0.2126, 0.7152, 0.0722)
_FLARE = 0.05
"""WCAG 2.2, "relative luminance" and "contrast ratio": what a screen reflects is added to both."""
_HALVINGS = 30
_ENOUGH = 1e-3
_LEVELS = 255


def contrast(first: object, second: object) -> float:
    """The contrast ratio of two colours, from 1 (none) to 21 (black on white); WCAG 2.2 asks for 4.5 for small text and 3 for
    large.

    What is not opaque is laid over the other first.

    >>> contrast("#000000", "white")
    21.0
    """
    one, other = as_colour(first), as_colour(second)
    dark, light = sorted((_luminance(one.over(other)), _luminance(other.over(one))))
    return (light + _FLARE) / (dark + _FLARE)


def contrasted(colour: object, ground: object, ratio: float) -> Colour:
    """A colour made lighter or darker until it has that contrast ratio with its ground, with its hue kept.

    It stays lighter or darker than the ground, as it was, and changes sides only if no colour there has enough contrast; its
    chroma is lowered as far as a screen requires. Raises SketchError for a ratio below 1, and if neither side reaches it.
    """
    start, base = as_colour(colour), as_colour(ground)
    if not 1 <= ratio <= 21:
        raise SketchError(f"contrasted: a contrast ratio is from 1 (none) to 21 (black on white) (got {ratio!r})")
    _, chroma, hue = oklch_of(start)
    middle = oklch_of(base)[0]
    lighter_first = oklch_of(start)[0] >= middle
    for end in (1.0, 0.0) if lighter_first else (0.0, 1.0):
        if contrast(from_oklch(end, 0.0, hue), base) < ratio:
            continue
        near, far = middle, end
        for _ in range(_HALVINGS):
            tried = (near + far) / 2
            if contrast(from_oklch(tried, chroma, hue), base) < ratio:
                near = tried
            else:
                far = tried
            if abs(far - near) < _ENOUGH / 100:
                break
        return from_oklch(far, chroma, hue, start.alpha)
    most = max(contrast("black", base), contrast("white", base))
    raise SketchError(f"contrasted: no colour has a contrast of {ratio} to {base.css}", hint=f"at most {most:.1f} is possible")


def legible(colour: object, ground: object, ratio: float = 4.5) -> Colour:
    """A colour that is readable on its ground: unchanged if it has that contrast, or else with the nearest lightness that
    does.

    The ratio holds for what a screen shows, with 8 bits per channel; a changed colour is rounded to these. It stays lighter
    or darker than the ground if possible, and keeps its hue as far as a screen can show it. Raises SketchError for a ratio
    below 1, and if neither black nor white reaches it.
    """
    start, base = as_colour(colour), as_colour(ground)
    if not 1 <= ratio <= 21:
        raise SketchError(f"legible: a contrast ratio is from 1 (none) to 21 (black on white) (got {ratio!r})")
    if contrast(_in_8_bits(start), _in_8_bits(base)) >= ratio:
        return start
    lightness, chroma, hue = oklch_of(start)

    def at(level: float) -> Colour:
        return _in_8_bits(from_oklch(level, chroma if 0 < level < 1 else 0.0, hue, start.alpha))

    lighter_first = lightness >= oklch_of(base)[0]
    for end in (1.0, 0.0) if lighter_first else (0.0, 1.0):
        if contrast(at(end), _in_8_bits(base)) < ratio:
            continue
        near, far = lightness, end
        while abs(far - near) > _ENOUGH:
            tried = (near + far) / 2
            if contrast(at(tried), _in_8_bits(base)) < ratio:
                near = tried
            else:
                far = tried
        return at(far)
    most = max(contrast(at(1.0), base), contrast(at(0.0), base))
    raise SketchError(f"legible: no colour has a contrast of {ratio} to {base.css}", hint=f"at most {most:.1f} is possible")


def _in_8_bits(colour: Colour) -> Colour:
    red, green, blue = (round(part * _LEVELS) / _LEVELS for part in colour[:3])
    return Colour(red, green, blue, colour.alpha)


def _luminance(colour: Colour) -> float:
    red, green, blue = (float(part) for part in linear_from_srgb(np.array(colour[:3])))
    return _LUMINANCE[0] * red + _LUMINANCE[1] * green + _LUMINANCE[2] * blue
