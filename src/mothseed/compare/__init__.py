"""Comparing two pictures or two drawings."""

from mothseed.compare.became import CHANGES
from mothseed.compare.comparison import Comparison, compared
from mothseed.compare.pair import Change, Pair, history_changes, paired
from mothseed.compare.shapes import ShapeChanges, shape_changes

__all__ = ["CHANGES", "Change", "Comparison", "Pair", "ShapeChanges", "compared", "history_changes", "paired", "shape_changes"]
