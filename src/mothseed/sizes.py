"""Sizes of output as they are written: 2400px, 180mm, 18cm, 7in."""

from __future__ import annotations

import re
from dataclasses import dataclass

from mothseed.faults import FieldError
from mothseed.units import UNITS_PER_INCH

_LENGTH = re.compile(r"(\d+(?:\.\d+)?)\s*(px|mm|cm|in)?")
DEFAULT_WIDTH = "1000px"
DEFAULT_DPI = 300.0


@dataclass(frozen=True, slots=True)
class OutputSize:
    """Width in pixels, and pixels per inch if the size is physical."""

    pixels: int
    dpi: float | None


def output_size(width: str | None, dpi: float | None, sheet_inches: float) -> OutputSize:
    """The size given by a width as written and a resolution; a resolution alone means the sheet at its own size.
    `sheet_inches` is the width of the sheet. Raises FieldError for a width that is not a length above 0.
    """
    if width is None and dpi is not None:
        return OutputSize(round(sheet_inches * dpi), dpi)
    text = width or DEFAULT_WIDTH
    match = _LENGTH.fullmatch(text.strip())
    if not match or float(match[1]) <= 0:
        raise FieldError("width", f'"{text}" is not a length', hint="write 2400px, 180mm, 18cm or 7in")
    number, unit = float(match[1]), match[2] or "px"
    if unit == "px":
        if not number.is_integer():
            raise FieldError("width", f'"{text}" is not a whole number of pixels')
        return OutputSize(int(number), dpi)
    resolution = dpi or DEFAULT_DPI
    return OutputSize(round(number / UNITS_PER_INCH[unit] * resolution), resolution)


LARGEST_SIDE = 20_000
"""Most pixels along the longer side of a picture."""


def picture_size(sheet_width: float, sheet_height: float, width: int) -> tuple[int, int]:
    """Width and height in pixels of a picture of a sheet, given its width; raises FieldError if it is too small or large."""
    height = round(width * sheet_height / sheet_width)
    if not (1 <= width <= LARGEST_SIDE and 1 <= height <= LARGEST_SIDE):
        raise FieldError(
            "width",
            f"a picture of {width} x {height} pixels cannot be made",
            hint=f"each side is from 1 to {LARGEST_SIDE} pixels",
        )
    return width, height
