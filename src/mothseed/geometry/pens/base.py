"""What a pen can do."""

from __future__ import annotations

from typing import Protocol


class Pen(Protocol):
    """Follows an outline, subpath by subpath. Coordinates are those of the outline; every subpath begins with a move."""

    def move(self, x: float, y: float) -> None:
        """Begin a subpath."""
        ...

    def line(self, x: float, y: float) -> None:
        """Go straight to a point."""
        ...

    def cubic(self, x1: float, y1: float, x2: float, y2: float, x: float, y: float) -> None:
        """Go to a point along a cubic Bézier curve with these two control points."""
        ...

    def close(self) -> None:
        """Go straight back to where the subpath began, and join it there."""
        ...
