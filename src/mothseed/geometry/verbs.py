"""The verbs of an outline, as in an SVG path."""

from __future__ import annotations

MOVE, LINE, CUBIC, CLOSE = 0, 1, 2, 3
POINTS_TAKEN = (1, 1, 3, 0)
"""How many points each verb takes."""
