"""The look of sheets and figures: paper, ink, type."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from functools import lru_cache
from io import BytesIO
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from mothseed.faults import PictureError
from mothseed.files import read_ordinary, write_bytes
from mothseed.formats.png import encoded
from mothseed.formats.png_reading import quickly_read
from mothseed.formats.settings import Effort
from mothseed.geometry.lettering import house_font

PAPER = "#f6f3ec"
INK = "#26242e"
MUTED = "#7a7682"
HAIRLINE = "#d8d2c6"
_LONGEST = 500
"""Letters of a text that has a line for itself."""
MARGIN = 56
"""Pixels around what lies on a sheet."""


@lru_cache(maxsize=32)
def font(size: int, *, italic: bool = False) -> ImageFont.FreeTypeFont:
    """A book face in a size in pixels; it comes with Matplotlib, and has Latin, Greek and Cyrillic."""
    return ImageFont.truetype(str(house_font(italic=italic)), size)


def fitted(draw: ImageDraw.ImageDraw, text: str, face: ImageFont.FreeTypeFont, width: float) -> str:
    """The text on one line, cut with an ellipsis where it is wider than `width` pixels."""
    text = " ".join(text[:_LONGEST].split())
    if draw.textlength(text, font=face) <= width:
        return text
    while text and draw.textlength(text + "…", font=face) > width:
        text = text[:-1]
    return text.rstrip() + "…"


def blank(width: int, height: int) -> tuple[Image.Image, ImageDraw.ImageDraw]:
    """An empty page and what draws on it."""
    page = Image.new("RGB", (width, height), PAPER)
    return page, ImageDraw.Draw(page)


def header(page: Image.Image, draw: ImageDraw.ImageDraw, title: str, subtitle: str, margin: int = MARGIN) -> None:
    """The head of a sheet: its title at the left, a remark at the right, a line below both; each is cut to its room."""
    right = page.width - margin
    face, remark = font(38), font(22, italic=True)
    subtitle = fitted(draw, subtitle, remark, 0.6 * (right - margin))
    room = right - margin - draw.textlength(subtitle + "    ", font=remark)
    draw.text((margin, margin - 10), fitted(draw, title, face, room), fill=INK, font=face)
    draw.text((right, margin + 4), subtitle, fill=MUTED, font=remark, anchor="ra")
    draw.line((margin, margin + 48, right, margin + 48), fill=HAIRLINE, width=2)


def aspect_of(file: Path) -> float:
    """Height of a picture file over its width."""
    with _image(file, whole=False) as image:
        return image.height / image.width


def thumbnail(file: Path, size: tuple[int, int]) -> Image.Image:
    """A picture file, no larger than that many pixels across and down."""
    image = opened(file)
    # Means of whole pixels first, as far as they go: a third of the time, and nobody sees the difference.
    image.thumbnail(size, Image.Resampling.LANCZOS, reducing_gap=1.2)
    return image


def write_page(page: Image.Image, path: Path, *, through_links: bool = True) -> None:
    """Write a sheet or figure as a PNG file, quickly rather than as small as can be."""
    write_bytes(path, encoded(np.asarray(page), effort=Effort.QUICK), through_links=through_links)


def opened(path: Path) -> Image.Image:
    """A picture file as opaque RGB."""
    with _image(path) as image:
        return on_white(image)


@contextmanager
def _image(path: Path, *, whole: bool = True) -> Iterator[Image.Image]:
    """A picture file that is open; raises PictureError for what is none, or cut, or damaged."""
    try:
        content = read_ordinary(path)
        pixels = quickly_read(content) if whole else None
        with Image.open(BytesIO(content)) if pixels is None else Image.fromarray(pixels) as image:
            yield image
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError) as fault:
        hint = "mothseed edition makes pictures of a series again"
        raise PictureError(f"{path} is no whole picture: {fault}", hint=hint) from None


def on_white(image: Image.Image) -> Image.Image:
    """A picture as opaque RGB, on white where it is transparent."""
    if image.mode == "RGB":
        return image.copy()
    return Image.alpha_composite(Image.new("RGBA", image.size, "#ffffff"), image.convert("RGBA")).convert("RGB")
