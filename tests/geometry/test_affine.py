"""Affine maps: what is put together and taken back, and which of them keep circles round."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from mothseed.geometry.affine import Affine, are_similarities, transformed

NUMBERS = st.floats(-50, 50).map(lambda number: round(number, 3))
MAPS = st.builds(Affine, NUMBERS, NUMBERS, NUMBERS, NUMBERS, NUMBERS, NUMBERS)


def determinant(matrix: Affine) -> float:
    return matrix.a * matrix.d - matrix.b * matrix.c


@given(MAPS, NUMBERS, NUMBERS)
def test_the_map_back_brings_a_point_home(matrix: Affine, x: float, y: float) -> None:
    assume(abs(determinant(matrix)) > 0.01)
    back = matrix.inverse()
    assert back is not None
    assert back.point(*matrix.point(x, y)) == pytest.approx((x, y), abs=1e-4)
    assert back.after(matrix) == pytest.approx(Affine(), abs=1e-5)


@pytest.mark.parametrize("flat", [Affine(0, 0, 0, 0), Affine(1, 2, 2, 4), Affine(0, 3, 0, 9, 5, 5)])
def test_from_a_line_there_is_no_way_back(flat: Affine) -> None:
    assert flat.inverse() is None


@given(MAPS, MAPS, NUMBERS, NUMBERS)
def test_one_map_after_another_is_both(outer: Affine, inner: Affine, x: float, y: float) -> None:
    both = outer.after(inner).point(x, y)
    assert both == pytest.approx(outer.point(*inner.point(x, y)), rel=1e-9, abs=1e-6)
    assert transformed(np.array([(x, y)]), np.array(outer.after(inner))).tolist()[0] == pytest.approx(both, rel=1e-9, abs=1e-9)


@given(st.floats(0.01, 100), st.floats(-720, 720), NUMBERS, NUMBERS, st.booleans())
def test_turned_enlarged_and_mirrored_circles_are_circles(
    scale: float, turn: float, x: float, y: float, mirrored: bool
) -> None:
    matrix = Affine.translation(x, y).after(Affine.rotation(turn)).after(Affine.scaling(scale))
    if mirrored:
        matrix = matrix.after(Affine.reflection(30))
    assert are_similarities(np.array(matrix), 1e-9)


@pytest.mark.parametrize(
    ("matrix", "is_round"),
    [
        (Affine(), True),
        (Affine(2, 0, 0, 2), True),
        (Affine(0, 3, -3, 0, 9, 9), True),
        (Affine(1, 0, 0, -1), True),
        (Affine(2, 0, 0, 1), False),
        (Affine(1, 0, 0.5, 1), False),
        (Affine(1, 1, 1, 1), False),
        (Affine(0, 0, 0, 0), False),
        (Affine(1, 0, 0, 1.0001), False),
    ],
)
def test_what_makes_a_circle_an_ellipse_is_told_from_what_does_not(matrix: Affine, is_round: bool) -> None:
    assert bool(are_similarities(np.array(matrix), 1e-6)) is is_round


def test_many_maps_are_judged_at_once() -> None:
    maps = np.array([Affine(), Affine(2, 0, 0, 1), Affine.rotation(33)])
    assert are_similarities(maps, 1e-6).tolist() == [True, False, True]
    assert are_similarities(np.zeros((0, 6)), 1e-6).shape == (0,)
