"""The record of a mark and the kinds of shape: stated once, and what follows from them agrees with it."""

from __future__ import annotations

import numpy as np
import pytest

from mothseed import Colour, smooth
from mothseed.arrays import FloatArray
from mothseed.sheet import Sheet
from mothseed.sheet.kinds import (
    CIRCLE,
    ELLIPSE,
    HAS_INSIDE,
    HAS_OUTLINE,
    IS_ROUND,
    KINDS,
    LINE_SEGMENT,
    PATH,
    POLYGON,
    POLYLINE,
    RECT,
    UNIT_BOXES,
    UNIT_MIDDLES,
    UNIT_OF_KIND,
    UNIT_SHAPES,
)
from mothseed.sheet.record import HEAD, MARK, TAIL, TAIL_BEGINS, packer, tail_place


def drawn() -> Sheet:
    """One shape of each kind, in the order of the kinds."""
    sheet = Sheet(60, 40, "mm", Colour(1, 1, 1)).styled(fill="teal", stroke="navy", stroke_width=0.5)
    sheet.circle(1, 2, 3)
    sheet.ellipse(4, 5, 6, 7)
    sheet.rect(8, 9, 10, 11)
    sheet.line(12, 13, 14, 15)
    sheet.polyline([(0, 0), (4, 5)])
    sheet.polygon([(0, 0), (4, 5), (9, 0)])
    sheet.path(smooth([(0, 0), (4, 5), (9, 0)]))
    return sheet


def test_the_kinds_are_numbered_as_their_rows_lie() -> None:
    assert list(range(7)) == [CIRCLE, ELLIPSE, RECT, LINE_SEGMENT, POLYLINE, POLYGON, PATH]
    assert [kind.name for kind in KINDS] == ["circle", "ellipse", "rect", "line", "polyline", "polygon", "path"]
    assert [kind.article for kind in KINDS] == ["a", "an", "a", "a", "a", "a", "a"]
    assert drawn().drawing().marks["kind"].tolist() == list(range(7)), "frozen: fingerprints know them by number"


def test_every_kind_can_be_drawn_one_at_a_time_and_in_arrays() -> None:
    for kind in KINDS:
        assert callable(getattr(Sheet, kind.name))
        if kind.numbers:
            assert callable(getattr(Sheet, kind.plural))


def test_a_mark_holds_the_numbers_it_was_drawn_with() -> None:
    marks = drawn().drawing().marks
    given = {"circle": (1, 2, 3, 0), "ellipse": (4, 5, 6, 7), "rect": (8, 9, 10, 11), "line": (12, 13, 14, 15)}
    for mark in marks:
        kind = KINDS[mark["kind"]]
        assert tuple(mark["place"].tolist()) == given.get(kind.name, (0, 0, 0, 0))
        assert mark["stroke_width"] == 0.5
        assert len(kind.numbers) <= 4


def test_what_follows_from_the_kinds_says_what_they_say() -> None:
    for number, kind in enumerate(KINDS):
        assert bool(HAS_OUTLINE[number]) is (kind.unit is None)
        assert bool(HAS_INSIDE[number]) is kind.has_inside
        assert bool(IS_ROUND[number]) is (kind.name in ("circle", "ellipse"))
        if kind.unit is None:
            assert UNIT_OF_KIND[number] == -1
        else:
            assert UNIT_SHAPES[UNIT_OF_KIND[number]] is kind.unit
            assert UNIT_BOXES[number].tolist() == box(kind.unit.points)
            assert UNIT_MIDDLES[number].tolist() == [(left + right) / 2 for left, right in zip(*halves(number), strict=True)]


def box(points: FloatArray) -> list[float]:
    return [*points.min(axis=0).tolist(), *points.max(axis=0).tolist()]


def halves(number: int) -> tuple[list[float], list[float]]:
    return UNIT_BOXES[number, :2].tolist(), UNIT_BOXES[number, 2:].tolist()


def test_the_layout_of_a_mark_is_frozen() -> None:
    assert MARK.itemsize == 100
    assert MARK.names == HEAD + TAIL
    assert HEAD == ("place", "view", "outline", "group", "kind")
    assert TAIL_BEGINS == 45
    assert [tail_place(name) for name in TAIL] == [0, 1, 2, 3, 19, 35, 43, 51]


def test_what_packs_a_mark_is_read_by_the_layout() -> None:
    head = packer(HEAD).pack(1.5, 2.5, 3.5, 4.5, 6, 7, 8, 2)
    tail = packer(TAIL).pack(1, 2, 3, *[0.25] * 4, *[0.5] * 4, 0.75, 0.125, 9)
    (mark,) = np.frombuffer(head + tail, MARK)
    assert mark["place"].tolist() == [1.5, 2.5, 3.5, 4.5]
    assert [int(mark[name]) for name in ("view", "outline", "group", "kind", "linecap", "linejoin", "painted")] == [
        6, 7, 8, 2, 1, 2, 3,
    ]  # fmt: skip
    assert mark["fill"].tolist() == [0.25] * 4
    assert mark["stroke"].tolist() == [0.5] * 4
    assert (mark["stroke_width"], mark["opacity"], mark["finish"]) == (0.75, 0.125, 9)


@pytest.mark.parametrize("name", ["circle", "ellipse", "rect"])
def test_an_array_of_shapes_records_what_the_calls_one_by_one_do(name: str) -> None:
    kind = next(each for each in KINDS if each.name == name)
    numbers = np.arange(1.0, 1 + 3 * len(kind.numbers)).reshape(3, -1)
    one = Sheet(60, 40, "mm", Colour(1, 1, 1)).styled(fill="teal")
    for row in numbers.tolist():
        getattr(one, name)(*row)
    many = Sheet(60, 40, "mm", Colour(1, 1, 1)).styled(fill="teal")
    getattr(many, kind.plural)(*numbers.T)
    assert one.drawing().marks.tobytes() == many.drawing().marks.tobytes()


def test_each_mark_finds_the_outline_that_it_was_drawn_with_whatever_came_in_between() -> None:
    sheet = Sheet(60, 40, "mm", Colour(1, 1, 1)).styled(fill=None, stroke="navy")
    expected: list[tuple[FloatArray, bool]] = []
    for number in range(30):
        points = np.array([(number, 0), (4, 5 + number), (9, 0)], float)
        # Small arrays, lists, many points and views on other arrays are recorded in different ways.
        if number % 5 == 0:
            sheet.polygon(points if number % 2 else points.tolist())
        elif number % 5 == 1:
            points = np.repeat(points, 10, axis=0)
            sheet.polyline(points)
        elif number % 5 == 2:
            points = points[::-1]
            sheet.polyline(points)
        elif number % 5 == 3:
            shape = smooth(points)
            sheet.path(shape)
            points = shape.points
        else:
            sheet.polylines(points[None])
        expected.append((points, number % 5 == 0))
    drawing = sheet.drawing()
    for number, (points, closed) in zip(drawing.marks["outline"].tolist(), expected, strict=True):
        assert np.array_equal(drawing.outlines[number].points, points)
        assert drawing.outlines[number].closed == closed
