"""Pictures one after the other: GIF, animated PNG and WebP."""

from __future__ import annotations

from collections.abc import Iterable
from io import BytesIO
from itertools import pairwise
from pathlib import Path

from PIL import Image

from mothseed.files import write_bytes

KINDS = {".gif": "GIF", ".png": "PNG", ".webp": "WEBP"}
"""Endings of files that can hold an animation, and Pillow's names for their formats."""


def durations(count: int, seconds: float, hold: float) -> list[int]:
    """How many milliseconds each of so many frames is shown, `seconds` in all; the last stays up to `hold` seconds of these.

    All are whole hundredths of a second, which is what GIF has, and two at least, which is what browsers show.
    """
    last = min(hold, seconds / 3)
    ends = [round(100 * (seconds - last) * number / count) for number in range(count)] + [round(100 * seconds)]
    return [10 * max(end - begin, 2) for begin, end in pairwise(ends)]


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
