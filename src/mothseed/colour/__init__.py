"""Colour values, palettes, ramps and the pictures they come from."""

from mothseed.colour.palette import Palette
from mothseed.colour.ramp import Ramp, linear_ramp, radial_ramp
from mothseed.colour.value import Colour

__all__ = ["Colour", "Palette", "Ramp", "linear_ramp", "radial_ramp"]
