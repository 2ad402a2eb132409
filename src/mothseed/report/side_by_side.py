"""Two pictures side by side, with what differs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PIL import Image

from mothseed.arrays import ByteArray, FloatArray
from mothseed.colour import Palette
from mothseed.colour.oklch import NOTICEABLE
from mothseed.compare import Pair, ShapeChanges
from mothseed.report.change_map import CHANGE_COLOURS, changed_picture
from mothseed.report.overlay import FIRST_ALONE, SECOND_ALONE, overlaid
from mothseed.report.page import Page, blank, fitted, font
from mothseed.report.theme import Theme

_MARGIN, _GAP, _HEAD, _FOOT = 48, 28, 56, 58
_WIDEST, _TALLEST, _NARROWEST = 560, 760, 240
_LINE = 30
_LEAST_SCALE = 0.1
"""Least distance in OKLab at the end of the scale, so that a faint difference looks faint."""
_SWATCH = 14


@dataclass(frozen=True, slots=True)
class _Panel:
    image: Image.Image
    title: str
    legend: tuple[tuple[str, str], ...] = ()
    """colours, each with what it stands for"""
    scale: float = 0.0
    """the end of the scale of a difference map, in OKLab"""


def side_by_side(
    images: tuple[ByteArray, ByteArray],
    pair: Pair,
    titles: tuple[str, str],
    lines: Sequence[str],
    theme: Theme,
    shapes: ShapeChanges | None = None,
    *,
    overlay: bool = False,
) -> Image.Image:
    """Both pictures, uint8 (height, width, 3), at one scale under their titles; beside them the difference map or an overlay,
    and what changed shape by shape; below them `lines`.
    """
    panels = [_Panel(Image.fromarray(image), title) for image, title in zip(images, titles, strict=True)]
    panels.append(_overlay_panel(images) if overlay else _difference_panel(pair, theme))
    if shapes is not None:
        counts = [(name, count) for name, count in shapes.counts.items() if count]
        legend = tuple((theme.data(CHANGE_COLOURS[name]), f"{name} {count:,}") for name, count in counts)
        shown = changed_picture(shapes, images[1], theme)
        panels.append(_Panel(shown, "shape by shape", legend or ((theme.muted, "all as it was"),)))
    factor = min(_WIDEST / max(panel.image.width for panel in panels), _TALLEST / max(panel.image.height for panel in panels))
    sizes = [(max(1, round(panel.image.width * factor)), max(1, round(panel.image.height * factor))) for panel in panels]
    cell, height = max(_NARROWEST, *(width for width, _ in sizes)), max(height for _, height in sizes)
    rows = max(-(-len(panel.legend) // 2) for panel in panels)
    foot = _FOOT + max(rows - 1, 0) * _LINE
    below = _LINE * len(lines) + (20 if lines else 0)
    wide = 2 * _MARGIN + len(panels) * (cell + _GAP) - _GAP
    page = blank(wide, _MARGIN + _HEAD + height + foot + below + _MARGIN // 2, theme)
    draw = page.draw
    for place, (panel, size) in enumerate(zip(panels, sizes, strict=True)):
        x, y = _MARGIN + place * (cell + _GAP), _MARGIN + _HEAD
        face = font(26, italic=place >= 2)
        draw.text((x, _MARGIN), fitted(draw, panel.title, face, cell), fill=theme.ink, font=face)
        sampling = Image.Resampling.LANCZOS if factor < 1 else Image.Resampling.NEAREST
        page.image.paste(panel.image.resize(size, sampling), (x, y))
        draw.rectangle((x - 1, y - 1, x + size[0], y + size[1]), outline=theme.hairline)
        if panel.scale:
            _draw_scale(page, x, y + height + 16, size[0], panel.scale)
        _draw_legend(page, panel.legend, x, y + height + 14, cell)
    y = _MARGIN + _HEAD + height + foot + 10
    for line in lines:
        text = fitted(draw, line.replace("->", "→"), font(22), page.width - 2 * _MARGIN)
        draw.text((_MARGIN, y), text, fill=theme.ink, font=font(22))
        y += _LINE
    return page.image


def _difference_panel(pair: Pair, theme: Theme) -> _Panel:
    scale = max(_LEAST_SCALE, pair.largest)
    return _Panel(Image.fromarray(_heat(pair.difference / scale, theme)), "difference", scale=scale)


def _overlay_panel(images: tuple[ByteArray, ByteArray]) -> _Panel:
    legend = ((FIRST_ALONE, "the first is darker"), (SECOND_ALONE, "the second is"))
    return _Panel(overlaid(*images), "laid over each other", legend)


def _heat(share: FloatArray, theme: Theme) -> ByteArray:
    """Colours for shares of the scale: uint8 (height, width, 3) from float64 (height, width)."""
    heat = Palette(theme.heat)
    ramp = np.array([heat.ramp(step / 255)[:3] for step in range(256)])
    levels = (np.clip(share, 0, 1) * 255).astype(np.uint8)
    result: ByteArray = np.round(ramp * 255).astype(np.uint8)[levels]
    return result


def _draw_legend(page: Page, legend: Sequence[tuple[str, str]], x: int, y: int, width: int) -> None:
    """Swatches with labels, in two columns."""
    draw, theme = page.draw, page.theme
    for place, (colour, words) in enumerate(legend):
        left, top = x + place % 2 * (width // 2), y + place // 2 * _LINE
        draw.rectangle((left, top + 4, left + _SWATCH, top + 4 + _SWATCH), fill=colour)
        text = fitted(draw, words, font(20), width // 2 - _SWATCH - 16)
        draw.text((left + _SWATCH + 8, top - 2), text, fill=theme.ink, font=font(20))


def _draw_scale(page: Page, x: int, y: int, width: int, scale: float) -> None:
    draw, theme = page.draw, page.theme
    steps = np.linspace(0, 1, width)[None, :].repeat(10, axis=0)
    page.image.paste(Image.fromarray(_heat(steps, theme)), (x, y))
    draw.rectangle((x - 1, y - 1, x + width, y + 10), outline=theme.hairline)
    draw.text((x, y + 14), "0", fill=theme.muted, font=font(18))
    draw.text((x + width, y + 14), f"{scale:.2f} in OKLab", fill=theme.muted, font=font(18), anchor="ra")
    seen = x + round(width * NOTICEABLE / scale)
    draw.line((seen, y - 4, seen, y + 13), fill=theme.ink)
    if NOTICEABLE / scale < 0.5:
        draw.text((max(seen, x + 20), y + 14), "noticed from here on", fill=theme.muted, font=font(18, italic=True))
