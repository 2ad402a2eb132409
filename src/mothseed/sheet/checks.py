"""What the numbers and words of views have to be, and what is said where they are not."""

from __future__ import annotations

import math
from typing import Any

from mothseed.errors import SketchError


def frame_fault(x: object, y: object, turn: object, scale: Any, skew: Any, pivot: object) -> SketchError:
    """What is wrong with the arguments of a frame, in words."""
    check_finite("frame", x=x, y=y, turn=turn, skew=skew)
    for part in scale if isinstance(scale, tuple) and len(scale) == 2 else (scale,):
        check_finite("frame", scale=part)
        if not part > 0:
            return SketchError(f"frame: scale is above 0 (got {scale})", hint="for a mirror image use mirrored()")
    if not -90 < skew < 90:
        return SketchError(f"frame: skew is between -90 and 90 degrees (got {skew})")
    return SketchError(f"frame: pivot is a point of finite numbers (got {pivot!r})", hint="write pivot=(40, 60)")


def check_finite(call: str, **numbers: Any) -> None:
    """Refuse, naming the call and the number, what is not a finite number."""
    for name, number in numbers.items():
        try:
            if math.isfinite(number):
                continue
        except TypeError:
            pass
        raise SketchError(f"{call}: {name.replace('_', ' ')} is a finite number (got {number!r})")


def check_facing(call: str, facing: str, ways: tuple[str, ...]) -> None:
    """Refuse a way to face that an arrangement does not have."""
    if facing not in ways:
        raise SketchError(f"{call}: facing is one of {', '.join(ways)} (got {facing!r})")
