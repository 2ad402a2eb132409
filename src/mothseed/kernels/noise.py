"""Gradient noise: the kernels of random fields.

Each corner of a lattice of unit cells has a random direction, in which the noise rises near it. Ken Perlin, "An image
synthesizer", SIGGRAPH 1985, with the fade of "Improving noise", SIGGRAPH 2002, so that slopes pass smoothly from cell to
cell. Directions are hashed from the integer coordinates of the lattice, and never repeat.
"""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2, FloatArray
from mothseed.bits import FIRST_FACTOR, GOLDEN_GAMMA, SECOND_FACTOR
from mothseed.native.jit import entry, inlined, kernel
from mothseed.portable import GOLDEN_TURN, cosine_and_sine

_DIRECTIONS = 256


def _circle() -> FloatArray:
    """Directions in the plane, evenly spread: (256, 2)."""
    return np.array([cosine_and_sine(index * (360.0 / _DIRECTIONS)) for index in range(_DIRECTIONS)])


def _sphere() -> FloatArray:
    """Directions in space, nearly evenly spread, in a spiral from pole to pole: (256, 3)."""
    index = np.arange(float(_DIRECTIONS))
    z: FloatArray = 1.0 - (2.0 * index + 1.0) / _DIRECTIONS
    around = np.sqrt(1.0 - z * z)
    cosine, sine = np.array([cosine_and_sine(each * GOLDEN_TURN) for each in index.tolist()]).T
    return np.stack([around * cosine, around * sine, z], axis=1)


_CIRCLE, _SPHERE = _circle(), _sphere()

_FLAT_SCALE = math.sqrt(2.0)
_DEEP_SCALE = 2.0 / math.sqrt(3.0)
"""Noise from unit directions reaches half the diagonal of a cell; these factors make it reach 1."""

_X, _Y, _Z = np.uint64(GOLDEN_GAMMA), np.uint64(0xC2B2AE3D27D4EB4F), np.uint64(0x165667B19E3779F9)
_OCTAVE = np.uint64(0xD1B54A32D192ED03)
_FIRST_FACTOR, _SECOND_FACTOR = np.uint64(FIRST_FACTOR), np.uint64(SECOND_FACTOR)
_THIRTY, _TWENTY_SEVEN, _TO_DIRECTION = np.uint64(30), np.uint64(27), np.uint64(56)


@inlined
def _direction(key: np.uint64, x: int, y: int, z: int) -> int:
    """The index of the direction at a corner: the finalizer of SplitMix64 applied to a sum of odd multiples."""
    h = key + np.uint64(x) * _X + np.uint64(y) * _Y + np.uint64(z) * _Z
    h = (h ^ (h >> _THIRTY)) * _FIRST_FACTOR
    h = (h ^ (h >> _TWENTY_SEVEN)) * _SECOND_FACTOR
    return int(h >> _TO_DIRECTION)


@inlined
def _fade(t: float) -> float:
    return t * t * t * (t * (t * 6.0 - 15.0) + 10.0)


@inlined
def _slope_of_fade(t: float) -> float:
    return 30.0 * t * t * (t * (t - 2.0) + 1.0)


@kernel
def _flat(key: np.uint64, x: float, y: float) -> tuple[float, float, float]:
    """Noise in the plane, and its slopes across and down."""
    left, top = math.floor(x), math.floor(y)
    column, row = int(left), int(top)
    u, v = x - left, y - top
    fade_u, fade_v = _fade(u), _fade(v)
    slope_u, slope_v = _slope_of_fade(u), _slope_of_fade(v)
    value = across = down = 0.0
    for corner in range(4):
        i, j = corner & 1, corner >> 1
        which = _direction(key, column + i, row + j, 0)
        gx, gy = _CIRCLE[which, 0], _CIRCLE[which, 1]
        rise = gx * (u - i) + gy * (v - j)
        weight_u = fade_u if i else 1.0 - fade_u
        weight_v = fade_v if j else 1.0 - fade_v
        value += weight_u * weight_v * rise
        across += weight_v * (weight_u * gx + (slope_u if i else -slope_u) * rise)
        down += weight_u * (weight_v * gy + (slope_v if j else -slope_v) * rise)
    return value * _FLAT_SCALE, across * _FLAT_SCALE, down * _FLAT_SCALE


@kernel
def _deep(key: np.uint64, x: float, y: float, z: float) -> tuple[float, float, float]:
    """Noise in space, and its slopes across and down."""
    left, top, near = math.floor(x), math.floor(y), math.floor(z)
    column, row, layer = int(left), int(top), int(near)
    u, v, w = x - left, y - top, z - near
    fade_u, fade_v, fade_w = _fade(u), _fade(v), _fade(w)
    slope_u, slope_v = _slope_of_fade(u), _slope_of_fade(v)
    value = across = down = 0.0
    for corner in range(8):
        i, j, k = corner & 1, (corner >> 1) & 1, corner >> 2
        which = _direction(key, column + i, row + j, layer + k)
        gx, gy, gz = _SPHERE[which, 0], _SPHERE[which, 1], _SPHERE[which, 2]
        rise = gx * (u - i) + gy * (v - j) + gz * (w - k)
        weight_u = fade_u if i else 1.0 - fade_u
        weight_v = fade_v if j else 1.0 - fade_v
        weight_w = fade_w if k else 1.0 - fade_w
        value += weight_u * weight_v * weight_w * rise
        across += weight_v * weight_w * (weight_u * gx + (slope_u if i else -slope_u) * rise)
        down += weight_u * weight_w * (weight_v * gy + (slope_v if j else -slope_v) * rise)
    return value * _DEEP_SCALE, across * _DEEP_SCALE, down * _DEEP_SCALE


@kernel
def _at(
    key: np.uint64, x: float, y: float, z: float, in_space: bool, detail: int, roughness: float
) -> tuple[float, float, float]:
    """The value at a place, and its slopes across and down.

    Each further octave of `detail` has twice the frequency and `roughness` times the height of the one before; all heights
    together are 1.
    """
    value = across = down = whole = 0.0
    height, frequency = 1.0, 1.0
    for _ in range(detail):
        if in_space:
            a, b, c = _deep(key, x * frequency, y * frequency, z * frequency)
        else:
            a, b, c = _flat(key, x * frequency, y * frequency)
        value += height * a
        across += height * frequency * b
        down += height * frequency * c
        whole += height
        height *= roughness
        frequency *= 2.0
        key += _OCTAVE
    return value / whole, across / whole, down / whole


@entry
def height(key: np.uint64, x: float, y: float, z: float, in_space: bool, detail: int, roughness: float) -> float:
    """The value at a place."""
    return _at(key, x, y, z, in_space, detail, roughness)[0]


@entry
def sample(
    key: np.uint64,
    x: Array1[np.float64],
    y: Array1[np.float64],
    z: Array1[np.float64],
    in_space: bool,
    detail: int,
    roughness: float,
    out: Array2[np.float64],
) -> None:
    """Fill out (n, 3) with the value at each place, and its slopes across and down."""
    for n in range(len(x)):
        out[n, 0], out[n, 1], out[n, 2] = _at(key, x[n], y[n], z[n], in_space, detail, roughness)
