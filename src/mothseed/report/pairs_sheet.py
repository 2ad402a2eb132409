"""Editions of two series side by side, the most changed first."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from PIL import Image

from mothseed.report.page import MARGIN, aspect_of, blank, fitted, font, header, thumbnail
from mothseed.report.theme import LIGHT, Theme

_PAGE_WIDTH = 2000
_GAP, _BETWEEN = 30, 4
_HEAD, _CAPTION, _LINE = 78, 42, 32
_LARGEST = 300
_LEAST_COLUMNS, _MOST_COLUMNS = 2, 7
_WIDE = 1.6
"""Width to height that a sheet tends to."""


@dataclass(frozen=True, slots=True)
class PairFrame:
    """Two pictures that belong together, with a caption."""

    before: Path
    after: Path
    title: str
    note: str


def pairs_sheet(
    pairs: Sequence[PairFrame], title: str, subtitle: str, lines: Sequence[str], theme: Theme = LIGHT
) -> Image.Image:
    """Pairs of pictures in rows, the earlier one at the left; below them some lines. There must be at least one pair."""
    aspect = aspect_of(pairs[0].after)
    columns = _columns(len(pairs), aspect)
    cell = (_PAGE_WIDTH - 2 * MARGIN + _GAP) // columns - _GAP
    width = min((cell - _BETWEEN) // 2, _LARGEST)
    cell, height = 2 * width + _BETWEEN, round(width * aspect)
    rows = -(-len(pairs) // columns)
    top = MARGIN + _HEAD
    foot = len(lines) * _LINE + (20 if lines else 0)
    page = blank(
        max(2 * MARGIN + columns * (cell + _GAP) - _GAP, 1200),
        top + rows * (height + _CAPTION + _GAP) + foot + MARGIN // 2,
        theme,
    )
    draw = page.draw
    header(page, title, subtitle)
    for place, pair in enumerate(pairs):
        x, y = MARGIN + place % columns * (cell + _GAP), top + place // columns * (height + _CAPTION + _GAP)
        for at, file in ((x, pair.before), (x + width + _BETWEEN, pair.after)):
            image = thumbnail(file, (width, height))
            page.image.paste(image, (at + (width - image.width) // 2, y + (height - image.height) // 2))
        draw.rectangle((x - 1, y - 1, x + cell, y + height), outline=theme.hairline)
        name = fitted(draw, pair.title, font(22), cell)
        draw.text((x, y + height + 8), name, fill=theme.ink, font=font(22))
        room = cell - draw.textlength(name + "  ", font=font(22))
        if room > 40:
            note = fitted(draw, pair.note, font(18, italic=True), room)
            draw.text((x + cell, y + height + 11), note, fill=theme.muted, font=font(18, italic=True), anchor="ra")
    y = page.image.height - foot - MARGIN // 2 + 10
    for line in lines:
        draw.text((MARGIN, y), fitted(draw, line, font(22), page.width - 2 * MARGIN), fill=theme.ink, font=font(22))
        y += _LINE
    return page.image


def _columns(count: int, aspect: float) -> int:
    """The number of columns that gives a sheet of good proportions."""

    def unlike(columns: int) -> float:
        rows = -(-count // columns)
        return abs(2 * columns - _WIDE * rows * aspect) + (columns * rows - count) / columns

    return min(range(_LEAST_COLUMNS, min(max(count, _LEAST_COLUMNS), _MOST_COLUMNS) + 1), key=unlike)
