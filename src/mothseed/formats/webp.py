"""Pictures as WebP files (RFC 9649), without loss."""

from __future__ import annotations

from pathlib import Path

from mothseed.faults import PictureError
from mothseed.formats.format import Format, Written
from mothseed.formats.picture_reading import read_history
from mothseed.formats.pillow import write_by_pillow
from mothseed.formats.settings import Settings
from mothseed.sheet.drawing import Drawing
from mothseed.sizes import picture_size

_LONGEST = 16383


def _write(path: Path, drawing: Drawing, history: str, settings: Settings) -> Written:
    width, height = picture_size(drawing.width, drawing.height, settings.width)
    if max(width, height) > _LONGEST:
        raise PictureError(f"a WebP has at most {_LONGEST} pixels on a side, not {width} x {height}", hint="write .png or .tif")
    return write_by_pillow(path, drawing, history, settings, format="WEBP", lossless=True, exact=True)


FORMAT = Format("WebP", (".webp",), _write, history=read_history)
