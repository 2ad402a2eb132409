"""The calls that draw: each records one shape, or an array of shapes."""

from __future__ import annotations

import math
import struct
from collections.abc import Iterable
from typing import Any, NamedTuple, Unpack

import numpy as np

from mothseed.arrays import FloatArray, RecordArray
from mothseed.checks import from_nothing
from mothseed.colour.value import Colour
from mothseed.faults import SketchError
from mothseed.geometry.affine import Affine
from mothseed.geometry.figures import rounded_rect
from mothseed.geometry.given_points import packed_points
from mothseed.geometry.outline import Outline
from mothseed.geometry.outlines import lines_through
from mothseed.geometry.trail import Trail, as_outline
from mothseed.portable import cosines_and_sines
from mothseed.sheet.bulk import Numbers, colour_column, column_of, columns_of, is_varied
from mothseed.sheet.finish import SHADES
from mothseed.sheet.kinds import CIRCLE, ELLIPSE, KINDS, LINE_SEGMENT, PATH, POLYGON, POLYLINE, RECT
from mothseed.sheet.record import MARK, TAIL_BEGINS, tail_place
from mothseed.sheet.recorder import Recorder, pack_head
from mothseed.sheet.style import PAINT_NAMES, Paint, Style, around_colours, pack_colour, repainted

_BLACK = Colour(0.0, 0.0, 0.0)
_MOST_KNOWN = 256
"""Paints of a view that are kept; one that has had more is drawn on with paint that differs from shape to shape."""


class Ink(NamedTuple):
    """A view's style, and what follows from it."""

    style: Style
    packed: bytes
    """the tail of a mark's record"""
    has_shade: bool
    """whether it paints with a ramp or picture"""
    known: dict[tuple[tuple[str, Any], ...], bytes]
    """tails for paint that was given by keyword before, as most sketches give the same few again and again"""
    around: dict[str, tuple[bytes, bytes]]
    """once `known` has been full: what comes before and after a colour given for `fill` or `stroke` alone"""

    @classmethod
    def of(cls, style: Style, recorder: Recorder) -> Ink:
        """The ink of a style on what a recorder records."""
        return cls(style, recorder.packed(style), type(style.fill) in SHADES or type(style.stroke) in SHADES, {}, {})


class Marks:
    """What can be drawn on a view. Coordinates and lengths are in the view's units, angles in degrees, y points down.

    Each call takes paint by keyword (`fill`, `stroke`, `stroke_width`, `opacity`, `linecap`, `linejoin`, `fill_rule`, `dash`,
    `blend`, `shadow`); what is left out
    is the view's own. All raise SketchError, and record nothing, for a number that is not finite, a negative length or
    paint that cannot be.
    """

    __slots__ = ("_images", "_ink", "_matrices", "_recorder", "_stroke_ratio")

    _recorder: Recorder
    _images: tuple[tuple[int, int], ...]
    """Numbers of the view and the group that each shape is drawn on: several pairs under symmetry."""
    _ink: Ink
    _matrices: tuple[Affine, ...]
    """The map of each image to the sheet."""
    _stroke_ratio: float
    """By how much wider strokes are than the map makes them: below 1 where a frame was to keep them."""

    # One at a time

    def circle(self, x: float, y: float, radius: float, **paint: Unpack[Paint]) -> None:
        """A circle about (x, y)."""
        self._mark(CIRCLE, x, y, radius, 0.0, paint)

    def ellipse(self, x: float, y: float, x_radius: float, y_radius: float, **paint: Unpack[Paint]) -> None:
        """An ellipse about (x, y), its axes along those of the view."""
        self._mark(ELLIPSE, x, y, x_radius, y_radius, paint)

    def rect(self, x: float, y: float, width: float, height: float, *, radius: float = 0.0, **paint: Unpack[Paint]) -> None:
        """A rectangle with its top left corner at (x, y), and corners rounded by a radius as far as there is room."""
        if radius != 0:
            from_nothing("rect", radius=radius, hint="one radius is that of all corners: radius=2")
        if radius == 0 or not width > 0 or not height > 0:
            self._mark(RECT, x, y, width, height, paint)
            return
        self._outlined(PATH, rounded_rect(width, height, radius).moved(x, y), paint)

    def line(self, x1: float, y1: float, x2: float, y2: float, **paint: Unpack[Paint]) -> None:
        """A straight line; it has a stroke and no fill."""
        self._refuse_fill(LINE_SEGMENT, paint)
        self._mark(LINE_SEGMENT, x1, y1, x2, y2, paint)

    def polyline(self, points: Iterable[object], **paint: Unpack[Paint]) -> None:
        """Straight lines from point to point, left open; it has a stroke and no fill."""
        self._refuse_fill(POLYLINE, paint)
        run = self._recorder.add_run(packed_points(points, "polyline", 2), False)
        self._mark(POLYLINE, 0.0, 0.0, 0.0, 0.0, paint, run)

    def polygon(self, points: Iterable[object], **paint: Unpack[Paint]) -> None:
        """Straight lines from point to point and back to the first."""
        run = self._recorder.add_run(packed_points(points, "polygon", 3), True)
        self._mark(POLYGON, 0.0, 0.0, 0.0, 0.0, paint, run)

    def path(self, outline: Outline | Trail | Iterable[object], **paint: Unpack[Paint]) -> None:
        """An outline, such as `smooth(points)`, a trail, or straight lines from point to point.

        Where it crosses itself, the nonzero winding rule decides what is inside.
        """
        self._outlined(PATH, as_outline(outline, "path", "write path(smooth(points)), or polygon(points)", closed=False), paint)

    # Many at once

    def circles(self, x: Numbers, y: Numbers, radius: Numbers, **paint: Any) -> None:
        """Circles from arrays; every argument, paint included, is one value for all or an array with one for each.

        For a colour each, give a list of colours, or an array (n, 3) or (n, 4) of numbers from 0 to 1.
        """
        self._many(CIRCLE, (x, y, radius), paint)

    def lines(self, x1: Numbers, y1: Numbers, x2: Numbers, y2: Numbers, **paint: Any) -> None:
        """Straight lines from arrays, as for `circles`."""
        self._refuse_fill(LINE_SEGMENT, paint)
        self._many(LINE_SEGMENT, (x1, y1, x2, y2), paint)

    def polylines(self, points: Iterable[Numbers], **paint: Any) -> None:
        """Polylines from an array (n, k, 2) or a list of arrays (k, 2), outlines or trails; paint works as for `circles`."""
        self._refuse_fill(POLYLINE, paint)
        outlines = lines_through(points, "polylines")
        rows = np.zeros(len(outlines), dtype=MARK)
        rows["outline"] = self._recorder.add_outlines(outlines) + np.arange(len(outlines))
        rows["kind"] = POLYLINE
        self._record_rows("polylines", rows, paint)

    # How they are recorded

    def _mark(self, kind: int, a: float, b: float, c: float, d: float, paint: Paint, outline: int = 0) -> None:
        packed = self._ink[1] if not paint else self._repainted(paint)
        try:
            total = a + b + c + d
            # Infinity and NaN are the numbers x for which x - x is not 0.
            if total - total != 0 or ((c < 0 or d < 0) and kind != LINE_SEGMENT):
                raise self._fault(kind, (a, b, c, d))
            marks = self._recorder.marks
            for image, group in self._images:
                marks += pack_head(a, b, c, d, image, outline, group, kind) + packed
        except (TypeError, ValueError, OverflowError, struct.error):
            raise self._fault(kind, (a, b, c, d)) from None

    def _repainted(self, paint: Paint) -> bytes:
        """The tail of a mark's record for paint given by keyword."""
        style, packed, has_shade, known, around = self._ink
        if around and len(paint) == 1:
            [(name, value)] = paint.items()
            if type(value) is Colour and name in around:
                before, after = around[name]
                return before + pack_colour(*value) + after
        given = tuple(paint.items())
        try:
            found = known.get(given)
        except TypeError:  # a list is not hashable
            found, given = None, ()
        if found is None:
            patched = None if has_shade else repainted(packed, paint)
            found = bytes(patched) if patched is not None else self._recorder.packed(style.but(paint))
            if given:
                if len(known) == _MOST_KNOWN:
                    known.clear()
                    # A ramp or picture of the view would remain in a record patched with a plain colour.
                    if not has_shade:
                        around.update(around_colours(packed))
                known[given] = found
        return found

    def _outlined(self, kind: int, outline: Outline, paint: Paint) -> None:
        self._mark(kind, 0.0, 0.0, 0.0, 0.0, paint, self._recorder.add_outline(outline))

    def _refuse_fill(self, kind: int, paint: Any, name: str = "", closed: str = "") -> None:
        if paint.get("fill") is None and ("stroke" in paint or self._ink[0].stroke is not None):
            return
        article, name = ("an" if name[0] in "aeiou" else "a", name) if name else (KINDS[kind].article, KINDS[kind].name)
        if paint.get("fill") is not None:
            if not closed:
                closed = "polygon(points, fill=...)" if kind == POLYLINE else "stroke=..., or a rect or polygon for an area"
            raise SketchError(f"{article} {name} has no inside that a fill could paint", hint=f"write {closed}")
        raise SketchError(
            f"{article} {name} without a stroke cannot be seen",
            hint='give it stroke="#333", stroke_width=0.5, or set them with styled()',
        )

    def _fault(self, kind: int, numbers: tuple[Any, ...]) -> SketchError:
        """What is wrong with the numbers of a shape, in words."""
        call = KINDS[kind].name
        for position, (name, number) in enumerate(zip(KINDS[kind].numbers, numbers, strict=False)):
            if fault := self._number_fault(call, KINDS[kind].plural, name, number):
                return fault
            if position >= KINDS[kind].first_length and float(number) < 0:
                hint = "write abs(...) or max(0, ...)"
                return SketchError(f"{call}: {name} must be 0 or more (got {number})", hint=hint)
        return SketchError(f"{call}: its numbers are too large to draw ({', '.join(map(str, numbers))})")

    def _number_fault(self, call: str, plural: str, name: str, number: Any) -> SketchError | None:
        """What is wrong with a number, in words, or None for one that is finite."""
        if isinstance(number, list | tuple | np.ndarray):
            hint = f"use {plural} for arrays" if hasattr(self, plural) else "draw them one by one in a loop"
            return SketchError(f"{call}: {name} is one number (got {type(number).__name__})", hint=hint)
        if not hasattr(number, "__float__"):
            hint = "leave the quotation marks out" if isinstance(number, str) and number.strip().isdecimal() else ""
            return SketchError(f"{call}: {name} is a number (got {number!r})", hint=hint)
        if not _is_finite(number):
            hint = "check for a division by 0, or the logarithm or root of a negative number"
            shown = number if isinstance(number, float) else "a whole number beyond all floats"
            return SketchError(f"{call}: {name} is not finite (got {shown})", hint=hint)
        return None

    def _many(self, kind: int, numbers: tuple[Numbers, ...], paint: dict[str, Any], turn: Numbers | None = None) -> None:
        """Shapes of a kind; with `turn` each in a frame of its own about its middle."""
        call, names = KINDS[kind].plural, KINDS[kind].numbers
        given = dict(zip(names, numbers, strict=True)) | ({} if turn is None else {"turn": turn})
        columns = columns_of(call, given)
        rows = np.zeros(max(columns[0].size, 0), dtype=MARK)
        for position, (name, column) in enumerate(zip(names, columns, strict=False)):
            if position >= KINDS[kind].first_length and (column < 0).any():
                worst = int(np.argmin(column))
                raise SketchError(f"{call}: {name} must be 0 or more (got {column.flat[worst]:g} at {worst})")
            rows["place"][:, position] = column
        rows["kind"] = kind
        if turn is not None:
            x, y, wide, high, turns = columns
            if kind == RECT:
                rows["place"][:, 0], rows["place"][:, 1] = -wide / 2, -high / 2
                x, y = x + wide / 2, y + high / 2
            else:
                rows["place"][:, :2] = 0.0
            self._paint_rows(call, rows, paint)
            self._record_placed(rows, x, y, turns)
            return
        self._record_rows(call, rows, paint)

    def _record_rows(self, call: str, rows: RecordArray, paint: dict[str, Any]) -> None:
        self._paint_rows(call, rows, paint)
        for rows["view"], rows["group"] in self._images:
            self._recorder.add_marks(rows)

    def _record_placed(self, rows: RecordArray, x: FloatArray, y: FloatArray, turn: FloatArray) -> None:
        """Record painted shapes each of which lies in a frame of its own, at a place and turned: float64 (n,) each."""
        cosine, sine = cosines_and_sines(turn)
        numbers = np.arange(len(rows))
        for outer, (_, group) in zip(self._matrices, self._images, strict=True):
            rows["view"] = self._recorder.add_views(outer.placings(x, y, cosine, sine), self._stroke_ratio) + numbers
            rows["group"] = group
            self._recorder.add_marks(rows)

    def _finish_of(self, paint: Paint) -> int:
        """The number of the finish that a shape with that paint has."""
        return int.from_bytes(self._repainted(paint)[tail_place("finish") :], "little")

    def _paint_rows(self, call: str, rows: RecordArray, paint: dict[str, Any]) -> None:
        """Fill the paint columns: what is one for all by way of a style, what differs column by column."""
        varied = {name: value for name, value in paint.items() if is_varied(name, value)}
        # A colour for each replaces the one for all, so that no ramp or picture of the view remains.
        stand_in = {name: _BLACK for name in ("fill", "stroke") if name in varied}
        one_for_all: Any = {**{name: value for name, value in paint.items() if name not in varied}, **stand_in}
        shared = self._repainted(one_for_all)
        rows.view(np.uint8).reshape(len(rows), MARK.itemsize)[:, TAIL_BEGINS:] = np.frombuffer(shared, np.uint8)
        for name, value in varied.items():
            match name:
                case "fill" | "stroke":
                    rows[name] = colour_column(call, name, value, len(rows))
                case "stroke_width" | "opacity":
                    column = column_of(call, name, value)
                    if column.size != len(rows):
                        raise SketchError(f"{call}: {column.size} values of {name} for {len(rows)} shapes")
                    if (column < 0).any() or (name == "opacity" and (column > 1).any()):
                        raise SketchError(f"{call}: {name} must be 0 or more{', and at most 1' * (name == 'opacity')}")
                    rows[name] = column.ravel()
                case _:
                    wanted = "one word for all" if name in PAINT_NAMES else "no paint"
                    raise SketchError(f"{call}: {name} is {wanted}; paint is {', '.join(PAINT_NAMES)}")


def _is_finite(number: Any) -> bool:
    try:
        return math.isfinite(number)
    except OverflowError:  # an integer beyond all floats
        return False
