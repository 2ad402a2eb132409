"""The blend modes of Compositing and Blending Level 1, by their names there. A new one takes a row here and a formula in
`kernels/blend.py`.
"""

from __future__ import annotations

from typing import NamedTuple


class Blend(NamedTuple):
    """A blend mode."""

    name: str
    """in CSS and SVG"""
    pdf: str
    """in PDF (ISO 32000-1, section 11.3.5)"""
    separable: bool
    """whether channels are blended separately"""


TABLE = (
    Blend("normal", "Normal", True),
    Blend("multiply", "Multiply", True),
    Blend("screen", "Screen", True),
    Blend("overlay", "Overlay", True),
    Blend("darken", "Darken", True),
    Blend("lighten", "Lighten", True),
    Blend("color-dodge", "ColorDodge", True),
    Blend("color-burn", "ColorBurn", True),
    Blend("hard-light", "HardLight", True),
    Blend("soft-light", "SoftLight", True),
    Blend("difference", "Difference", True),
    Blend("exclusion", "Exclusion", True),
    Blend("hue", "Hue", False),
    Blend("saturation", "Saturation", False),
    Blend("color", "Color", False),
    Blend("luminosity", "Luminosity", False),
)
"""Separable ones come first, as the kernel tells them apart by number."""
BLENDS = tuple(blend.name for blend in TABLE)
PDF_NAMES = {blend.name: blend.pdf for blend in TABLE}
