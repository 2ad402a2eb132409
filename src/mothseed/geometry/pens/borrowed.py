"""A pen for those who draw by the names of fontTools: glyphs of fonts, and the path data of SVG."""

from __future__ import annotations

from typing import Any

from fontTools.pens.basePen import BasePen

from mothseed.geometry.pens.base import Pen


class BorrowedPen(BasePen):  # type: ignore[misc]  # fontTools has no types
    """Draws on one of our pens what fontTools draws on its own; curves of other kinds come as cubics."""

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
