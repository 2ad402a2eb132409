"""Affine maps of the plane: from a frame's coordinates to those of what it lies on."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from mothseed.arrays import BoolArray, FloatArray, PointArray
from mothseed.portable import cosine_and_sine
from mothseed.values import fixed

_made = tuple.__new__
"""Makes a named tuple from a tuple in half the time that calling its class takes."""


@fixed("make another: Affine.rotation(30).after(matrix)")
class Affine(NamedTuple):
    """x' = a x + c y + e and y' = b x + d y + f, the letters of an SVG matrix.

    >>> Affine.translation(10, 0).after(Affine.rotation(90)).point(1, 0)
    (10.0, 1.0)
    """

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    @classmethod
    def translation(cls, x: float, y: float) -> Affine:
        """The map that moves everything by x and y."""
        return cls(e=float(x), f=float(y))

    @classmethod
    def rotation(cls, degrees: float) -> Affine:
        """The turn about the origin, clockwise as seen with y pointing down."""
        cosine, sine = cosine_and_sine(degrees)
        return cls(cosine, sine, -sine, cosine)

    @classmethod
    def scaling(cls, factor: float) -> Affine:
        """The enlargement from the origin."""
        return cls(a=float(factor), d=float(factor))

    @classmethod
    def reflection(cls, degrees: float) -> Affine:
        """The mirror image in the line through the origin at that heading."""
        cosine, sine = cosine_and_sine(2 * degrees)
        return cls(cosine, sine, sine, -cosine)

    def after(self, first: Affine) -> Affine:
        """The map that applies `first`, then this one."""
        a, b, c, d, e, f = self
        p, q, r, s, t, u = first
        return Affine(a * p + c * q, b * p + d * q, a * r + c * s, b * r + d * s, a * t + c * u + e, b * t + d * u + f)

    def placing(self, x: float, y: float, cosine: float, sine: float) -> Affine:
        """The map that turns by the angle with that cosine and sine, moves by x and y, and then applies this one."""
        a, b, c, d, e, f = self
        turned = (a * cosine + c * sine, b * cosine + d * sine, c * cosine - a * sine, d * cosine - b * sine)
        return _made(Affine, (*turned, a * x + c * y + e, b * x + d * y + f))

    def placings(self, x: FloatArray, y: FloatArray, cosine: FloatArray, sine: FloatArray) -> FloatArray:
        """The maps that `placing` gives for arrays, float64 (n,) each: float64 (n, 6)."""
        placed: FloatArray = np.stack(self.placing(x, y, cosine, sine), axis=1)  # type: ignore[arg-type]  # the same sums
        return placed

    def inverse(self) -> Affine | None:
        """The inverse map, or None if everything ends up on one line."""
        determinant = self.a * self.d - self.b * self.c
        if determinant == 0:
            return None
        p, q, s, t = self.d / determinant, -self.c / determinant, -self.b / determinant, self.a / determinant
        return Affine(p, s, q, t, -(p * self.e + q * self.f), -(s * self.e + t * self.f))

    def point(self, x: float, y: float) -> tuple[float, float]:
        """The image of a point."""
        return self.a * x + self.c * y + self.e, self.b * x + self.d * y + self.f


def composed(outer: FloatArray, inner: FloatArray) -> FloatArray:
    """The maps that apply an inner one, then an outer one: float64 (..., 6), broadcast from both."""
    a, b, c, d, e, f = np.moveaxis(outer, -1, 0)
    p, q, r, s, t, u = np.moveaxis(inner, -1, 0)
    return np.stack([a * p + c * q, b * p + d * q, a * r + c * s, b * r + d * s, a * t + c * u + e, b * t + d * u + f], axis=-1)


def enlargements(matrices: FloatArray) -> FloatArray:
    """The factors by which maps, float64 (n, 6), enlarge lengths, averaged over both directions: float64 (n,)."""
    a, b, c, d, _, _ = matrices.T
    result: FloatArray = np.sqrt(np.abs(a * d - b * c))
    return result


def shifted(points: PointArray, x: float, y: float) -> PointArray:
    """Points (n, 2), moved by x and y."""
    # As complex numbers, since NumPy takes several times as long to add a pair to each of many pairs.
    moved: PointArray = (np.ascontiguousarray(points).view(np.complex128) + complex(x, y)).view(np.float64)
    return moved


def transformed(points: PointArray, matrix: FloatArray) -> PointArray:
    """Points (n, 2) under one map (6,) or under a map each (n, 6)."""
    a, b, c, d, e, f = matrix.T
    x, y = points.T
    # Written out: a matrix product's order of additions depends on the library that multiplies.
    across = a * x + c * y + e
    result = np.empty((len(across), 2))
    result[:, 0], result[:, 1] = across, b * x + d * y + f
    return result


def are_similarities(matrices: FloatArray, tolerance: float) -> BoolArray:
    """Which maps, float64 (n, 6) or (6,), turn circles into circles, up to a relative tolerance; not into points."""
    a, b, c, d, _, _ = matrices.T
    size = a * a + b * b
    even = np.abs(size - (c * c + d * d)) <= tolerance * size
    square = np.abs(a * c + b * d) <= tolerance * size
    result: BoolArray = even & square & (size > 0)
    return result
