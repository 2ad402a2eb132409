"""Arrays that turn are what as many single calls draw."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from mothseed.colour import Colour, linear_ramp
from mothseed.faults import SketchError
from mothseed.geometry import ngon
from mothseed.render import rendered
from mothseed.sheet import Drawing, Sheet, View, fingerprint
from mothseed.sheet.extents import mark_matrices
from tests.places import DEMO


def drawn(draw: Callable[[Any], Any]) -> Drawing:
    sheet = Sheet(100, 80, "mm", Colour(1, 1, 1))
    draw(sheet)
    return sheet.drawing()


NUMBERS = np.random.default_rng(4).uniform(-40, 80, (4, 30))
SIZES = np.random.default_rng(5).uniform(0.5, 20, (2, 30))
TINTS = np.random.default_rng(6).uniform(0, 1, (30, 3))
COLOURS = [Colour(*tint) for tint in TINTS.tolist()]


def views_of(sheet: Sheet) -> list[View]:
    """Views that move, turn, enlarge, skew, mirror and clip what is drawn on them."""
    frame = sheet.frame(20, 30, turn=25, scale=(1.5, 0.7), skew=10)
    return [
        sheet,
        frame,
        *sheet.ring(5, 12),
        sheet.mirrored(),
        sheet.frame(scale=3, keep_strokes=True),
        sheet.clipped(ngon(5, radius=30)),
    ]


@pytest.mark.parametrize("number", range(10))
def test_arrays_that_turn_are_what_as_many_single_calls_draw(number: int) -> None:
    x, y, turns, _ = NUMBERS
    wide, high = SIZES
    paint: Any = {"stroke": "navy", "stroke_width": 0.7, "opacity": 0.5}

    def at_once(sheet: Sheet) -> None:
        view = views_of(sheet)[number]
        view.ellipses(x, y, wide, high, turn=turns * 9, fill=TINTS, **paint)
        view.rects(x, y, wide, 7, turn=turns, fill=TINTS, **paint)
        view.ngons(x, y, 5, high, turn=turns, fill=TINTS, **paint)
        view.ngons(x, 3, 6, 4, fill="teal")
        view.stars(x, y, 7, wide, high, turn=turns, fill=TINTS, **paint)
        view.frame(1, 2).circle(3, 4, 5)

    def one_by_one(sheet: Sheet) -> None:
        view = views_of(sheet)[number]
        for a, b, u, v, turn, tint in zip(x, y, wide, high, turns, COLOURS, strict=True):
            view.frame(a, b, turn=turn * 9).ellipse(0, 0, u, v, fill=tint, **paint)
        for a, b, u, turn, tint in zip(x, y, wide, turns, COLOURS, strict=True):
            view.frame(a + u / 2, b + 3.5, turn=turn).rect(-u / 2, -3.5, u, 7, fill=tint, **paint)
        for a, b, v, turn, tint in zip(x, y, high, turns, COLOURS, strict=True):
            view.ngon(a, b, 5, v, turn=turn, fill=tint, **paint)
        for a in x:
            view.ngon(a, 3, 6, 4, fill="teal")
        for a, b, u, v, turn, tint in zip(x, y, wide, high, turns, COLOURS, strict=True):
            view.star(a, b, 7, u, v, turn=turn, fill=tint, **paint)
        view.frame(1, 2).circle(3, 4, 5)

    once = drawn(at_once)
    if number == 7:  # mirrored: as many again, each the other's mirror image
        assert len(once) == 2 * (5 * 30 + 1)
        centres = mark_matrices(once)[:60, 4]
        assert np.allclose(centres[:30] + centres[30:], 0.0)
    else:
        assert fingerprint(once) == fingerprint(drawn(one_by_one))


def test_an_array_that_turns_paints_a_ramp_in_each_shapes_own_frame() -> None:
    ramp = linear_ramp((-5, 0), (5, 0), ["red", "blue"])
    once = drawn(lambda sheet: sheet.rects([10, 40], 20, 10, 4, turn=[30, 200], fill=ramp))

    def one_by_one(sheet: Sheet) -> None:
        for x, turn in ((15, 30), (45, 200)):
            sheet.frame(x, 22, turn=turn).rect(-5, -2, 10, 4, fill=ramp)

    assert np.array_equal(rendered(once, 200), rendered(drawn(one_by_one), 200))


@pytest.mark.parametrize(
    ("draw", "told"),
    [
        (lambda v: v.ellipses(1, 2, 3, 4, turn=[1, math.nan]), "ellipses: turn is not finite at 1"),
        (
            lambda v: v.rects([1, 2], 2, 3, 4, turn=[1, 2, 3]),
            "rects: the arrays are of unlike length (x 2, y 1, width 1, height 1, turn 3)",
        ),
        (lambda v: v.rects(1, 2, [3, -1], 4, turn=5), "rects: width must be 0 or more (got -1 at 1)"),
        (lambda v: v.ngons(1, 2, 2, 3), "ngon: sides must be a whole number, 3 or more"),
        (lambda v: v.ngons([1, 2], 2, 5, [3, 0]), "ngons: radius must be above 0 (got 0 at 1)"),
        (lambda v: v.stars(1, 2, 5, 3, [1, -2]), "stars: inner must be above 0 (got -2 at 1)"),
        (lambda v: v.stars(1, 2, 5, 3, 1, turn="x"), "stars: turn is a number or an array of numbers"),
    ],
)
def test_arrays_that_cannot_turn_are_told_and_draw_nothing(draw: Callable[[View], object], told: str) -> None:
    sheet = Sheet(100, 80, "mm", Colour(1, 1, 1))
    with pytest.raises(SketchError, match=re.escape(told)):
        draw(sheet)
    assert len(sheet.drawing()) == 0


@pytest.mark.parametrize("number", range(10))
def test_arrays_of_stamps_and_texts_are_what_as_many_single_calls_draw(number: int) -> None:
    x, y, turns, _ = NUMBERS
    wide, high = SIZES
    words = ["moth", "owlet", " "] * 10
    faces: Any = {"italic": True, "align": "middle", "fill": "navy"}

    def at_once(sheet: Sheet) -> None:
        view, picture = views_of(sheet)[number], sheet.picture(DEMO / "dusk.png")
        view.stamps(x, y, picture, wide, turn=turns, tint=TINTS, opacity=np.linspace(0, 1, 30))
        view.stamps(x, y, picture, height=high)
        view.stamps(x, y, picture.tinted("teal"), 5, 3, stroke="navy")
        view.texts(x, y, words, wide, turn=turns, **faces)
        view.texts(x, 4, "same", 6, stroke="#222", opacity=np.linspace(0, 1, 30))

    def one_by_one(sheet: Sheet) -> None:
        view, picture = views_of(sheet)[number], sheet.picture(DEMO / "dusk.png")
        for n in range(30):
            view.stamp(x[n], y[n], picture, wide[n], turn=turns[n], tint=COLOURS[n], opacity=n / 29)
        for n in range(30):
            view.stamp(x[n], y[n], picture, height=high[n])
        for n in range(30):
            view.stamp(x[n], y[n], picture.tinted("teal"), 5, 3, stroke="navy")
        for n in range(30):
            view.frame(x[n], y[n], turn=turns[n]).text(0, 0, words[n], wide[n], **faces)
        for n in range(30):
            view.text(x[n], 4, "same", 6, stroke="#222", opacity=n / 29)

    first, second = drawn(at_once), drawn(one_by_one)
    if len(views_of(Sheet(100, 80, "mm", Colour(1, 1, 1)))[number]._images) == 1:  # several images come in another order
        difference = rendered(first, 300).astype(int) - rendered(second, 300)
        assert np.abs(difference).max() <= 1
        assert len(first) == len(second)


def test_the_same_text_is_one_outline_however_often_it_is_drawn() -> None:
    drawing = drawn(lambda sheet: sheet.texts(*NUMBERS[:2], ["moth", "owlet", "moth"] * 10, 5, turn=NUMBERS[2]))
    assert (len(drawing), len(drawing.outlines)) == (30, 2)


def test_stamps_and_texts_that_cannot_be_are_told() -> None:
    def told(draw: Callable[[Any], Any]) -> str:
        with pytest.raises(SketchError) as fault:
            drawn(draw)
        return fault.value.message

    dusk = DEMO / "dusk.png"
    assert told(lambda s: s.stamps([1], 1, "dusk.png")) == "stamps: a picture is needed (got str)"
    assert told(lambda s: s.stamps([1, 2], 1, s.picture(dusk), [3, 0])) == "stamps: width must be above 0 (got 0 at 1)"
    assert told(lambda s: s.stamps([1, 2], 1, s.picture(dusk), [3, 4, 5])).startswith("stamps: the arrays are of unlike length")
    assert told(lambda s: s.stamps([1, 2], 1, s.picture(dusk), tint=["red"] * 3)) == "stamps: 3 colours of tint for 2 shapes"
    assert told(lambda s: s.texts([1, 2], 1, ["a", "b", "c"], 5)).startswith("texts: the arrays are of unlike length")
    assert told(lambda s: s.texts([1, 2], 1, [3, "b"], 5)) == "text: the text is a string (got 3)"
    assert told(lambda s: s.texts([1, 2], 1, "a", [5, -1])) == "text: size must be a length above 0 (got -1.0)"


def test_no_stamps_and_no_texts_are_nothing() -> None:
    sheet = Sheet(100, 80, "mm", Colour(1, 1, 1))
    sheet.texts([], [], "a", 5)
    sheet.texts(1, 1, " ", 4)
    sheet.stamps([], [], sheet.picture(DEMO / "dusk.png"))
    assert len(sheet.drawing()) == 0


@pytest.mark.parametrize(
    "view_paint", [{}, {"fill": None, "stroke": "teal"}, {"fill": linear_ramp((0, 0), (9, 9), ["red", "navy"])}]
)
@pytest.mark.parametrize("name", ["fill", "stroke"])
def test_hundreds_of_colours_are_recorded_one_by_one_as_they_are_at_once(view_paint: Any, name: str) -> None:
    colours = [Colour(*tint) for tint in np.random.default_rng(7).uniform(0, 1, (600, 4)).tolist()]
    places = np.random.default_rng(8).uniform(0, 80, (3, 600))

    def one_by_one(sheet: Sheet) -> None:
        view = sheet.styled(**view_paint)
        for (x, y, radius), colour in zip(places.T.tolist(), colours, strict=True):
            paint: Any = {name: colour}
            view.circle(x, y, radius, **paint)

    recorded = drawn(one_by_one)
    at_once = drawn(lambda sheet: sheet.styled(**view_paint).circles(*places, **{name: colours}))
    assert fingerprint(recorded) == fingerprint(at_once)
    assert np.array_equal(rendered(recorded, 200), rendered(at_once, 200))
