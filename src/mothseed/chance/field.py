"""Smooth random fields."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import overload

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.bits import GOLDEN_GAMMA, units, word
from mothseed.checks import length, whole
from mothseed.faults import SketchError
from mothseed.geometry.flow import Flow, along_contours
from mothseed.native.library import Kernel
from mothseed.portable import cosine_and_sine, heading
from mothseed.values import fixed

_height, _sample = Kernel("noise.height"), Kernel("noise.sample")

_MOST_DETAIL = 12
_GRIDS = 3
_WITHIN_1 = math.sqrt(3) / 2
"""One over the maximum of h - h**3 / 9 up to the square root of 3."""
_FARTHEST_BEGIN = 1024.0
"""Farthest that a turned grid is shifted, in cells."""
_FARTHEST = 1e9
"""Cells from the origin beyond which floats are too coarse to tell places within a cell apart."""


@fixed('make another: chance("hills").field(scale=40)')
@dataclass(frozen=True, slots=True)
class Field:
    """A random landscape over the plane, or in space with a third coordinate; `chance.field()` makes one.

    Its methods take numbers or arrays of one shape, in the unit of its scale.
    """

    key: int
    scale: float
    detail: int = 1
    roughness: float = 0.5
    isotropic: bool = False

    def __post_init__(self) -> None:
        length("field", scale=self.scale, hint="write field(scale=40)")
        whole("field", "detail", self.detail, 1, _MOST_DETAIL)
        if not 0 < self.roughness <= 1:
            raise SketchError(f"field: roughness must be above 0 and at most 1 (got {self.roughness!r})")

    @overload
    def at(self, x: float, y: float, z: float | None = None) -> float: ...
    @overload
    def at(self, x: npt.ArrayLike, y: npt.ArrayLike, z: npt.ArrayLike | None = None) -> FloatArray: ...
    def at(self, x: npt.ArrayLike, y: npt.ArrayLike, z: npt.ArrayLike | None = None) -> float | FloatArray:
        """The height at a point, from -1 to 1, as often above 0 as below, and mostly between -0.5 and 0.5.

        It is 0 at multiples of the scale, unless the field is isotropic. `z` moves through landscapes that morph into each
        other: a slowly changing `z` makes the field drift. Raises SketchError for points that are not finite or very far out.
        """
        if not self.isotropic and isinstance(x, float) and isinstance(y, float) and (z is None or isinstance(z, float)):
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
        """The direction along the contour lines, with higher ground on the left: it circles hills and hollows and never
        converges.
        """
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
            raise SketchError("field: a place is not finite, or too far out", hint="check for a division by 0")
        across, down, deep = (np.array(part).ravel() for part in places)
        sampled = (
            self._sampled_askew(across, down, deep, z is not None)
            if self.isotropic
            else self._one(self.key, across, down, deep, z is not None)
        )
        return sampled.reshape(*places[0].shape, 3)

    def _one(self, key: int, across: FloatArray, down: FloatArray, deep: FloatArray, has_depth: bool) -> FloatArray:
        out = np.empty((len(across), 3))
        _sample(key, across, down, deep, has_depth, self.detail, self.roughness, out)
        return out

    def _sampled_askew(self, across: FloatArray, down: FloatArray, deep: FloatArray, has_depth: bool) -> FloatArray:
        """Three landscapes in one, on grids turned by thirty degrees against each other, with random offsets. What a square
        grid favours repeats every ninety degrees; the sum of three grids, a third of that apart, favours nothing.
        """
        stream = self.key, GOLDEN_GAMMA
        parts = units(stream, 0, 1 + 2 * _GRIDS).tolist()
        total = np.zeros((len(across), 3))
        for grid in range(_GRIDS):
            cosine, sine = cosine_and_sine(90 * parts[0] + 90 / _GRIDS * grid)
            begin_across, begin_down = (_FARTHEST_BEGIN * part for part in parts[1 + 2 * grid : 3 + 2 * grid])
            x = across * cosine + down * sine + begin_across
            y = down * cosine - across * sine + begin_down
            height, slope_x, slope_y = self._one(word(stream, 2 * _GRIDS + 1 + grid), x, y, deep, has_depth).T
            total += np.stack([height, slope_x * cosine - slope_y * sine, slope_x * sine + slope_y * cosine], axis=1)
        # The sum of three is scaled to the spread of one, and high values are compressed so that all stay within 1.
        height = total[:, 0] / math.sqrt(_GRIDS)
        bent = height * (1 - height * height / 9)
        slopes = total[:, 1:] / math.sqrt(_GRIDS) * (1 - height * height / 3)[:, None]
        return np.concatenate([bent[:, None], slopes], axis=1) * _WITHIN_1
