"""The blend modes of CSS: Compositing and Blending Level 1, sections 10.1 and 10.2; colours are not premultiplied."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1
from mothseed.native.jit import inlined, kernel

(
    NORMAL, MULTIPLY, SCREEN, OVERLAY, DARKEN, LIGHTEN, COLOR_DODGE, COLOR_BURN,
    HARD_LIGHT, SOFT_LIGHT, DIFFERENCE, EXCLUSION, HUE, SATURATION, COLOR, LUMINOSITY,
) = range(16)  # fmt: skip
"""The modes in the order of `sheet.blends`."""

Parts = Array1[np.float32]
_ZERO, _QUARTER, _HALF, _ONE, _TWO = (np.float32(number) for number in (0.0, 0.25, 0.5, 1.0, 2.0))
_RED, _GREEN, _BLUE = np.float32(0.3), np.float32(0.59), np.float32(0.11)


@kernel
def blended(mode: int, below: Parts, above: Parts, mixed: Parts) -> None:
    """Set `mixed` to the blend of `above` and `below`, three channels each, by a non-separable mode."""
    if mode == HUE:
        _set_saturation(above, _saturation(below), mixed)
        _set_luminosity(mixed, _luminosity(below))
    elif mode == SATURATION:
        _set_saturation(below, _saturation(above), mixed)
        _set_luminosity(mixed, _luminosity(below))
    else:
        source, other = (above, below) if mode == COLOR else (below, above)
        for plane in range(3):
            mixed[plane] = source[plane]
        _set_luminosity(mixed, _luminosity(other))


@inlined
def part_blended(mode: int, b: np.float32, s: np.float32) -> np.float32:
    """One channel blended by a separable mode, one before HUE, from the backdrop's b and the source's s."""
    if mode == MULTIPLY:
        return b * s
    if mode == SCREEN:
        return b + s - b * s
    if mode == OVERLAY:
        return _hard_light(s, b)
    if mode == DARKEN:
        return min(b, s)
    if mode == LIGHTEN:
        return max(b, s)
    if mode == COLOR_DODGE:
        return _ZERO if b <= _ZERO else _ONE if s >= _ONE else min(_ONE, b / (_ONE - s))
    if mode == COLOR_BURN:
        return _ONE if b >= _ONE else _ZERO if s <= _ZERO else _ONE - min(_ONE, (_ONE - b) / s)
    if mode == HARD_LIGHT:
        return _hard_light(b, s)
    if mode == SOFT_LIGHT:
        if s <= _HALF:
            return b - (_ONE - _TWO * s) * b * (_ONE - b)
        d = ((np.float32(16.0) * b - np.float32(12.0)) * b + np.float32(4.0)) * b if b <= _QUARTER else np.float32(math.sqrt(b))
        return b + (_TWO * s - _ONE) * (d - b)
    if mode == DIFFERENCE:
        return abs(b - s)
    if mode == EXCLUSION:
        return b + s - _TWO * b * s
    return s


@inlined
def _hard_light(b: np.float32, s: np.float32) -> np.float32:
    if s <= _HALF:
        return np.float32(b * _TWO * s)
    doubled = _TWO * s - _ONE
    return b + doubled - b * doubled


@inlined
def _luminosity(colour: Parts) -> np.float32:
    return np.float32(_RED * colour[0] + _GREEN * colour[1] + _BLUE * colour[2])


@inlined
def _saturation(colour: Parts) -> np.float32:
    return np.float32(max(colour[0], colour[1], colour[2]) - min(colour[0], colour[1], colour[2]))


@inlined
def _set_saturation(colour: Parts, saturation: np.float32, result: Parts) -> None:
    low = min(colour[0], colour[1], colour[2])
    span = max(colour[0], colour[1], colour[2]) - low
    for plane in range(3):
        result[plane] = (colour[plane] - low) * saturation / span if span > _ZERO else _ZERO


@kernel
def _set_luminosity(colour: Parts, luminosity: np.float32) -> None:
    shift = luminosity - _luminosity(colour)
    for plane in range(3):
        colour[plane] += shift
    middle = _luminosity(colour)
    low, high = min(colour[0], colour[1], colour[2]), max(colour[0], colour[1], colour[2])
    if low < _ZERO:
        for plane in range(3):
            colour[plane] = middle + (colour[plane] - middle) * middle / (middle - low)
    if high > _ONE:
        for plane in range(3):
            colour[plane] = middle + (colour[plane] - middle) * (_ONE - middle) / (high - middle)
