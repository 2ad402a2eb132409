"""What numbers and words have to be: one set of checks, which takes NumPy's numbers wherever it takes Python's."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from mothseed import Chance, Colour, Palette, Swarm, ngon, resampled, smooth, star
from mothseed.checks import as_whole, finite, from_nothing, is_finite, length, one_of, whole
from mothseed.faults import SketchError
from mothseed.sheet import Sheet


@pytest.mark.parametrize(
    ("value", "number"),
    [(3, 3), (np.int64(3), 3), (np.uint8(3), 3), (np.array(3), 3), (3.0, None), (True, None), (np.bool(True), None),
     ("3", None), (None, None), (np.array([3, 4]), None), (np.float64(3), None)],
)  # fmt: skip
def test_a_whole_number_of_any_kind_is_taken_and_nothing_else(value: Any, number: int | None) -> None:
    assert as_whole(value) == number


SHEET = Sheet(60, 40, "mm", Colour(1, 1, 1))
CURVE = smooth([(0, 0), (9, 9), (20, 3)])
CALLS: list[tuple[str, Callable[[Any], Any]]] = [
    ("grid: cols", lambda n: list(SHEET.grid(n, 2))),
    ("grid: rows", lambda n: list(SHEET.grid(2, n))),
    ("ring: count", lambda n: list(SHEET.ring(n, 9))),
    ("fan: count", lambda n: list(SHEET.fan(n, 90))),
    ("spiral: count", lambda n: list(SHEET.spiral(n, 3))),
    ("along: count", lambda n: list(SHEET.along(CURVE, n))),
    ("scatter: count", lambda n: list(SHEET.scatter(n, Chance(1)))),
    ("spun: count", SHEET.spun),
    ("ngon: sides", lambda n: ngon(n, radius=3)),
    ("star: points", lambda n: star(n, 5, 2)),
    ("resampled: count", lambda n: resampled(CURVE, n)),
    ("limited: count", lambda n: Palette(["red", "blue", "teal"]).limited(n)),
    ("Swarm: count", lambda n: Swarm.within(SHEET, n, Chance(1))),
    ("walk: count", lambda n: Chance(1).walk(SHEET, n, length=2)),
    ("field: detail", lambda n: Chance(1).field(20, detail=n)),
]


@pytest.mark.parametrize(("call", "made"), CALLS, ids=[call for call, _ in CALLS])
def test_every_count_takes_numpys_integers_and_refuses_the_same(call: str, made: Callable[[Any], Any]) -> None:
    for number in (3, np.int64(3), np.uint16(3)):
        made(number)
    for wrong in (True, 3.0, "3", -1, None, np.float64(3)):
        with pytest.raises(SketchError) as caught:
            made(wrong)
        assert caught.value.message.startswith(f"{call} must be a whole number"), wrong
        assert f"(got {wrong!r})" in caught.value.message


def test_bounds_are_told() -> None:
    assert whole("field", "detail", 8, 1, 8) == 8
    with pytest.raises(SketchError, match=r"^field: detail must be a whole number from 1 to 8 \(got 9\)$"):
        whole("field", "detail", 9, 1, 8)


@pytest.mark.parametrize("value", [float("nan"), float("inf"), -float("inf"), 10**400, "3", None, True, [1, 2], 1j])
def test_what_is_no_finite_number_is_refused(value: Any) -> None:
    assert not is_finite(value)
    for check in (finite, length, from_nothing):
        with pytest.raises(SketchError, match=r"^call: stroke width must be "):
            check("call", stroke_width=value)


def test_lengths_are_above_0_and_others_may_be_0() -> None:
    finite("call", x=-3)
    length("call", x=1e-9)
    from_nothing("call", x=0)
    with pytest.raises(SketchError, match=r"x must be a length above 0 \(got 0\)"):
        length("call", x=0)
    with pytest.raises(SketchError, match=r"x must be 0 or more \(got -1\)"):
        from_nothing("call", x=-1)


def test_one_of_takes_no_look_alike() -> None:
    one_of("call", "kind", "open", ("open", "chord"))
    for wrong in ("opne", 1, None, ["open"]):
        with pytest.raises(SketchError, match=r"^call: kind must be one of open, chord"):
            one_of("call", "kind", wrong, ("open", "chord"))
    with pytest.raises(SketchError):
        one_of("call", "bits", True, (1, 2))
