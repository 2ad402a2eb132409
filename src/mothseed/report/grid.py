"""A labelled grid of pictures: one thing varies across, another down."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PIL import Image

from mothseed.report.page import HAIRLINE, INK, MUTED, blank, fitted, font, opened

_MARGIN, _GAP, _HEAD, _LABEL = 56, 16, 84, 34
_PAGE_WIDTH = 1800
_SMALLEST, _LARGEST = 120, 420
_ROW_LABEL = 150


def labelled_grid(
    files: Sequence[Sequence[Path]], columns: Sequence[str], rows: Sequence[str], title: str, subtitle: str
) -> Image.Image:
    """Pictures row by row, each column and row with its label; all of one size."""
    with Image.open(files[0][0]) as first:
        aspect = first.height / first.width
    room = _PAGE_WIDTH - 2 * _MARGIN - _ROW_LABEL
    width = max(_SMALLEST, min(_LARGEST, (room + _GAP) // len(columns) - _GAP))
    height = round(width * aspect)
    left, top = _MARGIN + _ROW_LABEL, _MARGIN + _HEAD + _LABEL
    page, draw = blank(
        left + len(columns) * (width + _GAP) - _GAP + _MARGIN, top + len(rows) * (height + _GAP) - _GAP + _MARGIN
    )
    right = page.width - _MARGIN
    subtitle_face = font(22, italic=True)
    subtitle = fitted(draw, subtitle, subtitle_face, (right - _MARGIN) * 0.6)
    room_for_title = right - _MARGIN - draw.textlength(subtitle + "    ", font=subtitle_face)
    draw.text((_MARGIN, _MARGIN - 10), fitted(draw, title, font(38), room_for_title), fill=INK, font=font(38))
    draw.text((right, _MARGIN + 4), subtitle, fill=MUTED, font=subtitle_face, anchor="ra")
    draw.line((_MARGIN, _MARGIN + 48, right, _MARGIN + 48), fill=HAIRLINE, width=2)
    for index, label in enumerate(columns):
        x = left + index * (width + _GAP)
        draw.text(
            (x + width / 2, top - 12), fitted(draw, label, font(22), width + _GAP - 6), fill=INK, font=font(22), anchor="ms"
        )
    for row, (label, line) in enumerate(zip(rows, files, strict=True)):
        y = top + row * (height + _GAP)
        words = fitted(draw, label, font(22), _ROW_LABEL - 16)
        draw.text((left - 16, y + height / 2), words, fill=INK, font=font(22), anchor="rm")
        for index, file in enumerate(line):
            image = opened(file)
            image.thumbnail((width, height), Image.Resampling.LANCZOS)
            page.paste(image, (left + index * (width + _GAP), y))
    return page
