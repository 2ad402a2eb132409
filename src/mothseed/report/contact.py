"""The contact sheet: many editions on one image."""

from __future__ import annotations

import math
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

from PIL import Image

from mothseed.report.page import HAIRLINE, INK, MUTED, blank, fitted, font, opened

_MARGIN = 56
_GAP = 22
_HEAD = 74
_CAPTION = 40
_SHAPE = 1.5
"""Width to height that a sheet tends to."""
_SHEET_WIDTH = 1800
_SMALLEST, _LARGEST = 90, 360


@dataclass(frozen=True, slots=True)
class Frame:
    """One picture of a contact sheet, with its caption."""

    file: Path
    title: str
    note: str = ""


def contact_sheet(frames: Sequence[Frame], title: str, subtitle: str = "") -> Image.Image:
    """Lay out pictures in rows, each with a caption; they may be of any size, but look best of one."""
    with Image.open(frames[0].file) as first:
        aspect = first.height / first.width
    columns = _columns(len(frames), aspect)
    width = max(_SMALLEST, min(_LARGEST, (_SHEET_WIDTH - 2 * _MARGIN + _GAP) // columns - _GAP))
    height = round(width * aspect)
    rows = math.ceil(len(frames) / columns)
    page, draw = blank(
        2 * _MARGIN + columns * (width + _GAP) - _GAP, _MARGIN + _HEAD + rows * (height + _CAPTION + _GAP) - _GAP + _MARGIN
    )
    draw.text((_MARGIN, _MARGIN - 10), title, fill=INK, font=font(38))
    draw.text((page.width - _MARGIN, _MARGIN + 4), subtitle, fill=MUTED, font=font(22, italic=True), anchor="ra")
    draw.line((_MARGIN, _MARGIN + 48, page.width - _MARGIN, _MARGIN + 48), fill=HAIRLINE, width=2)

    def thumbnail(frame: Frame) -> Image.Image:
        image = opened(frame.file)
        image.thumbnail((width, height), Image.Resampling.LANCZOS)
        return image

    with ThreadPoolExecutor() as pool:
        for index, image in enumerate(pool.map(thumbnail, frames)):
            frame = frames[index]
            x = _MARGIN + index % columns * (width + _GAP)
            y = _MARGIN + _HEAD + index // columns * (height + _CAPTION + _GAP)
            page.paste(image, (x + (width - image.width) // 2, y + (height - image.height) // 2))
            number = fitted(draw, frame.title, font(22), width)
            draw.text((x, y + height + 8), number, fill=INK, font=font(22))
            room = width - draw.textlength(number + "  ", font=font(22))
            note = fitted(draw, frame.note, font(18, italic=True), room) if frame.note and room > 30 else ""
            draw.text((x + width, y + height + 11), note, fill=MUTED, font=font(18, italic=True), anchor="ra")
    return page


def _columns(count: int, aspect: float) -> int:
    """How many columns give a sheet of a good shape with few places left empty at the end."""

    def fault(columns: int) -> float:
        rows = math.ceil(count / columns)
        shape = columns / (rows * (aspect + 0.25))
        empty = (rows * columns - count) / columns
        return abs(math.log(shape / _SHAPE)) + 0.5 * empty

    return min(range(1, count + 1), key=fault)
