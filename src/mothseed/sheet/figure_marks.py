"""Calls that draw figures, each an outline put in place."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any, Unpack

import numpy as np

from mothseed.checks import is_finite
from mothseed.colour.placed import Picture
from mothseed.colour.value import WHITE, Colour
from mothseed.faults import SketchError
from mothseed.geometry.figures import annulus, arc, ngon, star
from mothseed.geometry.lettering import LEADING, Words, lettered, lettering, lines_of
from mothseed.geometry.outline import Outline
from mothseed.geometry.outlines import Outlines
from mothseed.geometry.typeface import house_font
from mothseed.portable import cosine_and_sine, cosines_and_sines
from mothseed.sheet.bulk import Numbers, above_nothing, colours_of, column_of, columns_of, is_varied
from mothseed.sheet.kinds import ELLIPSE, LINE_SEGMENT, PATH, RECT
from mothseed.sheet.marks import Marks
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
        """A regular polygon around (x, y) with a corner at the top, given by its circumradius or the length of a side."""
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
        """A round dot as wide as the stroke; it has a stroke and no fill."""
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
        kerning: bool = False,
        width: float | None = None,
        leading: float = LEADING,
        turn: float = 0.0,
        **paint: Unpack[Paint],
    ) -> None:
        """Text with its first baseline at (x, y), as `lettering` makes it: outlines, which can be stroked too.

        With a `width`, it wraps between words.
        """
        _check_place(x, y, turn)
        lines = [text]
        if width is not None or (isinstance(text, str) and "\n" in text):
            file = str(font or house_font(bold=bold, italic=italic))
            lines = lines_of(text, size, spacing=spacing, font=file, kerning=kerning, width=width, leading=leading)
        cosine, sine = cosine_and_sine(float(turn)) if len(lines) > 1 else (1.0, 0.0)
        for number, line in enumerate(lines):
            down = number * leading * size if number else 0.0
            place = float(x) - down * sine, float(y) + down * cosine
            outline: Outline
            try:
                words = Words(line, size, bold, italic, align, spacing, str(font or ""), bool(kerning), *place, float(turn))
                outline = lettered(words)
            except TypeError:  # what is not hashable is no text or size that lettering takes either
                outline = lettering(line, size, bold=bold, italic=italic, align=align, spacing=spacing, font=font)
            if len(outline.verbs):
                self._outlined(PATH, outline, paint)

    def stamps(
        self,
        x: Numbers,
        y: Numbers,
        picture: Picture,
        width: Numbers | None = None,
        height: Numbers | None = None,
        *,
        turn: Numbers = 0.0,
        tint: Any = WHITE,
        **paint: Any,
    ) -> None:
        """Draw a picture many times; every argument of `stamp` is one value for all or an array with one for each."""
        refuse_no_picture("stamps", picture)
        wide, high = stamp_size(picture, *(None if side is None else column_of("stamps", name, side)
                                            for name, side in (("width", width), ("height", height))))  # fmt: skip
        xs, ys, widths, heights, turns = columns_of("stamps", {"x": x, "y": y, "width": wide, "height": high, "turn": turn})
        above_nothing("stamps", width=widths, height=heights)
        tints = np.broadcast_to(colours_of("stamps", "tint", tint, len(xs)), (len(xs), 4))
        rows = np.zeros(len(xs), MARK)
        rows["kind"] = RECT
        rows["place"] = np.stack([-widths / 2, -heights / 2, widths, heights], axis=1)
        looks, which = np.unique(np.column_stack([widths, heights, tints]), axis=0, return_inverse=True)
        laid = [
            picture.placed((-across / 2, -down / 2, across, down)).tinted(Colour(*parts))
            for across, down, *parts in looks.tolist()
        ]
        self._paint_rows("stamps", rows, {**paint, "fill": picture})
        plain: Any = {name: value for name, value in paint.items() if not is_varied(name, value)}
        finishes = np.array([self._finish_of(plain | {"fill": each}) for each in laid], np.uint32)
        rows["finish"] = finishes[which.ravel()]
        self._record_placed(rows, xs, ys, turns)

    def texts(
        self,
        x: Numbers,
        y: Numbers,
        text: str | Sequence[str],
        size: Numbers,
        *,
        bold: bool = False,
        italic: bool = False,
        align: str = "start",
        spacing: float = 0.0,
        font: str | Path | None = None,
        kerning: bool = False,
        turn: Numbers = 0.0,
        **paint: Any,
    ) -> None:
        """Lines of text, one for all places or one for each; places, sizes, turns and paint work as for `circles`.

        Each is drawn in a frame of its own, and a ramp lies in that frame.
        """
        words = [text] if isinstance(text, str) else list(text)
        given = {"x": x, "y": y, "text": np.arange(len(words)), "size": size, "turn": turn}
        xs, ys, which, sizes, turns = columns_of("texts", given)
        looks, look_of = np.unique(np.column_stack([which, sizes]), axis=0, return_inverse=True)
        outlines = [
            lettered(Words(words[int(number)], high, bold, italic, align, spacing, str(font or ""), kerning, 0.0, 0.0, 0.0))
            for number, high in looks.tolist()
        ]
        rows = np.zeros(len(xs), MARK)
        rows["kind"] = PATH
        rows["outline"] = np.array([self._recorder.add_outline(outline) for outline in outlines], np.uint32)[look_of.ravel()]
        self._paint_rows("texts", rows, paint)
        seen = np.array([len(outline.verbs) > 0 for outline in outlines], np.bool)[look_of.ravel()]
        self._record_placed(rows[seen], xs[seen], ys[seen], turns[seen])

    def _put(self, outline: Outline, x: float, y: float, turn: float, paint: Paint) -> None:
        _check_place(x, y, turn)
        turned = outline.turned(turn) if turn else outline
        self._outlined(PATH, turned.moved(x, y) if x or y else turned, paint)

    def ellipses(
        self, x: Numbers, y: Numbers, x_radius: Numbers, y_radius: Numbers, *, turn: Numbers | None = None, **paint: Any
    ) -> None:
        """Ellipses from arrays, as for `circles`, each optionally turned about its centre.

        Turned ellipses are drawn in a frame of their own, and a ramp lies in that frame, as after `frame(x, y, turn=...)`.
        """
        self._many(ELLIPSE, (x, y, x_radius, y_radius), paint, turn)

    def rects(
        self, x: Numbers, y: Numbers, width: Numbers, height: Numbers, *, turn: Numbers | None = None, **paint: Any
    ) -> None:
        """Rectangles from arrays, as for `circles`, each optionally turned about its centre; see `ellipses`."""
        self._many(RECT, (x, y, width, height), paint, turn)

    def ngons(self, x: Numbers, y: Numbers, sides: int, radius: Numbers, *, turn: Numbers = 0.0, **paint: Any) -> None:
        """Regular polygons from arrays, as for `circles`, each turned about its centre."""
        shape = ngon(sides, radius=1.0)
        self._polygons("ngons", shape, {"x": x, "y": y, "radius": radius, "turn": turn}, paint)

    def stars(
        self, x: Numbers, y: Numbers, points: int, outer: Numbers, inner: Numbers, *, turn: Numbers = 0.0, **paint: Any
    ) -> None:
        """Stars from arrays, as for `circles`, each turned about its centre."""
        shape = star(points, 1.0, 1.0)
        self._polygons("stars", shape, {"x": x, "y": y, "outer": outer, "inner": inner, "turn": turn}, paint)

    def _polygons(self, call: str, unit: Outline, given: dict[str, Numbers], paint: dict[str, Any]) -> None:
        """Polygons whose corners lie as those of `unit` do, at one radius or at two in turn."""
        x, y, *radii, turns = columns_of(call, given)
        above_nothing(call, **dict(zip(list(given)[2:], radii, strict=False)))
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


def refuse_no_picture(call: str, picture: object) -> None:
    """Raises SketchError for a stamp that is not a picture."""
    if not isinstance(picture, Picture):
        raise SketchError(
            f"{call}: a picture is needed (got {type(picture).__name__})",
            hint=f'write {call}(x, y, sheet.picture("dusk.png"))',
        )


def stamp_size(picture: Picture, width: Any, height: Any) -> tuple[Any, Any]:
    """The width and height of a stamp: what is not given follows from the aspect ratio of the picture, or from its
    placement.
    """
    ratio = picture.texture.width / picture.texture.height
    if width is None:
        width = picture.place[2] if height is None else height * ratio
    return width, width / ratio if height is None else height


def _check_place(x: float, y: float, turn: float) -> None:
    if not (is_finite(x) and is_finite(y) and is_finite(turn)):
        hint = 'the place comes first: text(10, 50, "Plume", 8)' if isinstance(x, str) else ""
        raise SketchError(f"a figure's place and turn are finite numbers (got {x!r}, {y!r}, {turn!r})", hint=hint)
