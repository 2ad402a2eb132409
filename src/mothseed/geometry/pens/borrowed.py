"""A pen for what draws through fontTools: glyphs of fonts, and SVG path data."""

from __future__ import annotations

from typing import Any

from fontTools.pens.basePen import BasePen

from mothseed.geometry.pens.base import Pen


class BorrowedPen(BasePen):  # type: ignore[misc]  # fontTools has no types
    """Passes on to one of our pens what fontTools draws; other curves arrive as cubics."""

    def __init__(self, pen: Pen, glyphs: Any = None) -> None:
        super().__init__(glyphs)
        self._pen = pen

    def _moveTo(self, pt: Any) -> None:  # noqa: N802  # fontTools' names
        self._pen.move(*pt)

    def _lineTo(self, pt: Any) -> None:  # noqa: N802
        self._pen.line(*pt)

    def _curveToOne(self, pt1: Any, pt2: Any, pt3: Any) -> None:  # noqa: N802
        self._pen.cubic(*pt1, *pt2, *pt3)

    def _closePath(self) -> None:  # noqa: N802
        self._pen.close()
