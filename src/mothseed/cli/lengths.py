"""Sizes of output as they are written: 2400px, 180mm, 18cm, 7in."""

from __future__ import annotations

import re
from dataclasses import dataclass

from mothseed.errors import UsageError

_INCHES = {"mm": 1 / 25.4, "cm": 1 / 2.54, "in": 1.0}
_LENGTH = re.compile(r"(\d+(?:\.\d+)?)\s*(px|mm|cm|in)?")
DEFAULT_WIDTH = "1000px"
DEFAULT_DPI = 300.0


@dataclass(frozen=True, slots=True)
class OutputSize:
    """Width in pixels, and how many of them make an inch where the size is a physical one."""

    pixels: int
    dpi: float | None


def output_size(width: str | None, dpi: float | None, sheet_inches: float) -> OutputSize:
    """What --width and --dpi ask for together; --dpi alone means the sheet at its own size.

    Raises UsageError for a width that is no length above 0.
    """
    if width is None and dpi is not None:
        return OutputSize(round(sheet_inches * dpi), dpi)
    text = width or DEFAULT_WIDTH
    match = _LENGTH.fullmatch(text.strip())
    if not match or float(match[1]) <= 0:
        raise UsageError(f'--width: "{text}" is not a length', hint="write 2400px, 180mm, 18cm or 7in")
    number, unit = float(match[1]), match[2] or "px"
    if unit == "px":
        return OutputSize(_whole(number, text), dpi)
    resolution = dpi or DEFAULT_DPI
    return OutputSize(round(number * _INCHES[unit] * resolution), resolution)


def _whole(number: float, text: str) -> int:
    if not number.is_integer():
        raise UsageError(f'--width: "{text}" is not a whole number of pixels')
    return int(number)
