from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.portable import cosine_and_sine, cosines_and_sines, heading, natural_log, power

ANGLES = st.floats(-1e6, 1e6)


@given(ANGLES)
def test_cosine_and_sine_agree_with_the_library_to_the_last_digits(degrees: float) -> None:
    exact = math.remainder(degrees, 360.0)
    expected = (math.cos(math.radians(exact)), math.sin(math.radians(exact)))
    assert cosine_and_sine(degrees) == pytest.approx(expected, abs=4e-16 + abs(degrees) * 1e-16)


@given(st.integers(-1000, 1000))
def test_quarter_turns_are_exact_and_have_no_negative_zero(quarters: int) -> None:
    answer = cosine_and_sine(90.0 * quarters)
    assert answer == [(1, 0), (0, 1), (-1, 0), (0, -1)][quarters % 4]
    assert all(math.copysign(1, part) == 1 for part in answer if part == 0)


@given(st.lists(ANGLES, min_size=1, max_size=20))
def test_angles_one_by_one_and_all_at_once_give_the_same_bits(angles: list[float]) -> None:
    cosines, sines = cosines_and_sines(np.array(angles))
    assert list(zip(cosines.tolist(), sines.tolist(), strict=True)) == [cosine_and_sine(angle) for angle in angles]


@given(st.floats(1e-300, 1e300))
def test_logarithm_agrees_with_the_library_and_with_itself(x: float) -> None:
    assert natural_log(x) == pytest.approx(math.log(x), rel=4e-16, abs=1e-16)
    assert natural_log(np.array([x]))[0] == natural_log(x)


@given(st.floats(0, 1), st.floats(0.05, 20))
def test_powers_agree_with_the_library_and_with_themselves(base: float, exponent: float) -> None:
    assert power(base, exponent) == pytest.approx(base**exponent, rel=1e-14 * max(exponent, 1) * 40, abs=1e-300)
    assert power(np.array([base]), exponent)[0] == power(base, exponent)
    assert 0 <= power(base, exponent) <= 1


@given(st.floats(-1e9, 1e9), st.floats(-1e9, 1e9))
def test_headings_agree_with_the_library_and_with_themselves(dx: float, dy: float) -> None:
    expected = math.degrees(math.atan2(dy, dx)) % 360 if dx or dy else 0.0
    difference = abs(heading(dx, dy) - expected)
    assert min(difference, 360 - difference) < 1e-13 * 360
    assert 0 <= heading(dx, dy) < 360
    assert heading(np.array([dx]), np.array([dy]))[0] == heading(dx, dy)


def test_headings_along_the_axes_and_diagonals_are_exact() -> None:
    ways = [(1, 0), (1, 1), (0, 1), (-1, 1), (-1, 0), (-1, -1), (0, -1), (1, -1)]
    assert [heading(float(x), float(y)) for x, y in ways] == [0, 45, 90, 135, 180, 225, 270, 315]
