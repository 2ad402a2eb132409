"""The contact sheet: many editions on one image, or on as many pages as they need."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from PIL import Image

from mothseed.processors import on_all_processors
from mothseed.report.page import MARGIN, Page, aspect_of, blank, draw_dot, fitted, font, header, thumbnail
from mothseed.report.theme import LIGHT, Theme

_GAP = 22
_HEAD = 74
_CAPTION = 40
_SECTION = 58
_SHAPE = 1.5
"""Width to height that a sheet tends to."""
_SMALLEST, _LARGEST = 90, 360


@dataclass(frozen=True, slots=True)
class Frame:
    """One picture of a contact sheet, with its caption."""

    file: Path
    title: str
    note: str = ""
    mark: str = ""
    """keep, maybe or drop, shown as a dot"""


@dataclass(frozen=True, slots=True)
class Section:
    """Pictures that belong together, under a heading, which may be empty."""

    heading: str
    frames: tuple[Frame, ...]


@dataclass(frozen=True, slots=True)
class Layout:
    """The page on which pictures are laid out, in pixels."""

    width: int = 1800
    height: int | None = None
    """None: as high as needed"""
    margin: int = MARGIN

    @property
    def room(self) -> int:
        """Pixels between the margins, across."""
        return self.width - 2 * self.margin

    @property
    def largest(self) -> int:
        """Greatest width of a picture; on a page of given height, the whole room."""
        return _LARGEST if self.height is None else self.room


@dataclass(frozen=True, slots=True)
class _Placed:
    """The place of a picture or a heading on its page."""

    x: int
    y: int
    what: Frame | str


def contact_sheet(frames: Sequence[Frame], title: str, subtitle: str = "", theme: Theme = LIGHT) -> Image.Image:
    """Lay out pictures in rows, each with a caption. They may differ in size, but look best if they do not."""
    return next(contact_pages([Section("", tuple(frames))], title, subtitle, theme=theme))


def contact_pages(
    sections: Sequence[Section],
    title: str,
    subtitle: str = "",
    layout: Layout | None = None,
    per_page: int | None = None,
    theme: Theme = LIGHT,
) -> Iterator[Image.Image]:
    """Lay out sections of pictures on pages; each section starts a new row, and a page has at most `per_page` pictures.

    On pages of a given height, pictures are as large as they can be for `per_page`, or all, to fit.
    """
    layout = layout or Layout()
    frames = [frame for section in sections for frame in section.frames]
    aspect = aspect_of(frames[0].file)
    most = min(per_page or len(frames), len(frames))
    columns = _columns(most, aspect) if layout.height is None else _columns_that_fit(most, aspect, layout, sections)
    width = _width(columns, layout)
    height = round(width * aspect)
    pages = list(_placed(sections, columns, (width, height), layout, most))
    for number, placed in enumerate(pages, 1):
        shown = subtitle if len(pages) == 1 else f"{subtitle}   {number} / {len(pages)}".strip()
        page = _blank_page(placed, (width, height), columns, layout, theme)
        header(page, title, shown, layout.margin)
        _fill(page, placed, (width, height), layout)
        yield page.image


def shown_width(count: int, aspect: float) -> int:
    """Width in pixels of each of so many pictures on a contact sheet, so that they need not be made any larger."""
    return _width(_columns(count, aspect), Layout())


def _width(columns: int, layout: Layout) -> int:
    return max(_SMALLEST, min(layout.largest, (layout.room + _GAP) // columns - _GAP))


def _placed(
    sections: Sequence[Section], columns: int, size: tuple[int, int], layout: Layout, per_page: int
) -> Iterator[list[_Placed]]:
    """The places of everything, page by page."""
    width, height = size
    step_x, step_y = width + _GAP, height + _CAPTION + _GAP
    top = layout.margin + _HEAD
    bottom = math.inf if layout.height is None else layout.height - layout.margin + _GAP
    page: list[_Placed] = []
    y, count = top, 0
    for section in sections:
        heading = section.heading
        for start in range(0, len(section.frames), columns):
            row = section.frames[start : start + columns]
            needed = step_y + (_SECTION if heading else 0)
            if page and (y + needed > bottom or count + len(row) > per_page):
                yield page
                page, y, count = [], top, 0
                heading = heading or (f"{section.heading}, continued" if section.heading else "")
            if heading:
                page.append(_Placed(layout.margin, y, heading))
                y += _SECTION
                heading = ""
            page += [_Placed(layout.margin + column * step_x, y, frame) for column, frame in enumerate(row)]
            y += step_y
            count += len(row)
    yield page


def _blank_page(placed: Sequence[_Placed], size: tuple[int, int], columns: int, layout: Layout, theme: Theme) -> Page:
    width, height = size
    lowest = max(each.y for each in placed)
    page_width = 2 * layout.margin + columns * (width + _GAP) - _GAP if layout.height is None else layout.width
    return blank(page_width, layout.height or lowest + height + _CAPTION + layout.margin, theme)


def _fill(page: Page, placed: Sequence[_Placed], size: tuple[int, int], layout: Layout) -> None:
    """Draw the pictures of a page, their captions and the headings."""
    width, height = size
    pictures = [each for each in placed if isinstance(each.what, Frame)]
    files = [each.what.file for each in pictures if isinstance(each.what, Frame)]
    images = on_all_processors(partial(thumbnail, size=size), files)
    for each, image in zip(pictures, images, strict=True):
        assert isinstance(each.what, Frame)
        page.image.paste(image, (each.x + (width - image.width) // 2, each.y + (height - image.height) // 2))
        _caption(page, each.what, each.x, each.y + height, width)
    for each in placed:
        if isinstance(each.what, str):
            words = fitted(page.draw, each.what, font(27), page.width - 2 * layout.margin)
            page.draw.text((each.x, each.y + 12), words, fill=page.theme.ink, font=font(27))


def _caption(page: Page, frame: Frame, x: int, y: int, width: int) -> None:
    """The title at the left, a dot for the mark behind it, the note at the right."""
    draw, theme = page.draw, page.theme
    number = fitted(draw, frame.title, font(22), width)
    draw.text((x, y + 8), number, fill=theme.ink, font=font(22))
    used = draw.textlength(number + "  ", font=font(22))
    dot = theme.mark(frame.mark)
    if dot:
        draw_dot(page, round(x + used - 2), y + 16, dot)
        used += 20
    room = width - used
    note = fitted(draw, frame.note, font(18, italic=True), room) if frame.note and room > 30 else ""
    draw.text((x + width, y + 11), note, fill=theme.muted, font=font(18, italic=True), anchor="ra")


def _columns(count: int, aspect: float) -> int:
    """The number of columns that gives a sheet of good proportions with few empty places at the end."""

    def fault(columns: int) -> float:
        rows = math.ceil(count / columns)
        shape = columns / (rows * (aspect + 0.25))
        empty = (rows * columns - count) / columns
        return abs(math.log(shape / _SHAPE)) + 0.5 * empty

    return min(range(1, count + 1), key=fault)


def _columns_that_fit(count: int, aspect: float, layout: Layout, sections: Sequence[Section]) -> int:
    """The fewest columns with which so many pictures fit on a page, which makes them as large as possible."""
    assert layout.height is not None
    headings = sum(1 for section in sections if section.heading)
    room = layout.height - 2 * layout.margin - _HEAD - min(headings, 4) * _SECTION + _GAP
    for columns in range(1, count + 1):
        width = (layout.room + _GAP) // columns - _GAP
        if width < _SMALLEST:
            return max(columns - 1, 1)
        rows = math.ceil(count / columns)
        if rows * (round(width * aspect) + _CAPTION + _GAP) <= room:
            return columns
    return count
