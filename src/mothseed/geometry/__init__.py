"""Affine maps and outlines: pure functions and small values."""

from mothseed.geometry.affine import Affine
from mothseed.geometry.outline import Outline
from mothseed.geometry.smooth import smooth

__all__ = ["Affine", "Outline", "smooth"]
