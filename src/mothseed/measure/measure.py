"""What a measure is, and what it is taken from."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from mothseed.arrays import BoolArray, FloatArray
from mothseed.colour.oklch import NOTICEABLE, oklab_from_srgb
from mothseed.colour.value import Colour


@dataclass(frozen=True)
class Sight:
    """A reduced picture in OKLab, with quantities that several measures need, each computed once. Whatever differs noticeably
    from the colour of the paper is drawn; transparent paper counts as white.
    """

    lab: FloatArray
    """float64 (rows, columns, 3)"""
    paper: Colour

    @cached_property
    def distance(self) -> FloatArray:
        """Distance of each pixel from the paper, in OKLab: float64 (rows, columns)."""
        shift = self.lab - oklab_from_srgb(np.array(self.paper.over(Colour(1.0, 1.0, 1.0))[:3]))
        result: FloatArray = np.sqrt(np.einsum("...c,...c", shift, shift))
        return result

    @cached_property
    def drawn(self) -> BoolArray:
        """Whether each pixel is not bare paper: bool (rows, columns)."""
        result: BoolArray = self.distance >= NOTICEABLE
        return result

    @property
    def lightness(self) -> FloatArray:
        """float64 (rows, columns), 0 to 1."""
        return self.lab[..., 0]

    @cached_property
    def chroma(self) -> FloatArray:
        """float64 (rows, columns)."""
        return np.sqrt(self.lab[..., 1] ** 2 + self.lab[..., 2] ** 2)


@dataclass(frozen=True, slots=True)
class Measure:
    """A number that describes a picture. The table and other packages' entry points lead to these."""

    name: str
    """its column in tables"""
    says: str
    """what it says, and in which range"""
    take: Callable[[Sight], float]
