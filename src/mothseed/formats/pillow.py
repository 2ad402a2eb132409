"""Writing the picture files that Pillow writes, with the history in EXIF's ImageDescription."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from mothseed.files import written_whole
from mothseed.formats.format import Written
from mothseed.formats.picture_reading import HISTORY_TAG
from mothseed.formats.settings import Settings
from mothseed.render import rendered
from mothseed.sheet.drawing import Drawing
from mothseed.sizes import picture_size

_X_RESOLUTION, _Y_RESOLUTION, _RESOLUTION_UNIT, _INCHES = 0x011A, 0x011B, 0x0128, 2
"""Of EXIF: pixels in an inch."""


def write_by_pillow(path: Path, drawing: Drawing, history: str, settings: Settings, **options: Any) -> Written:
    """Render a drawing and write it with options for Pillow's `save`, whole or not at all."""
    from PIL import Image

    width, height = picture_size(drawing.width, drawing.height, settings.width)
    image = Image.fromarray(rendered(drawing, width, settings.threads))
    exif = Image.Exif()
    if history:
        exif[HISTORY_TAG] = _in_ascii(history)
    resolution: dict[str, Any] = {}
    if settings.dpi is not None:
        resolution["dpi"] = settings.dpi, settings.dpi
        # WebP has no field for it.
        exif.update({_X_RESOLUTION: settings.dpi, _Y_RESOLUTION: settings.dpi, _RESOLUTION_UNIT: _INCHES})
    with written_whole(path) as part:
        image.save(part, exif=exif, **resolution, **options)
    return Written(width, height, "px")


def _in_ascii(text: str) -> str:
    """JSON escaped to ASCII, which is all that EXIF can hold."""
    units = text.encode("utf-16-be")
    codes = [int.from_bytes(units[place : place + 2], "big") for place in range(0, len(units), 2)]
    return "".join(chr(code) if code < 128 else f"\\u{code:04x}" for code in codes)
