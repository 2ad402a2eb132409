"""Reading picture files: their pixels, and the history that they carry."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path

import numpy as np

from mothseed.arrays import ByteArray
from mothseed.faults import PictureError
from mothseed.files import read_ordinary
from mothseed.formats.png_reading import quickly_read

HISTORY_KEYWORD = "mothseed"
"""Of the iTXt chunk that holds the history in a PNG."""
HISTORY_TAG = 0x010E
"""ImageDescription of EXIF, which holds it in other files."""


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
            text = getattr(image, "text", {}).get(HISTORY_KEYWORD) or image.getexif().get(HISTORY_TAG)
    except FileNotFoundError:
        raise PictureError(f"there is no picture {path}", hint="check the path") from None
    except UnidentifiedImageError:
        raise PictureError(f"{path} is not a whole picture: it cannot be read") from None
    except (OSError, SyntaxError, ValueError) as fault:
        raise PictureError(f"{path} is not a whole picture: {fault}") from None
    return None if text is None else str(text)
