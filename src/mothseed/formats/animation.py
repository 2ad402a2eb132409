"""Animations: GIF, animated PNG and WebP."""

from __future__ import annotations

from collections.abc import Iterable
from io import BytesIO
from itertools import pairwise
from math import isqrt
from pathlib import Path

import numpy as np
from PIL import Image

from mothseed.arrays import ByteArray
from mothseed.files import write_bytes

KINDS = {".gif": "GIF", ".png": "PNG", ".webp": "WEBP"}
"""Suffixes of animated files, and Pillow's names for their formats."""

_COLOURS = 255
"""Of a GIF; one more stands for what stays as it is, which makes files a tenth as large."""
_LOOKED_AT, _SAMPLES = 8, 10_000
"""Frames from which colours are taken, and roughly how many pixels of each; of the last, which stays longest, four times as
many.
"""
_FARTHEST = 4.0
"""Of 255 levels, the root mean square from a frame to what it becomes in a palette for all; in one of its own, 1 to 2.5."""


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
    shown = list(frames)
    if path.suffix.lower() == ".gif" and all(frame.mode == "RGB" for frame in shown):
        shown = _in_colours_of_all(shown)
    first, *others = shown
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


def _in_colours_of_all(frames: list[Image.Image]) -> list[Image.Image]:
    """The frames in one palette, so that what stays the same from one to the next neither flickers nor has to be written; as
    they are if that is too small for all of them.
    """
    last = len(frames) - 1
    numbers = {round(last * part / _LOOKED_AT) for part in range(1, _LOOKED_AT)} - {last}
    samples = [_sampled(frames[last], 4 * _SAMPLES), *(_sampled(frames[number], _SAMPLES) for number in sorted(numbers))]
    palette = Image.fromarray(np.concatenate(samples)[np.newaxis]).quantize(
        _COLOURS, Image.Quantize.MAXCOVERAGE, kmeans=1, dither=Image.Dither.NONE
    )
    reduced = [frame.quantize(palette=palette, dither=Image.Dither.NONE) for frame in frames]
    is_near = all(_distance(each, frame) < _FARTHEST for each, frame in zip(reduced, frames, strict=True))
    return reduced if is_near else frames


def _distance(reduced: Image.Image, frame: Image.Image) -> float:
    """The root mean square of their differences, of 255 levels."""
    first, second = (_sampled(each, _SAMPLES).astype(np.float32) for each in (reduced.convert("RGB"), frame))
    return float(np.sqrt(np.square(first - second).mean()))


def _sampled(frame: Image.Image, count: int) -> ByteArray:
    """Roughly so many pixels of a frame, evenly spread, uint8 (n, 3)."""
    step = max(isqrt(frame.width * frame.height // count), 1)
    return np.asarray(frame)[::step, ::step].reshape(-1, 3)
