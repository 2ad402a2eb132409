"""Pictures as PNG files that carry their own history.

PNG is ISO/IEC 15948. The history is the text of an iTXt chunk with the keyword "mothseed".
"""

from __future__ import annotations

import zlib
from collections.abc import Iterable, Iterator
from itertools import chain
from pathlib import Path
from struct import pack

import numpy as np
from isal import isal_zlib

from mothseed.arrays import ByteArray
from mothseed.errors import PictureError
from mothseed.files import write_bytes, written_whole

HISTORY_KEYWORD = "mothseed"
HISTORY_TAG = 0x010E
"""ImageDescription of EXIF, which holds the history in files that are no PNG."""

_SIGNATURE = b"\x89PNG\r\n\x1a\n"
_COLOUR_TYPES = {3: 2, 4: 6}
_UP_FILTER = 2
_PERCEPTUAL = 0
_LEVEL = 1
_METRES_PER_INCH = 0.0254


def encoded(pixels: ByteArray, history: str = "", dpi: float | None = None) -> bytes:
    """A PNG file from uint8 (height, width, 3 or 4), sRGB; the same bytes for the same pixels, history and dpi."""
    height, width, channels = pixels.shape
    return b"".join(_file([pixels], width, height, channels, history, dpi))


def write_png(path: Path, pixels: ByteArray, history: str = "", dpi: float | None = None) -> None:
    """Write a PNG file, whole or not at all; raises FileError where that is not possible."""
    write_bytes(path, encoded(pixels, history, dpi))


def write_png_bands(path: Path, bands: Iterable[ByteArray], height: int, history: str = "", dpi: float | None = None) -> None:
    """Write a PNG file of that height from bands, one below the other, as they are made; whole or not at all.

    The same bands give the same bytes. Raises FileError where it cannot be written.
    """
    waiting = iter(bands)
    first = next(waiting)
    _, width, channels = first.shape
    with written_whole(path) as part, part.open("wb") as file:
        for piece in _file(chain([first], waiting), width, height, channels, history, dpi):
            file.write(piece)


def _file(
    bands: Iterable[ByteArray], width: int, height: int, channels: int, history: str, dpi: float | None
) -> Iterator[bytes]:
    """The pieces of a file, an IDAT chunk for each band."""
    yield _SIGNATURE
    yield _chunk(b"IHDR", pack(">IIBBBBB", width, height, 8, _COLOUR_TYPES[channels], 0, 0, 0))
    yield _chunk(b"sRGB", bytes([_PERCEPTUAL]))
    if dpi is not None:
        per_metre = round(dpi / _METRES_PER_INCH)
        yield _chunk(b"pHYs", pack(">IIB", per_metre, per_metre, 1))
    if history:
        # Keyword, no compression, no language, no translated keyword, text.
        yield _chunk(b"iTXt", HISTORY_KEYWORD.encode() + b"\0\0\0\0\0" + history.encode())
    deflate = isal_zlib.compressobj(_LEVEL)
    above = np.zeros(width * channels, np.uint8)
    for band in bands:
        rows = band.reshape(len(band), width * channels)
        content = deflate.compress(_filtered(rows, above))
        above = rows[-1]
        if content:
            yield _chunk(b"IDAT", content)
    yield _chunk(b"IDAT", deflate.flush())
    yield _chunk(b"IEND", b"")


def _filtered(rows: ByteArray, above: ByteArray) -> bytes:
    """Each row less the one above it: flat areas and gentle ramps become runs of few values."""
    filtered = np.empty((len(rows), 1 + rows.shape[1]), np.uint8)
    filtered[:, 0] = _UP_FILTER
    np.subtract(rows[0], above, out=filtered[0, 1:])
    np.subtract(rows[1:], rows[:-1], out=filtered[1:, 1:])
    return filtered.tobytes()


def _chunk(name: bytes, content: bytes) -> bytes:
    return pack(">I", len(content)) + name + content + pack(">I", zlib.crc32(name + content))


def read_pixels(path: Path) -> ByteArray:
    """The pixels of a picture file as they are in it; raises PictureError where it is no whole picture."""
    from PIL import Image

    try:
        with Image.open(path) as image:
            return np.asarray(image)
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError) as fault:
        raise PictureError(f"it is no whole picture: {fault}") from None


def read_history(path: Path) -> str | None:
    """The history that a picture file carries, or None where it has none; raises PictureError where it is no whole picture."""
    from PIL import Image, UnidentifiedImageError

    try:
        with Image.open(path) as image:
            text = getattr(image, "text", {}).get(HISTORY_KEYWORD) or image.getexif().get(HISTORY_TAG)
    except FileNotFoundError:
        raise PictureError(f"there is no picture {path}", hint="look at the path") from None
    except (OSError, SyntaxError, ValueError, UnidentifiedImageError) as fault:
        raise PictureError(f"{path} is not a whole picture: {fault}") from None
    return None if text is None else str(text)
