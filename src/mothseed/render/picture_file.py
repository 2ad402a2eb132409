"""From a drawing to a picture file, in bands, so that memory does not grow with its height."""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

from mothseed.render.pixels import HashedBands
from mothseed.render.png import write_png_bands
from mothseed.render.raster import picture_size, rendered_bands
from mothseed.sheet.drawing import Drawing


class Written(NamedTuple):
    """What was written: its size in pixels and the hash of them."""

    width: int
    height: int
    pixel_hash: str


def write_picture(
    path: Path, drawing: Drawing, width: int, history: str = "", dpi: float | None = None, threads: int | None = None
) -> Written:
    """Render a drawing that many pixels wide and write it as PNG with its history, whole or not at all.

    Raises UsageError for a size that cannot be made, FileError where the file cannot be written.
    """
    width, height = picture_size(drawing.width, drawing.height, width)
    bands = HashedBands(rendered_bands(drawing, width, threads), height)
    write_png_bands(path, bands, height, history, dpi)
    return Written(width, height, bands.digest)
