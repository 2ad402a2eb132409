"""Measures of one picture: how it looks as a whole, and what it is made of."""

from mothseed.measure.forms import forms_of, shared_by_each, shared_forms, signatures
from mothseed.measure.look import MEASURES, measured, seen_measures
from mothseed.measure.makeup import makeup_of
from mothseed.measure.measure import Measure, Sight
from mothseed.measure.reduced import ReducedBands, reduced
from mothseed.measure.seen import Seen, Swatches, appearances, seen

__all__ = [
    "MEASURES",
    "Measure",
    "ReducedBands",
    "Seen",
    "Sight",
    "Swatches",
    "appearances",
    "forms_of",
    "makeup_of",
    "measured",
    "reduced",
    "seen",
    "seen_measures",
    "shared_by_each",
    "shared_forms",
    "signatures",
]
