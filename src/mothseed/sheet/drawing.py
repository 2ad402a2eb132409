"""The drawing: the record of one performance, as arrays."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from typing import NamedTuple

import numpy as np

from mothseed.arrays import BoolArray, FloatArray, RecordArray, WholeArray
from mothseed.colour.value import Colour
from mothseed.faults import UnknownNameError
from mothseed.geometry.outlines import Outlines
from mothseed.sheet.finish import Finish
from mothseed.sheet.group import Group, chain

DEFAULT_LIGHT = 45.0
"""Shadows fall to the lower right."""


class Uses(NamedTuple):
    """All uses of a symbol."""

    name: str
    """of the symbol"""
    symbol: Drawing
    """its marks, on views of its own"""
    firsts: WholeArray
    """int64 (u,): which of the drawing's marks, counted as they were drawn, is the first of each use; the others follow it"""
    matrices: FloatArray
    """float64 (u, 6): the affine map of each use from the symbol's coordinates to the sheet"""


@dataclass(frozen=True, slots=True, eq=False)
class Drawing:
    """The recorded shapes of one performance, in painting order: what is rendered, fingerprinted and compared."""

    width: float
    height: float
    unit: str
    paper: Colour
    marks: RecordArray
    """MARK (n,), the lowest first"""
    views: FloatArray
    """float64 (v, 6): the affine map of each view to the sheet"""
    stroke_scales: FloatArray
    """float64 (v,): by how much strokes and dashes on each view are enlarged"""
    outlines: Outlines
    groups: tuple[Group, ...] = (Group(-1),)
    """layers and clips, the first being the sheet"""
    finishes: tuple[Finish, ...] = (Finish(),)
    light: float = DEFAULT_LIGHT
    """heading in degrees in which shadows fall"""
    order: WholeArray = field(default_factory=lambda: np.zeros(0, np.int64))
    """int64 (n,): which of the marks, counted as they were drawn, each is"""
    uses: tuple[Uses, ...] = ()
    """of each symbol that is used, in the order in which they were first"""

    def __len__(self) -> int:
        return len(self.marks)

    @property
    def layers(self) -> tuple[str, ...]:
        """The names of its layers, in painting order, each once."""
        return tuple(dict.fromkeys(group.name for group in self.groups[1:] if group.is_layer))

    def use_of_each(self) -> tuple[WholeArray, WholeArray]:
        """Which of `uses` each mark is of, -1 for none, and which use of that symbol: int64 (n,) each."""
        symbols, numbers = np.full(len(self), -1), np.full(len(self), -1)
        for symbol, each in enumerate(self.uses):
            use = np.searchsorted(each.firsts, self.order, side="right") - 1
            within = (use >= 0) & (self.order < each.firsts[use] + len(each.symbol))
            symbols[within], numbers[within] = symbol, use[within]
        return symbols, numbers

    def without(self, layers: Iterable[str]) -> Drawing:
        """The drawing less all that was drawn in layers of these names.

        Raises FieldError for a name that no layer has.
        """
        left_out = set(layers)
        if not left_out:
            return self
        for name in left_out:
            if name not in self.layers:
                known = f"its layers are {', '.join(self.layers)}" if self.layers else "it has no layers"
                raise UnknownNameError(
                    f"layer {name}",
                    f"the picture has no layer {name}; {known}",
                    name=name,
                    known=self.layers,
                    hint='a layer is made with layer("name")',
                )
        hidden = [any(self.groups[g].name in left_out for g in chain(self.groups, n)) for n in range(len(self.groups))]
        return self.part(~np.array(hidden)[self.marks["group"]])

    def part(self, which: BoolArray | WholeArray) -> Drawing:
        """The drawing of some of its marks, by a flag for each or by their indices."""
        numbers = np.flatnonzero(which) if which.dtype == np.bool else which
        # `take` is several times as fast on records as indexing.
        return replace(self, marks=self.marks.take(numbers), order=self.order[numbers])
