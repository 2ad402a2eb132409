"""The figure that puts two pictures beside each other, with a map of where they differ."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PIL import Image, ImageDraw

from mothseed.arrays import ByteArray, FloatArray
from mothseed.colour.palette import Palette
from mothseed.compare.pair import NOTICEABLE, Pair
from mothseed.report.page import HAIRLINE, INK, MUTED, PAPER, blank, fitted, font

_HEAT = Palette([PAPER, "#f0c36a", "#d9603b", "#8c1f4b", "#241537"])
_MARGIN, _GAP, _HEAD, _FOOT = 48, 28, 56, 58
_WIDEST, _TALLEST = 560, 760
_LINE = 30
_LEAST_SCALE = 0.1
"""Distance in OKLab that the darkest colour stands for at least, so that a faint difference looks faint."""


def side_by_side(
    first: Image.Image, second: Image.Image, pair: Pair, titles: tuple[str, str], changes: Sequence[str]
) -> Image.Image:
    """Both pictures under their titles, the difference map with its scale, and below it what was changed."""
    factor = min(_WIDEST / first.width, _TALLEST / first.height)
    width, height = max(1, round(first.width * factor)), max(1, round(first.height * factor))
    width_of_cell = max(width, 240)
    below = _LINE * len(changes) + (20 if changes else 0)
    page, draw = blank(2 * _MARGIN + 3 * width_of_cell + 2 * _GAP, _MARGIN + _HEAD + height + _FOOT + below + _MARGIN // 2)
    scale = max(_LEAST_SCALE, pair.largest)
    heat = Image.fromarray(_heat(pair.difference / scale))
    for place, (image, title) in enumerate(zip((first, second, heat), (*titles, "difference"), strict=True)):
        x = _MARGIN + place * (width_of_cell + _GAP)
        face = font(26, italic=place == 2)
        draw.text((x, _MARGIN), fitted(draw, title, face, width_of_cell), fill=INK, font=face)
        shrunk = image.resize((width, height), Image.Resampling.LANCZOS if factor < 1 else Image.Resampling.NEAREST)
        page.paste(shrunk, (x, _MARGIN + _HEAD))
        draw.rectangle((x - 1, _MARGIN + _HEAD - 1, x + width, _MARGIN + _HEAD + height), outline=HAIRLINE)
    right = _MARGIN + 2 * (width_of_cell + _GAP)
    _draw_scale(page, draw, right, _MARGIN + _HEAD + height + 16, width, scale)
    y = _MARGIN + _HEAD + height + _FOOT + 10
    for line in changes:
        text = fitted(draw, line.replace("->", "→"), font(22), page.width - 2 * _MARGIN)
        draw.text((_MARGIN, y), text, fill=INK, font=font(22))
        y += _LINE
    return page


def _heat(share: FloatArray) -> ByteArray:
    """Colours for shares of the scale: uint8 (height, width, 3) from float64 (height, width)."""
    ramp = np.array([_HEAT.ramp(step / 255)[:3] for step in range(256)])
    levels = (np.clip(share, 0, 1) * 255).astype(np.uint8)
    result: ByteArray = np.round(ramp * 255).astype(np.uint8)[levels]
    return result


def _draw_scale(page: Image.Image, draw: ImageDraw.ImageDraw, x: int, y: int, width: int, scale: float) -> None:
    steps = np.linspace(0, 1, width)[None, :].repeat(10, axis=0)
    page.paste(Image.fromarray(_heat(steps)), (x, y))
    draw.rectangle((x - 1, y - 1, x + width, y + 10), outline=HAIRLINE)
    draw.text((x, y + 14), "0", fill=MUTED, font=font(18))
    draw.text((x + width, y + 14), f"{scale:.2f} in OKLab", fill=MUTED, font=font(18), anchor="ra")
    seen = x + round(width * NOTICEABLE / scale)
    draw.line((seen, y - 4, seen, y + 13), fill=INK)
    if NOTICEABLE / scale < 0.5:
        draw.text((max(seen, x + 20), y + 14), "noticed from here on", fill=MUTED, font=font(18, italic=True))
