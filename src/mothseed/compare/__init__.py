"""Measures of pictures, and pictures held against each other."""

from mothseed.compare.measures import Measures, measured
from mothseed.compare.pair import Change, Pair, history_changes, paired

__all__ = ["Change", "Measures", "Pair", "history_changes", "measured", "paired"]
