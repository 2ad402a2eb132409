"""What sheets and figures share: a page to draw on, type, pictures."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import lru_cache
from io import BytesIO
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from mothseed.faults import PictureError
from mothseed.files import read_ordinary, write_bytes
from mothseed.formats.png_reading import quickly_read
from mothseed.formats.png_writing import encoded
from mothseed.formats.settings import Effort
from mothseed.geometry.typeface import house_font
from mothseed.report.theme import Theme

_LONGEST = 500
"""Most letters of a text on a line of its own."""
_DOT, _FINE = 13, 8
"""Width of a dot in pixels, and times as many in which it is drawn to find its edge."""
MARGIN = 56
"""Margin of a sheet, in pixels."""


@lru_cache(maxsize=32)
def font(size: int, *, italic: bool = False) -> ImageFont.FreeTypeFont:
    """The book face in a size in pixels. It comes with Matplotlib and has Latin, Greek and Cyrillic."""
    return ImageFont.truetype(house_font(italic=italic), size)


def fitted(draw: ImageDraw.ImageDraw, text: str, face: ImageFont.FreeTypeFont, width: float) -> str:
    """The text on one line, cut with an ellipsis if it is wider than `width` pixels."""
    text = " ".join(text[:_LONGEST].split())
    if draw.textlength(text, font=face) <= width:
        return text
    while text and draw.textlength(text + "…", font=face) > width:
        text = text[:-1]
    return text.rstrip() + "…"


@dataclass(frozen=True, slots=True)
class Page:
    """A sheet being drawn: its image, a drawing context, and its colours."""

    image: Image.Image
    draw: ImageDraw.ImageDraw
    theme: Theme

    @property
    def width(self) -> int:
        """In pixels."""
        return self.image.width


def blank(width: int, height: int, theme: Theme) -> Page:
    """An empty page."""
    image = Image.new("RGB", (width, height), theme.paper)
    return Page(image, ImageDraw.Draw(image), theme)


def draw_dot(page: Page, left: int, top: int, colour: str) -> None:
    """A small round dot with a smooth edge, which Pillow's own circles lack."""
    page.image.paste(colour, (left, top), _dot())


@lru_cache(maxsize=1)
def _dot() -> Image.Image:
    """Coverage of the pixels of a dot."""
    large = Image.new("L", (_DOT * _FINE, _DOT * _FINE))
    ImageDraw.Draw(large).ellipse((0, 0, _DOT * _FINE - 1, _DOT * _FINE - 1), fill=255)
    return large.reduce(_FINE)


def header(page: Page, title: str, subtitle: str, margin: int = MARGIN) -> None:
    """The head of a sheet: title at the left, remark at the right, a rule below; both are cut to fit."""
    draw, theme, right = page.draw, page.theme, page.width - margin
    face, remark = font(38), font(22, italic=True)
    subtitle = fitted(draw, subtitle, remark, 0.6 * (right - margin))
    room = right - margin - draw.textlength(subtitle + "    ", font=remark)
    draw.text((margin, margin - 10), fitted(draw, title, face, room), fill=theme.ink, font=face)
    draw.text((right, margin + 4), subtitle, fill=theme.muted, font=remark, anchor="ra")
    draw.line((margin, margin + 48, right, margin + 48), fill=theme.hairline, width=2)


def aspect_of(file: Path) -> float:
    """Height of a picture file over its width."""
    with _image(file, whole=False) as image:
        return image.height / image.width


def thumbnail(file: Path, size: tuple[int, int]) -> Image.Image:
    """A picture file, reduced to fit within that many pixels across and down."""
    image = opened(file)
    # Means of whole pixels first, as far as they go: a fifth of the time, and nobody sees the difference.
    image.thumbnail(size, Image.Resampling.LANCZOS, reducing_gap=1.0)
    return image


def write_page(page: Image.Image, path: Path, *, through_links: bool = True) -> None:
    """Write a sheet or figure as a PNG file, favouring speed over size."""
    write_bytes(path, encoded(np.asarray(page), effort=Effort.QUICK), through_links=through_links)


def opened(path: Path) -> Image.Image:
    """A picture file as opaque RGB."""
    with _image(path) as image:
        image.load()  # before its file is closed
        return image if image.mode == "RGB" else on_white(image)


@contextmanager
def _image(path: Path, *, whole: bool = True) -> Iterator[Image.Image]:
    """Open a picture file; raises PictureError for anything that is not a picture, or cut short, or damaged."""
    try:
        content = read_ordinary(path)
        pixels = quickly_read(content) if whole else None
        with Image.open(BytesIO(content)) if pixels is None else Image.fromarray(pixels) as image:
            yield image
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError) as fault:
        hint = "mothseed edition makes pictures of a series again"
        raise PictureError(f"{path} is not a whole picture: {fault}", hint=hint) from None


def on_white(image: Image.Image) -> Image.Image:
    """A picture as opaque RGB, on white where it is transparent."""
    if image.mode == "RGB":
        return image.copy()
    return Image.alpha_composite(Image.new("RGBA", image.size, "#ffffff"), image.convert("RGBA")).convert("RGB")
