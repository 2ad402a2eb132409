"""Symbols: motifs drawn once, to be used many times."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.colour.value import WHITE
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.record import Records
from mothseed.values import fixed


@fixed("draw another: sheet.symbol(motif, ...)")
@dataclass(frozen=True, eq=False)
class Symbol:
    """A motif drawn once; `view.symbol(motif)` makes one, `view.use(symbol, x, y)` puts it anywhere."""

    name: str
    """of the motif"""
    drawing: Drawing
    """its marks, on views of its own"""
    records: Records
    """what they were recorded in"""

    def __len__(self) -> int:
        return len(self.drawing)

    def __str__(self) -> str:
        return self.name

    @cached_property
    def packed(self) -> bytes:
        """Its marks as records."""
        return self.drawing.marks.tobytes()


class UseTints(NamedTuple):
    """What the paint of a symbol is multiplied by in each of its uses."""

    colours: FloatArray
    """float64 (u, 4), or (1, 4) where it is the same for all"""
    opacities: FloatArray
    """float64 (u,) or (1,)"""


UNTINTED = UseTints(np.array([WHITE]), np.ones(1))
