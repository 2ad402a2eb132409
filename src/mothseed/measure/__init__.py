"""Measures of one picture: how it looks as a whole, and what it is made of."""

from mothseed.measure.look import MEASURES, look_of
from mothseed.measure.reduced import ReducedBands, reduced
from mothseed.measure.shapes import shapes_of

__all__ = ["MEASURES", "ReducedBands", "look_of", "reduced", "shapes_of"]
