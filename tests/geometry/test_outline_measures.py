"""Outlines measured, cut and put together, held against exact geometry and against what they are made of, point by point."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mothseed import Outline, Trail, annulus, arc, lettering, ngon, smooth, star, trochoid
from mothseed.arrays import PointArray
from mothseed.faults import SketchError
from mothseed.geometry import places_along
from mothseed.geometry.outline import EMPTY
from mothseed.geometry.verbs import CLOSE, CUBIC, LINE, MOVE
from tests.truth import covered

SQUARE = Outline.rect(0, 0, 10, 10)
WAVE = smooth([(0, 0), (10, 8), (20, -5), (30, 3)])


def points_on(outline: Outline, count: int = 4000) -> PointArray:
    return np.array([(place.x, place.y) for place in places_along(outline, np.linspace(0, 1, count + 1))])


def area(outline: Outline) -> float:
    """By counting: what a raster of its chords covers, in tenths of a unit."""
    corners = [points_on(each, 600) for each in pieces(outline)]
    low = np.min([each.min(axis=0) for each in corners], axis=0) - 0.1
    return float(covered([(each - low) * 10 for each in corners], 420, 420).sum() / 100)


def pieces(outline: Outline) -> list[Outline]:
    return [Outline(verbs, points) for verbs, points in outline.subpaths()]


@pytest.mark.parametrize("outline", [WAVE, trochoid(5, -7, 7.1), arc(10, -60, 250), star(5, 10, 4), lettering("Owlet", 20)])
def test_bounds_are_as_tight_as_the_curves(outline: Outline) -> None:
    bounds = outline.bounds
    points = np.concatenate([points_on(each) for each in pieces(outline)])
    assert np.allclose([*points.min(axis=0), *points.max(axis=0)], bounds, atol=0.02)
    assert bounds.left <= points[:, 0].min() + 1e-12
    assert bounds.bottom >= points[:, 1].max() - 1e-12
    assert bounds.centre == pytest.approx((bounds.left + bounds.width / 2, bounds.top + bounds.height / 2))


def test_the_bounds_of_a_circle_are_its_own_to_the_last_bit() -> None:
    assert Outline.circle(3, 4, 5).bounds == (-2, -1, 8, 9)
    assert Outline.ellipse(0, 0, 4, 0.5).turned(90).bounds == pytest.approx((-0.5, -4, 0.5, 4))


@given(st.floats(0, 1), st.floats(0, 1))
@settings(max_examples=60, deadline=None)
def test_a_part_is_as_long_as_it_should_be_and_begins_and_ends_there(start: float, end: float) -> None:
    low, high = min(start, end), max(start, end)
    for outline in (WAVE, SQUARE, ngon(5, radius=8), Trail(0, 0).walk(5).bend(3, 200).outline):
        if high - low < 1e-6:
            continue
        part = outline.part(low, high)
        assert part.length == pytest.approx((high - low) * outline.length, abs=2e-3 * outline.length)
        assert np.allclose(part.at(0)[:2], outline.at(low)[:2], atol=0.02)
        assert np.allclose(part.at(1)[:2], outline.at(high)[:2], atol=0.02)


def test_a_part_keeps_its_curves_and_what_is_whole_stays_closed() -> None:
    assert WAVE.part(0.1, 0.9).verbs.tolist() == [MOVE, CUBIC, CUBIC, CUBIC]
    assert SQUARE.part(0, 1).verbs.tolist() == SQUARE.verbs.tolist()
    assert (SQUARE.part(0, 1).points == SQUARE.points).all()
    assert SQUARE.part(0, 0.5).points.tolist() == [[0, 0], [10, 0], [10, 10]]
    assert SQUARE.part(0.875, 0.125).points.tolist() == [[0, 5], [0, 0], [5, 0]]
    # A circle cut in two is two arcs, and halving a curve is exact.
    half = Outline.circle(0, 0, 10).part(0, 0.5)
    assert half.verbs.tolist() == [MOVE, CUBIC, CUBIC]
    assert half.points[-1] == pytest.approx([-10, 0])


def test_corners_have_the_headings_of_markers() -> None:
    bent = Outline.polyline([(0, 0), (10, 0), (10, 10)])
    assert [tuple(corner) for corner in bent.corners] == [(0, 0, 0), (10, 0, 45), (10, 10, 90)]
    assert [corner.heading for corner in SQUARE.corners] == [315, 45, 135, 225]
    back = Outline.polyline([(0, 0), (10, 0), (0, 0)])
    assert [corner.heading for corner in back.corners] == [0, 180, 180]
    two = bent.joined(bent.moved(20, 0))
    assert len(two.corners) == 6
    assert len(EMPTY.corners) == 0


def test_the_nearest_place_is_nearest() -> None:
    random = np.random.default_rng(2)
    points = points_on(WAVE, 20_000)
    for x, y in random.uniform(-5, 35, (40, 2)).tolist():
        place = WAVE.nearest(x, y)
        least = np.sqrt(((points - np.array([x, y])) ** 2).sum(axis=1).min())
        assert math.hypot(place.x - x, place.y - y) == pytest.approx(least, abs=0.01)
        assert WAVE.distance(x, y) == math.hypot(place.x - x, place.y - y)
    assert tuple(SQUARE.nearest(4, -3)) == (4, 0, 0)


def test_what_contains_a_point() -> None:
    assert SQUARE.contains(5, 5)
    assert not SQUARE.contains(15, 5)
    assert SQUARE.contains(np.array([1.0, 20.0]), 5).tolist() == [True, False]
    assert not annulus(10, 4).contains(0, 0)


COMBINED: list[tuple[str, Callable[[bool, bool], bool]]] = [
    ("union", lambda a, b: a or b),
    ("intersection", lambda a, b: a and b),
    ("difference", lambda a, b: a and not b),
    ("exclusion", lambda a, b: a != b),
]


@pytest.mark.parametrize(("way", "rule"), COMBINED)
def test_outlines_are_put_together_point_by_point(way: str, rule: Callable[[bool, bool], bool]) -> None:
    random = np.random.default_rng(5)
    shapes = [
        Outline.circle(14, 14, 9),
        star(6, 13, 5).moved(20, 17),
        smooth(random.uniform(2, 30, (9, 2)), closed=True),  # it crosses itself
        annulus(12, 7).moved(16, 14),
    ]
    for first in shapes:
        for second in shapes:
            if first is second:
                continue
            result = getattr(first, way)(second)
            points = random.uniform(0, 32, (60, 2))
            # Those so near an edge that chords decide are left out.
            clear = [(x, y) for x, y in points.tolist() if all(_away(each, x, y) > 0.05 for each in (first, second))]
            for x, y in clear:
                told = bool(len(result.verbs)) and result.contains(x, y)
                assert told == rule(first.contains(x, y), second.contains(x, y)), (x, y)


def test_many_are_put_together_at_once_point_by_point() -> None:
    random = np.random.default_rng(8)
    shapes = [annulus(5, 3).moved(*random.uniform(4, 28, 2)) for _ in range(6)]
    shapes += [smooth(random.uniform(2, 30, (7, 2)), closed=True), Outline.rect(3, 3, 6, 6).reversed()]
    together = Outline.united(shapes)
    x, y = random.uniform(0, 32, (2, 900))
    clear = np.array([min(shape.distance(*place) for shape in shapes) > 0.05 for place in zip(x, y, strict=True)])
    told = together.contains(x[clear], y[clear])
    assert (told == np.any([shape.contains(x[clear], y[clear]) for shape in shapes], axis=0)).all()
    assert 0.1 < told.mean() < 0.9
    one_by_one = shapes[0]
    for shape in shapes[1:]:
        one_by_one = one_by_one.union(shape)
    assert together.contains(x[clear], y[clear]).tolist() == one_by_one.contains(x[clear], y[clear]).tolist()
    assert not len(Outline.united([]).verbs)
    with pytest.raises(SketchError, match="united: an outline is needed"):
        Outline.united([3])  # type: ignore[list-item]


def _away(outline: Outline, x: float, y: float) -> float:
    place = outline.nearest(x, y)
    return math.hypot(place.x - x, place.y - y)


def test_straight_corners_come_back_to_the_bit_and_nothing_comes_of_nothing() -> None:
    third = Outline.rect(0.1, 0.3, 7.7, 1 / 3)
    assert np.allclose(sorted(third.union(third).points.tolist()), sorted(third.points.tolist()), rtol=0, atol=1e-12)
    apart = SQUARE.intersection(SQUARE.moved(20, 0))
    assert len(apart.verbs) == 0
    assert len(SQUARE.difference(Outline.rect(-1, -1, 20, 20)).verbs) == 0
    assert SQUARE.union(EMPTY).bounds == (0, 0, 10, 10)
    assert len(EMPTY.union(EMPTY).verbs) == 0
    hole = Outline.rect(0, 0, 10, 10).difference(Outline.rect(2, 2, 3, 3))
    assert (hole.contains(1, 1), hole.contains(3, 3)) == (True, False)


def test_whatever_stands_for_an_outline_can_be_put_to_one() -> None:
    corners = [(5, 5), (15, 5), (15, 15), (5, 15)]
    moved = SQUARE & SQUARE.moved(5, 5)
    for other in (corners, "M 5 5 h 10 v 10 h -10 z", Trail(5, 5).walk(10).veer(90).walk(10).veer(90).walk(10).close()):
        assert (SQUARE & other).points.tolist() == moved.points.tolist()
    assert Outline.polyline([(0, 0), (5, 0)]).continued([(5, 0), (5, 5)]).points.tolist() == [[0, 0], [5, 0], [5, 5]]
    trail = Trail(0, 0).walk(90)
    assert (lettering("moth", 6, along=trail).points == lettering("moth", 6, along=trail.outline).points).all()


@pytest.mark.parametrize("scale", [1e-300, 1e-9, 1e9, 1e200])
def test_outlines_of_any_size_are_put_together(scale: float) -> None:
    one = SQUARE.scaled(scale)
    both = one.union(one.moved(5 * scale, 0))
    assert both.bounds == pytest.approx((0, 0, 15 * scale, 10 * scale))
    assert one.grown(scale, join="miter").bounds == pytest.approx((-scale, -scale, 11 * scale, 11 * scale))


def test_operators_are_those_of_sets() -> None:
    other = SQUARE.moved(4, 4)
    for one, same in (
        (SQUARE | other, SQUARE.union(other)),
        (SQUARE & other, SQUARE.intersection(other)),
        (SQUARE - other, SQUARE.difference(other)),
        (SQUARE ^ other, SQUARE.exclusion(other)),
    ):
        assert one.points.tolist() == same.points.tolist()


def test_what_is_grown_lies_so_far_away_and_crosses_nothing() -> None:
    assert area(SQUARE.grown(2)) == pytest.approx(100 + 4 * 10 * 2 + math.pi * 4, rel=2e-3)
    assert SQUARE.grown(2, join="miter").bounds == (-2, -2, 12, 12)
    assert SQUARE.grown(-2).bounds == (2, 2, 8, 8)
    assert len(SQUARE.grown(-6).verbs) == 0
    comb = star(9, 14, 4).moved(20, 20)
    for distance in (-2.5, 1, 6):
        grown = comb.grown(distance)
        assert area(grown) == pytest.approx(area(grown.union(grown)), rel=1e-3)
    assert SQUARE.grown(0).bounds == SQUARE.bounds


def test_hatching_lies_within_at_even_distances() -> None:
    lines = annulus(10, 4).moved(20, 20).hatched(0.7, 30)
    ends = lines.points.reshape(-1, 2, 2)
    middles = ends.mean(axis=1)
    assert annulus(10, 4).moved(20, 20).contains(*middles.T).all()
    down = (middles @ [-0.5, math.sqrt(0.75)]) / 0.7
    assert np.abs(down - np.rint(down)).max() < 1e-9
    steps = ends[:, 1] - ends[:, 0]
    assert np.abs(steps @ [-0.5, math.sqrt(0.75)]).max() < 1e-9
    # The length of all lines is the area over the spacing.
    assert np.sqrt((steps**2).sum(axis=1)).sum() * 0.7 == pytest.approx(math.pi * 84, rel=0.01)
    assert len(SQUARE.hatched(100, 45).verbs) <= 2
    assert len(Outline.polyline([(0, 0), (5, 5)]).hatched(1).verbs) == 0


def test_each_second_line_of_hatching_runs_back() -> None:
    ends = Outline.rect(0, 0.5, 10, 4).hatched(1).points.reshape(-1, 2, 2)
    assert ends[:, 0, 0].tolist() == [10, 0, 10, 0]
    assert ends[:, 0, 1].tolist() == [1, 2, 3, 4]


def test_a_line_swells_as_it_is_told() -> None:
    line = Outline.polyline([(0, 0), (10, 0)])
    assert sorted(line.swelled([0, 2, 0]).points.tolist()) == [[0, 0], [0, 0], [5, -1], [5, 1], [10, 0], [10, 0]]
    assert line.swelled([2, 2]).bounds == (0, -1, 10, 1)
    ring = Outline.circle(20, 20, 10).swelled([2, 2])
    assert area(ring) == pytest.approx(math.pi * (121 - 81), rel=0.01)


def test_what_is_simplified_is_never_farther_away_than_told() -> None:
    for outline in (WAVE, Outline.circle(0, 0, 10), star(7, 9, 4)):
        for tolerance in (0.01, 0.5, 3):
            short = outline.simplified(tolerance)
            away = max(_away(short, x, y) for x, y in points_on(outline, 200).tolist())
            assert away <= tolerance * 1.001 + 1e-9
            assert set(short.verbs.tolist()) <= {MOVE, LINE, CLOSE}
    assert len(star(7, 9, 4).simplified(0.01).points) == 14
    assert len(WAVE.simplified(3).points) < len(WAVE.simplified(0.01).points)


def test_path_data_of_svg() -> None:
    assert Outline.from_svg("M0 0h10v10H0z").points.tolist() == SQUARE.points.tolist()
    assert Outline.from_svg("m 1,1 l 2 0 0 2").points.tolist() == [[1, 1], [3, 1], [3, 3]]
    round_end = Outline.from_svg("M 0 0 H 20 a 5 5 0 0 1 0 10 z")
    assert round_end.bounds == pytest.approx((0, 0, 25, 10))
    assert Outline.from_svg("M0 0 Q 5 10 10 0").verbs.tolist() == [MOVE, CUBIC]
    assert Outline.from_svg("M0 0 Q 5 10 10 0").bounds == pytest.approx((0, 0, 10, 5))


def test_one_line_goes_on_into_another() -> None:
    first, second = Outline.polyline([(0, 0), (5, 0)]), Outline.polyline([(5, 0), (5, 5)])
    assert first.continued(second).points.tolist() == [[0, 0], [5, 0], [5, 5]]
    assert first.continued(second.moved(1, 0)).verbs.tolist() == [MOVE, LINE, LINE, LINE]
    assert SQUARE.mirrored().bounds == (-10, 0, 0, 10)
    assert SQUARE.mirrored(0).bounds == (0, -10, 10, 0)


def test_letters_follow_an_outline() -> None:
    ring = Outline.circle(0, 0, 20)
    along = lettering("moth moth moth", 6, along=ring)
    away = np.sqrt((along.points**2).sum(axis=1))
    assert 17 < away.min() < 20.5 < away.max() < 27
    straight = Outline.polyline([(3, 4), (90, 4)])
    assert np.allclose(lettering("moth", 6, along=straight).points, lettering("moth", 6).moved(3, 4).points)
    middle = lettering("moth", 6, align="middle", along=straight, spacing=1)
    assert np.allclose(middle.points, lettering("moth", 6, align="middle", spacing=1).moved(46.5, 4).points)
    assert np.allclose(
        lettering("moth", 6, align="end", along=straight).points, lettering("moth", 6, align="end").moved(90, 4).points
    )


@pytest.mark.parametrize(
    ("call", "message"),
    [
        (lambda: EMPTY.bounds, "bounds: the outline is empty"),
        (lambda: EMPTY.at(0.5), "no length"),
        (lambda: WAVE.at(math.nan), "at: fraction"),
        (lambda: WAVE.part(0.5, 0.2), "the end comes after the start"),
        (lambda: WAVE.part(-1, 0.2), "fractions are from 0 to 1"),
        (lambda: EMPTY.part(0, 1), "no length"),
        (lambda: EMPTY.nearest(0, 0), "no length"),
        (lambda: WAVE.nearest(math.inf, 0), "x and y are finite"),
        (lambda: WAVE.simplified(0), "tolerance must be a length above 0"),
        (lambda: SQUARE.hatched(0), "spacing must be a length above 0"),
        (lambda: SQUARE.hatched(1e-9), "a million lines"),
        (lambda: SQUARE.hatched(1, math.inf), "turn"),
        (lambda: WAVE.swelled([1]), "two or more numbers"),
        (lambda: WAVE.swelled([1, -2]), "0 or above"),
        (lambda: WAVE.swelled("ab"), "two or more numbers"),  # type: ignore[arg-type]
        (lambda: EMPTY.swelled([1, 2]), "no length"),
        (lambda: SQUARE.grown(math.nan), "distance"),
        (lambda: SQUARE.union(7), "union: an outline is needed"),  # type: ignore[arg-type]
        (lambda: WAVE.continued("wing"), "continued: an outline is needed"),
        (lambda: lettering("moth", 3, along=5), "lettering: an outline is needed"),  # type: ignore[arg-type]
        (lambda: SQUARE.scaled(1e300).union(SQUARE), "too large"),
        (lambda: SQUARE.grown(1, join="sharp"), "join must be one of"),
        (lambda: SQUARE.continued(WAVE), "it has no end to go on from"),
        (lambda: Outline.from_svg("wing"), "not path data"),
        (lambda: Outline.from_svg("M 1"), "not path data"),
        (lambda: Outline.from_svg(""), "not path data"),
        (lambda: Outline.from_svg(7), "path data is a string"),  # type: ignore[arg-type]
        (lambda: Outline.from_svg("M nan 0 L 1 1"), "not path data"),
        (lambda: Outline.rect(0, 0, 0, 5), "width must be a length above 0"),
        (lambda: Outline.circle(0, 0, -1), "radius must be a length above 0"),
        (lambda: Outline.polygon([(0, 0), (1, 1)]), "at least 3 points"),
        (lambda: lettering("moth", 60, along=WAVE), "is 1"),
    ],
)
def test_what_cannot_be_is_told_in_words(call: Callable[[], object], message: str) -> None:
    with pytest.raises(SketchError, match=message):
        call()
