"""Pictures as PNG files that carry their own history.

PNG is ISO/IEC 15948. The history is the text of an iTXt chunk with the keyword "mothseed".
"""

from __future__ import annotations

from pathlib import Path

from mothseed.formats.format import Format, Written
from mothseed.formats.picture_reading import read_history
from mothseed.formats.png_writing import write_png_bands
from mothseed.formats.settings import Settings
from mothseed.render import rendered_bands
from mothseed.sheet.drawing import Drawing
from mothseed.sizes import picture_size


def _write(path: Path, drawing: Drawing, history: str, settings: Settings) -> Written:
    width, height = picture_size(drawing.width, drawing.height, settings.width)
    bands = rendered_bands(drawing, width, settings.threads, settings.rounding)
    write_png_bands(path, bands, height, history, settings.dpi, settings.effort, settings.rounding.bits)
    return Written(width, height, "px")


FORMAT = Format("PNG", (".png",), _write, frozenset({"width", "dpi", "effort", "rounding"}), read_history)
