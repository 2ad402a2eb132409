"""Two pictures in one: laid over each other, or taking turns."""

from __future__ import annotations

import numpy as np
from PIL import Image

from mothseed.arrays import ByteArray
from mothseed.compare.scale import overlap
from mothseed.report.page import INK, MUTED, blank, fitted, font

FIRST_ALONE, SECOND_ALONE = "#0aa3a3", "#e0452f"
_FOOT, _MARGIN = 46, 16
_WIDEST = 1000
TURN = 700
"""Milliseconds that each picture is shown: long enough to see it, short enough to remember it."""


def overlaid(first: ByteArray, second: ByteArray) -> Image.Image:
    """Two pictures, uint8 (height, width, 3), as one: grey where they agree, teal where the first alone is darker, red where
    the second alone is.
    """
    before, after = (np.asarray(Image.fromarray(image).convert("L"), np.float64) / 255 for image in overlap(first, second))
    paper = np.ones((*before.shape, 3))
    for image, alone in ((before, FIRST_ALONE), (after, SECOND_ALONE)):
        tint = np.array(Image.new("RGB", (1, 1), alone))[0, 0] / 255
        # Inks that multiply: together they are a grey.
        paper *= tint + (1 - tint) * image[..., None]
    grey = np.minimum(before, after)[..., None] * 0.55 + 0.45 * paper.mean(axis=2, keepdims=True)
    differs = np.clip(np.abs(before - after) * 6, 0, 1)[..., None]
    mixed = differs * paper + (1 - differs) * grey
    return Image.fromarray(np.round(mixed * 255).astype(np.uint8))


def taking_turns(first: ByteArray, second: ByteArray, titles: tuple[str, str]) -> list[Image.Image]:
    """Two pictures, each with its title below it, to be shown in turn."""
    pages = []
    for number, (image, title) in enumerate(zip(overlap(first, second), titles, strict=True)):
        shown = Image.fromarray(image)
        shown.thumbnail((_WIDEST, _WIDEST), Image.Resampling.LANCZOS)
        page, draw = blank(shown.width, shown.height + _FOOT)
        page.paste(shown, (0, 0))
        words = fitted(draw, title, font(24), shown.width - 2 * _MARGIN - 30)
        draw.text((_MARGIN, shown.height + 8), words, fill=INK, font=font(24))
        draw.text((shown.width - _MARGIN, shown.height + 8), "AB"[number], fill=MUTED, font=font(24), anchor="ra")
        pages.append(page)
    return pages
