"""Storing pixels in other forms: 16 bits, grey, dithered."""

from __future__ import annotations

import numpy as np

from mothseed.kernels.primitives import TileJob, Window
from mothseed.kernels.tile_sizes import PLANES, TILE
from mothseed.native.jit import inlined, technique

_ZERO, _ONE, _HALF = np.float32(0.0), np.float32(1.0), np.float32(0.5)
_LEVELS = np.float32(255.0)
_RED, _GREEN, _BLUE = np.float32(0.2126), np.float32(0.7152), np.float32(0.0722)
"""Weights of luma, ITU-R BT.709, item 3.2."""
_SPREAD = np.float32(15 / 16)
"""Range of dithering in levels: less than one, so that a value exactly on a level stays there."""


@technique
def store_otherwise(job: TileJob, window: Window, left: int, top: int, i: int) -> None:
    """Round the first tile into pixels from (left, top) on as the job says, with colours not premultiplied.

    Pixels are uint8 (height, width, bytes of a pixel).
    """
    tiles, pixels, bits, grey, dither = job.room.tiles, job.pixels, job.bits, job.grey, job.dither
    height, width = pixels.shape[0], pixels.shape[1]
    most = _LEVELS if bits == 8 else np.float32(65535.0)
    colours, has_alpha = 1 if grey else 3, window.planes == PLANES
    for row in range(min(TILE, height - top)):
        for x in range(min(TILE, width - left)):
            alpha = tiles[0, row, 3, x] if has_alpha else _ONE
            red, green, blue = tiles[0, row, 0, x], tiles[0, row, 1, x], tiles[0, row, 2, x]
            offset = _HALF + (_threshold(left + x, row) - _HALF) * _SPREAD if dither else _HALF
            for channel in range(colours + has_alpha):
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
def _threshold(x: int, y: int) -> np.float32:
    """A threshold from 0 to 1 for each of 8 by 8 pixels, as different as possible between neighbours.

    Bayer, "An optimum method for two-level rendition of continuous-tone pictures", 1973: the interleaved bits of x xor y and
    of y.
    """
    mixed = x ^ y
    order = 0
    for bit in range(3):
        order = (order << 2) | (((mixed >> bit) & 1) << 1) | ((y >> bit) & 1)
    return np.float32((order + 0.5) / 64.0)
