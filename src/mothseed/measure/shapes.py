"""What a drawing is made of."""

from __future__ import annotations

import numpy as np

from mothseed.sheet import Drawing
from mothseed.sheet.drawing import KIND_NAMES


def shapes_of(drawing: Drawing) -> dict[str, float]:
    """How many marks it has, `marks`, and of each kind that occurs: `circles`, `ellipses`, `rects`, `lines` and so on."""
    counts = np.bincount(drawing.marks["kind"], minlength=len(KIND_NAMES))
    by_kind = {f"{name}s": float(count) for name, count in zip(KIND_NAMES, counts.tolist(), strict=True) if count}
    return {"marks": float(len(drawing)), **by_kind}
