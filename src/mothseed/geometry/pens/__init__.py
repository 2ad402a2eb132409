"""Pens: an outline draws itself with one. Each turns lines and curves into something else."""

from mothseed.geometry.pens.base import Pen
from mothseed.geometry.pens.recording import RecordPen

__all__ = ["Pen", "RecordPen"]
