"""A reduced picture, as seen from across the room, from which measures are taken."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from mothseed.arrays import ByteArray, FloatArray
from mothseed.native.library import Kernel

_add_up_parts = Kernel("reducing.add_up_parts")

REDUCED_WIDTH = 192
"""Width in pixels: enough for forms and colours, and measures do not depend on the size of the picture."""
_LEVELS = 255


class ReducedBands:
    """Passes on the bands of a picture; afterwards `image` is the reduced picture, on white.

    Each of its pixels is the mean of those it stands for, so the whole picture need never be in memory.
    """

    def __init__(self, bands: Iterable[ByteArray], width: int, height: int) -> None:
        self._bands = bands
        self._columns = parts_of(width, min(width, REDUCED_WIDTH))
        rows = min(max(round(height * (len(self._columns) - 1) / width), 1), height)
        self._rows = parts_of(height, rows)
        self._totals = np.zeros((rows, len(self._columns) - 1, 3))

    def __iter__(self) -> Iterator[ByteArray]:
        top = 0
        for band in self._bands:
            self._add(band, top)
            top += len(band)
            yield band

    def _add(self, band: ByteArray, top: int) -> None:
        rows = np.ascontiguousarray(on_white(band)).reshape(len(band), -1)
        _add_up_parts(rows, top, self._rows, self._columns, np.empty(rows.shape[1], np.uint32), self._totals)

    @property
    def image(self) -> FloatArray:
        """Float64 (rows, columns, 3), sRGB from 0 to 1."""
        areas = np.diff(self._rows)[:, None, None] * np.diff(self._columns)[None, :, None]
        result: FloatArray = self._totals / (areas * _LEVELS)
        return result


def reduced(pixels: ByteArray) -> FloatArray:
    """A reduced picture, from uint8 (height, width, 3 or 4)."""
    bands = ReducedBands([pixels], pixels.shape[1], pixels.shape[0])
    for _ in bands:
        pass
    return bands.image


def parts_of(length: int, count: int) -> np.ndarray[tuple[int], np.dtype[np.int64]]:
    """Starts of `count` nearly equal integer parts of a length, and its end."""
    return np.arange(count + 1, dtype=np.int64) * length // count


def on_white(band: ByteArray) -> ByteArray:
    """Pixels on white, uint8 (height, width, 3) from 3 or 4 channels."""
    if band.shape[2] == 3:
        return band
    alpha = band[..., 3:].astype(np.uint16)
    return ((band[..., :3] * alpha + _LEVELS * (_LEVELS - alpha) + _LEVELS // 2) // _LEVELS).astype(np.uint8)
