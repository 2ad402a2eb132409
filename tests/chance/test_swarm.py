from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed import Chance, Colour, Swarm, smooth
from mothseed.chance.swarm import _pieces  # ways of every kind are cut, which movers would take by rare chance
from mothseed.faults import SketchError
from mothseed.geometry.region import region_of
from mothseed.sheet import Sheet

SHEET = Sheet(60, 40, "mm", Colour(1, 1, 1))
WING = smooth([(0, 0), (38, -52), (70, -40), (44, 6)], closed=True)
ANYTHING: Any = 3
AREAS: list[Any] = [SHEET, (5.0, 5.0, 20.0), WING]
SEEDS = st.integers(0, 10**6)


def test_known_answers_never_change() -> None:
    wind = Chance(7)("wind").field(20, detail=2)
    swarm = Swarm.within(SHEET, 3, Chance(7)("moths"), edges="bounce")
    trails = swarm.trails(40, lambda swarm: swarm.along(wind, 0.3).turned(2).step(0.7), every=20)
    assert [len(piece) for piece in trails.points] == [21] * 6
    assert trails.mover.tolist() == [0, 1, 2, 0, 1, 2]
    assert trails.fraction.tolist() == [0, 0, 0, 0.5, 0.5, 0.5]
    assert [piece[-1].round(6).tolist() for piece in trails.points[3:]] == [
        [46.35242, 13.297586],
        [26.994382, 2.406679],
        [58.092304, 24.577535],
    ]


@given(SEEDS, st.sampled_from(range(3)), st.sampled_from(["stop", "bounce"]), st.floats(0.05, 6))
def test_movers_stay_inside_whatever_they_do_at_the_edge(seed: int, which: int, edges: str, length: float) -> None:
    swarm = Swarm.within(AREAS[which], 40, Chance(seed), edges=edges)
    for _ in range(30):
        swarm = swarm.step(length)
        assert region_of(AREAS[which], "test").contains(swarm.x, swarm.y).all()
        assert np.allclose(swarm.dx**2 + swarm.dy**2, 1)


@given(SEEDS, st.floats(0.1, 9))
def test_movers_that_wrap_come_in_on_the_other_side_and_their_step_with_them(seed: int, length: float) -> None:
    swarm = Swarm.within(SHEET, 30, Chance(seed), edges="wrap")
    for _ in range(20):
        before, swarm = swarm, swarm.step(length)
        assert region_of(SHEET, "test").contains(swarm.x, swarm.y).all()
        assert swarm.from_x is not None
        assert swarm.from_y is not None
        assert np.allclose(np.hypot(swarm.x - swarm.from_x, swarm.y - swarm.from_y), length)
        assert np.allclose((swarm.from_x - before.x) % 60 % 59.999999, 0, atol=1e-5)


def test_what_bounces_off_a_wall_is_a_mirror_image() -> None:
    swarm = Swarm.at([(58, 20)], SHEET, edges="bounce", heading=30).step(4)
    assert swarm.x[0] == pytest.approx(120 - (58 + 4 * np.cos(np.radians(30))))
    assert swarm.headings[0] == pytest.approx(150)
    off_a_circle = Swarm.at([(19, 0)], (0, 0, 20), edges="bounce", heading=45).step(3)
    assert off_a_circle.headings[0] == pytest.approx(135)


def test_a_mover_that_stopped_stays_and_the_others_go_on() -> None:
    swarm = Swarm.at([(59, 20), (10, 20)], SHEET)
    trails = swarm.trails(30, lambda swarm: swarm.step(0.5))
    assert [len(piece) for piece in trails.points] == [31, 3]
    assert trails.mover.tolist() == [1, 0]


def test_a_trail_is_broken_where_it_wraps() -> None:
    trails = Swarm.at([(55, 20)], SHEET, edges="wrap").trails(20, lambda swarm: swarm.step(1))
    before, after = trails.points
    assert (before[0, 0], before[-1, 0]) == (55, 60)
    assert (after[0, 0], after[-1, 0]) == (0, 15)


def test_directions_turn_as_far_as_asked() -> None:
    swarm = Swarm.at([(30, 20)], SHEET, heading=0)
    assert swarm.turned(30).headings[0] == pytest.approx(30)
    assert swarm.towards(30, 35).headings[0] == pytest.approx(90)
    assert swarm.towards(30, 35, 0.5).headings[0] == pytest.approx(45)
    assert swarm.towards(30, 35, -1).headings[0] == pytest.approx(270)
    assert swarm.towards(10, 20, 0.5).headings[0] == 0, "where both cancel out it keeps its own"
    wind = Chance(3).field(15)
    assert swarm.along(wind).headings[0] == pytest.approx(wind.heading(30.0, 20.0))
    assert swarm.headings[0] == 0, "a swarm never changes"


def test_its_trails_are_recorded_as_they_are() -> None:
    sheet = Sheet(60, 40, "mm", Colour(1, 1, 1))
    trails = Swarm.within(sheet, 5, Chance(2)).trails(6, lambda swarm: swarm.step(0.1), every=3)
    sheet.polylines(trails.points, stroke=["red"] * 10, stroke_width=0.1, opacity=trails.fraction)
    drawing = sheet.drawing()
    assert len(drawing) == 10
    assert drawing.marks["opacity"].tolist() == trails.fraction.tolist()
    for mark, piece in zip(drawing.marks, trails.points, strict=True):
        assert (drawing.outlines[mark["outline"]].points == piece).all()


@pytest.mark.parametrize(
    ("call", "words"),
    [
        (lambda: Swarm.within(SHEET, 0, Chance(1)), "count must be a whole number, 1 or more"),
        (lambda: Swarm.within(SHEET, 3, Chance(1), edges="jump"), "edges must be one of stop, bounce, wrap"),
        (lambda: Swarm.within((0, 0, 9), 3, Chance(1), edges="wrap"), "only in a rectangle"),
        (lambda: Swarm.at([(99, 0)], SHEET), "a mover starts outside"),
        (lambda: Swarm.at([(np.nan, 0)], SHEET), "not finite"),
        (lambda: Swarm.at([(9, 9)], SHEET).step(-1), "the length must be 0 or more"),
        (lambda: Swarm.at([(9, 9)], SHEET).turned(np.inf), "turned: a number is not finite"),
        (lambda: Swarm.at([(9, 9)], SHEET).turned([1, 2, 3]), "one number for all is needed, or one for each of 1"),
        (lambda: Swarm.at([(9, 9)], SHEET).step("far"), "step: one number for all"),
        (lambda: Swarm.at([(9, 9)], SHEET).towards(np.nan, 3), "towards: a number is not finite"),
        (lambda: Swarm.at([(9, 9)], SHEET).along(ANYTHING), "along: a field or a picture is needed (got 3)"),
        (lambda: Swarm.at([9, 9], SHEET), "points are pairs of numbers"),
        (lambda: Swarm.at([(9, 9)], SHEET, heading=[1, 2]), "Swarm: heading: one number for all"),
        (lambda: Swarm.at([(9, 9)], SHEET).towards(0, 0, 2), "the amount is from -1 to 1"),
        (lambda: Swarm.at([(9, 9)], SHEET).trails(0, lambda s: s), "steps must be a whole number, 1 or more"),
        (lambda: Swarm.at([(9, 9)], SHEET).trails(3, lambda s: s), "must return the swarm one step on"),
        (lambda: SHEET.polylines([[(0, 0)]], stroke="red"), "at least 2 points"),
        (lambda: SHEET.polylines([np.full((3, 2), np.nan)], stroke="red"), "not finite"),
        (lambda: SHEET.polylines([[(0, 0), (1, 1)]], stroke="red", fill="red"), "no inside"),
    ],
)
def test_what_makes_no_sense_is_refused_in_words(call: Any, words: str) -> None:
    with pytest.raises(SketchError) as caught:
        call()
    assert words in caught.value.message


def test_pieces_are_cut_where_a_mover_jumped_or_stood_still() -> None:
    random = np.random.default_rng(2)
    for steps, movers, every in ((1, 1, 1), (7, 5, 3), (12, 20, 5), (30, 8, 30)):
        ways = np.cumsum(random.normal(size=(steps + 1, movers, 2)), axis=0)
        for step, mover in zip(*np.nonzero(random.random((steps, movers)) < 0.2), strict=True):
            ways[step + 1, mover] = ways[step, mover]
        begins = ways[:-1].copy()
        jumped = random.random((steps, movers)) < 0.2
        begins[jumped] += 5.0
        trails = _pieces(ways, begins, every)
        expected = list(cut_one_by_one(ways, begins, every))
        assert [(m, f) for m, f, _ in expected] == list(zip(trails.mover.tolist(), trails.fraction.tolist(), strict=True))
        assert all(np.array_equal(line, piece) for line, (_, _, piece) in zip(trails.points, expected, strict=True))
        assert trails.x.tolist() == [float(piece[len(piece) // 2, 0]) for _, _, piece in expected]


def cut_one_by_one(ways: Any, begins: Any, every: int) -> Iterator[tuple[int, float, Any]]:
    """Mover, fraction and points of each piece, worked out step by step: whole ones first, then the broken ones."""
    steps, movers = len(begins), ways.shape[1]
    for first in range(0, steps, every):
        last = min(first + every, steps)
        runs: dict[int, list[list[Any]]] = {}
        broken = []
        for mover in range(movers):
            runs[mover] = [[]]
            for step in range(first, last):
                stood = bool((ways[step + 1, mover] == ways[step, mover]).all())
                jumped = bool((begins[step, mover] != ways[step, mover]).any())
                if (stood or jumped) and mover not in broken:
                    broken.append(mover)
                if (stood or jumped) and runs[mover][-1]:
                    runs[mover].append([])
                if stood:
                    continue
                if not runs[mover][-1]:
                    runs[mover][-1].append(begins[step, mover])
                runs[mover][-1].append(ways[step + 1, mover])
        for mover in [m for m in range(movers) if m not in broken] + broken:
            for run in runs[mover]:
                if run:
                    yield mover, first / steps, np.array(run)
