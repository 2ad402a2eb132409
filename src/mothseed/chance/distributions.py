"""Distributions of numbers."""

from __future__ import annotations

import math
from operator import index
from typing import Any, overload

import numpy as np

from mothseed.arrays import FloatArray, WholeArray
from mothseed.chance.draws import Draws, Size
from mothseed.chance.normal import standard_normal
from mothseed.chance.outcome import MOST_PROMISED
from mothseed.faults import SketchError
from mothseed.portable import power as raised

_WIDEST_WHOLE = 2**53
"""A unit number has 53 bits: a wider range of whole numbers would have gaps."""


class Numbers(Draws):
    """Numbers, yes or no, angles."""

    __slots__ = ()

    @overload
    def between(self, low: float, high: float, *, size: None = None, label: str | None = None) -> float: ...
    @overload
    def between(self, low: float, high: float, *, size: Size, label: str | None = None) -> FloatArray: ...
    def between(self, low: float, high: float, *, size: Size | None = None, label: str | None = None) -> float | FloatArray:
        """Uniformly from `low` up to but not including `high`; `low` itself if both are equal.

        Raises SketchError unless both are finite and `low` is no greater than `high`.
        """
        span = high - low
        if not 0 <= span < math.inf:
            raise SketchError(
                f"between({low!r}, {high!r}): the first number must be at most the second, and both finite",
                hint="write the smaller number first",
            )
        if size is not None:
            values = low + span * self._units(size)
            # Rounding can reach the upper end, which is not in the range.
            values = np.where(values >= high, max(low, math.nextafter(high, low)), values)
            self._kept(label, values)
            return values
        value = low + span * self._unit()
        if value >= high:
            value = max(low, math.nextafter(high, low))
        if label is not None:
            self._kept(label, value)
        return value

    @overload
    def whole(self, low: int, high: int, *, size: None = None, label: str | None = None) -> int: ...
    @overload
    def whole(self, low: int, high: int, *, size: Size, label: str | None = None) -> WholeArray: ...
    def whole(self, low: int, high: int, *, size: Size | None = None, label: str | None = None) -> int | WholeArray:
        """A whole number from `low` to `high` inclusive, all equally likely.

        Raises SketchError unless both are whole, `low` is at most `high`, and they are less than 2**53 apart.
        """
        try:
            span = index(high) - index(low) + 1
        except TypeError:
            raise SketchError(
                f"whole({low!r}, {high!r}): both ends must be whole numbers", hint="for any number write between(low, high)"
            ) from None
        if not 1 <= span <= _WIDEST_WHOLE:
            raise SketchError(
                f"whole({low!r}, {high!r}): the first must be at most the second, and less than 2**53 below it",
                hint="write the smaller number first",
            )
        if size is not None:
            steps = np.minimum((self._units(size) * span).astype(np.int64), span - 1)
            numbers = steps + low
            self._kept(label, numbers)
            return numbers
        number = low + min(int(self._unit() * span), span - 1)
        if label is not None:
            self._kept(label, number, ((n, 1 / span) for n in range(low, high + 1)) if span <= MOST_PROMISED else ())
        return number

    @overload
    def odds(self, probability: float, *, size: None = None, label: str | None = None) -> bool: ...
    @overload
    def odds(self, probability: float, *, size: Size, label: str | None = None) -> np.ndarray[Any, np.dtype[np.bool]]: ...
    def odds(
        self, probability: float, *, size: Size | None = None, label: str | None = None
    ) -> bool | np.ndarray[Any, np.dtype[np.bool]]:
        """True with the given probability: `odds(0.25)` one time in four, never with 0, always with 1.

        Raises SketchError unless the probability is from 0 to 1.
        """
        try:
            fits = 0 <= probability <= 1
            is_percentage = not fits and probability > 1
        except TypeError:
            fits, is_percentage = False, str(probability).endswith("%")
        if not fits:
            percent = str(probability).removesuffix("%")
            raise SketchError(
                f"odds({probability!r}): odds are a number from 0 (never) to 1 (always)",
                hint=f"for a percentage divide by 100: odds({percent} / 100)" if is_percentage else "",
            )
        if size is not None:
            answers = self._units(size) < probability
            self._kept(label, answers)
            return answers
        answer = self._unit() < probability
        if label is not None:
            self._kept(label, answer, ((True, probability), (False, 1 - probability)))
        return answer

    @overload
    def bell(self, mean: float, spread: float, *, size: None = None, label: str | None = None) -> float: ...
    @overload
    def bell(self, mean: float, spread: float, *, size: Size, label: str | None = None) -> FloatArray: ...
    def bell(self, mean: float, spread: float, *, size: Size | None = None, label: str | None = None) -> float | FloatArray:
        """Mostly near `mean`, rarely far from it: the normal distribution.

        `spread` is the standard deviation: two values in three lie within it of the mean, 19 in 20 within twice that. Raises
        SketchError unless the mean is finite and the spread finite and not negative.
        """
        if not (0 <= spread < math.inf and math.isfinite(mean)):
            raise SketchError(f"bell({mean!r}, {spread!r}): the mean must be finite and the spread 0 or more")
        if size is not None:
            values = mean + spread * standard_normal(self._units(size))
            self._kept(label, values)
            return values
        value = mean + spread * standard_normal(self._unit())
        self._kept(label, value)
        return value

    @overload
    def triangular(
        self, low: float, high: float, mode: float | None = None, *, size: None = None, label: str | None = None
    ) -> float: ...
    @overload
    def triangular(
        self, low: float, high: float, mode: float | None = None, *, size: Size, label: str | None = None
    ) -> FloatArray: ...
    def triangular(
        self, low: float, high: float, mode: float | None = None, *, size: Size | None = None, label: str | None = None
    ) -> float | FloatArray:
        """Between `low` and `high`, mostly near `mode`, with decreasing probability towards both ends: the triangular
        distribution.

        The mode defaults to the middle. Unlike `bell`, it never leaves its range. Raises SketchError unless low, mode and
        high are finite and in ascending order.
        """
        peak = (low + high) / 2 if mode is None else mode
        if not (low <= peak <= high and 0 <= high - low < math.inf):
            raise SketchError(
                f"triangular({low!r}, {high!r}, {peak!r}): low, mode and high rise, and are finite",
                hint="write triangular(low, high, mode)",
            )
        span = high - low
        bend = (peak - low) / span if span else 0.0
        if size is not None:
            parts = self._units(size)
            # The inverse of the distribution function, a parabola on each side of the mode.
            rising = np.sqrt(parts * bend)
            falling = 1.0 - np.sqrt((1.0 - parts) * (1.0 - bend))
            values: FloatArray = low + span * np.where(parts < bend, rising, falling)
            self._kept(label, values)
            return values
        part = self._unit()
        value = low + span * (math.sqrt(part * bend) if part < bend else 1.0 - math.sqrt((1.0 - part) * (1.0 - bend)))
        self._kept(label, value)
        return value

    @overload
    def skewed(self, low: float, high: float, power: float, *, size: None = None, label: str | None = None) -> float: ...
    @overload
    def skewed(self, low: float, high: float, power: float, *, size: Size, label: str | None = None) -> FloatArray: ...
    def skewed(
        self, low: float, high: float, power: float, *, size: Size | None = None, label: str | None = None
    ) -> float | FloatArray:
        """Between `low` and `high`, favouring `low` more the higher the power: many small values and few large ones.

        It raises a uniform number from 0 to 1 to that power: with 2, half of the values fall into the lowest quarter of the
        range, with 3 into the lowest eighth; with 1 all are equally likely, and below 1 high values are favoured. Raises
        SketchError unless both are finite, `low` is no greater than `high`, and the power is above 0.
        """
        if not (0 <= high - low < math.inf and 0 < power < math.inf):
            raise SketchError(
                f"skewed({low!r}, {high!r}, {power!r}): low is at most high, both finite, and the power above 0",
                hint="write skewed(1, 12, 3) for many small ones and few large",
            )
        span = high - low
        if size is not None:
            values: FloatArray = low + span * raised(self._units(size), float(power))
            self._kept(label, values)
            return values
        value = low + span * raised(self._unit(), float(power))
        self._kept(label, value)
        return value

    @overload
    def jittered(self, values: float, amount: float) -> float: ...
    @overload
    def jittered(self, values: FloatArray, amount: float) -> FloatArray: ...
    def jittered(self, values: float | FloatArray, amount: float) -> float | FloatArray:
        """A number, or each number of an array, moved up or down by at most `amount`, uniformly.

        Points (n, 2) move both across and down. Raises SketchError for an amount that is negative or not finite.
        """
        if not 0 <= amount < math.inf:
            raise SketchError(f"jittered: the amount must be 0 or more, and finite (got {amount!r})")
        if isinstance(values, np.ndarray | list | tuple):
            array = np.asarray(values, np.float64)
            return array + self.between(-amount, amount, size=array.shape)
        return values + self.between(-amount, amount)

    @overload
    def turn(self, *, step: float | None = None, size: None = None, label: str | None = None) -> float: ...
    @overload
    def turn(self, *, step: float | None = None, size: Size, label: str | None = None) -> FloatArray: ...
    def turn(self, *, step: float | None = None, size: Size | None = None, label: str | None = None) -> float | FloatArray:
        """An angle from 0 up to but not including 360 degrees; with `step=90`, one of 0, 90, 180 and 270.

        Raises SketchError unless the step is above 0 and at most 360 degrees.
        """
        if step is None:
            if size is None:
                return self.between(0.0, 360.0, label=label)
            return self.between(0.0, 360.0, size=size, label=label)
        if not 0 < step <= 360:
            raise SketchError(f"turn(step={step!r}): the step is in degrees, above 0 and at most 360", hint="write step=45")
        last = math.ceil(360 / step) - 1
        if size is not None:
            angles: FloatArray = self.whole(0, last, size=size).astype(np.float64) * step
            self._kept(label, angles)
            return angles
        angle = self.whole(0, last) * float(step)
        if label is not None:
            count = last + 1
            self._kept(label, angle, ((n * float(step), 1 / count) for n in range(count)) if count <= MOST_PROMISED else ())
        return angle
