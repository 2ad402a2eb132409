"""From where on something about a mark counts as changed."""

from __future__ import annotations

PLACE = 1 / 8000
"""Of the sheet: less than that nobody sees moved."""
TURN = 0.05
"""Degrees."""
GROWTH = 0.002
"""Of a size, of a proportion, of what a style has in numbers."""
MISFIT = 0.01
"""Of an outline's extent."""
COLOUR = 1 / 512
"""Of a channel: half of the step that eight bits have."""
