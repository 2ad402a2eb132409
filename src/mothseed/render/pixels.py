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
    """Passes on the bands of an image of that height and hashes them as they pass."""

    def __init__(self, bands: Iterable[ByteArray], height: int) -> None:
        self._bands = bands
        self._height = height
        self._hash = blake2b(digest_size=16)

    def __iter__(self) -> Iterator[ByteArray]:
        begun = False
        for band in self._bands:
            if not begun:
                self._hash.update(f"{self._height} {band.shape[1]} {band.shape[2]} ".encode())
                begun = True
            self._hash.update(np.ascontiguousarray(band).data)
            yield band

    @property
    def digest(self) -> str:
        """The hash of all pixels that have passed, whether or not anyone asked for a band after the last."""
        return self._hash.hexdigest()
