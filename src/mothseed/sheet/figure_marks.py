"""The calls that draw whole figures, each of them an outline put in its place."""

from __future__ import annotations

from pathlib import Path
from typing import Any, Unpack

import numpy as np

from mothseed.checks import is_finite
from mothseed.faults import SketchError
from mothseed.geometry.figures import annulus, arc, ngon, star
from mothseed.geometry.lettering import Words, lettered, lettering
from mothseed.geometry.outline import Outline
from mothseed.geometry.outlines import Outlines
from mothseed.portable import cosines_and_sines
from mothseed.sheet.kinds import ELLIPSE, LINE_SEGMENT, PATH, RECT
from mothseed.sheet.marks import Marks, Numbers, columns_of
from mothseed.sheet.record import MARK
from mothseed.sheet.style import Paint


class Figures(Marks):
    """Figures about a place of the view; paint and faults are those of all shapes."""

    __slots__ = ()

    def ngon(
        self,
        x: float,
        y: float,
        sides: int,
        radius: float | None = None,
        *,
        side: float | None = None,
        turn: float = 0.0,
        **paint: Unpack[Paint],
    ) -> None:
        """A regular polygon about (x, y), a corner at the top, by the radius of its corners or the length of a side."""
        self._put(ngon(sides, radius=radius, side=side), x, y, turn, paint)

    def star(
        self, x: float, y: float, points: int, outer: float, inner: float, *, turn: float = 0.0, **paint: Unpack[Paint]
    ) -> None:
        """A star about (x, y), a point at the top."""
        self._put(star(points, outer, inner), x, y, turn, paint)

    def arc(
        self, x: float, y: float, radius: float, start: float, sweep: float, *, kind: str = "open", **paint: Unpack[Paint]
    ) -> None:
        """Part of a circle about (x, y), from heading `start` on by `sweep` degrees: "open", "chord" or "sector".

        An open arc takes a stroke and no fill, as a line does.
        """
        outline = arc(radius, start, sweep, kind=kind)
        if kind == "open":
            self._refuse_fill(LINE_SEGMENT, paint, "open arc", 'kind="chord" or kind="sector"')
            paint = {**paint, "fill": None}
        self._put(outline, x, y, 0.0, paint)

    def annulus(self, x: float, y: float, outer: float, inner: float, **paint: Unpack[Paint]) -> None:
        """A ring about (x, y): a disc with a hole."""
        self._put(annulus(outer, inner), x, y, 0.0, paint)

    def dot(self, x: float, y: float, **paint: Unpack[Paint]) -> None:
        """A round dot, as wide as the stroke; it takes a stroke and no fill."""
        self._refuse_fill(LINE_SEGMENT, paint, "dot", "circle(x, y, radius, fill=...)")
        self._mark(LINE_SEGMENT, x, y, x, y, {**paint, "linecap": "round"})

    def text(
        self,
        x: float,
        y: float,
        text: str,
        size: float,
        *,
        bold: bool = False,
        italic: bool = False,
        align: str = "start",
        spacing: float = 0.0,
        font: str | Path | None = None,
        turn: float = 0.0,
        **paint: Unpack[Paint],
    ) -> None:
        """A line of text with its baseline at (x, y), as `lettering` makes it: geometry, that can be stroked too."""
        _check_place(x, y, turn)
        outline: Outline
        try:
            words = Words(text, size, bold, italic, align, spacing, str(font or ""), float(x), float(y), float(turn))
            outline = lettered(words)
        except TypeError:  # what cannot be a key is none of the texts and sizes that lettering takes either
            outline = lettering(text, size, bold=bold, italic=italic, align=align, spacing=spacing, font=font)
        if len(outline.verbs):
            self._outlined(PATH, outline, paint)

    def _put(self, outline: Outline, x: float, y: float, turn: float, paint: Paint) -> None:
        _check_place(x, y, turn)
        turned = outline.turned(turn) if turn else outline
        self._outlined(PATH, turned.moved(x, y) if x or y else turned, paint)

    def ellipses(
        self, x: Numbers, y: Numbers, x_radius: Numbers, y_radius: Numbers, *, turn: Numbers | None = None, **paint: Any
    ) -> None:
        """Ellipses from arrays, as `circles` takes them, each turned about its middle, if at all.

        Those that are turned are drawn each in a frame of its own: a ramp lies in that, as after `frame(x, y, turn=...)`.
        """
        self._many(ELLIPSE, (x, y, x_radius, y_radius), paint, turn)

    def rects(
        self, x: Numbers, y: Numbers, width: Numbers, height: Numbers, *, turn: Numbers | None = None, **paint: Any
    ) -> None:
        """Rectangles from arrays, as `circles` takes them, each turned about its middle, if at all; see `ellipses`."""
        self._many(RECT, (x, y, width, height), paint, turn)

    def ngons(self, x: Numbers, y: Numbers, sides: int, radius: Numbers, *, turn: Numbers = 0.0, **paint: Any) -> None:
        """Regular polygons of so many sides from arrays, as `circles` takes them, each turned about its middle."""
        shape = ngon(sides, radius=1.0)
        self._polygons("ngons", shape, {"x": x, "y": y, "radius": radius, "turn": turn}, paint)

    def stars(
        self, x: Numbers, y: Numbers, points: int, outer: Numbers, inner: Numbers, *, turn: Numbers = 0.0, **paint: Any
    ) -> None:
        """Stars of so many points from arrays, as `circles` takes them, each turned about its middle."""
        shape = star(points, 1.0, 1.0)
        self._polygons("stars", shape, {"x": x, "y": y, "outer": outer, "inner": inner, "turn": turn}, paint)

    def _polygons(self, call: str, unit: Outline, given: dict[str, Numbers], paint: dict[str, Any]) -> None:
        """Polygons whose corners lie as those of `unit` do, at one radius or at two in turn."""
        x, y, *radii, turns = columns_of(call, given)
        for name, radius in zip(list(given)[2:], radii, strict=False):
            if not (radius > 0).all():
                worst = int(np.argmin(radius))
                raise SketchError(f"{call}: {name} is above 0 (got {radius[worst]:g} at {worst})")
        corners = len(unit.points)
        sizes = np.stack([radii[corner % len(radii)] for corner in range(corners)], axis=1)
        across, down = (unit.points.T[:, None, :] * sizes[None]).copy()
        cosine, sine = (part[:, None] for part in cosines_and_sines(turns))
        points = np.stack([cosine * across - sine * down + x[:, None], sine * across + cosine * down + y[:, None]], axis=2)
        rows = np.zeros(len(x), MARK)
        rows["kind"] = PATH
        rows["outline"] = self._recorder.add_outlines(Outlines.alike(unit.verbs, points)) + np.arange(len(x))
        self._record_rows(call, rows, paint)

    def dots(self, x: Numbers, y: Numbers, **paint: Any) -> None:
        """Dots from arrays, as `circles` takes them."""
        self._refuse_fill(LINE_SEGMENT, paint, "dot", "circles(x, y, radius, fill=...)")
        self._many(LINE_SEGMENT, (x, y, x, y), {**paint, "linecap": "round"})


def _check_place(x: float, y: float, turn: float) -> None:
    if not (is_finite(x) and is_finite(y) and is_finite(turn)):
        raise SketchError(f"a figure's place and turn are finite numbers (got {x!r}, {y!r}, {turn!r})")
