"""Measures of one picture: how it looks as a whole, and what it is made of."""

from mothseed.measure.forms import forms_of, shared_forms, signatures
from mothseed.measure.look import MEASURES
from mothseed.measure.reduced import ReducedBands, reduced
from mothseed.measure.seen import Seen, Swatches, appearances, seen
from mothseed.measure.shapes import shapes_of

__all__ = [
    "MEASURES",
    "ReducedBands",
    "Seen",
    "Swatches",
    "appearances",
    "forms_of",
    "reduced",
    "seen",
    "shapes_of",
    "shared_forms",
    "signatures",
]
