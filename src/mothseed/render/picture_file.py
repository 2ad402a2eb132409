"""From a drawing to a picture file, in bands, so that memory does not grow with its height."""

from __future__ import annotations

from pathlib import Path

from mothseed.render.png import write_png_bands
from mothseed.render.raster import picture_size, rendered_bands
from mothseed.sheet.drawing import Drawing


def write_picture(
    path: Path, drawing: Drawing, width: int, history: str = "", dpi: float | None = None, threads: int | None = None
) -> tuple[int, int]:
    """Render a drawing that many pixels wide and write it as PNG with its history, whole or not at all; returns its size.

    Raises UsageError for a size that cannot be made, FileError where the file cannot be written.
    """
    width, height = picture_size(drawing.width, drawing.height, width)
    write_png_bands(path, rendered_bands(drawing, width, threads), height, history, dpi)
    return width, height
