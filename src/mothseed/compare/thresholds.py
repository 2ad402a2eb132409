"""Thresholds from which something about a mark counts as changed."""

from __future__ import annotations

PLACE = 1 / 8000
"""In sheets: a smaller movement is invisible."""
TURN = 0.05
"""Degrees."""
GROWTH = 0.002
"""Relative change of a size, an aspect ratio, or a number of a style."""
MISFIT = 0.01
"""In extents of an outline."""
COLOUR = 1 / 512
"""In channel values: half a step of eight bits."""
