"""Writing PNG files: quickly, as small as others make them, or as small as possible."""

from __future__ import annotations

import zlib
from collections.abc import Callable, Iterable, Iterator
from itertools import chain
from pathlib import Path
from struct import pack
from typing import Any

import numpy as np
from isal import isal_zlib
from zlib_ng import zlib_ng

from mothseed.arrays import ByteArray
from mothseed.files import write_bytes, written_whole
from mothseed.formats.picture_reading import HISTORY_KEYWORD
from mothseed.formats.png_reading import SIGNATURE, UP
from mothseed.formats.settings import Effort
from mothseed.native.library import Kernel

_filter_rows = Kernel("filters.filter_rows")

_COLOUR_TYPES = {1: 0, 2: 4, 3: 2, 4: 6}
_PERCEPTUAL = 0
_QUICK_LEVEL, _USUAL_LEVEL, _SMALL_LEVEL = 1, 6, 9
"""Of isal, and of zlib-ng; measured on the demo plates, benchmarks/files.py."""
_METRES_PER_INCH = 0.0254
_ROWS_AT_A_TIME = 32
"""Rows that are filtered at a time, so that they stay in the cache."""


def encoded(pixels: ByteArray, history: str = "", dpi: float | None = None, effort: Effort = Effort.QUICK) -> bytes:
    """A PNG file from uint8 (height, width, 3 or 4), sRGB; equal pixels, history and dpi give equal bytes."""
    height, width, channels = pixels.shape
    return b"".join(_file([pixels], width, height, channels, history, dpi, effort))


def write_png(
    path: Path, pixels: ByteArray, history: str = "", dpi: float | None = None, effort: Effort = Effort.USUAL
) -> None:
    """Write a PNG file, whole or not at all; raises FileError if that fails."""
    write_bytes(path, encoded(pixels, history, dpi, effort))


def write_png_bands(
    path: Path,
    bands: Iterable[ByteArray],
    height: int,
    history: str = "",
    dpi: float | None = None,
    effort: Effort = Effort.USUAL,
    bits: int = 8,
    *,
    through_links: bool = True,
) -> None:
    """Write a PNG file of that height from bands, one below the other, as they are made, each of which stays as it is; whole or
    not at all.

    Of 16 bits for each channel the bands hold the bytes, the highest first. The same bands give the same bytes. Links are
    as `written_whole` has them. Raises FileError where it cannot be written.
    """
    waiting = iter(bands)
    first = next(waiting)
    _, width, size = first.shape
    with written_whole(path, through_links=through_links) as part, part.open("wb") as file:
        for piece in _file(chain([first], waiting), width, height, size, history, dpi, effort, bits):
            file.write(piece)


def _file(
    bands: Iterable[ByteArray],
    width: int,
    height: int,
    size: int,
    history: str,
    dpi: float | None,
    effort: Effort,
    bits: int = 8,
) -> Iterator[bytes]:
    """The pieces of a file; `size` is bytes of a pixel."""
    yield SIGNATURE
    yield _chunk(b"IHDR", pack(">IIBBBBB", width, height, bits, _COLOUR_TYPES[size * 8 // bits], 0, 0, 0))
    yield _chunk(b"sRGB", bytes([_PERCEPTUAL]))
    if dpi is not None:
        per_metre = round(dpi / _METRES_PER_INCH)
        yield _chunk(b"pHYs", pack(">IIB", per_metre, per_metre, 1))
    if history:
        # Keyword, no compression, no language, no translated keyword, text.
        yield _chunk(b"iTXt", HISTORY_KEYWORD.encode() + b"\0\0\0\0\0" + history.encode())
    rows = (band.reshape(len(band), width * size) for band in bands)
    if effort is Effort.SMALL:
        yield _smallest(rows, size)
    else:
        yield from _deflated(rows, height, size, effort)
    yield _chunk(b"IEND", b"")


def _deflated(bands: Iterator[ByteArray], height: int, pixel: int, effort: Effort) -> Iterator[bytes]:
    """An IDAT chunk for each band."""
    is_quick = effort is Effort.QUICK
    deflate: Any = isal_zlib.compressobj(_QUICK_LEVEL) if is_quick else zlib_ng.compressobj(_USUAL_LEVEL)
    filtered = _less_the_row_above if is_quick else _less_what_neighbours_foretell

    def compressed(rows: ByteArray, above: ByteArray) -> bytes:
        content: bytes = deflate.compress(filtered(rows, above, pixel))
        return _chunk(b"IDAT", content) if content else b""

    first = next(bands)
    if len(first) == height:  # a thread takes longer to start than a small picture to compress
        yield compressed(first, _above(None, first))
    else:
        yield from _meanwhile(chain([first], bands), compressed)
    yield _chunk(b"IDAT", deflate.flush())


def _meanwhile(bands: Iterable[ByteArray], compressed: Callable[[ByteArray, ByteArray], bytes]) -> Iterator[bytes]:
    """Each band compressed, given the row above it, while the next one is made."""
    from concurrent.futures import ThreadPoolExecutor

    above, pending = None, None
    with ThreadPoolExecutor(1) as helper:
        for rows in bands:
            if pending:
                yield pending.result()
            pending = helper.submit(compressed, rows, _above(above, rows))
            above = rows[-1]
        if pending:
            yield pending.result()


def _smallest(bands: Iterable[ByteArray], pixel: int) -> bytes:
    """One IDAT chunk, of filtered or unfiltered rows, whichever is smaller: flat shapes repeat, which filters hide. Both are
    tried at once.
    """
    from concurrent.futures import ThreadPoolExecutor

    ways = [(filtered, zlib_ng.compressobj(_SMALL_LEVEL)) for filtered in (_less_what_neighbours_foretell, _as_they_are)]
    contents: list[list[bytes]] = [[] for _ in ways]

    def compress(number: int, rows: ByteArray, above: ByteArray) -> None:
        filtered, deflate = ways[number]
        contents[number].append(deflate.compress(filtered(rows, above, pixel)))

    above = None
    with ThreadPoolExecutor(len(ways)) as helpers:
        for rows in bands:
            tasks = [helpers.submit(compress, number, rows, _above(above, rows)) for number in range(len(ways))]
            for task in tasks:
                task.result()
            above = rows[-1]
    for (_, deflate), content in zip(ways, contents, strict=True):
        content.append(deflate.flush())
    return _chunk(b"IDAT", min((b"".join(content) for content in contents), key=len))


def _above(row: ByteArray | None, rows: ByteArray) -> ByteArray:
    return np.zeros(rows.shape[1], np.uint8) if row is None else row


def _less_the_row_above(rows: ByteArray, above: ByteArray, pixel: int) -> ByteArray:  # noqa: ARG001  # all filters are called alike
    """Each row minus the one above: flat areas and gentle ramps become runs of few values."""
    filtered = np.empty((len(rows), 1 + rows.shape[1]), np.uint8)
    filtered[:, 0] = UP
    np.subtract(rows[0], above, out=filtered[0, 1:])
    np.subtract(rows[1:], rows[:-1], out=filtered[1:, 1:])
    return filtered


def _less_what_neighbours_foretell(rows: ByteArray, above: ByteArray, pixel: int) -> ByteArray:
    filtered = np.empty((len(rows), 1 + rows.shape[1]), np.uint8)
    few = np.zeros((1 + _ROWS_AT_A_TIME, pixel + rows.shape[1]), np.uint8)
    few[0, pixel:] = above
    for first in range(0, len(rows), _ROWS_AT_A_TIME):
        some = rows[first : first + _ROWS_AT_A_TIME]
        few[1 : 1 + len(some), pixel:] = some
        _filter_rows(few, pixel, filtered[first : first + len(some)])
        few[0] = few[len(some)]
    return filtered


def _as_they_are(rows: ByteArray, above: ByteArray, pixel: int) -> ByteArray:  # noqa: ARG001  # as above
    filtered = np.zeros((len(rows), 1 + rows.shape[1]), np.uint8)
    filtered[:, 1:] = rows
    return filtered


def _chunk(name: bytes, content: bytes) -> bytes:
    return pack(">I", len(content)) + name + content + pack(">I", zlib.crc32(name + content))
