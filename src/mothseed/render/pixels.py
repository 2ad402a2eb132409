"""The hash of pixels."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from hashlib import blake2b

import numpy as np

from mothseed.arrays import ByteArray


def pixel_hash(pixels: ByteArray) -> str:
    """BLAKE2b (16 bytes, as hexadecimal digits) of the size and content of an image, uint8 (height, width, channels)."""
    hashed = HashedBands([pixels], len(pixels))
    for _ in hashed:
        pass
    return hashed.digest


class HashedBands:
    """Passes on the bands of an image of that height; afterwards `digest` is the hash of all its pixels."""

    def __init__(self, bands: Iterable[ByteArray], height: int) -> None:
        self._bands = bands
        self._height = height
        self.digest = ""

    def __iter__(self) -> Iterator[ByteArray]:
        digest = blake2b(digest_size=16)
        begun = False
        for band in self._bands:
            if not begun:
                digest.update(f"{self._height} {band.shape[1]} {band.shape[2]} ".encode())
                begun = True
            digest.update(np.ascontiguousarray(band).data)
            yield band
        self.digest = digest.hexdigest()
