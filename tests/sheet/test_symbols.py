"""A symbol is its motif, wherever and however often it is used."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from mothseed.colour import Colour, linear_ramp
from mothseed.faults import SketchError
from mothseed.geometry import ngon
from mothseed.render import rendered
from mothseed.sheet import Drawing, Sheet, View, fingerprint, soft_shadow
from mothseed.sheet.derive import laid_over
from mothseed.sheet.extents import mark_matrices, stroke_widths
from tests.conftest import Run, WriteSketch

TURNS = np.array([0.0, 30.0, 200.0, -77.0])
SCALES = np.array([1.0, 0.4, 2.5, 1.2])
PLACES = np.array([[20.0, 30.0], [60.0, 22.0], [50.0, 55.0], [80.0, 60.0]]).T


def drawn(draw: Callable[[Sheet], Any]) -> Drawing:
    sheet = Sheet(100, 80, "mm", Colour(1, 1, 1))
    draw(sheet)
    return sheet.drawing()


def alike(first: Drawing, second: Drawing) -> None:
    """Hold all that is painted of two drawings against each other, whatever the numbers of what marks refer to."""
    assert len(first) == len(second)
    assert np.array_equal(mark_matrices(first), mark_matrices(second))
    assert np.array_equal(stroke_widths(first), stroke_widths(second))
    for name in ("kind", "place", "fill", "stroke", "opacity", "painted"):
        assert np.array_equal(first.marks[name], second.marks[name]), name
    assert np.array_equal(rendered(first, 300), rendered(second, 300))


def moth(view: View, size: float, ramp: bool = True) -> None:
    """A motif of every kind of reference: views, outlines, clips in clips, ramps, dashes, text."""
    body = linear_ramp((0, 0), (size, 0), ["#223", "#e8b44f"])
    for side in (-1, 1):
        wing = view.frame(side * size / 2, 0, turn=side * 20, scale=(1, 0.8), skew=5)
        wing.path(ngon(5, radius=size / 2), fill=body if ramp else "teal", stroke="#222", stroke_width=0.4)
        within = wing.clipped(ngon(5, radius=size / 2)).clipped(ngon(3, radius=size / 2))
        within.circle(0, 0, size / 3, fill="#fff8", blend="multiply")
    view.frame(keep_strokes=True, scale=2).line(0, -size / 4, 0, size / 4, stroke="crimson", dash=(1, 0.5))
    view.text(0, size, "moth", size / 3, fill="#445")


def views_of(sheet: Sheet) -> list[View]:
    return [
        sheet,
        sheet.frame(10, 5, turn=12, scale=0.8),
        sheet.frame(4, 2, scale=(1.2, 0.7), skew=15),
        sheet.frame(scale=2, keep_strokes=True),
        sheet.centred().mirrored(),
        sheet.centred().spun(3),
        sheet.clipped(ngon(6, radius=60)),
        sheet.layer("upper", opacity=0.6),
    ]


SEVERAL = (4, 5)
"""Which of them have several images."""


@pytest.mark.parametrize("number", range(8))
def test_a_symbol_that_is_used_is_its_motif_drawn_in_as_many_frames(number: int) -> None:
    def one_by_one(sheet: Sheet) -> None:
        symbol, view = sheet.symbol(moth, 9), views_of(sheet)[number]
        for x, y, turn, scale in zip(*PLACES.tolist(), TURNS.tolist(), SCALES.tolist(), strict=True):
            view.use(symbol, x, y, turn=turn, scale=scale)
            view.circle(x, y, 1)

    def in_frames(sheet: Sheet) -> None:
        view = views_of(sheet)[number]
        for x, y, turn, scale in zip(*PLACES.tolist(), TURNS.tolist(), SCALES.tolist(), strict=True):
            moth(view.frame(x, y, turn=turn, scale=scale), 9)
            view.circle(x, y, 1)

    first, second = drawn(one_by_one), drawn(in_frames)
    if number not in SEVERAL:
        alike(first, second)
    else:  # a motif draws each of its marks in all images, a symbol all of them in each
        assert sorted(map(tuple, mark_matrices(first).tolist())) == sorted(map(tuple, mark_matrices(second).tolist()))


def drawn_sheet() -> Sheet:
    return Sheet(100, 80, "mm", Colour(1, 1, 1))


@pytest.mark.parametrize("number", range(8))
def test_arrays_of_uses_are_as_many_uses(number: int) -> None:
    tints, fades = ["#fff", "#88f", "#f80", "#0f08"], [1.0, 0.5, 0.25, 0.0]

    def at_once(sheet: Sheet) -> None:
        symbol, view = sheet.symbol(moth, 9), views_of(sheet)[number]
        view.uses(symbol, *PLACES, turn=TURNS, scale=SCALES, tint=tints, opacity=fades)
        sheet.circle(5, 5, 2)
        view.uses(symbol, PLACES[0], 70)

    def one_by_one(sheet: Sheet) -> None:
        symbol, view = sheet.symbol(moth, 9), views_of(sheet)[number]
        for x, y, turn, scale, tint, fade in zip(*PLACES, TURNS, SCALES, tints, fades, strict=True):
            view.use(symbol, x, y, turn=turn, scale=scale, tint=tint, opacity=fade)
        sheet.circle(5, 5, 2)
        for x in PLACES[0]:
            view.use(symbol, x, 70)

    first, second = drawn(at_once), drawn(one_by_one)
    if number in SEVERAL:
        assert sorted(map(tuple, mark_matrices(first).tolist())) == sorted(map(tuple, mark_matrices(second).tolist()))
    else:
        alike(first, second)
        assert fingerprint(first) == fingerprint(second)


def test_a_symbol_may_use_others() -> None:
    def pair(view: View, draw: Callable[..., None]) -> None:
        draw(view.frame(-8, 0))
        draw(view.frame(8, 0, turn=90, scale=0.5))
        view.rect(-1, -1, 2, 2)

    def nested(sheet: Sheet) -> None:
        one = sheet.symbol(moth, 9)
        two = sheet.symbol(pair, lambda view: view.use(one))
        three = sheet.symbol(pair, lambda view: view.uses(two, [0, 3], 1, scale=0.7))
        sheet.uses(three, [30, 70], [30, 50], turn=40)

    def plain(sheet: Sheet) -> None:
        def two(view: View) -> None:
            for x in (0, 3):
                pair(view.frame(x, 1, scale=0.7), lambda inner: moth(inner, 9))

        for x, y in ((30, 30), (70, 50)):
            pair(sheet.frame(x, y, turn=40), two)

    first, second = drawn(nested), drawn(plain)
    assert np.abs(mark_matrices(first) - mark_matrices(second)).max() < 1e-6
    assert np.abs(rendered(first, 300).astype(int) - rendered(second, 300)).max() <= 1


def test_a_tint_multiplies_colours_and_ramps_and_leaves_shadows() -> None:
    def motif(view: View) -> None:
        view.rect(0, 0, 10, 10, fill=Colour(0.5, 1, 0.25, 0.5), shadow=soft_shadow(2, 1, "#408040"))
        view.circle(30, 5, 5, fill=linear_ramp((0, 0), (9, 0), [Colour(1, 1, 1), Colour(0.5, 0, 1)]), stroke=Colour(1, 0.5, 0))

    tint, fade = Colour(0.5, 0.2, 1.0, 0.5), 0.4
    drawing = drawn(lambda sheet: sheet.use(sheet.symbol(motif), 5, 5, tint=tint, opacity=fade))
    assert drawing.marks["fill"][0] == pytest.approx([0.25, 0.2, 0.25, 0.25], abs=1e-5)
    assert drawing.marks["stroke"][1] == pytest.approx([0.5, 0.1, 0, 0.5], abs=1e-5)
    assert drawing.marks["opacity"].tolist() == [fade, fade]
    shadowed, ramped = (drawing.finishes[number] for number in drawing.marks["finish"])
    assert shadowed.shadow is not None
    assert shadowed.shadow.colour.css == "#408040"
    assert ramped.fill is not None
    assert [each.css for _, each in ramped.fill.stops] == ["#8033ff80", "#4000ff80"]


def test_a_symbol_has_the_style_and_the_area_of_the_view_it_was_made_on_and_draws_from_chance_once() -> None:
    seen = []

    def motif(view: View, size: float, *, note: str) -> None:
        seen.append((view.width, view.height, size, note))
        view.circle(0, 0, size)
        view.note("drawn", note)

    sheet = drawn_sheet()
    symbol = sheet.frame(3, 4, turn=9).styled(fill="teal", opacity=0.5).symbol(motif, 2, note="once")
    for place in (1, 2, 3):
        sheet.styled(fill="red").use(symbol, place, place)
    drawing = sheet.drawing()
    assert seen == [(100, 80, 2, "once")]
    assert [(note.label, note.value) for note in sheet.notes] == [("drawn", "once")]
    assert {Colour(*fill).css for fill in drawing.marks["fill"].tolist()} == {"#008080"}
    assert set(drawing.marks["opacity"].tolist()) == {0.5}
    assert len(symbol) == 1
    assert symbol.name == "motif"


def test_uses_are_told_by_the_drawing_and_stay_with_what_becomes_of_it() -> None:
    def draw(sheet: Sheet) -> None:
        sheet.circle(1, 1, 1)
        symbol = sheet.symbol(moth, 5)
        sheet.uses(symbol, [20, 40, 60], 20)
        sheet.circle(1, 1, 1)
        sheet.use(symbol, 30, 60)

    drawing = drawn(draw)
    (uses,) = drawing.uses
    assert (uses.name, uses.firsts.tolist()) == ("moth", [1, 7, 13, 20])
    assert uses.matrices[:, 4:].tolist() == [[20, 20], [40, 20], [60, 20], [30, 60]]
    over = laid_over(drawing, drawn(draw))
    assert [each.firsts.tolist() for each in over.uses] == [[1, 7, 13, 20], [27, 33, 39, 46]]


def test_nothing_comes_of_nothing() -> None:
    def draw(sheet: Sheet) -> None:
        sheet.uses(sheet.symbol(moth, 5), [], [])
        sheet.use(sheet.symbol(lambda view: None), 5, 5)
        sheet.circle(5, 5, 5)

    assert len(drawn(draw)) == 1


@pytest.mark.parametrize(
    ("draw", "message"),
    [
        (lambda s: s.use(moth, 5, 5), "use: a symbol is needed (got moth)"),
        (lambda s: s.uses("moth", 5, 5), "uses: a symbol is needed (got str)"),
        (lambda s: s.symbol("moth"), "symbol: a motif is a function (got 'moth')"),
        (lambda s: s.symbol(lambda view: view.layer("ink").circle(0, 0, 1)), "symbol: a symbol has no layers of its own"),
        (lambda s: s.use(s.symbol(moth, 5), 1, float("nan")), "use: y is not finite (got nan)"),
        (lambda s: s.use(s.symbol(moth, 5), "1", 2), "use: x is a number (got '1')"),
        (lambda s: s.use(s.symbol(moth, 5), [1, 2], 2), "use: x is one number (got list)"),
        (lambda s: s.use(s.symbol(moth, 5), np.array([1.0, 2.0]), 2), "use: x is one number (got ndarray)"),
        (lambda s: s.use(s.symbol(moth, 5), 1, 2, scale=0), "use: scale must be above 0 (got 0)"),
        (lambda s: s.uses(s.symbol(moth, 5), [1, 2], 2, scale=[1, -2]), "uses: scale must be above 0 (got -2 at 1)"),
        (lambda s: s.uses(s.symbol(moth, 5), [1, 2], [1, 2, 3]), "uses: the arrays are of unlike length (x 2, y 3, turn 1"),
        (lambda s: s.uses(s.symbol(moth, 5), [1, 2], 1, tint=["red"]), "uses: 1 colours of tint for 2 shapes"),
        (lambda s: s.uses(s.symbol(moth, 5), [1, 2], 1, opacity=[0.5, 2]), "uses: opacity must be 0 or more, and at most 1"),
        (lambda s: s.use(s.symbol(moth, 5), 1, 2, tint="no colour"), "no colour"),
    ],
)
def test_what_cannot_be_used_is_told(draw: Callable[[Sheet], Any], message: str) -> None:
    with pytest.raises(SketchError) as fault:
        drawn(draw)
    assert message in fault.value.message


SKETCH = """
    from mothseed import artwork, dial


    def moth(view, size):
        view.circle(0, 0, size * 0.3)
        for side in (-1, 1):
            view.ellipse(side * size, 0, size, size * 0.5, fill="teal")


    @artwork(width=100, height=100)
    def plate(sheet, chance, *, lean=dial(0, 0, 90), count=dial(4, 1, 5)):
        sheet.circle(50, 90, 2)
        symbol = sheet.symbol(moth, 4)
        for index in range(count):
            sheet.use(symbol, 10 + 17 * index, 20, turn=lean if index < 2 else 0)
        sheet.uses(symbol, [20, 60], 60)
"""


def test_a_mark_of_a_symbol_is_told_by_the_line_in_its_motif_and_where_it_is_used(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(SKETCH, "plate.py")
    rows = list(csv.DictReader(io.StringIO(run("trace", "plate.py", "--marks", "--csv").out)))
    assert [(row["symbol"], row["use"]) for row in rows] == [("", "")] + [("moth", str(1 + n // 3)) for n in range(18)]
    lines = [(row["line"], row["called_from"], row["turns"]) for row in rows]
    assert lines[0] == ("plate.py:12", "", "")
    assert lines[4] == ("plate.py:5", "plate.py:15", "index=1")
    assert lines[6] == ("plate.py:7", "plate.py:15", "index=1, side=1")
    assert lines[16:] == [("plate.py:5", "plate.py:16", ""), ("plate.py:7", "plate.py:16", "side=-1"),
                          ("plate.py:7", "plate.py:16", "side=1")]  # fmt: skip
    answer = run("trace", "plate.py", "--at", "60,60")
    assert "mark 17, a circle about 60.00, 60.00, of use 6 of symbol moth" in answer.out


def test_a_comparison_tells_in_how_many_uses_something_changed(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(SKETCH, "plate.py")
    assert "4 turned: plate.py:7; 2 uses of moth\n" in run("compare", "plate.py", "--but", "lean=20").out
    shapes = json.loads(run("compare", "plate.py", "--but", "count=5", "--json").out)["shapes"]
    assert (shapes["same"], shapes["added"]["count"], shapes["added"]["uses"]) == (19, 3, {"moth": 1})
    assert shapes["moved"]["uses"] == {}


def test_a_symbol_that_is_picked_is_told_by_its_name(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch("""\
from mothseed import artwork


def owl(view):
    view.circle(0, 0, 4)


def hawk(view):
    view.rect(0, 0, 4, 4)


@artwork(width=100, height=100)
def plate(sheet, chance):
    drawn = chance.pick({sheet.symbol(owl): 3, sheet.symbol(hawk): 1}, label="moth")
    sheet.use(drawn, 50, 50)
""")
    assert run("edition", "spots.py", "--seeds", "1-8", "-o", "moths").status == 0
    (moth,) = json.loads(run("tally", "moths", "--json").out)["outcomes"]
    assert {row["value"] for row in moth["counts"]} == {"owl", "hawk"}
    assert json.loads(run("trace", "spots.py", "--draws", "--json").out)[0]["value"] in {"owl", "hawk"}
