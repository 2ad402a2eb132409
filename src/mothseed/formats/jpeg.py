"""Pictures as JPEG files (ISO/IEC 10918-1), all colours at full resolution."""

from __future__ import annotations

from pathlib import Path

from mothseed.faults import PictureError
from mothseed.formats.format import Format, Written
from mothseed.formats.picture_reading import read_history
from mothseed.formats.pillow import write_by_pillow
from mothseed.formats.settings import Settings
from mothseed.sheet.drawing import Drawing


def _write(path: Path, drawing: Drawing, history: str, settings: Settings) -> Written:
    if drawing.paper.alpha < 1:
        raise PictureError("a JPEG cannot be transparent", hint="give the sheet a paper, or write .png or .webp")
    return write_by_pillow(path, drawing, history, settings, format="JPEG", quality=95, subsampling=0)


FORMAT = Format("JPEG", (".jpg", ".jpeg"), _write, history=read_history)
