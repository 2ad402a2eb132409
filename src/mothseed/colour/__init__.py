"""Colour values, palettes, ramps and the pictures they come from."""

from mothseed.colour.contrast import contrast, contrasted, legible
from mothseed.colour.oklch import mixed
from mothseed.colour.palette import Palette
from mothseed.colour.placed import Picture
from mothseed.colour.ramp import Ramp, linear_ramp, radial_ramp
from mothseed.colour.value import Colour

__all__ = ["Colour", "Palette", "Picture", "Ramp", "contrast", "contrasted", "legible", "linear_ramp", "mixed", "radial_ramp"]
