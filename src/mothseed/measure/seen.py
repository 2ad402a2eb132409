"""What is recorded about how a picture looks: its measures, its colours, and its appearance, for comparisons."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.colour.oklch import oklab_from_srgb
from mothseed.colour.palette import Palette
from mothseed.colour.value import Colour, Swatches
from mothseed.colour.ways import k_means
from mothseed.measure.look import look_of
from mothseed.measure.reduced import parts_of

APPEARANCE_CELLS = 16
"""Parts of the width and of the height whose mean colours make up an appearance."""
_MOST_COLOURS = 8
_LEAST_SHARE = 0.01
_LIGHTNESS_STEP, _OPPONENT_STEP = 1 / 255, 0.4 / 127
"""Steps of a stored appearance: at most a fifth of what is noticeable."""
APPEARANCE_BYTES = 3 * APPEARANCE_CELLS**2
_TOGETHER = 4096
"""Appearances decoded at a time."""
_CELL = np.dtype([("lightness", "u1"), ("a", "i1"), ("b", "i1")])


@dataclass(frozen=True, slots=True)
class Seen:
    """What is measured in the pixels of a picture."""

    look: dict[str, float]
    """the MEASURES by name"""
    palette: Swatches
    appearance: bytes
    """colours of 16 by 16 parts, see `appearances`"""


def seen(image: FloatArray, paper: Colour) -> Seen:
    """Everything recorded about a reduced picture, float64 (rows, columns, 3), sRGB from 0 to 1, on paper of a colour."""
    lab = oklab_from_srgb(image)
    return Seen(look_of(lab, paper), palette_of(image), _appearance_of(lab))


def palette_of(image: FloatArray) -> Swatches:
    """The colours in use in a reduced picture, including the paper, with look-alikes merged: k-means of eight in OKLab."""
    # Every other pixel of every other row gives the same in a third of the time.
    some = image[::2, ::2]
    levels = np.full((*some.shape[:2], 4), 255, np.uint8)
    levels[..., :3] = np.round(some * 255)
    found = k_means(levels, _MOST_COLOURS)
    palette = Palette([Colour(*parts) for parts in found.srgb.tolist()], found.shares.tolist()).merged()
    swatches = sorted(zip(palette.shares, (swatch.css for swatch in palette.swatches), strict=True), reverse=True)
    return tuple((css, round(share, 4)) for share, css in swatches if share >= _LEAST_SHARE)


def _appearance_of(lab: FloatArray) -> bytes:
    rows, columns = (parts_of(length, APPEARANCE_CELLS) for length in lab.shape[:2])
    sums = np.add.reduceat(np.add.reduceat(lab, rows[:-1], axis=0), columns[:-1], axis=1)
    # In a picture with fewer pixels than parts, some pixels belong to several.
    areas = np.maximum(np.diff(rows), 1)[:, None] * np.maximum(np.diff(columns), 1)[None, :]
    means = sums / areas[..., None]
    cells = np.empty(means.shape[:2], _CELL)
    cells["lightness"] = np.clip(np.round(means[..., 0] / _LIGHTNESS_STEP), 0, 255)
    for place, name in enumerate(("a", "b"), 1):
        cells[name] = np.clip(np.round(means[..., place] / _OPPONENT_STEP), -127, 127)
    return cells.tobytes()


def appearances(kept: Sequence[bytes]) -> npt.NDArray[np.float32]:
    """Stored appearances as float32 (n, 768): OKLab of each part, divided by the root of their number.

    The Euclidean distance of two rows is then the root mean square distance of two pictures in OKLab, part by part: 0 for the
    same, 0.02 for hardly distinguishable, 1 for black and white.
    """
    result = np.empty((len(kept), 3 * APPEARANCE_CELLS**2), np.float32)
    for start in range(0, len(kept), _TOGETHER):
        some = kept[start : start + _TOGETHER]
        cells = np.frombuffer(b"".join(some), _CELL).reshape(len(some), -1)
        channels = cells["lightness"] * _LIGHTNESS_STEP, cells["a"] * _OPPONENT_STEP, cells["b"] * _OPPONENT_STEP
        result[start : start + _TOGETHER] = np.stack(channels, axis=-1).reshape(len(some), -1) / APPEARANCE_CELLS
    return result
