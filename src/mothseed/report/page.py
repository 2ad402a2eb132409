"""The look of sheets and figures: paper, ink, type."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont

from mothseed.files import written_whole
from mothseed.geometry.lettering import house_font

PAPER = "#f6f3ec"
INK = "#26242e"
MUTED = "#7a7682"
HAIRLINE = "#d8d2c6"


@lru_cache(maxsize=32)
def font(size: int, *, italic: bool = False) -> ImageFont.FreeTypeFont:
    """A book face in a size in pixels; it comes with Matplotlib, and has Latin, Greek and Cyrillic."""
    return ImageFont.truetype(str(house_font(italic=italic)), size)


def fitted(draw: ImageDraw.ImageDraw, text: str, face: ImageFont.FreeTypeFont, width: float) -> str:
    """The text on one line, cut with an ellipsis where it is wider than `width` pixels."""
    text = " ".join(text.split())
    if draw.textlength(text, font=face) <= width:
        return text
    while text and draw.textlength(text + "…", font=face) > width:
        text = text[:-1]
    return text.rstrip() + "…"


def blank(width: int, height: int) -> tuple[Image.Image, ImageDraw.ImageDraw]:
    """An empty page and what draws on it."""
    page = Image.new("RGB", (width, height), PAPER)
    return page, ImageDraw.Draw(page)


def write_page(page: Image.Image, path: Path) -> None:
    """Write a sheet or figure as a PNG file, quickly rather than as small as can be."""
    with written_whole(path) as part:
        page.save(part, format="PNG", compress_level=1)


def opened(path: Path) -> Image.Image:
    """A picture file as opaque RGB."""
    with Image.open(path) as image:
        return on_white(image)


def on_white(image: Image.Image) -> Image.Image:
    """A picture as opaque RGB, on white where it is transparent."""
    if image.mode == "RGB":
        return image.copy()
    return Image.alpha_composite(Image.new("RGBA", image.size, "#ffffff"), image.convert("RGBA")).convert("RGB")
