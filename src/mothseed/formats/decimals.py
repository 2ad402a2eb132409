"""Numbers as they are written in a file of shapes: no longer than they have to be."""

from __future__ import annotations

import math
from collections.abc import Iterable

_PARTS = 6
"""Decimal places of the sheet's longer side: a hundredth of a pixel on the largest picture."""


def places_for(length: float, scale: float = 1.0) -> int:
    """How many places after the point coordinates need on a sheet that long, in a frame that enlarges by `scale`."""
    return max(math.ceil(_PARTS - math.log10(max(length, 1e-9)) + math.log10(max(scale, 1e-9))), 0)


def written(number: float, places: int) -> str:
    """A number with at most so many places after the point."""
    text = f"{number:.{places}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    if text in ("-0", ""):
        return "0"
    return text.replace("0.", ".", 1) if text.startswith(("0.", "-0.")) else text


def spaced(numbers: Iterable[float], places: int) -> str:
    """Numbers with spaces between."""
    return " ".join(written(number, places) for number in numbers)


def several(numbers: Iterable[float], places: int) -> str:
    """Numbers as SVG takes them, where a minus sign parts them as well as a space."""
    return spaced(numbers, places).replace(" -", "-")
