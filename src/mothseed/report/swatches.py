"""A palette as a picture: its source, and swatches as wide as their shares."""

from __future__ import annotations

from PIL import Image, ImageDraw

from mothseed.colour import Colour, Palette
from mothseed.colour.contrast import contrast
from mothseed.colour.vision import VISIONS, seen_with
from mothseed.report.page import Page, blank, font
from mothseed.report.theme import LIGHT, Theme

_WIDTH, _MARGIN = 1280, 48
_LARGEST_SOURCE = 420
_ROW, _ROW_GAP = 84, 18
_BAND, _LOWEST_SHARE = 150, 0.35
"""Height of the strip, and the least width of a swatch as a part of an even share, so that rare colours remain visible."""


def palette_strip(
    palette: Palette, source: Image.Image | None = None, theme: Theme = LIGHT, *, vision: bool = False
) -> Image.Image:
    """Swatches side by side, each with its CSS string and share, below the picture they were taken from.

    With `vision`, a row follows for each kind of colour blindness.
    """
    room = _WIDTH - 2 * _MARGIN
    shown = None
    if source is not None:
        shown = source.copy()
        shown.thumbnail((room, _LARGEST_SOURCE), Image.Resampling.LANCZOS)
    top = _MARGIN + (shown.height + 28 if shown else 0)
    below = top + _BAND + 64
    visions = VISIONS if vision else ()
    page = blank(_WIDTH, below + len(visions) * (_ROW + _ROW_GAP) + _MARGIN - 16, theme)
    draw = page.draw
    if shown:
        page.image.paste(shown, (_MARGIN + (room - shown.width) // 2, _MARGIN))
    least = _LOWEST_SHARE / len(palette)
    widths = [max(share, least) for share in palette.shares]
    x, paper = float(_MARGIN), Colour.parse(theme.paper)
    face = font(22 if len(palette) <= 12 else 15)
    for swatch, share, width in zip(palette, palette.shares, widths, strict=True):
        end = x + room * width / sum(widths)
        draw.rectangle((round(x), top, round(end) - 1, top + _BAND), fill=swatch.over(paper).css)
        caption, middle = swatch.css, (x + end) / 2
        if draw.textlength(caption, font=face) < end - x - 8:
            draw.text((middle, top + _BAND + 12), caption, fill=theme.ink, font=face, anchor="ma")
            draw.text((middle, top + _BAND + 38), f"{share:.1%}", fill=theme.muted, font=face, anchor="ma")
        elif draw.textlength(caption, font=face) + 16 < _BAND:
            _draw_upright(page, caption, swatch, (round(middle), top + _BAND - 10))
        for number, way in enumerate(visions):
            row = below + number * (_ROW + _ROW_GAP) + _ROW_GAP
            draw.rectangle((round(x), row, round(end) - 1, row + _ROW - 26), fill=seen_with(swatch, way).over(paper).css)
        x = end
    # A swatch may be of the paper's own colour.
    draw.rectangle((_MARGIN - 1, top - 1, _WIDTH - _MARGIN, top + _BAND + 1), outline=theme.hairline)
    for number, way in enumerate(visions):
        foot = below + number * (_ROW + _ROW_GAP) + _ROW_GAP + _ROW - 20
        draw.text((_MARGIN, foot), f"with {way}", fill=theme.muted, font=font(18))
    return page.image


def _draw_upright(page: Page, text: str, ground: object, foot: tuple[int, int]) -> None:
    """A line of text running upwards from its foot, in ink or paper colour, whichever is easier to read."""
    face = font(15)
    theme = page.theme
    left, upper, right, lower = (round(edge) for edge in face.getbbox(text))
    line = Image.new("L", (right - left + 2, lower - upper + 2))
    ImageDraw.Draw(line).text((1 - left, 1 - upper), text, fill=255, font=face)
    turned = line.transpose(Image.Transpose.ROTATE_90)
    ink = max((theme.ink, theme.paper), key=lambda colour: contrast(colour, ground))
    page.image.paste(Image.new("RGB", turned.size, ink), (foot[0] - turned.width // 2, foot[1] - turned.height), turned)
