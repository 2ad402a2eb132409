"""Two pictures in one: overlaid, or alternating."""

from __future__ import annotations

import numpy as np
from PIL import Image

from mothseed.arrays import ByteArray
from mothseed.compare.scale import overlap
from mothseed.report.page import blank, fitted, font
from mothseed.report.theme import Theme

FIRST_ALONE, SECOND_ALONE = "#0aa3a3", "#e0452f"
_FOOT, _MARGIN = 46, 16
_WIDEST = 1000
TURN = 700
"""Milliseconds for which each picture is shown: long enough to see it, short enough to remember it."""


def overlaid(first: ByteArray, second: ByteArray) -> Image.Image:
    """Two pictures, uint8 (height, width, 3), in one: grey where they agree, teal where the first is darker, red where the
    second is.
    """
    before, after = (np.asarray(Image.fromarray(image).convert("L"), np.float64) / 255 for image in overlap(first, second))
    paper = np.ones((*before.shape, 3))
    for image, alone in ((before, FIRST_ALONE), (after, SECOND_ALONE)):
        tint = np.array(Image.new("RGB", (1, 1), alone))[0, 0] / 255
        # Inks that multiply to a grey.
        paper *= tint + (1 - tint) * image[..., None]
    grey = np.minimum(before, after)[..., None] * 0.55 + 0.45 * paper.mean(axis=2, keepdims=True)
    differs = np.clip(np.abs(before - after) * 6, 0, 1)[..., None]
    mixed = differs * paper + (1 - differs) * grey
    return Image.fromarray(np.round(mixed * 255).astype(np.uint8))


def taking_turns(first: ByteArray, second: ByteArray, titles: tuple[str, str], theme: Theme) -> list[Image.Image]:
    """Two pictures, each with its title below, to be shown alternately."""
    pages = []
    for number, (image, title) in enumerate(zip(overlap(first, second), titles, strict=True)):
        shown = Image.fromarray(image)
        shown.thumbnail((_WIDEST, _WIDEST), Image.Resampling.LANCZOS)
        page = blank(shown.width, shown.height + _FOOT, theme)
        draw = page.draw
        page.image.paste(shown, (0, 0))
        words = fitted(draw, title, font(24), shown.width - 2 * _MARGIN - 30)
        draw.text((_MARGIN, shown.height + 8), words, fill=theme.ink, font=font(24))
        draw.text((shown.width - _MARGIN, shown.height + 8), "AB"[number], fill=theme.muted, font=font(24), anchor="ra")
        pages.append(page.image)
    return pages
