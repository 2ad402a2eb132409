"""Colour values, palettes and the pictures they come from."""

from mothseed.colour.palette import Palette
from mothseed.colour.value import Colour

__all__ = ["Colour", "Palette"]
