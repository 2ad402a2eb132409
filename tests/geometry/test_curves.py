from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.faults import SketchError
from mothseed.geometry import Affine, smooth
from mothseed.geometry.verbs import CLOSE, CUBIC, MOVE

LENGTHS = st.floats(-1000, 1000)
POINTS = st.lists(st.tuples(st.integers(-99, 99), st.integers(-99, 99)), min_size=3, max_size=12)
AFFINES = st.builds(Affine, *[st.floats(-10, 10)] * 6)


@given(AFFINES, AFFINES, LENGTHS, LENGTHS)
def test_one_map_after_another_is_as_if_done_one_by_one(second: Affine, first: Affine, x: float, y: float) -> None:
    assert second.after(first).point(x, y) == pytest.approx(second.point(*first.point(x, y)), abs=1e-6)


@given(st.floats(-720, 720), LENGTHS, LENGTHS)
def test_a_mirror_image_of_a_mirror_image_is_the_thing_itself(axis: float, x: float, y: float) -> None:
    mirror = Affine.reflection(axis)
    assert mirror.point(*mirror.point(x, y)) == pytest.approx((x, y), abs=1e-9)


def test_the_upright_mirror_is_exact() -> None:
    assert Affine.reflection(90) == (-1, 0, 0, 1, 0, 0)
    assert Affine.reflection(0) == (1, 0, 0, -1, 0, 0)


def test_turning_is_clockwise_as_seen_with_y_pointing_down() -> None:
    assert Affine.rotation(90).point(1, 0) == (0, 1)


@given(POINTS, st.booleans(), st.floats(0, 1))
def test_a_smooth_curve_passes_through_all_its_points_in_order(points: list[Any], closed: bool, tension: float) -> None:
    different = [p for i, p in enumerate(points) if i == 0 or p != points[i - 1]]
    if closed and len(different) > 1 and different[0] == different[-1]:
        different.pop()
    if len(different) < 2:
        return
    outline = smooth(points, closed=closed, tension=tension)
    ends = outline.points[::3].tolist()
    assert ends == [list(map(float, p)) for p in different] + [list(map(float, different[0]))] * closed
    assert outline.verbs.tolist() == [MOVE, *[CUBIC] * (len(different) - (not closed)), *[CLOSE] * closed]
    assert np.isfinite(outline.points).all()


@given(POINTS)
def test_a_smooth_curve_leaves_each_point_as_it_came(points: list[Any]) -> None:
    outline = smooth(points, closed=True)
    if len(outline.points) < 7:
        return
    p = outline.points
    for knot in range(3, len(p) - 1, 3):
        arriving, leaving = p[knot] - p[knot - 1], p[knot + 1] - p[knot]
        cross = arriving[0] * leaving[1] - arriving[1] * leaving[0]
        assert abs(cross) <= 1e-6 * max(1, np.abs(p).max() ** 2)


def test_full_tension_is_straight() -> None:
    outline = smooth([(0, 0), (10, 5), (20, 0)], tension=1)
    assert outline.points.tolist() == [[0, 0], [0, 0], [10, 5], [10, 5], [10, 5], [20, 0], [20, 0]]


def test_an_outline_never_changes() -> None:
    outline = smooth([(0, 0), (10, 5)])
    with pytest.raises(ValueError, match="read-only"):
        outline.points[0, 0] = 3


@pytest.mark.parametrize(
    ("points", "more", "words"),
    [
        ([], {}, "points are pairs"),
        ([(0, 0)], {}, "at least 2 points"),
        ([(0, 0), (1, 1)], {"closed": True}, "at least 3 points"),
        ([(0, 0), (1,)], {}, "points are pairs"),
        ([(0, 0), ("a", 1)], {}, "points are pairs"),
        (5, {}, "points are pairs"),
        ([(0, 0), (float("nan"), 1)], {}, "point 1 is not finite"),
        ([(0, 0), (1, 1)], {"tension": 2}, "tension must be a number from 0"),
    ],
)
def test_points_that_make_no_curve_are_refused_in_words(points: Any, more: dict[str, Any], words: str) -> None:
    with pytest.raises(SketchError, match=words):
        smooth(points, **more)
