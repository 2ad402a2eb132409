"""The contact sheet of a daybook: what was drawn, in order, and what was changed each time."""

from __future__ import annotations

from collections.abc import Sequence
from textwrap import wrap

from PIL import Image

from mothseed.daybook import Daybook
from mothseed.daybook.since import Since
from mothseed.report.page import MARGIN, Page, blank, fitted, font, header, thumbnail
from mothseed.report.theme import LIGHT, Theme

_PAGE_WIDTH = 2000
_GAP, _HEAD, _TITLE, _LINE = 30, 78, 40, 27
_COLUMNS = 6
_MOST_LINES = 6
_LETTERS = 38
_TALLEST = 1.35
"""Height to width of the room that a picture has."""


def daybook_sheet(book: Daybook, stories: Sequence[Since], title: str, subtitle: str, theme: Theme = LIGHT) -> Image.Image:
    """Pictures in rows, oldest first, each with its number, its time and what was changed since the previous one.

    A missing or damaged picture leaves its place empty. There must be at least one entry.
    """
    columns = min(_COLUMNS, max(len(stories), 3))
    cell = (_PAGE_WIDTH - 2 * MARGIN + _GAP) // columns - _GAP
    images = [_small(book, story, cell) for story in stories]
    tallest = max((image.height for image in images if image), default=cell)
    lines = [_lines(story, theme) for story in stories]
    rows = [range(start, min(start + columns, len(stories))) for start in range(0, len(stories), columns)]
    heights = [tallest + _TITLE + _LINE * max(len(lines[place]) for place in row) + _GAP for row in rows]
    page = blank(_PAGE_WIDTH, MARGIN + _HEAD + sum(heights) + MARGIN // 2, theme)
    header(page, title, subtitle)
    y = MARGIN + _HEAD
    for row, height in zip(rows, heights, strict=True):
        for column, place in enumerate(row):
            x = MARGIN + column * (cell + _GAP)
            _draw_picture(page, images[place], (x, y), (cell, tallest))
            _draw_words(page, stories[place], lines[place], (x, y + tallest), cell)
        y += height
    return page.image


def _small(book: Daybook, story: Since, width: int) -> Image.Image | None:
    picture = book.readable_picture(story.entry)
    return None if picture is None else thumbnail(picture, (width, round(width * _TALLEST)))


def _lines(story: Since, theme: Theme) -> list[tuple[str, str]]:
    """Lines below a picture, each with its colour."""
    lines = [(words, theme.ink) for words in story.words]
    lines += [(words, theme.accent) for words in wrap(story.became.replace(", ", ",\n").replace(" ", "\u00a0"), _LETTERS)]
    if len(lines) > _MOST_LINES:
        lines = [*lines[: _MOST_LINES - 1], (f"and {len(lines) - _MOST_LINES + 1} more", theme.muted)]
    return lines


def _draw_picture(page: Page, image: Image.Image | None, at: tuple[int, int], room: tuple[int, int]) -> None:
    draw, theme = page.draw, page.theme
    if image is None:
        draw.rectangle((*at, at[0] + room[0] - 1, at[1] + room[1] - 1), outline=theme.hairline)
        draw.text(
            (at[0] + room[0] / 2, at[1] + room[1] / 2), "its picture is gone", fill=theme.muted, font=font(20), anchor="mm"
        )
        return
    x, y = at[0] + (room[0] - image.width) // 2, at[1] + (room[1] - image.height) // 2
    page.image.paste(image, (x, y))
    draw.rectangle((x - 1, y - 1, x + image.width, y + image.height), outline=theme.hairline)


def _draw_words(page: Page, story: Since, lines: Sequence[tuple[str, str]], at: tuple[int, int], width: int) -> None:
    draw, theme, (x, y) = page.draw, page.theme, at
    entry = story.entry
    number = f"{entry.entry}"
    draw.text((x, y + 8), number, fill=theme.ink, font=font(24))
    seed = fitted(draw, f"seed {entry.seed}, {entry.moment:%H:%M}", font(18, italic=True), width - 60)
    draw.text((x + width, y + 12), seed, fill=theme.muted, font=font(18, italic=True), anchor="ra")
    for place, (words, ink) in enumerate(lines):
        draw.text((x, y + _TITLE + place * _LINE), fitted(draw, words, font(19), width), fill=ink, font=font(19))
