"""The calls that draw a symbol, a motif that was drawn once: here and there, many times, along an outline."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np

from mothseed.checks import one_of
from mothseed.colour.value import WHITE, Colour
from mothseed.faults import SketchError
from mothseed.geometry.outline import Outline
from mothseed.geometry.trail import Trail, as_outline
from mothseed.portable import cosine_and_sine, cosines_and_sines
from mothseed.sheet.bulk import Numbers, above_nothing, colours_of, columns_of, shares_of
from mothseed.sheet.figure_marks import Figures
from mothseed.sheet.symbol import UNTINTED, Symbol, UseTints

_MARKED = {
    "start": slice(0, 1),
    "mid": slice(1, -1),
    "end": slice(-1, None),
    "all": slice(None),
}
"""Which corners of an outline have a marker, by SVG's names for where markers are."""


class Motifs(Figures):
    """Symbols on the view; all but their tint and opacity they have from the view that they were made on."""

    __slots__ = ()

    def use(
        self,
        symbol: Symbol,
        x: float = 0.0,
        y: float = 0.0,
        *,
        turn: float = 0.0,
        scale: float = 1.0,
        tint: Colour | str = WHITE,
        opacity: float = 1.0,
    ) -> None:
        """Draw a symbol with its origin at (x, y), turned, and enlarged by `scale`, strokes included.

        A `tint` multiplies the colours of its fills and strokes, and `opacity` the opacity of each of its shapes. All other
        paint comes from the view it was made on.
        """
        given: dict[str, Numbers] = {"x": x, "y": y, "turn": turn, "scale": scale}
        try:
            total = x + y + turn + scale
            fits = bool(total - total == 0)
        except (TypeError, ValueError, OverflowError):
            fits = False
        if not fits:
            for name, number in given.items():
                if fault := self._number_fault("use", "uses", name, number):
                    raise fault
        if not (tint is WHITE and opacity == 1 and scale > 0 and type(symbol) is Symbol):
            self._use("use", symbol, given, tint, opacity)
            return
        # The same result without arrays: sketches do this by the thousand.
        x, y, scale = float(x), float(y), float(scale)
        cosine, sine = cosine_and_sine(float(turn))
        for outer, (_, group) in zip(self._matrices, self._images, strict=True):
            placed = outer.placing(x, y, cosine * scale, sine * scale)
            self._recorder.add_uses(symbol, (placed,), self._stroke_ratio, group, UNTINTED)

    def uses(
        self,
        symbol: Symbol,
        x: Numbers,
        y: Numbers,
        *,
        turn: Numbers = 0.0,
        scale: Numbers = 1.0,
        tint: Any = WHITE,
        opacity: Numbers = 1.0,
    ) -> None:
        """Draw a symbol many times; every argument of `use` is one value for all or an array with one for each."""
        self._use("uses", symbol, {"x": x, "y": y, "turn": turn, "scale": scale}, tint, opacity)

    def markers(
        self,
        symbol: Symbol,
        outline: Outline | Trail | Iterable[object],
        *,
        at: str = "all",
        scale: float = 1.0,
        tint: Any = WHITE,
        opacity: float = 1.0,
    ) -> None:
        """Draw a symbol at the start, the corners and the end of an outline, with its +x pointing along it.

        `at` is "start", "mid" or "end", as for SVG markers, or "all". Other keywords are those of `use`.
        """
        refuse_no_symbol(symbol, "markers(moth, smooth(points))")
        one_of("markers", "at", at, _MARKED)
        corners = as_outline(outline, "markers", "write markers(arrow, smooth(points))", closed=False).corners
        x, y, turn = np.array(corners[_MARKED[at]]).reshape(-1, 3).T
        self._use("markers", symbol, {"x": x, "y": y, "turn": turn, "scale": scale}, tint, opacity)

    def _use(self, call: str, symbol: Symbol, given: dict[str, Numbers], tint: Any, opacity: Numbers) -> None:
        refuse_no_symbol(symbol, f"{call}(moth, x, y)")
        x, y, turn, scale = columns_of(call, given)
        above_nothing(call, scale=scale)
        tints = UseTints(colours_of(call, "tint", tint, len(x)), shares_of(call, "opacity", opacity, len(x)))
        cosine, sine = (part * scale for part in cosines_and_sines(turn))
        for outer, (_, group) in zip(self._matrices, self._images, strict=True):
            self._recorder.add_uses(symbol, outer.placings(x, y, cosine, sine), self._stroke_ratio, group, tints)


def refuse_no_symbol(symbol: object, call: str) -> None:
    """Refuse to draw what is no symbol; the call is that which was made, as it is written with one."""
    if not isinstance(symbol, Symbol):
        name = call.partition("(")[0]
        raise SketchError(
            f"{name}: a symbol is needed (got {getattr(symbol, '__name__', type(symbol).__name__)})",
            hint=f"write moth = sheet.symbol(draw_moth), then sheet.{call}",
        )
