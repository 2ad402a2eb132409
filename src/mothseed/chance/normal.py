"""Normal deviates from unit numbers.

Wichura's algorithm AS 241, routine PPND16 (Applied Statistics 37, 1988, pages 477 to 484): a rational approximation of the
quantile function, accurate to about one part in 10**16. One number in, one out, and monotone.
"""

from __future__ import annotations

import math
from typing import overload

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.bits import UNIT_STEP
from mothseed.portable import natural_log

# Coefficients of the paper, highest power first; numerator and denominator.
_CENTRE = (
    (2509.0809287301226727, 33430.575583588128105, 67265.770927008700853, 45921.953931549871457,
     13731.693765509461125, 1971.5909503065514427, 133.14166789178437745, 3.387132872796366608),
    (5226.495278852545925, 28729.085735721942674, 39307.89580009271061, 21213.794301586595867,
     5394.1960214247511077, 687.1870074920579083, 42.313330701600911252, 1.0),
)  # fmt: skip
_NEAR_TAIL = (
    (7.7454501427834140764e-4, 0.0227238449892691845833, 0.24178072517745061177, 1.27045825245236838258,
     3.64784832476320460504, 5.7694972214606914055, 4.6303378461565452959, 1.42343711074968357734),
    (1.05075007164441684324e-9, 5.475938084995344946e-4, 0.0151986665636164571966, 0.14810397642748007459,
     0.68976733498510000455, 1.6763848301838038494, 2.05319162663775882187, 1.0),
)  # fmt: skip
_FAR_TAIL = (
    (2.01033439929228813265e-7, 2.71155556874348757815e-5, 0.0012426609473880784386, 0.026532189526576123093,
     0.29656057182850489123, 1.7848265399172913358, 5.4637849111641143699, 6.6579046435011037772),
    (2.04426310338993978564e-15, 1.4215117583164458887e-7, 1.8463183175100546818e-5, 7.868691311456132591e-4,
     0.0148753612908506148525, 0.13692988092273580531, 0.59983220653858793769, 1.0),
)  # fmt: skip
_CENTRE_REACH = 0.425
_FAR = 5.0

Coefficients = tuple[tuple[float, ...], tuple[float, ...]]


@overload
def standard_normal(fraction: float) -> float: ...
@overload
def standard_normal(fraction: FloatArray) -> FloatArray: ...
def standard_normal(fraction: float | FloatArray) -> float | FloatArray:
    """The quantile of the standard normal distribution; fractions are unit numbers. A unit number stands for the middle of
    its step, so that 0 is not infinitely far out: all deviates are within 8.3.
    """
    if isinstance(fraction, np.ndarray):
        return _normals(fraction)
    offset = fraction - 0.5
    if abs(offset) <= _CENTRE_REACH:
        return offset * _ratio(_CENTRE, _CENTRE_REACH * _CENTRE_REACH - offset * offset)
    tail = (fraction if offset < 0 else 1.0 - fraction) + math.copysign(UNIT_STEP / 2, -offset)
    root = math.sqrt(-natural_log(tail))
    deviate = _ratio(_NEAR_TAIL, root - 1.6) if root <= _FAR else _ratio(_FAR_TAIL, root - _FAR)
    return -deviate if offset < 0 else deviate


def _normals(fraction: FloatArray) -> FloatArray:
    offset = fraction - 0.5
    result = offset * _ratio(_CENTRE, _CENTRE_REACH * _CENTRE_REACH - offset * offset)
    outside = np.abs(offset) > _CENTRE_REACH
    far_out = offset[outside]
    tail = np.where(far_out < 0, fraction[outside], 1.0 - fraction[outside]) + np.copysign(UNIT_STEP / 2, -far_out)
    root = np.sqrt(-natural_log(tail))
    deviate = np.where(root <= _FAR, _ratio(_NEAR_TAIL, root - 1.6), _ratio(_FAR_TAIL, root - _FAR))
    result[outside] = np.copysign(deviate, far_out)
    return result


@overload
def _ratio(coefficients: Coefficients, x: float) -> float: ...
@overload
def _ratio(coefficients: Coefficients, x: FloatArray) -> FloatArray: ...
def _ratio(coefficients: Coefficients, x: float | FloatArray) -> float | FloatArray:
    numerator: float | FloatArray = 0.0
    denominator: float | FloatArray = 0.0
    for above, below in zip(*coefficients, strict=True):
        numerator = numerator * x + above
        denominator = denominator * x + below
    return numerator / denominator
