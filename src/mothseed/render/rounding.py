"""Rounding: from paint in floating point to the whole numbers in a file."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Rounding:
    """How finely a picture is rounded, and to which channels."""

    bits: int = 8
    """bits of a channel, 8 or 16"""
    grey: bool = False
    """luma instead of red, green and blue"""
    dither: bool = False
    """rounded up or down by an 8 by 8 pattern, so that a slow ramp does not band"""

    def parts(self) -> tuple[int, bool, bool]:
        """All of it, as the kernels are told."""
        return self.bits, self.grey, self.dither

    def bytes_of_pixel(self, *, opaque: bool) -> int:
        """How many bytes a pixel takes: its channels, the highest byte of each first."""
        return ((1 if self.grey else 3) + (not opaque)) * self.bits // 8


DEPTHS = (8, 16)
"""Bits that a channel can have."""
USUAL = Rounding()
