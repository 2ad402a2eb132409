"""Painting a drawing. Kernels, and with them the compiler, are imported only when something is painted."""

from __future__ import annotations

from collections.abc import Iterator

from mothseed.arrays import ByteArray
from mothseed.render.rounding import USUAL, Rounding
from mothseed.sheet.drawing import Drawing
from mothseed.sizes import picture_size


def rendered(drawing: Drawing, width: int, threads: int | None = None) -> ByteArray:
    """The pixels of a drawing: uint8 (height, width, 3), or 4 with straight alpha where the paper is not opaque.

    `threads` defaults to the number of processors and does not affect the pixels.
    """
    from mothseed.render.raster import bands

    _, height = picture_size(drawing.width, drawing.height, width)
    (pixels,) = bands(drawing, width, height, threads, USUAL)
    return pixels


def rendered_bands(drawing: Drawing, width: int, threads: int | None = None, rounding: Rounding = USUAL) -> Iterator[ByteArray]:
    """The same pixels from top to bottom in bands of rows, of which only one need be in memory at a time. With another
    `rounding`, uint8 (rows, width, bytes of a pixel).
    """
    from mothseed.render.raster import bands, rows_of_band

    return bands(drawing, width, rows_of_band(width), threads, rounding)
