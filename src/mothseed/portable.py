"""Elementary functions whose last bit is the same on every machine.

The sine and logarithm of a C library or of NumPy differ in their last bit between processors and releases, and such a bit
can move a mark. These use additions, multiplications and divisions alone, which IEEE 754 fixes, in a fixed order; a float
and an array of floats give the same bits.
"""

from __future__ import annotations

import math
from typing import TypeVar, overload

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.native.library import Kernel

_turn = Kernel("points.turn")

GOLDEN_TURN = 137.50776405003785
"""360 degrees divided in the golden ratio: the turn from seed to seed in a sunflower."""

RADIANS_PER_DEGREE = math.pi / 180
_LOG_2 = 0.6931471805599453
_SQRT_HALF = 0.7071067811865476

# Taylor coefficients; |x| is at most an eighth of a turn (0.7854), where the first term left out is below 1e-17.
SINE_TERMS = tuple((-1.0) ** k / math.factorial(2 * k + 1) for k in range(1, 9))
COSINE_TERMS = tuple((-1.0) ** k / math.factorial(2 * k) for k in range(1, 10))
_S3, _S5, _S7, _S9, _S11, _S13, _S15, _S17 = SINE_TERMS
_C2, _C4, _C6, _C8, _C10, _C12, _C14, _C16, _C18 = COSINE_TERMS
# log m = 2 (s + s^3/3 + s^5/5 ...) with s = (m - 1)/(m + 1), |s| at most 0.1716.
_ATANH = tuple(1.0 / (2 * k + 1) for k in range(11, -1, -1))
# e^r = 1 + r + r^2/2! ..., |r| at most 0.3466.
_EXPONENTIAL = tuple(1.0 / math.factorial(k) for k in range(14, -1, -1))
_LOG_2_HIGH, _LOG_2_LOW = 0.693359375, -2.121944400546905827679e-4
"""The logarithm of 2 in two parts, the first so short that its product with a small whole number is exact."""
# arctan t = t - t^3/3 + t^5/5 ..., |t| at most 0.4143.
_ARCTAN = tuple((-1.0) ** k / (2 * k + 1) for k in range(21, -1, -1))
_TAN_22_5 = 0.41421356237309503
_DEGREES_PER_RADIAN = 180 / math.pi


def cosine_and_sine(degrees: float) -> tuple[float, float]:
    """Cosine and sine of an angle in degrees, exact at every multiple of 90.

    >>> cosine_and_sine(90)
    (0.0, 1.0)
    >>> cosine_and_sine(-180)
    (-1.0, 0.0)
    """
    quarter = round(degrees / 90)
    x = (degrees - 90.0 * quarter) * RADIANS_PER_DEGREE
    q = x * x
    # Unrolled: as functions, or as loops over the coefficients, the two series take twice as long.
    high = ((((_S17 * q + _S15) * q + _S13) * q + _S11) * q + _S9) * q
    sine = x * ((((high + _S7) * q + _S5) * q + _S3) * q + 1.0)
    high = ((((_C18 * q + _C16) * q + _C14) * q + _C12) * q + _C10) * q
    cosine = ((((high + _C8) * q + _C6) * q + _C4) * q + _C2) * q + 1.0
    way = quarter & 3
    if way == 0:
        return cosine, sine
    if way == 1:
        return 0.0 - sine, cosine
    if way == 2:
        return -cosine, 0.0 - sine
    return sine, -cosine


def cosines_and_sines(degrees: FloatArray) -> tuple[FloatArray, FloatArray]:
    """The same for an array of angles: two float64 arrays of its shape."""
    if degrees.size == 1 and math.isfinite(degrees.item()):
        cosine, sine = cosine_and_sine(degrees.item())  # calling a compiled kernel takes ten times as long
        return np.full(degrees.shape, cosine), np.full(degrees.shape, sine)
    flat = np.ascontiguousarray(degrees, np.float64).ravel()
    cosines, sines = np.empty(degrees.shape), np.empty(degrees.shape)
    _turn(flat, cosines.ravel(), sines.ravel())
    return cosines, sines


Number = TypeVar("Number", float, FloatArray)


@overload
def natural_log(x: float) -> float: ...
@overload
def natural_log(x: FloatArray) -> FloatArray: ...
def natural_log(x: float | FloatArray) -> float | FloatArray:
    """Natural logarithm of positive normal numbers, to about the last bit.

    >>> natural_log(1.0)
    0.0
    """
    if isinstance(x, np.ndarray):
        fraction, exponent = np.frexp(x)
        low = fraction < _SQRT_HALF
        fraction = np.where(low, fraction * 2, fraction)
        return _log_of_parts(fraction, np.where(low, exponent - 1.0, exponent))
    part, power = math.frexp(x)
    if part < _SQRT_HALF:
        part, power = part * 2, power - 1
    return _log_of_parts(part, float(power))


@overload
def _log_of_parts(fraction: float, exponent: float) -> float: ...
@overload
def _log_of_parts(fraction: FloatArray, exponent: FloatArray) -> FloatArray: ...
def _log_of_parts(fraction: float | FloatArray, exponent: float | FloatArray) -> float | FloatArray:
    s = (fraction - 1.0) / (fraction + 1.0)
    square = s * s
    series: float | FloatArray = 0.0
    for coefficient in _ATANH:
        series = series * square + coefficient
    return 2.0 * s * series + exponent * _LOG_2


@overload
def power(base: float, exponent: float) -> float: ...
@overload
def power(base: FloatArray, exponent: float) -> FloatArray: ...
def power(base: float | FloatArray, exponent: float) -> float | FloatArray:
    """A number from 0 to 1, or an array of them, to a power above 0; to about the last two bits.

    >>> power(0.25, 0.5)
    0.5
    """
    if isinstance(base, np.ndarray):
        some = base > 0
        wanted = natural_log(np.where(some, base, 1.0)) * exponent
        scale = np.round(wanted / _LOG_2)
        rest = (wanted - scale * _LOG_2_HIGH) - scale * _LOG_2_LOW
        # Below the smallest normal number it is 0, whatever a processor does with subnormal numbers.
        result = np.where(some & (scale > -1020), np.ldexp(_exponential(rest), np.maximum(scale, -1020).astype(np.int64)), 0.0)
        return np.minimum(result, 1.0)
    if not base > 0:
        return 0.0
    goal = natural_log(base) * exponent
    times = round(goal / _LOG_2)
    remainder = (goal - times * _LOG_2_HIGH) - times * _LOG_2_LOW
    return min(math.ldexp(_exponential(remainder), times), 1.0) if times > -1020 else 0.0


def _exponential(r: Number) -> Number:
    total: Number = r * 0.0
    for coefficient in _EXPONENTIAL:
        total = total * r + coefficient
    return total


@overload
def heading(dx: float, dy: float) -> float: ...
@overload
def heading(dx: FloatArray, dy: FloatArray) -> FloatArray: ...
def heading(dx: float | FloatArray, dy: float | FloatArray) -> float | FloatArray:
    """The angle of a direction in degrees, from 0 (along +x) clockwise up to 360; 0 for no direction at all.

    >>> heading(0.0, -2.0)
    270.0
    """
    if isinstance(dx, float) and isinstance(dy, float):
        return _heading(float(dx), float(dy))  # a NumPy float too: its arithmetic takes several times as long
    x, y = np.asarray(dx, np.float64), np.asarray(dy, np.float64)
    wide, high = np.abs(x), np.abs(y)
    longer = np.maximum(wide, high)
    ratio = np.minimum(wide, high) / np.where(longer > 0, longer, 1.0)
    # From 22.5 to 45 degrees, count back from 45.
    beyond = ratio > _TAN_22_5
    t = np.where(beyond, (ratio - 1.0) / (ratio + 1.0), ratio)
    angle = np.where(beyond, 45.0, 0.0) + _arctangent(t) * _DEGREES_PER_RADIAN
    angle = np.where(high > wide, 90.0 - angle, angle)
    angle = np.where(x < 0, 180.0 - angle, angle)
    angle = np.where((y < 0) & (angle > 0), 360.0 - angle, angle)
    angle = np.where(angle == 360.0, 0.0, angle)  # just short of a full turn
    return float(angle) if angle.ndim == 0 else angle


def _arctangent(t: Number) -> Number:
    square = t * t
    series: Number = t * 0.0
    for coefficient in _ARCTAN:
        series = series * square + coefficient
    return t * series


def _heading(x: float, y: float) -> float:
    """As `heading`, of floats, in a tenth of the time that NumPy takes for one."""
    if math.isnan(x) or math.isnan(y):
        return math.nan
    wide, high = abs(x), abs(y)
    longer = max(wide, high)
    ratio = min(wide, high) / (longer if longer > 0 else 1.0)
    beyond = ratio > _TAN_22_5
    t = (ratio - 1.0) / (ratio + 1.0) if beyond else ratio
    angle = (45.0 if beyond else 0.0) + _arctangent(t) * _DEGREES_PER_RADIAN
    if high > wide:
        angle = 90.0 - angle
    if x < 0:
        angle = 180.0 - angle
    if y < 0 and angle > 0:
        angle = 360.0 - angle
    return 0.0 if angle == 360.0 else angle
