"""A labelled grid of pictures: one thing varies across, another down."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PIL import Image

from mothseed.report.page import MARGIN, aspect_of, blank, fitted, font, header, thumbnail
from mothseed.report.theme import LIGHT, Theme

_GAP, _HEAD, _LABEL = 16, 84, 34
_PAGE_WIDTH = 1800
_SMALLEST, _LARGEST = 120, 420
_ROW_LABEL = 150


def cell_width(columns: int) -> int:
    """Width in pixels of each picture on a grid with so many columns."""
    room = _PAGE_WIDTH - 2 * MARGIN - _ROW_LABEL
    return max(_SMALLEST, min(_LARGEST, (room + _GAP) // columns - _GAP))


def labelled_grid(
    files: Sequence[Sequence[Path]],
    columns: Sequence[str],
    rows: Sequence[str],
    title: str,
    subtitle: str,
    theme: Theme = LIGHT,
) -> Image.Image:
    """A grid of pictures of one size, with labelled rows and columns."""
    aspect = aspect_of(files[0][0])
    width = cell_width(len(columns))
    height = round(width * aspect)
    left, top = MARGIN + _ROW_LABEL, MARGIN + _HEAD + _LABEL
    size = left + len(columns) * (width + _GAP) - _GAP + MARGIN, top + len(rows) * (height + _GAP) - _GAP + MARGIN
    page = blank(*size, theme)
    draw = page.draw
    header(page, title, subtitle)
    for index, label in enumerate(columns):
        x = left + index * (width + _GAP)
        draw.text(
            (x + width / 2, top - 12),
            fitted(draw, label, font(22), width + _GAP - 6),
            fill=theme.ink,
            font=font(22),
            anchor="ms",
        )
    for row, (label, line) in enumerate(zip(rows, files, strict=True)):
        y = top + row * (height + _GAP)
        words = fitted(draw, label, font(22), _ROW_LABEL - 16)
        draw.text((left - 16, y + height / 2), words, fill=theme.ink, font=font(22), anchor="rm")
        for index, file in enumerate(line):
            page.image.paste(thumbnail(file, (width, height)), (left + index * (width + _GAP), y))
    return page.image
