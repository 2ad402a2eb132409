"""The drawing: what one performance recorded, as arrays."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace

import numpy as np

from mothseed.arrays import BoolArray, FloatArray, RecordArray, WholeArray
from mothseed.colour.value import Colour
from mothseed.errors import UsageError, did_you_mean
from mothseed.geometry.outline import Outline
from mothseed.sheet.finish import Finish
from mothseed.sheet.group import Group, chain

DEFAULT_LIGHT = 45.0
"""Shadows fall to the lower right."""

CIRCLE, ELLIPSE, RECT, LINE_SEGMENT, POLYLINE, POLYGON, PATH = range(7)
"""Kinds of mark."""
KIND_NAMES = ("circle", "ellipse", "rect", "line", "polyline", "polygon", "path")

MARK = np.dtype([
    ("place", "<f8", (4,)),  # as the artist gave it: x y r, x y rx ry, x y width height, or x1 y1 x2 y2
    ("view", "<u4"),  # row of `views`
    ("outline", "<u4"),  # index of `outlines`, for a polyline, polygon or path
    ("group", "<u4"),  # index of `groups`
    ("kind", "u1"),
    ("linecap", "u1"),
    ("linejoin", "u1"),
    ("painted", "u1"),  # FILLED, STROKED, EVEN_ODD
    ("fill", "<f4", (4,)),  # sRGB and alpha, 0 to 1
    ("stroke", "<f4", (4,)),
    ("stroke_width", "<f8"),  # in the units of the view
    ("opacity", "<f8"),
    ("finish", "<u4"),  # index of `finishes`
])  # fmt: skip
"""One recorded shape."""


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
    outlines: tuple[Outline, ...]
    groups: tuple[Group, ...] = (Group(-1),)
    """layers and clips, the first being the sheet"""
    finishes: tuple[Finish, ...] = (Finish(),)
    light: float = DEFAULT_LIGHT
    """heading in degrees in which shadows fall"""
    order: WholeArray = field(default_factory=lambda: np.zeros(0, np.int64))
    """int64 (n,): which of the marks, counted as they were drawn, each is"""

    def __len__(self) -> int:
        return len(self.marks)

    @property
    def layers(self) -> tuple[str, ...]:
        """The names of its layers, in painting order, each once."""
        return tuple(dict.fromkeys(group.name for group in self.groups[1:] if group.is_layer))

    def without(self, layers: Iterable[str]) -> Drawing:
        """The drawing less all that was drawn in layers of these names.

        Raises UsageError for a name that no layer has.
        """
        left_out = set(layers)
        if not left_out:
            return self
        for name in left_out:
            if name not in self.layers:
                known = f"its layers are {', '.join(self.layers)}" if self.layers else "it has no layers"
                raise UsageError(
                    f"the picture has no layer {name}; {known}",
                    hint=did_you_mean(name, self.layers) or 'a layer is made with layer("name")',
                )
        hidden = [any(self.groups[g].name in left_out for g in chain(self.groups, n)) for n in range(len(self.groups))]
        return self.part(~np.array(hidden)[self.marks["group"]])

    def part(self, which: BoolArray | WholeArray) -> Drawing:
        """The drawing of some of its marks, by a flag for each or by their indices."""
        return replace(self, marks=self.marks[which], order=self.order[which])
