"""Reading picture files, and writing those that Pillow writes, with the history in EXIF's ImageDescription."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path
from typing import Any

import numpy as np

from mothseed.arrays import ByteArray
from mothseed.faults import PictureError
from mothseed.files import read_ordinary, written_whole
from mothseed.formats.format import Written
from mothseed.formats.png_reading import quickly_read
from mothseed.formats.settings import Settings
from mothseed.render import rendered
from mothseed.sheet.drawing import Drawing
from mothseed.sizes import picture_size

HISTORY_KEYWORD = "mothseed"
"""Of the iTXt chunk that holds the history in a PNG."""
_HISTORY_TAG = 0x010E
"""ImageDescription of EXIF, which holds it in other files."""

_X_RESOLUTION, _Y_RESOLUTION, _RESOLUTION_UNIT, _INCHES = 0x011A, 0x011B, 0x0128, 2
"""Of EXIF: pixels in an inch."""


def write_by_pillow(path: Path, drawing: Drawing, history: str, settings: Settings, **options: Any) -> Written:
    """Render a drawing and write it with options for Pillow's `save`, whole or not at all."""
    from PIL import Image

    width, height = picture_size(drawing.width, drawing.height, settings.width)
    image = Image.fromarray(rendered(drawing, width, settings.threads))
    exif = Image.Exif()
    if history:
        exif[_HISTORY_TAG] = _in_ascii(history)
    resolution: dict[str, Any] = {}
    if settings.dpi is not None:
        resolution["dpi"] = settings.dpi, settings.dpi
        # WebP has no field for it.
        exif.update({_X_RESOLUTION: settings.dpi, _Y_RESOLUTION: settings.dpi, _RESOLUTION_UNIT: _INCHES})
    with written_whole(path) as part:
        image.save(part, exif=exif, **resolution, **options)
    return Written(width, height, "px")


def read_pixels(path: Path) -> ByteArray:
    """The pixels of a picture file as stored; raises PictureError if it is not whole."""
    from PIL import Image, UnidentifiedImageError

    try:
        content = read_ordinary(path)
        pixels = quickly_read(content)
        if pixels is not None:
            return pixels
        with Image.open(BytesIO(content)) as image:
            return np.asarray(image)
    except UnidentifiedImageError:
        raise PictureError("it is not a whole picture: it cannot be read") from None
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError) as fault:
        raise PictureError(f"it is not a whole picture: {fault}") from None


def read_history(path: Path) -> str | None:
    """The history in a picture file, or None if it has none; raises PictureError unless it is a whole picture."""
    from PIL import Image, UnidentifiedImageError

    try:
        with Image.open(BytesIO(read_ordinary(path))) as image:
            text = getattr(image, "text", {}).get(HISTORY_KEYWORD) or image.getexif().get(_HISTORY_TAG)
    except FileNotFoundError:
        raise PictureError(f"there is no picture {path}", hint="check the path") from None
    except UnidentifiedImageError:
        raise PictureError(f"{path} is not a whole picture: it cannot be read") from None
    except (OSError, SyntaxError, ValueError) as fault:
        raise PictureError(f"{path} is not a whole picture: {fault}") from None
    return None if text is None else str(text)


def _in_ascii(text: str) -> str:
    """JSON escaped to ASCII, which is all that EXIF can hold."""
    units = text.encode("utf-16-be")
    codes = [int.from_bytes(units[place : place + 2], "big") for place in range(0, len(units), 2)]
    return "".join(chr(code) if code < 128 else f"\\u{code:04x}" for code in codes)
