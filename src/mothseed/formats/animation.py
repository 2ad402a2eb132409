"""Pictures one after the other: GIF, animated PNG and WebP."""

from __future__ import annotations

from collections.abc import Iterable
from io import BytesIO
from pathlib import Path

from PIL import Image

from mothseed.files import write_bytes

KINDS = {".gif": "GIF", ".png": "PNG", ".webp": "WEBP"}
"""Endings of files that can hold an animation, and Pillow's names for their formats."""


def write_animation(path: Path, frames: Iterable[Image.Image], milliseconds: list[int]) -> int:
    """Write pictures of one size, each shown so many milliseconds, for ever; returns how many bytes the file has.

    The ending of the path says which kind of file it is. Raises FileError where it cannot be written.
    """
    first, *others = frames
    buffer = BytesIO()
    first.save(
        buffer,
        format=KINDS[path.suffix.lower()],
        save_all=True,
        append_images=others,
        duration=milliseconds,
        loop=0,
        quality=88,
    )
    write_bytes(path, buffer.getvalue())
    return len(buffer.getvalue())
