"""Pictures as PNG files that carry their own history.

PNG is ISO/IEC 15948. The history is the text of an iTXt chunk with the keyword "mothseed".
"""

from __future__ import annotations

import zlib
from pathlib import Path
from struct import pack

import numpy as np
from isal import isal_zlib

from mothseed.arrays import ByteArray
from mothseed.errors import PictureError
from mothseed.files import write_bytes

HISTORY_KEYWORD = "mothseed"

_SIGNATURE = b"\x89PNG\r\n\x1a\n"
_COLOUR_TYPES = {3: 2, 4: 6}
_UP_FILTER = 2
_PERCEPTUAL = 0
_LEVEL = 1
_METRES_PER_INCH = 0.0254


def encoded(pixels: ByteArray, history: str = "", dpi: float | None = None) -> bytes:
    """A PNG file from uint8 (height, width, 3 or 4), sRGB; the same bytes for the same pixels, history and dpi."""
    height, width, channels = pixels.shape
    chunks = [
        _chunk(b"IHDR", pack(">IIBBBBB", width, height, 8, _COLOUR_TYPES[channels], 0, 0, 0)),
        _chunk(b"sRGB", bytes([_PERCEPTUAL])),
    ]
    if dpi is not None:
        per_metre = round(dpi / _METRES_PER_INCH)
        chunks.append(_chunk(b"pHYs", pack(">IIB", per_metre, per_metre, 1)))
    if history:
        # Keyword, no compression, no language, no translated keyword, text.
        chunks.append(_chunk(b"iTXt", HISTORY_KEYWORD.encode() + b"\0\0\0\0\0" + history.encode()))
    chunks += [_chunk(b"IDAT", _deflated(pixels)), _chunk(b"IEND", b"")]
    return _SIGNATURE + b"".join(chunks)


def write_png(path: Path, pixels: ByteArray, history: str = "", dpi: float | None = None) -> None:
    """Write a PNG file, whole or not at all; raises FileError where that is not possible."""
    write_bytes(path, encoded(pixels, history, dpi))


def _deflated(pixels: ByteArray) -> bytes:
    """Each row less the one above it, compressed: flat areas and gentle ramps become runs of few values."""
    height, width, channels = pixels.shape
    rows = pixels.reshape(height, width * channels)
    filtered = np.empty((height, 1 + width * channels), np.uint8)
    filtered[:, 0] = _UP_FILTER
    filtered[0, 1:] = rows[0]
    np.subtract(rows[1:], rows[:-1], out=filtered[1:, 1:])
    return isal_zlib.compress(filtered.tobytes(), _LEVEL)


def _chunk(name: bytes, content: bytes) -> bytes:
    return pack(">I", len(content)) + name + content + pack(">I", zlib.crc32(name + content))


def read_history(path: Path) -> str | None:
    """The history that a PNG file carries, or None where it has none; raises PictureError where it is no whole picture."""
    from PIL import Image, UnidentifiedImageError

    try:
        with Image.open(path) as image:
            text = getattr(image, "text", {}).get(HISTORY_KEYWORD)
    except FileNotFoundError:
        raise PictureError(f"there is no picture {path}", hint="look at the path") from None
    except (OSError, SyntaxError, ValueError, UnidentifiedImageError) as fault:
        raise PictureError(f"{path} is not a whole picture: {fault}") from None
    return None if text is None else str(text)
