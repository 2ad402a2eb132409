"""Two sides compared: their pixels, histories and shapes."""

from __future__ import annotations

from dataclasses import dataclass

from mothseed.arrays import ByteArray
from mothseed.compare.pair import Change, Pair, history_changes, paired
from mothseed.compare.scale import at_one_scale
from mothseed.compare.shapes import ShapeChanges, shape_changes
from mothseed.compare.side import Side


@dataclass(frozen=True, slots=True, eq=False)
class Comparison:
    """The result of comparing two sides."""

    sides: tuple[Side, Side]
    images: tuple[ByteArray, ByteArray]
    """both at one scale, on white: uint8 (height, width, 3)"""
    pair: Pair
    changes: list[Change] | None
    """None if either has no history"""
    shapes: ShapeChanges | None
    without_shapes: str
    """why there are no shapes to compare"""

    @property
    def titles(self) -> tuple[str, str]:
        """The titles of both sides."""
        return self.sides[0].title, self.sides[1].title


def compared(first: Side, second: Side) -> Comparison:
    """Compare two sides; raises UsageError for pictures of different aspect ratios whose sheets are unknown."""
    images = at_one_scale((first.pixels, second.pixels), (first.sheet, second.sheet))
    pair = paired(*images, (first.paper, second.paper))
    changes = history_changes(first.history, second.history) if first.history and second.history else None
    reason = first.without_shapes or second.without_shapes
    shapes = None
    if first.impression and second.impression:
        if first.impression.drawing.unit == second.impression.drawing.unit:
            shapes = shape_changes(first.impression, second.impression)
        else:
            reason = "their sheets are in unlike units"
    return Comparison((first, second), images, pair, changes, shapes, reason)
