"""Pens and paths: every outline, drawn or written with each of them, is the same outline."""

from __future__ import annotations

import math
import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed import annulus, arc, ngon, smooth, star
from mothseed.formats.path_text import pdf_path, svg_path
from mothseed.geometry.chords import chords_of
from mothseed.geometry.outline import Outline, through
from mothseed.geometry.pens import RecordPen
from mothseed.geometry.verbs import CLOSE, CUBIC, LINE, MOVE

NUMBERS = st.floats(-1000, 1000).map(lambda number: round(number, 3))
POINTS = st.tuples(NUMBERS, NUMBERS)
STEPS = st.lists(POINTS, min_size=1, max_size=1) | st.lists(POINTS, min_size=3, max_size=3)
"""A line to one point, or a curve to the last of three."""
SUBPATHS = st.tuples(POINTS, st.lists(STEPS, min_size=1, max_size=5), st.booleans())


@st.composite
def outlines(draw: st.DrawFn) -> Outline:
    """Subpaths of lines and curves, open and closed."""
    verbs: list[int] = []
    points: list[tuple[float, float]] = []
    for start, steps, is_closed in draw(st.lists(SUBPATHS, min_size=1, max_size=4)):
        verbs.append(MOVE)
        points.append(start)
        for step in steps:
            verbs.append(LINE if len(step) == 1 else CUBIC)
            points += step
        verbs += [CLOSE] * is_closed
    return Outline(np.array(verbs, np.uint8), np.array(points, np.float64))


@given(outlines())
def test_what_is_recorded_is_the_outline(outline: Outline) -> None:
    pen = RecordPen()
    outline.draw(pen)
    assert pen.verbs.tolist() == outline.verbs.tolist()
    assert pen.points.tolist() == outline.points.tolist()


@given(outlines())
def test_an_svg_path_says_every_point_in_order(outline: Outline) -> None:
    path = svg_path(outline, 3)
    assert set(re.findall(r"[A-Za-z]", path)) <= set("MLCZ")
    numbers = [float(word) for word in re.findall(r"-?\d*\.?\d+", path)]
    assert numbers == pytest.approx(outline.points.ravel().tolist())
    assert path.count("M") == np.count_nonzero(outline.verbs == MOVE)
    assert path.count("Z") == np.count_nonzero(outline.verbs == CLOSE)


@given(outlines())
def test_the_operators_of_a_pdf_are_one_for_each_verb(outline: Outline) -> None:
    path = pdf_path(outline, 3)
    operators = re.findall(r"[a-z]", path)
    assert operators == ["mlch"[("MOVE", "LINE", "CUBIC", "CLOSE").index(name)] for name in named(outline)]
    numbers = [float(word) for word in re.findall(r"-?\d*\.?\d+", path)]
    assert numbers == pytest.approx(outline.points.ravel().tolist())


def named(outline: Outline) -> list[str]:
    names = {MOVE: "MOVE", LINE: "LINE", CUBIC: "CUBIC", CLOSE: "CLOSE"}
    return [names[verb] for verb in outline.verbs.tolist()]


@given(outlines())
def test_chords_begin_and_end_where_the_outline_does(outline: Outline) -> None:
    chords = chords_of(outline)
    ends, lengths = chords.steps
    assert len(chords.subpaths) == np.count_nonzero(outline.verbs == MOVE)
    assert (lengths > 0).all()
    assert np.hypot(*(ends[:, 1] - ends[:, 0]).T) == pytest.approx(lengths)
    for points, closed in chords.subpaths:
        if closed:
            assert points[-1].tolist() == points[0].tolist()
    assert np.isin(outline.points[0], chords.points).all()


@pytest.mark.parametrize(
    ("outline", "expected"),
    [
        (ngon(6, side=10), 60.0),
        (through(np.array([(0.0, 0.0), (3.0, 4.0)]), closed=False), 5.0),
        (arc(10, 0, 360), 20 * math.pi),
        (annulus(9, 4), 26 * math.pi),
        (arc(10, 30, 90), 5 * math.pi),
    ],
)
def test_chords_are_as_long_as_what_they_stand_for(outline: Outline, expected: float) -> None:
    assert chords_of(outline).steps[1].sum() == pytest.approx(expected, rel=4e-4)


def test_an_outline_of_nothing_draws_nothing() -> None:
    nothing = Outline(np.zeros(0, np.uint8), np.zeros((0, 2)))
    chords, record = chords_of(nothing), RecordPen()
    nothing.draw(record)
    assert (chords.subpaths, svg_path(nothing, 2), pdf_path(nothing, 2), len(record.verbs)) == ([], "", "", 0)
    assert chords.points.shape == (0, 2)
    assert chords.steps[0].shape == (0, 2, 2)
    assert record.points.shape == (0, 2)


@pytest.mark.parametrize("outline", [star(5, 9, 4), smooth([(0, 0), (4, 5), (9, 2)], closed=True)])
def test_letters_that_follow_themselves_are_left_out(outline: Outline) -> None:
    assert len(re.findall(r"[MLC]", svg_path(outline, 2))) <= 2, "one move, and lines or curves that go on without a letter"
