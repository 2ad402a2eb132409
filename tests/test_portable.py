from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.portable import cosine_and_sine, cosines_and_sines, natural_log

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
