"""Smooth curves through given points."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from mothseed.faults import SketchError
from mothseed.geometry.given_points import as_points, refuse_endless
from mothseed.geometry.outline import Outline, known, through, verbs_of_run
from mothseed.geometry.verbs import CUBIC
from mothseed.native.library import Kernel

_smooth = Kernel("points.smooth")


def smooth(points: Iterable[object], *, closed: bool = False, tension: float = 0.0) -> Outline:
    """A smooth outline through all the points, in order.

    `tension` 0 is roundest, 1 runs straight from point to point. It is a centripetal Catmull-Rom spline, which makes no loops
    or cusps between points; as Bézier segments after Yuksel, Schaefer and Keyser, "Parameterization and applications of
    Catmull-Rom curves", 2011. Repeated points are skipped. Raises SketchError for fewer than two points (three if closed), or
    a tension outside 0 to 1.

    >>> smooth([(0, 0), (10, 5), (20, 0)]).closed
    False
    """
    if not 0 <= tension <= 1:
        raise SketchError(f"smooth: tension must be a number from 0 (round) to 1 (straight) (got {tension!r})")
    array = as_points(points, "smooth", 3 if closed else 2)
    knots, curves = np.empty((len(array) + 3, 2)), np.empty((3 * len(array) + 1, 2))
    count = _smooth(array, closed, float(tension), knots, curves)
    if count < 2:
        return through(knots[1 : 1 + count].copy(), closed=closed)
    segments = count if closed else count - 1
    curves = curves[: 3 * segments + 1]
    refuse_endless(curves, "smooth")
    return known(verbs_of_run(CUBIC, segments, closed), curves)
