"""Animations: GIF, animated PNG and WebP."""

from __future__ import annotations

from collections.abc import Iterable
from io import BytesIO
from itertools import pairwise
from pathlib import Path

from PIL import Image

from mothseed.files import write_bytes

KINDS = {".gif": "GIF", ".png": "PNG", ".webp": "WEBP"}
"""Suffixes of animated files, and Pillow's names for their formats."""


def durations(count: int, seconds: float, hold: float) -> list[int]:
    """Milliseconds for each of so many frames, `seconds` in all, of which the last stays up to `hold` seconds. All are
    multiples of 10 ms, as in GIF, and at least 20 ms, as browsers show no less.
    """
    last = min(hold, seconds / 3)
    ends = [round(100 * (seconds - last) * number / count) for number in range(count)] + [round(100 * seconds)]
    return [10 * max(end - begin, 2) for begin, end in pairwise(ends)]


def write_animation(path: Path, frames: Iterable[Image.Image], milliseconds: list[int]) -> int:
    """Write an endless animation of pictures of one size, each shown for so many milliseconds; returns the size of the file.
    The suffix of the path selects the format. Raises FileError if it cannot be written.
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
