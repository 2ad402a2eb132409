"""Packed circles: none touches another or the edge, and each is as large as it may be."""

from __future__ import annotations

import math
from collections.abc import Callable
from itertools import combinations
from typing import Any

import numpy as np
import pytest

from mothseed import Chance, Outline, smooth
from mothseed.faults import SketchError
from mothseed.sheet import Sheet
from mothseed.sheet.view import Packed
from tests.reference import ink_sheet

WING = smooth([(12, 80), (20, 10), (60, 14), (90, 50), (60, 88)], closed=True)


def packed(*numbers: float, seed: int = 1, count: int = 200, **more: object) -> list[Packed]:
    call: Callable[..., list[Packed]] = ink_sheet(100, 100).packed  # type: ignore[assignment]
    return list(call(count, Chance(seed)("pack"), *numbers, **more))


def apart(one: Packed, other: Packed) -> float:
    return math.hypot(one.x - other.x, one.y - other.y) - one.radius - other.radius


@pytest.mark.parametrize("area", [None, WING, (50, 50, 30), Outline.rect(10, 10, 50, 20)])
@pytest.mark.parametrize("gap", [0, 0.7])
def test_circles_touch_neither_each_other_nor_the_edge(area: Any, gap: float) -> None:
    places = packed(0.8, 9, gap=gap, area=area)
    assert len(places) > 40
    assert min(apart(one, other) for one, other in combinations(places, 2)) >= gap - 1e-9
    for place in places:
        assert 0.8 <= place.radius <= 9
        rim = np.linspace(0, 2 * np.pi, 24)
        x, y = place.x + 0.999 * place.radius * np.cos(rim), place.y + 0.999 * place.radius * np.sin(rim)
        match area:
            case Outline():
                assert area.contains(x, y).all()
            case (cx, cy, r):
                assert (np.hypot(x - cx, y - cy) <= r).all()
            case _:
                assert ((x >= 0) & (x <= 100) & (y >= 0) & (y <= 100)).all()


def test_each_is_as_large_as_it_may_be_where_it_came() -> None:
    places = packed(0.5, 8)
    for number, place in enumerate(places):
        room = min((apart(place, other) for other in places[:number]), default=math.inf)
        edge = min(place.x, place.y, 100 - place.x, 100 - place.y) - place.radius
        assert place.radius == 8 or min(room, edge) == pytest.approx(0, abs=1e-9)


def test_sizes_follow_a_tone_and_more_go_on_from_fewer() -> None:
    places = packed(0.5, 9, size=lambda x, _y: 0.5 + x / 20, count=150)
    assert all(place.radius <= 0.5 + place.x / 20 + 1e-12 for place in places)
    again = packed(0.5, 9, size=lambda x, _y: 0.5 + x / 20, count=60)
    assert [(p.x, p.y, p.radius) for p in again] == [(p.x, p.y, p.radius) for p in places[:60]]
    assert packed(0.5, 9, seed=2)[0].x != places[0].x


def test_a_full_area_ends_it_and_a_place_is_a_view_of_its_circle() -> None:
    places = packed(20, 30, count=500)
    assert 1 <= len(places) <= 4
    place = places[0]
    assert (place.left, place.top, place.width, place.height) == (
        -place.radius,
        -place.radius,
        2 * place.radius,
        2 * place.radius,
    )
    assert [each.index for each in places] == list(range(len(places)))
    assert packed(60, 70) == []
    assert packed(1, 2, count=0) == []


@pytest.mark.parametrize(
    ("call", "message"),
    [
        (lambda s, c: s.packed(5, c, 0, 3), "smallest must be a length above 0"),
        (lambda s, c: s.packed(5, c, 4, 3), "the smallest radius is above the largest"),
        (lambda s, c: s.packed(5, c, 1, math.inf), "largest must be a length above 0"),
        (lambda s, c: s.packed(5, c, 1, 3, gap=-1), "gap must be 0 or more"),
        (lambda s, c: s.packed(-5, c, 1, 3), "count must be a whole number"),
        (lambda s, c: s.packed(5, c, 1, 3, area=7), "an area is a view"),
        (lambda s, c: s.packed(5, c, 1, 3, size=lambda x, y: math.nan), "size"),
    ],
)
def test_what_cannot_be_packed_is_told(call: Callable[[Sheet, object], list[Packed]], message: str) -> None:
    with pytest.raises(SketchError, match=message):
        list(call(ink_sheet(50, 50), Chance(1)("pack")))
