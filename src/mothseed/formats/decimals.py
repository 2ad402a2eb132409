"""Numbers as written in vector files: no longer than necessary."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable
from functools import lru_cache

_PARTS = 6
"""Resolution of the longer side of a sheet: a hundredth of a pixel of the largest picture."""


def places_for(length: float, scale: float = 1.0) -> int:
    """Decimal places that coordinates need on a sheet that long, in a frame enlarged by `scale`."""
    return max(math.ceil(_PARTS - math.log10(max(length, 1e-9)) + math.log10(max(scale, 1e-9))), 0)


@lru_cache(maxsize=4096)
def written(number: float, places: int) -> str:
    """A number with at most so many decimal places. Widths and opacities are the same for many marks."""
    return spaced((number,), places)


def spaced(numbers: Iterable[float], places: int) -> str:
    """Numbers separated by spaces; many at once take a quarter of the time that they take one by one."""
    given = tuple(numbers)
    return trimmed(row_of(len(given), places) % given, places)[1:]


@lru_cache(maxsize=1024)
def row_of(count: int, places: int) -> str:
    """The format of so many numbers, a space before each."""
    return f" %.{places}f" * count


def trimmed(text: str, places: int) -> str:
    """A text with numbers as `row_of` formats them, without what they do not need."""
    if places:
        text = _IDLE_ZEROS.sub("", text)
    if " -0" in text:
        text = _LESS_THAN_NOTHING.sub(" 0", text).replace(" -0.", " -.")
    return text.replace(" 0.", " .")


_IDLE_ZEROS = re.compile(r"\.?0+(?= |$)")
_LESS_THAN_NOTHING = re.compile(r" -0(?= |$)")


def several(numbers: Iterable[float], places: int) -> str:
    """Numbers for SVG, where a minus sign separates as well as a space."""
    return spaced(numbers, places).replace(" -", "-")
