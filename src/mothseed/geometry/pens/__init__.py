"""Pens: what an outline draws itself on. Each turns its lines and curves into something else."""

from mothseed.geometry.pens.base import Pen
from mothseed.geometry.pens.recording import RecordPen

__all__ = ["Pen", "RecordPen"]
