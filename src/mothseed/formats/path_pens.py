"""Pens that write an outline as the path of a vector file."""

from __future__ import annotations

from mothseed.formats.decimals import several, spaced
from mothseed.geometry.verbs import CLOSE, CUBIC, LINE, MOVE


class SvgPen:
    """The `d` of an SVG path: absolute commands, with repeated letters left out."""

    def __init__(self, places: int) -> None:
        self._places = places
        self._parts: list[str] = []
        self._before = -1

    def move(self, x: float, y: float) -> None:
        """Begin a subpath."""
        self._add(MOVE, x, y)

    def line(self, x: float, y: float) -> None:
        """Go straight to a point."""
        self._add(LINE, x, y)

    def cubic(self, x1: float, y1: float, x2: float, y2: float, x: float, y: float) -> None:
        """Go to a point along a curve."""
        self._add(CUBIC, x1, y1, x2, y2, x, y)

    def close(self) -> None:
        """Go straight back."""
        self._add(CLOSE)

    @property
    def text(self) -> str:
        """What was drawn."""
        return "".join(self._parts)

    def _add(self, verb: int, *numbers: float) -> None:
        text = several(numbers, self._places)
        # A pair that follows a move without a letter is a line.
        if verb == self._before != MOVE or (verb == LINE and self._before == MOVE):
            self._parts.append(text if text.startswith("-") else " " + text)
        else:
            self._parts.append("MLCZ"[verb] + text)
        self._before = verb


class PdfPen:
    """Path construction operators of PDF (ISO 32000-1, section 8.5.2)."""

    def __init__(self, places: int) -> None:
        self._places = places
        self._operators: list[str] = []

    def move(self, x: float, y: float) -> None:
        """Begin a subpath."""
        self._operators.append(f"{spaced((x, y), self._places)} m")

    def line(self, x: float, y: float) -> None:
        """Go straight to a point."""
        self._operators.append(f"{spaced((x, y), self._places)} l")

    def cubic(self, x1: float, y1: float, x2: float, y2: float, x: float, y: float) -> None:
        """Go to a point along a curve."""
        self._operators.append(f"{spaced((x1, y1, x2, y2, x, y), self._places)} c")

    def close(self) -> None:
        """Go straight back."""
        self._operators.append("h")

    @property
    def text(self) -> str:
        """What was drawn."""
        return " ".join(self._operators)
