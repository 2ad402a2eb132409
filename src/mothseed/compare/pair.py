"""Comparing two pictures."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from mothseed.arrays import ByteArray, FloatArray
from mothseed.chance.outcome import by_label
from mothseed.colour.oklch import NOTICEABLE, linear_from_srgb, oklab_from_linear
from mothseed.colour.value import Colour
from mothseed.compare.scale import overlap
from mothseed.compare.structure import structural_similarity
from mothseed.measure import reduced, seen
from mothseed.sketch.provenance import Provenance

_LEVELS = 255
_LINEAR_OF_LEVEL = linear_from_srgb(np.arange(256) / _LEVELS)


@dataclass(frozen=True, slots=True, eq=False)
class Pair:
    """How two pictures differ."""

    first: dict[str, float]
    """its measures by name, as in the ledger"""
    second: dict[str, float]
    difference: FloatArray
    """float64 (height, width): distance in OKLab of each pixel's two colours, over the common area"""
    similarity: float
    """structural similarity of lightness, 1 for the same"""

    @property
    def mean(self) -> float:
        """Mean distance in OKLab."""
        return float(self.difference.mean())

    @property
    def largest(self) -> float:
        """Largest distance in OKLab."""
        return float(self.difference.max())

    @property
    def noticeable(self) -> float:
        """Share of pixels that differ noticeably, 0 to 1."""
        return float((self.difference >= NOTICEABLE).mean())


def paired(first: ByteArray, second: ByteArray, papers: tuple[Colour | None, Colour | None] = (None, None)) -> Pair:
    """Compare two images of one scale, uint8 (height, width, 3), on papers of these colours, if known. If they differ in
    size, the common area from the top left corner is compared.
    """
    labs = [_oklab_of(image) for image in overlap(first, second)]
    difference = _apart(labs[0], labs[1])
    similarity = structural_similarity(labs[0][..., 0], labs[1][..., 0])
    looks = [
        seen(reduced(image), paper or _most_frequent(image)).look for image, paper in zip((first, second), papers, strict=True)
    ]
    return Pair(looks[0], looks[1], difference, similarity)


def difference_of(first: ByteArray, second: ByteArray) -> FloatArray:
    """The distance in OKLab of each pixel's two colours, float64 (height, width), of images of one size, uint8 (..., 3)."""
    return _apart(_oklab_of(first), _oklab_of(second))


def _apart(first: FloatArray, second: FloatArray) -> FloatArray:
    shift = first - second
    distance: FloatArray = np.sqrt(np.einsum("...c,...c", shift, shift))
    return distance


def _oklab_of(pixels: ByteArray) -> FloatArray:
    return oklab_from_linear(_LINEAR_OF_LEVEL[pixels])


def _most_frequent(pixels: ByteArray) -> Colour:
    """The colour taken for the paper if that is unknown."""
    packed = pixels.astype(np.uint32) @ np.array([1 << 16, 1 << 8, 1], np.uint32)
    values, counts = np.unique(packed, return_counts=True)
    most = int(values[counts.argmax()])
    return Colour(*((most >> bits & 255) / _LEVELS for bits in (16, 8, 0)))


@dataclass(frozen=True, slots=True)
class Change:
    """A difference between the histories of two pictures."""

    name: str
    first: Any
    second: Any

    def as_plain(self) -> dict[str, Any]:
        """The change as plain values for JSON."""
        return {"name": self.name, "first": self.first, "second": self.second}


def history_changes(first: Provenance, second: Provenance) -> list[Change]:
    """What differs between two histories: the sketch, the seed, each dial and reseeded stream, outcomes, the version. What
    neither has recorded is ignored.
    """
    changes = [
        Change(name, getattr(first, name, None), getattr(second, name, None))
        for name in ("sketch", "sketch_hash", "seed", "without", "sheet", "paper", "version")
        if getattr(first, name, None) != getattr(second, name, None)
    ]
    for kind, before, after in (
        ("dial", first.dials, second.dials),
        ("stream", first.reseeds, second.reseeds),
        ("outcome", _came(first), _came(second)),
    ):
        names = [*before, *(name for name in after if name not in before)]
        changes += [
            Change(f"{kind} {name}", before.get(name), after.get(name)) for name in names if before.get(name) != after.get(name)
        ]
    return changes


def _came(history: Provenance) -> dict[str, Any]:
    return by_label(history.outcomes)
