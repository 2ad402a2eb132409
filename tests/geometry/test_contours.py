"""Contours: lines at a level and areas above it, on surfaces whose contours are known; and grids of states."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
import pytest

from mothseed import Chance, Outline, stepped
from mothseed.faults import SketchError
from mothseed.formats.png_writing import write_png
from mothseed.geometry.lengths import loops_of
from tests.reference import ink_sheet


def cone(x: object, y: object) -> object:
    """100 at the middle of the sheet, less by one with each unit away from it."""
    return 100 - np.hypot(np.asarray(x) - 50, np.asarray(y) - 50)


def area(outline: Outline) -> float:
    return sum(
        0.5 * float((loop[:, 0] * np.roll(loop[:, 1], -1) - np.roll(loop[:, 0], -1) * loop[:, 1]).sum())
        for loop in loops_of(outline)
    )


def test_a_line_lies_where_the_surface_has_the_level() -> None:
    outline = ink_sheet(100, 100).contours(cone, 70)
    assert outline.closed
    assert np.hypot(*(outline.points - 50).T) == pytest.approx(30, abs=0.02)
    assert outline.length == pytest.approx(math.tau * 30, rel=1e-3)


def test_an_area_is_what_is_above_and_ends_at_the_edge() -> None:
    sheet = ink_sheet(100, 100)
    assert abs(area(sheet.contours(cone, 70, filled=True))) == pytest.approx(math.pi * 900, rel=2e-3)
    everything = sheet.contours(cone, 0, filled=True)
    assert tuple(everything.bounds) == (0, 0, 100, 100)
    assert abs(area(everything)) == pytest.approx(10_000)
    ring = sheet.contours(lambda x, y: -abs(cone(x, y) - 70), -10, filled=True)  # type: ignore[operator]
    assert abs(area(ring)) == pytest.approx(math.pi * (1600 - 400), rel=5e-3)
    assert ring.contains(50, 82)
    assert not ring.contains(50, 50)


def test_several_levels_come_in_their_order_and_none_where_there_is_none() -> None:
    low, high, none = ink_sheet(100, 100).contours(cone, [60, 90, 120])
    assert [low.bounds.width, high.bounds.width] == pytest.approx([80, 20], abs=0.1)
    assert not len(none.points)


def test_a_line_that_meets_the_edge_is_open_and_a_view_has_its_own_area() -> None:
    view = ink_sheet(100, 100).frame(20, 10).inset(10)
    line = view.contours(lambda x, _y: x, 30.0)
    assert not line.closed
    assert sorted(line.points[[0, -1]].tolist()) == [[30.0, 0.0], [30.0, 80.0]]


def test_fields_and_pictures_are_surfaces(tmp_path: Path) -> None:
    sheet, hills = ink_sheet(100, 100), Chance(4).field(30)
    assert (sheet.contours(hills, 0.1).points == sheet.contours(hills.at, 0.1).points).all()
    pixels = np.full((10, 10, 4), 255, np.uint8)
    pixels[:, :5, :3] = 0
    write_png(tmp_path / "half.png", pixels)
    half = sheet.contours(sheet.picture(tmp_path / "half.png"), 0.5)
    assert abs(half.points[:, 0] - 50).max() < 10


def test_a_function_of_numbers_and_one_of_arrays_give_the_same() -> None:
    sheet = ink_sheet(20, 20)
    at_once = sheet.contours(np.maximum, 7.5, step=1)
    one_by_one = sheet.contours(lambda x, y: max(y, x), 7.5, step=1)
    assert (at_once.points == one_by_one.points).all()
    assert not len(sheet.contours(lambda _x, _y: 3, 7.5).points)


@pytest.mark.parametrize(
    ("surface", "level", "more", "message"),
    [
        (3, 0.2, {}, "surface is a function of x and y"),
        (cone, math.nan, {}, "level must be a finite number"),
        (cone, ["high"], {}, "level must be a finite number"),
        (cone, 50, {"step": 0}, "step must be a length above 0"),
        (cone, 50, {"step": 0.001}, "asks for 10,000,200,001 places"),
        (lambda x, _y: x / 0, 50, {}, r"surface at \(0, 0\) is not finite"),
        (lambda _x, _y: "high", 50, {}, "surface must be a finite number"),
    ],
)
def test_what_has_no_contours_is_refused_in_words(
    surface: object, level: object, more: dict[str, object], message: str
) -> None:
    with pytest.raises(SketchError, match=f"^contours: .*{message}"):
        ink_sheet(100, 100).contours(surface, level, **more)  # type: ignore[call-overload]


def life(own: np.ndarray, around: np.ndarray) -> np.ndarray:
    near = around.sum(axis=0)
    return np.asarray((near == 3) | (own & (near == 2)))


def test_a_rule_sees_the_eight_around_clockwise_from_above() -> None:
    states = np.arange(25).reshape(5, 5)
    seen: list[np.ndarray] = []
    stepped(states, lambda own, around: seen.append(around[:, 2, 2]) or own)  # type: ignore[func-returns-value]
    assert seen[0].tolist() == [7, 8, 13, 18, 17, 16, 11, 6]


def test_what_walks_over_the_edge_comes_back_unless_there_is_nothing() -> None:
    walker = np.zeros((8, 8), bool)
    walker[[0, 1, 2, 2, 2], [1, 2, 0, 1, 2]] = True
    assert (stepped(walker, life, 32) == walker).all()
    assert (stepped(walker, life, 4) == np.roll(walker, (1, 1), axis=(0, 1))).all()
    assert stepped(walker, life, 32, edge="constant").sum() != 5
    assert (stepped(walker, life, 0) == walker).all()


@pytest.mark.parametrize(
    ("states", "rule", "more", "message"),
    [
        ([[1, 2], [3]], life, {}, "numbers in rows of one length"),
        ([["a"]], life, {}, "numbers in rows of one length"),
        ([[1, 0]], lambda _own, around: around, {}, r"the same shape \(got \(8, 1, 2\) for \(1, 2\)\)"),
        ([[1, 0]], life, {"steps": -1}, "steps must be a whole number"),
        ([[1, 0]], life, {"edge": "mirror"}, "edge must be one of wrap, constant"),
    ],
)
def test_states_and_rules_that_cannot_be_are_refused(
    states: object, rule: object, more: dict[str, object], message: str
) -> None:
    with pytest.raises(SketchError, match=message):
        stepped(states, rule, **more)  # type: ignore[arg-type]
