"""Arrangements as sequences, whose places are made as they are reached."""

from __future__ import annotations

import pytest

from mothseed import Chance
from tests.reference import ink_sheet


def test_places_can_be_counted_and_reached_by_number() -> None:
    cells = ink_sheet(40, 20).grid(4, 2)
    assert len(cells) == 8
    assert (cells[5].col, cells[5].row, cells[-1].index) == (1, 1, 7)
    assert (cells[5].x, cells[5].y) == (15, 15)
    assert [cell.index for cell in cells[2:4]] == [2, 3]
    assert [cell.index for cell in reversed(cells)] == [7, 6, 5, 4, 3, 2, 1, 0]
    assert [cell.index for cell in cells] == [cell.index for cell in cells] == list(range(8))
    assert cells[3] in cells
    with pytest.raises(IndexError):
        cells[8]
    assert repr(cells) == "8 places"
    assert not ink_sheet(10, 10).ring(0, 5)


def test_a_loop_makes_each_place_when_it_comes_to_it() -> None:
    sheet = ink_sheet(40, 40)
    shared = Chance(3)("shared")
    found = []
    for place in sheet.scatter(3, shared):
        found += [place.x, shared.between(0, 1)]
    again = Chance(3)("shared")
    expected = []
    for _ in range(3):
        x, _y = again.between(0, 40), again.between(0, 40)
        expected += [x, again.between(0, 1)]
    assert found == expected


def test_what_next_has_taken_is_not_looped_over_again() -> None:
    places = ink_sheet(40, 40).ring(4, 10)
    assert next(places).index == 0
    assert [place.index for place in places] == [1, 2, 3]
    assert len(places) == 4
    assert next(iter(places)).index == 1
    assert [place.fraction for place in ink_sheet(9, 9).fan(2, 90)] == [0, 1]
    assert [next(places).index for _ in range(3)] == [1, 2, 3]
    with pytest.raises(StopIteration):
        next(places)
