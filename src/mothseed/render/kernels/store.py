"""The last step: from paint in floating point to the whole numbers that a file holds."""

from __future__ import annotations

import numpy as np

from mothseed.arrays import ByteArray
from mothseed.jit import inlined, kernel
from mothseed.render.kernels.tile import TILE, Tile

_ZERO, _ONE, _HALF = np.float32(0.0), np.float32(1.0), np.float32(0.5)
_LEVELS = np.float32(255.0)
_RED, _GREEN, _BLUE = np.float32(0.2126), np.float32(0.7152), np.float32(0.0722)
"""Weights of luma, ITU-R BT.709, item 3.2."""
_SPREAD = np.float32(15 / 16)
"""Of a level, over which dithering spreads: less than one, so that what lies on a level stays there."""


@kernel
def store_tile(tile: Tile, pixels: ByteArray, left: int, top: int, opaque: bool, bits: int, grey: bool, dither: bool) -> None:
    """Round a tile into pixels, uint8 (height, width, bytes of a pixel), colours no longer premultiplied."""
    if bits == 8 and not grey and not dither:
        _store_usual(tile, pixels, left, top)
        return
    height, width = pixels.shape[0], pixels.shape[1]
    most = _LEVELS if bits == 8 else np.float32(65535.0)
    colours = 1 if grey else 3
    for row in range(min(TILE, height - top)):
        for x in range(min(TILE, width - left)):
            alpha = _ONE if opaque else tile[row, 3, x]
            red, green, blue = tile[row, 0, x], tile[row, 1, x], tile[row, 2, x]
            offset = _HALF + (_threshold(left + x, row) - _HALF) * _SPREAD if dither else _HALF
            for channel in range(colours + (not opaque)):
                if channel == colours:
                    value = alpha
                else:
                    value = red if channel == 0 else green if channel == 1 else blue
                    if grey:
                        value = red * _RED + green * _GREEN + blue * _BLUE
                    value = value / alpha if alpha > _ZERO else _ZERO
                level = int(min(min(max(value, _ZERO), _ONE) * most + offset, most))
                if bits == 8:
                    pixels[top + row, left + x, channel] = np.uint8(level)
                else:
                    pixels[top + row, left + x, 2 * channel] = np.uint8(level >> 8)
                    pixels[top + row, left + x, 2 * channel + 1] = np.uint8(level & 255)


@inlined
def _store_usual(tile: Tile, pixels: ByteArray, left: int, top: int) -> None:
    height, width, channels = pixels.shape
    for row in range(min(TILE, height - top)):
        for x in range(min(TILE, width - left)):
            alpha = tile[row, 3, x] if channels == 4 else _ONE
            for channel in range(3):
                level = tile[row, channel, x] / alpha if alpha > _ZERO else _ZERO
                pixels[top + row, left + x, channel] = np.uint8(min(max(level, _ZERO), _ONE) * _LEVELS + _HALF)
            if channels == 4:
                pixels[top + row, left + x, 3] = np.uint8(min(max(alpha, _ZERO), _ONE) * _LEVELS + _HALF)


@inlined
def _threshold(x: int, y: int) -> np.float32:
    """A number from 0 to 1 for each of 8 by 8 pixels, neighbours as unlike as can be.

    Bayer, "An optimum method for two-level rendition of continuous-tone pictures", 1973: the bits of x xor y and of y, woven.
    """
    mixed = x ^ y
    order = 0
    for bit in range(3):
        order = (order << 2) | (((mixed >> bit) & 1) << 1) | ((y >> bit) & 1)
    return np.float32((order + 0.5) / 64.0)
