"""Cellular automata: grids of states, stepped by a rule that sees the neighbours of each."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import numpy.typing as npt

from mothseed.checks import one_of, whole
from mothseed.faults import SketchError

_AROUND = ((-1, 0), (-1, 1), (0, 1), (1, 1), (1, 0), (1, -1), (0, -1), (-1, -1))
"""Steps down and across to the eight neighbours of a state, clockwise from the one above."""
EDGES = ("wrap", "constant")
"""What lies beyond the edge, in SciPy's terms: the other side, or 0."""


def stepped(
    states: npt.ArrayLike, rule: Callable[[Any, Any], npt.ArrayLike], steps: int = 1, *, edge: str = "wrap"
) -> npt.NDArray[Any]:
    """A grid of states after a number of steps of a rule: `stepped(chance.odds(0.4, size=(40, 30)), life, 12)`.

    The rule gets all states at once, an array (rows, cols), and the eight neighbours of each, (8, rows, cols), clockwise from
    the one above, and returns the new states: `lambda own, around: around.sum(axis=0) >= 5`. Beyond the edge lies the other
    side ("wrap") or 0 ("constant"). Raises SketchError unless states are rows of equal length, and for a rule that returns
    another shape.
    """
    steps = whole("stepped", "steps", steps)
    one_of("stepped", "edge", edge, EDGES)
    try:
        now: npt.NDArray[Any] = np.array(states)
    except ValueError:
        now = np.zeros(0)
    if now.ndim != 2 or now.dtype.kind not in "biuf":
        raise SketchError("stepped: states are numbers in rows of one length", hint="write chance.odds(0.4, size=(40, 30))")
    for _ in range(steps):
        given = np.asarray(rule(now, _around(now, edge)))
        if given.shape != now.shape:
            raise SketchError(
                f"stepped: the rule returns new states of the same shape (got {given.shape} for {now.shape})",
                hint="count those around a state with around.sum(axis=0)",
            )
        now = given
    return now


def _around(states: npt.NDArray[Any], edge: str) -> npt.NDArray[Any]:
    rows, cols = states.shape
    padded = np.pad(states, 1, mode="wrap") if edge == "wrap" else np.pad(states, 1)
    return np.stack([padded[1 + down : 1 + down + rows, 1 + across : 1 + across + cols] for down, across in _AROUND])
