"""The first mark that two performances draw differently, in words."""

from __future__ import annotations

import numpy as np

from mothseed.sheet import Drawing
from mothseed.sheet.kinds import KINDS
from mothseed.told import counted


def first_difference(one: Drawing, other: Drawing) -> str:
    """The first mark in which two drawings differ, in words; empty if none does."""
    index = first_mark_that_differs(one, other)
    if index is not None:
        return f"mark {index + 1} of {len(one)} differs from run to run: {_told(one, index)}, then {_told(other, index)}"
    if len(one) != len(other):
        longer = one if len(one) > len(other) else other
        first = _told(longer, min(len(one), len(other)))
        return f"one run draws {counted(len(one), 'mark')}, another {len(other):,}; the first that only one has is {first}"
    return ""


def _as_drawn(drawing: Drawing, index: int) -> bytes:
    mark = drawing.marks[index]
    outline = drawing.outlines[mark["outline"]].points.tobytes() if KINDS[mark["kind"]].unit is None else b""
    view = drawing.views[mark["view"]].tobytes()
    own = [mark[name].tobytes() for name in mark.dtype.names or () if name not in ("view", "outline")]
    return b"".join([*own, view, outline])


def _told(drawing: Drawing, index: int) -> str:
    mark = drawing.marks[index]
    kind = KINDS[mark["kind"]]
    a, b, c, d, e, f = drawing.views[mark["view"]].tolist()
    x, y = mark["place"][:2].tolist() if kind.unit else _first_point(drawing, mark)
    return f"{kind.article} {kind.name} at {a * x + c * y + e:.2f}, {b * x + d * y + f:.2f}"


def _first_point(drawing: Drawing, mark: np.void) -> tuple[float, float]:
    points = drawing.outlines[mark["outline"]].points
    return (float(points[0, 0]), float(points[0, 1])) if len(points) else (0.0, 0.0)


def first_mark_that_differs(one: Drawing, other: Drawing) -> int | None:
    """Its index, or None if one drawing starts with all the marks of the other."""
    count = min(len(one), len(other))
    return next((index for index in range(count) if _as_drawn(one, index) != _as_drawn(other, index)), None)
