"""Many outlines and lines as arrays hold what as many objects hold."""

from __future__ import annotations

import math
import re
from typing import Any

import numpy as np
import pytest

from mothseed.faults import ChangeError, SketchError
from mothseed.geometry import Outline, arc, ngon, star
from mothseed.geometry.lettering import Words, lettered
from mothseed.geometry.outline import through
from mothseed.geometry.outlines import Outlines, lines_through
from mothseed.geometry.polylines import Polylines
from mothseed.geometry.trail import Trail

EMPTY = Outline(np.zeros(0, np.uint8), np.zeros((0, 2)))
MANY = [ngon(5, radius=3), arc(4, 0, 200), EMPTY, star(4, 3, 1), through(np.array([[1.0, 2.0], [3.0, 4.0]]), closed=False)]


def same(first: Outline, second: Outline) -> bool:
    return np.array_equal(first.verbs, second.verbs) and np.array_equal(first.points, second.points)


def test_outlines_are_those_they_were_made_of_in_their_order() -> None:
    outlines = Outlines.of(MANY)
    assert len(outlines) == len(MANY)
    assert all(same(one, other) for one, other in zip(outlines, MANY, strict=True))
    assert same(outlines[-2], MANY[-2])
    assert [len(outline.points) for outline in outlines[1:4]] == [len(outline.points) for outline in MANY[1:4]]
    with pytest.raises(IndexError):
        outlines[len(MANY)]
    assert len(Outlines.of([])) == 0
    assert not Outlines.of([])


def test_outlines_of_outlines_lie_one_behind_the_other() -> None:
    both = Outlines.of([Outlines.of(MANY[:2]), MANY[2], Outlines.of(MANY[3:]), Outlines.of([])])
    assert all(same(one, other) for one, other in zip(both, MANY, strict=True))


def test_an_outline_that_is_more_than_its_geometry_stays_what_it_is() -> None:
    word = lettered(Words("Owlet", 5, False, False, "start", 0.0, "", False, 1.0, 2.0, 0.0))
    outlines = Outlines.of([MANY[0], Outlines.of([MANY[1], word]), word])
    assert [outline is word for outline in outlines] == [False, False, True, True]
    assert [outline is word for outline in outlines.chosen(np.array([3, 0, 2]))] == [True, False, True]


def test_those_of_some_numbers_are_chosen_in_that_order() -> None:
    numbers = [3, 0, 0, 2, 4]
    chosen = Outlines.of(MANY).chosen(np.array(numbers))
    assert all(same(one, MANY[number]) for one, number in zip(chosen, numbers, strict=True))
    assert len(Outlines.of(MANY).chosen(np.zeros(0, np.int64))) == 0


def test_outlines_and_trails_are_lines_of_chords() -> None:
    trail = Trail(0, 0).walk(5).veer(90).walk(5).leap(3).walk(2)
    square = Outline.rect(0, 0, 4, 4)
    lines = lines_through([trail, square, np.array([(7.0, 7), (8, 8)])], "polylines")
    assert [lines[number].points.tolist() for number in range(len(lines))] == [
        trail.outline.points[:3].tolist(),
        trail.outline.points[3:].tolist(),
        [[0, 0], [4, 0], [4, 4], [0, 4], [0, 0]],
        [[7, 7], [8, 8]],
    ]
    assert len(lines_through([Outline.circle(0, 0, 5)], "polylines")[0].points) == 257


@pytest.mark.parametrize("count", [0, 1, 7])
def test_lines_are_taken_from_an_array_from_arrays_and_from_polylines_alike(count: int) -> None:
    array = np.random.default_rng(1).normal(size=(count, 4, 2))
    ways = [
        lines_through(array, "polylines"),
        lines_through(list(array), "polylines"),
        lines_through(array.tolist(), "polylines"),
    ]
    ways.append(lines_through(Polylines(array.reshape(-1, 2), np.full(count, 4)), "polylines"))
    for outlines in ways:
        assert len(outlines) == count
        assert all(same(line, through(points, closed=False)) for line, points in zip(outlines, array, strict=True))


def test_what_is_no_line_is_told_with_its_number() -> None:
    broken = np.zeros((3, 4, 2))
    broken[2, 1, 0] = np.inf
    for pieces in (broken, list(broken)):
        with pytest.raises(SketchError, match=r"polylines: point 1 is not finite \(inf, 0\) in line 2"):
            lines_through(pieces, "polylines")
    with pytest.raises(SketchError, match="at least 2 points are needed"):
        lines_through([np.zeros((1, 2))], "polylines")
    with pytest.raises(SketchError, match="at least 2 points are needed"):
        lines_through(np.zeros((3, 1, 2)), "polylines")


def test_polylines_never_change() -> None:
    lines = Polylines(np.arange(10.0).reshape(-1, 2), np.array([2, 3]))
    assert [line.tolist() for line in lines] == [[[0, 1], [2, 3]], [[4, 5], [6, 7], [8, 9]]]
    assert [len(line) for line in lines[-1:]] == [3]
    with pytest.raises(ChangeError):
        lines.points = np.zeros((5, 2))
    with pytest.raises(ValueError, match="read-only"):
        lines[0][0, 0] = 1


@pytest.mark.parametrize(
    ("verbs", "points", "words"),
    [
        ([0, 1], [(0, 0)], "its verbs take 2 points (got 1)"),
        ([0, 2], [(0, 0), (1, 1)], "its verbs take 4 points (got 2)"),
        ([0, 1, 1], [(0, 0), (1, 1), (2, 2), (3, 3)], "its verbs take 3 points (got 4)"),
        ([9], [(0, 0)], "verbs are 0 to begin"),
        ([0.5], [(0, 0)], "verbs are 0 to begin"),
        ([256], [(0, 0)], "verbs are 0 to begin"),
        ("moth", [(0, 0)], "verbs are 0 to begin"),
        ([1], [(0, 0)], "the first verb is 0"),
        ([0, 3, 1], [(0, 0), (1, 1)], "after 3, which closes, comes 0"),
        ([0, 1], [(0, 0), (np.nan, 1)], "point 1 is not finite"),
        ([0, 1], [1, 2], "points are pairs of numbers"),
        ([0, 1], None, "points are pairs of numbers"),
    ],
)
def test_an_outline_is_looked_at_once_where_it_is_made(verbs: Any, points: Any, words: str) -> None:
    with pytest.raises(SketchError, match=re.escape(words)):
        Outline(verbs, points)


def test_an_outline_is_made_of_what_stands_for_it_and_never_changes() -> None:
    outline = Outline([0, 1, 3], [(0, 0), (4, 0)])  # type: ignore[arg-type]  # as an artist writes it
    assert (str(outline.verbs.dtype), str(outline.points.dtype), outline.closed) == ("uint8", "float64", True)
    assert len(Outline([], []).points) == 0  # type: ignore[arg-type]  # as an artist writes it
    whole = np.zeros((6, 2))
    part = Outline(np.array([0, 1], np.uint8), whole[:2])
    whole[0] = np.nan
    assert np.isfinite(part.points).all(), "a part of somebody's array is copied"
    with pytest.raises(SketchError, match="is not finite"):
        outline.scaled(math.nan)
    with pytest.raises(SketchError, match="is not finite"):
        outline.moved(math.inf, 0)
