"""Smooth random fields: a value at every place, near ones alike."""

from __future__ import annotations

from dataclasses import dataclass
from typing import overload

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.checks import length, whole
from mothseed.faults import SketchError
from mothseed.geometry.flow import Flow, along_contours
from mothseed.native.library import Kernel
from mothseed.portable import heading
from mothseed.values import fixed

_height, _sample = Kernel("noise.height"), Kernel("noise.sample")

_MOST_DETAIL = 12
_FARTHEST = 1e9
"""Cells from the origin beyond which the places within one are no longer told apart well."""


@fixed('make another: chance("hills").field(scale=40)')
@dataclass(frozen=True, slots=True)
class Field:
    """A random landscape over the plane, or in space where a third coordinate is given; `chance.field()` makes one.

    All take numbers or arrays of one shape, in the units that its scale was given in.
    """

    key: int
    scale: float
    detail: int = 1
    roughness: float = 0.5

    def __post_init__(self) -> None:
        length("field", scale=self.scale, hint="write field(scale=40)")
        whole("field", "detail", self.detail, 1, _MOST_DETAIL)
        if not 0 < self.roughness <= 1:
            raise SketchError(f"field: roughness is above 0 and at most 1 (got {self.roughness!r})")

    @overload
    def at(self, x: float, y: float, z: float | None = None) -> float: ...
    @overload
    def at(self, x: npt.ArrayLike, y: npt.ArrayLike, z: npt.ArrayLike | None = None) -> FloatArray: ...
    def at(self, x: npt.ArrayLike, y: npt.ArrayLike, z: npt.ArrayLike | None = None) -> float | FloatArray:
        """The height at a place, from -1 to 1, as often above 0 as below, and mostly within a half.

        `z` moves through other landscapes that pass into each other: a slow `z` makes it drift. Raises SketchError for
        places that are not finite or very far out.
        """
        if isinstance(x, float) and isinstance(y, float) and (z is None or isinstance(z, float)):
            across, down, deep = x / self.scale, y / self.scale, 0.0 if z is None else z / self.scale
            if abs(across) < _FARTHEST and abs(down) < _FARTHEST and abs(deep) < _FARTHEST:
                height: float = _height(self.key, across, down, deep, z is not None, self.detail, self.roughness)
                return height
        values = self._sampled(x, y, z)[..., 0]
        return float(values) if values.ndim == 0 else values

    @overload
    def heading(self, x: float, y: float, z: float | None = None) -> float: ...
    @overload
    def heading(self, x: npt.ArrayLike, y: npt.ArrayLike, z: npt.ArrayLike | None = None) -> FloatArray: ...
    def heading(self, x: npt.ArrayLike, y: npt.ArrayLike, z: npt.ArrayLike | None = None) -> float | FloatArray:
        """The heading of the flow at a place, in degrees from 0 to 360: for `frame(turn=...)`."""
        flow = self.flow(x, y, z)
        return heading(flow.dx, flow.dy)

    @overload
    def uphill(self, x: float, y: float, z: float | None = None) -> float: ...
    @overload
    def uphill(self, x: npt.ArrayLike, y: npt.ArrayLike, z: npt.ArrayLike | None = None) -> FloatArray: ...
    def uphill(self, x: npt.ArrayLike, y: npt.ArrayLike, z: npt.ArrayLike | None = None) -> float | FloatArray:
        """The heading in which the ground rises fastest, in degrees."""
        sampled = self._sampled(x, y, z)
        return heading(sampled[..., 1], sampled[..., 2])

    def flow(self, x: npt.ArrayLike, y: npt.ArrayLike, z: npt.ArrayLike | None = None) -> Flow:
        """The way along the contour lines, higher ground to the left: it goes round hills and hollows and never piles up."""
        sampled = self._sampled(x, y, z)
        return along_contours(sampled[..., 1], sampled[..., 2])

    def _sampled(self, x: npt.ArrayLike, y: npt.ArrayLike, z: npt.ArrayLike | None) -> FloatArray:
        """Value, slope across and slope down at each place: float64 (..., 3)."""
        try:
            parts = [np.asarray(part, np.float64) / self.scale for part in (x, y, 0.0 if z is None else z)]
            places = np.broadcast_arrays(*parts)
        except (TypeError, ValueError):
            raise SketchError("field: a place is numbers, or arrays of one shape", hint="write field.at(x, y)") from None
        if not all((np.abs(part) < _FARTHEST).all() for part in places):
            raise SketchError("field: a place is not finite, or too far out", hint="look for a division by 0 before it")
        out = np.empty((places[0].size, 3))
        across, down, deep = (np.array(part).ravel() for part in places)
        _sample(self.key, across, down, deep, z is not None, self.detail, self.roughness, out)
        return out.reshape(*places[0].shape, 3)
