"""Where two performances part: the first mark that differs is named, with its place."""

from __future__ import annotations

import pytest

from mothseed import Colour, smooth
from mothseed.repeat.difference import first_difference, first_mark_that_differs
from mothseed.sheet import Sheet
from mothseed.sheet.drawing import Drawing

WING = [(0.0, 0.0), (9.0, -4.0), (6.0, 5.0)]


def drawing(radius: float = 3.0, tail: int = 0, wing: float = 9.0, fill: str = "teal", turn: float = 0.0) -> Drawing:
    sheet = Sheet(60, 40, "mm", Colour(1, 1, 1)).styled(fill=fill)
    sheet.circle(5, 5, 1)
    frame = sheet.frame(20, 10, turn=turn)
    frame.ellipse(1, 2, radius, 2)
    frame.path(smooth([WING[0], (wing, -4.0), WING[2]]))
    for index in range(tail):
        sheet.rect(index, 30, 1, 1)
    return sheet.drawing()


def test_of_two_that_are_alike_nothing_is_told() -> None:
    assert first_mark_that_differs(drawing(), drawing()) is None
    assert first_difference(drawing(), drawing()) == ""


@pytest.mark.parametrize(
    ("changed", "index", "words"),
    [
        ({"radius": 3.0000001}, 1, "mark 2 of 3 differs from run to run: an ellipse at 21.00, 12.00, then an ellipse"),
        ({"wing": 9.5}, 2, "mark 3 of 3 differs from run to run: a path at 20.00, 10.00, then a path at 20.00, 10.00"),
        ({"fill": "navy"}, 0, "mark 1 of 3 differs from run to run: a circle at 5.00, 5.00, then a circle at 5.00, 5.00"),
        ({"turn": 90.0}, 1, "mark 2 of 3 differs from run to run: an ellipse at 21.00, 12.00, then an ellipse at 18.00, 11.00"),
    ],
)
def test_the_first_that_differs_is_told_where_it_lies_on_the_sheet(changed: dict[str, float], index: int, words: str) -> None:
    other = drawing(**changed)  # type: ignore[arg-type]
    assert first_mark_that_differs(drawing(), other) == index
    assert first_difference(drawing(), other).startswith(words)


def test_one_that_draws_more_is_told_with_what_it_draws_first() -> None:
    assert first_difference(drawing(), drawing(tail=2)) == (
        "one run draws 3 marks, another 5; the first that only one has is a rect at 0.00, 30.00"
    )
    assert first_difference(drawing(tail=1), drawing()) == (
        "one run draws 4 marks, another 3; the first that only one has is a rect at 0.00, 30.00"
    )
    assert first_mark_that_differs(drawing(), drawing(tail=2)) is None


def test_from_nothing_to_something() -> None:
    empty = Sheet(60, 40, "mm", Colour(1, 1, 1)).drawing()
    one = Sheet(60, 40, "mm", Colour(1, 1, 1))
    one.line(1, 2, 3, 4, stroke="navy")
    assert first_difference(empty, one.drawing()) == (
        "one run draws 0 marks, another 1; the first that only one has is a line at 1.00, 2.00"
    )
