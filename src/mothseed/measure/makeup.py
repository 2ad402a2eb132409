"""What a drawing is made of."""

from __future__ import annotations

import numpy as np

from mothseed.sheet import Drawing
from mothseed.sheet.kinds import KINDS


def makeup_of(drawing: Drawing) -> dict[str, float]:
    """The number of marks, `marks`, and of each kind that occurs: `circles`, `ellipses`, `rects`, `lines` and so on."""
    counts = np.bincount(drawing.marks["kind"], minlength=len(KINDS))
    by_kind = {kind.plural: float(count) for kind, count in zip(KINDS, counts.tolist(), strict=True) if count}
    return {"marks": float(len(drawing)), **by_kind}
