"""Pictures and drawings held against each other, series against themselves."""

from mothseed.compare.pair import Change, Pair, history_changes, paired
from mothseed.compare.shapes import CHANGES, ShapeChanges, shape_changes

__all__ = ["CHANGES", "Change", "Pair", "ShapeChanges", "history_changes", "paired", "shape_changes"]
