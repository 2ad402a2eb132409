"""What lies inside of what."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed import Colour, annulus, arc, ngon, smooth, star
from mothseed.faults import SketchError
from mothseed.geometry import oblique
from mothseed.geometry.flow import along_contours
from mothseed.geometry.region import region_of
from mothseed.sheet import Sheet

PLACES = st.floats(-60, 60)


@given(PLACES, PLACES)
def test_a_circle_of_curves_and_one_by_formula_hold_the_same(x: float, y: float) -> None:
    far = math.hypot(x - 4, y + 3)
    if abs(far - 20) > 0.05:  # curves are off by a thousandth of the radius
        inside = far < 20
        assert region_of((4.0, -3.0, 20.0), "test").contains(np.array([x]), np.array([y]))[0] == inside
        assert region_of(arc(20, 0, 360).moved(4, -3), "test").contains(np.array([x]), np.array([y]))[0] == inside


@given(PLACES, PLACES)
def test_a_hole_is_outside_and_overlaps_are_inside(x: float, y: float) -> None:
    far = math.hypot(x, y)
    point = np.array([x]), np.array([y])
    if min(abs(far - 30), abs(far - 12)) > 0.05:
        assert region_of(annulus(30, 12), "test").contains(*point)[0] == (12 < far < 30)
    two = ngon(4, radius=20).joined(ngon(4, radius=20).moved(10, 0))
    near_one, near_other = (20 - abs(x - shift) - abs(y) for shift in (0, 10))
    if min(abs(near_one), abs(near_other)) > 1e-6:
        assert region_of(two, "test").contains(*point)[0] == (near_one > 0 or near_other > 0)


def test_many_points_and_edges_are_looked_at_in_parts() -> None:
    shape = smooth([(math.cos(t) * (20 + t % 2), math.sin(t) * 20) for t in range(300)], closed=True)
    x, y = np.random.default_rng(2).uniform(-30, 30, (2, 3000))
    region = region_of(shape, "test")
    assert region.edges is not None
    together = region.contains(x, y)
    apart = np.concatenate([region.contains(x[i : i + 100], y[i : i + 100]) for i in range(0, 3000, 100)])
    assert (together == apart).all()


def test_the_area_of_a_star_is_that_of_the_points_inside() -> None:
    x, y = np.random.default_rng(1).uniform(-20, 20, (2, 200_000))
    share = region_of(star(5, 20, 8), "test").contains(x, y).mean()
    area = 5 * 20 * 8 * math.sin(math.radians(36))
    assert share * 1600 == pytest.approx(area, rel=0.01)


def test_a_view_is_its_own_rectangle() -> None:
    cell = list(Sheet(30, 20, "mm", Colour(1, 1, 1)).grid(3, 2))[4]
    region = region_of(cell, "test")
    assert (region.left, region.top, region.width, region.height) == (-5, -5, 10, 10)
    assert region.contains(np.array([0.0, 6.0, -5.0]), np.array([0.0, 0.0, 5.0])).tolist() == [True, False, True]


@pytest.mark.parametrize(
    ("area", "words"),
    [
        ((1, 2), "an area is a view, an outline, or a circle"),
        (None, "an area is a view"),
        ((0, 0, -3), "the radius above 0"),
        ((math.nan, 0, 3), "all finite"),
        (smooth([(0, 0), (5, 0), (9, 0)], closed=True), "its points lie on one line"),
    ],
)
def test_what_is_no_area_is_told(area: Any, words: str) -> None:
    with pytest.raises(SketchError) as caught:
        region_of(area, "point")
    assert words in f"{caught.value.message} {caught.value.hint}"


@given(st.floats(-9, 9), st.floats(-9, 9))
def test_contours_are_followed_with_the_higher_ground_to_the_left(across: float, down: float) -> None:
    flow = along_contours(np.array([across]), np.array([down]))
    dx, dy = float(flow.dx[0]), float(flow.dy[0])
    assert math.hypot(dx, dy) == pytest.approx(1)
    slope = math.hypot(across, down)
    assert dx * across + dy * down == pytest.approx(0, abs=1e-9 * max(slope, 1))
    if slope > 1e-100:
        # To the left of a heading, with y down, is the direction (dy, -dx).
        assert dy * across - dx * down >= 0


@given(PLACES, PLACES, st.floats(0, 50), st.floats(-360, 360), st.floats(0, 1))
def test_an_oblique_projection_keeps_widths_and_heights(
    x: float, y: float, height: float, angle: float, foreshortening: float
) -> None:
    foot = oblique(x, y, 0.0, angle=angle, foreshortening=foreshortening)
    head = oblique(x, y, height, angle=angle, foreshortening=foreshortening)
    assert foot[0] == head[0]
    assert foot[1] - head[1] == pytest.approx(height, abs=1e-9)
    beside = oblique(x + 3, y, 0.0, angle=angle, foreshortening=foreshortening)
    assert beside[0] - foot[0] == pytest.approx(3)
    behind = oblique(x, y + 2, 0.0, angle=angle, foreshortening=foreshortening)
    assert math.hypot(behind[0] - foot[0], behind[1] - foot[1]) == pytest.approx(2 * foreshortening, abs=1e-9)
