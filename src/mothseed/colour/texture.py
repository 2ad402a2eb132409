"""The pixels of a picture, and ever smaller copies of them."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import lru_cache
from hashlib import blake2b
from pathlib import Path

import numpy as np

from mothseed.arrays import ByteArray, FloatArray
from mothseed.colour.oklch import oklab_from_srgb
from mothseed.colour.picture import picture_read
from mothseed.reading import asked_for, was

_LONGEST_SIDE = 1024


class Texture:
    """The pixels of a picture: uint8 (height, width, 4), red, green, blue and alpha, and what is derived from them on demand.
    Two are equal if their pixels are.
    """

    __slots__ = ("_levels", "_lightness", "_shrunk", "_sums", "digest", "pixels")

    def __init__(self, pixels: ByteArray) -> None:
        self.pixels = np.ascontiguousarray(pixels)
        self.digest = blake2b(pixels.tobytes() + repr(pixels.shape).encode(), digest_size=16).hexdigest()
        self._levels = [self.pixels]
        self._shrunk = [self.pixels]
        self._lightness: dict[int, FloatArray] = {}
        self._sums: FloatArray | None = None

    @property
    def width(self) -> int:
        """Pixels across."""
        return int(self.pixels.shape[1])

    @property
    def height(self) -> int:
        """Pixels down."""
        return int(self.pixels.shape[0])

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Texture) and self.digest == other.digest

    def __hash__(self) -> int:
        return hash(self.digest)

    def __repr__(self) -> str:
        return f"Texture({self.width} x {self.height}, {self.digest})"

    def level(self, number: int) -> ByteArray:
        """The picture halved `number` times, each pixel the mean of four, weighted by alpha; the last has one pixel. An odd
        row or column at the end counts twice, so that lookups are up to half a pixel off; kept so that older sketches draw
        what they always drew. `shrunk` has it right.
        """
        return _copy(self._levels, number, _halved)

    def shrunk(self, number: int) -> ByteArray:
        """The picture halved `number` times, rounded up, with everything in its place: each pixel is the mean of what it
        covers, weighted by alpha; the last has one pixel.
        """
        return _copy(self._shrunk, number, _shrunk)

    def lightness(self, number: int) -> FloatArray:
        """The lightness in OKLab of each pixel of a level: float64 (height, width)."""
        if number not in self._lightness:
            self._lightness[number] = np.ascontiguousarray(oklab_from_srgb(self.level(number)[..., :3] / 255)[..., 0])
        return self._lightness[number]

    def lightness_sums(self) -> FloatArray:
        """Summed-area tables of lightness and of its square: float64 (2, height + 1, width + 1), of the largest copy of the
        picture with at most 1024 pixels to a side. The four corners of a rectangle give the sum over it. Crow, "Summed-area
        tables for texture mapping", 1984.
        """
        if self._sums is None:
            number = max(math.ceil(math.log2(max(self.width, self.height) / _LONGEST_SIDE)), 0)
            light = self.lightness(number)
            self._sums = np.pad(np.stack([light, light * light]).cumsum(axis=1).cumsum(axis=2), ((0, 0), (1, 0), (1, 0)))
        return self._sums


def texture_of(path: Path) -> Texture:
    """The texture of an image file, cached as long as the file's time and size are unchanged.

    Raises PictureError as `read_picture` does.
    """
    place = asked_for(path)
    try:
        status = place.stat()
        version = status.st_mtime_ns, status.st_size
    except (OSError, ValueError):
        version = 0, 0
    texture, digest = _texture(path, place, version)
    was(path, digest)
    return texture


@lru_cache(maxsize=8)
def _texture(path: Path, place: Path, _version: tuple[int, int]) -> tuple[Texture, str]:
    pixels, digest = picture_read(path, place)
    return Texture(pixels), digest


def _copy(copies: list[ByteArray], number: int, smaller: Callable[[ByteArray], ByteArray]) -> ByteArray:
    """One of the ever smaller copies, or the last, which has one pixel; missing ones are added."""
    while len(copies) <= number and max(copies[-1].shape[:2]) > 1:
        copies.append(np.ascontiguousarray(smaller(copies[-1])))
    return copies[min(number, len(copies) - 1)]


def _shrunk(pixels: ByteArray) -> ByteArray:
    """Half the rows and columns, rounded up, each the mean of an equal share."""
    height, width = pixels.shape[:2]
    if not (height % 2 or width % 2):
        return _halved(pixels)
    alpha = pixels[..., 3:].astype(np.float64)
    parts = np.concatenate([pixels[..., :3] * alpha, alpha], axis=2)
    means = _even_parts(_even_parts(parts, -(-height // 2)).swapaxes(0, 1), -(-width // 2)).swapaxes(0, 1)
    colours = means[..., :3] / np.maximum(means[..., 3:], 1e-9)
    return np.floor(np.concatenate([colours, means[..., 3:]], axis=2) + 0.5).clip(0, 255).astype(np.uint8)


def _even_parts(rows: FloatArray, count: int) -> FloatArray:
    """The means of `count` equal shares of rows: float64 (count, ...) from (n, ...)."""
    sums = np.concatenate([np.zeros_like(rows[:1]), np.cumsum(rows, axis=0)])
    edges = np.arange(count + 1) * (len(rows) / count)
    whole = np.minimum(edges.astype(np.int64), len(rows) - 1)
    below = sums[whole] + rows[whole] * (edges - whole).reshape(-1, *[1] * (rows.ndim - 1))
    return np.diff(below, axis=0) * (count / len(rows))


def _halved(pixels: ByteArray) -> ByteArray:
    """Two by two pixels as one; an odd row or column at the end counts twice."""
    height, width = pixels.shape[:2]
    even = np.pad(pixels, ((0, height % 2), (0, width % 2), (0, 0)), mode="edge") if height % 2 or width % 2 else pixels
    parts = even.astype(np.uint32)
    opaque = bool(pixels[..., 3].min() == 255)
    if not opaque:
        parts[..., :3] *= parts[..., 3:]
    total = parts[0::2, 0::2] + parts[1::2, 0::2] + parts[0::2, 1::2] + parts[1::2, 1::2]
    if opaque:
        return ((total + 2) // 4).astype(np.uint8)
    weight = np.maximum(total[..., 3:], 1)
    colours = (total[..., :3] + weight // 2) // weight
    return np.concatenate([colours, (total[..., 3:] + 2) // 4], axis=2).astype(np.uint8)
