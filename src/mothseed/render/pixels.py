"""The hash of pixels."""

from __future__ import annotations

from hashlib import blake2b

import numpy as np

from mothseed.arrays import ByteArray


def pixel_hash(pixels: ByteArray) -> str:
    """BLAKE2b (16 bytes, as hexadecimal digits) of the size and content of an image, uint8 (height, width, channels)."""
    digest = blake2b("{} {} {} ".format(*pixels.shape).encode(), digest_size=16)
    digest.update(np.ascontiguousarray(pixels).data)
    return digest.hexdigest()
