"""Every mark has a reason: lines, draws, what lies at a point."""

from __future__ import annotations

import csv
import io
import json
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.chance import Chance
from mothseed.chance.telling import DISTRIBUTIONS, TracedChance
from mothseed.colour import Colour
from mothseed.geometry import ngon
from mothseed.render import rendered
from mothseed.render.at import colour_at, lying_at
from mothseed.sheet import Drawing, Sheet, fingerprint, soft_shadow
from mothseed.sheet.derive import trimmed
from mothseed.sheet.extents import mark_boxes
from mothseed.sketch import load_sketch, perform
from mothseed.sketch.loops import in_words
from tests.conftest import Run, WriteSketch, pixels_of
from tests.recipes import recipe

SKETCH = """
    from mothseed import artwork, dial


    def moth(view, own):
        view.circle(0, 0, own.between(4, 6), fill=own.pick(["teal", "red"]))
        view.circle(0, 0, 2, fill="black", opacity=0.5)


    @artwork(width=60, height=40, paper="white")
    def plate(sheet, chance, *, count=dial(3)):
        sheet.rect(0, 30, 60, 10, fill="grey")
        for index in range(count):
            moth(sheet.frame(10 + 20 * index, 15), chance("moth", index))
        chance.odds(0.5, label="rare")
"""


def test_a_traced_performance_draws_the_same(write_sketch: WriteSketch) -> None:
    sketch = load_sketch(write_sketch(SKETCH, "plate.py"))
    for seed in range(5):
        plain, traced = perform(sketch, recipe(seed)), perform(sketch, recipe(seed), tracing=True)
        assert fingerprint(plain.drawing) == fingerprint(traced.drawing)
        assert plain.outcomes == traced.outcomes


def test_every_distribution_is_told_once_with_what_came() -> None:
    told: list[tuple[Any, ...]] = []
    traced = TracedChance(7, {"tint": 3}, lambda *draw: told.append(draw))
    plain = Chance(7, {"tint": 3})
    calls: dict[str, tuple[Any, ...]] = {
        "between": (0, 1), "whole": (1, 6), "odds": (0.5,), "bell": (0, 1), "triangular": (0, 1), "skewed": (0, 1, 2),
        "jittered": (5, 1), "turn": (), "pick": (["a", "b"],), "several": (["a", "b", "c"], 2), "shuffled": ([1, 2, 3],),
        "point": ((0, 0, 9),), "walk": ((0, 0, 9), 4, 1), "field": (), "colour": (), "colour_near": ("red",),
    }  # fmt: skip
    assert set(calls) == set(DISTRIBUTIONS)
    for name, arguments in calls.items():
        one, other = (getattr(chance("tint", 4), name)(*arguments) for chance in (traced, plain))
        if name != "field":
            assert np.array_equal(np.array(one, object), np.array(other, object)), name
        names, distribution, value = told[-1]
        assert (names, distribution) == (("tint", 4), name)
        assert value is one
    assert len(told) == len(calls)
    with pytest.raises(Exception, match="between"):
        traced.between(2, 1)
    traced.between(1, 2)
    assert told[-1][1] == "between", "after a fault draws are told again"


@given(st.integers(0, 10_000))
def test_boxes_hold_all_that_is_painted(seed: int) -> None:
    chance = Chance(seed)
    sheet = Sheet(60, 60, "mm", Colour(1, 1, 1))
    view = sheet.frame(30, 30, turn=chance.turn(), scale=chance.between(0.4, 1.5))
    paint: dict[str, Any] = {"stroke": "black", "stroke_width": chance.between(0, 3), "fill": chance.pick(["red", None])}
    if chance.odds(0.5):
        paint["shadow"] = soft_shadow(chance.between(0, 4), chance.between(0, 3), opacity=1)
    match chance.whole(0, 4):
        case 0:
            view.ellipse(3, 2, chance.between(1, 9), 3, **paint)
        case 1:
            view.rect(-5, 2, 9, chance.between(1, 9), **paint)
        case 2:
            view.line(-5, 2, 9, 4, **{name: value for name, value in paint.items() if name != "fill"})
        case 3:
            view.ngon(0, 0, chance.whole(3, 5), chance.between(3, 9), **paint)
        case _:
            view.arc(0, 0, 8, 10, 200, **{**paint, "fill": None})
    drawing = sheet.drawing()
    left, top, right, bottom = mark_boxes(drawing)[0] * 4
    rows, columns = np.nonzero((rendered(drawing, 240) < 255).any(axis=2))
    if len(rows):
        assert left <= columns.min() + 1
        assert top <= rows.min() + 1
        assert right >= columns.max()
        assert bottom >= rows.max()


def layered() -> Drawing:
    sheet = Sheet(40, 30, "mm", Colour.parse("#f4efe4"))
    sheet.circle(20, 15, 10, fill="teal")
    sheet.rect(25, 0, 15, 30, fill="red")
    veil = sheet.layer("veil", opacity=0.5)
    veil.rect(0, 0, 40, 10, fill="black")
    sheet.clipped(ngon(4, radius=4).moved(20, 15)).circle(20, 15, 30, fill="gold", opacity=0.4)
    return sheet.drawing()


@pytest.mark.parametrize(
    ("point", "marks", "hidden"),
    [((20, 15), [3, 0], []), ((15, 20), [0], []), ((28, 15), [1, 0], [0]), ((5, 5), [2], []), ((5, 20), [], [])],
)
def test_what_lies_at_a_point_is_told_from_top_to_bottom(
    point: tuple[float, float], marks: list[int], hidden: list[int]
) -> None:
    drawing = layered()
    found = lying_at(drawing, *point, 0.05)
    assert [each.mark for each in found] == marks
    assert [each.mark for each in found if each.hidden] == hidden
    pixel = rendered(drawing, 400)[int(point[1] * 10), int(point[0] * 10)]
    assert np.abs(np.array(colour_at(drawing, *point, 0.05)[:3]) * 255 - pixel).max() <= 1
    if marks == [2]:
        assert found[0].colour.alpha == pytest.approx(0.5, abs=0.01), "with the opacity of its layer"


# The command


def test_a_point_is_explained_with_its_lines_and_draws(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(SKETCH, "plate.py")
    answer = run("trace", "plate.py", "--seed", "4", "--at", "30,15")
    assert answer.status == 0
    lines = answer.out.splitlines()
    assert lines[0].startswith("at 30, 15: #")
    assert "mark 5, a circle about 30.00, 15.00: paints #00000080" in lines
    assert '  plate.py:6, called from plate.py:13: view.circle(0, 0, 2, fill="black", opacity=0.5)' in lines
    assert "    there at all: dial count (3)" in lines
    report = json.loads(run("trace", "plate.py", "--at", "300px,350px", "--json").out)
    assert (report["x"], report["y"]) == pytest.approx((18.03, 21.03))
    run("proof", "plate.py", "--seed", "4", "--width", "300px", "-o", "p.png")
    explained = json.loads(run("trace", "p.png", "--sketch", "plate.py", "--at", "150px,75px", "--json").out)
    assert [mark["mark"] for mark in explained["marks"]] == [5, 4]
    assert explained["marks"][1]["causes"]["fill"][0]["stream"] == "moth/1"
    assert run("trace", "plate.py", "--at", "1,1").out == "at 1, 1: #ffffff, bare paper\n"


def test_a_ramp_as_paper_is_told_as_the_paper_and_depends_on_nothing(run: Run, write_sketch: WriteSketch) -> None:
    ramp = "linear_ramp((0, 0), (0, 40), ['#102030', '#405060'])"
    write_sketch(SKETCH.replace('"white"', ramp).replace("import artwork", "import linear_ramp, artwork"), "plate.py")
    told = run("trace", "plate.py", "--at", "10,15").out
    assert "there at all: dial count (3)" in told, "of the circle there"
    paper = told[told.index("mark 1, ") :].splitlines()
    assert paper[0].startswith("mark 1, the paper: paints #")
    assert paper[1:] == ["  fill a ramp", "    the same whatever the seed and the dials"]


def test_marks_and_draws_are_tables(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(SKETCH, "plate.py")
    marks = list(csv.DictReader(io.StringIO(run("trace", "plate.py", "--marks", "--csv").out)))
    assert len(marks) == 7
    assert (marks[1]["kind"], marks[1]["x"], marks[1]["line"], marks[1]["called_from"]) == (
        "circle",
        "10.0",
        "plate.py:5",
        "plate.py:13",
    )
    assert [mark["turns"] for mark in marks] == ["", *["index=0"] * 2, *["index=1"] * 2, *["index=2"] * 2]
    draws = json.loads(run("trace", "plate.py", "--draws", "--json").out)
    assert [draw["distribution"] for draw in draws] == ["between", "pick"] * 3 + ["odds"]
    summary = json.loads(run("trace", "plate.py", "--json", "--set", "count=5").out)
    assert (summary["marks"], summary["draws"]) == (11, 11)
    assert [(row["line"], row["marks"], row["kinds"]) for row in summary["lines"]] == [
        ("plate.py:11", 1, "1 rect"), ("plate.py:5", 5, "5 circle"), ("plate.py:6", 5, "5 circle"),
    ]  # fmt: skip
    assert summary["streams"][0] == {
        "stream": "moth", "branches": 5, "draws": 10, "distributions": "5 between, 5 pick", "lines": "plate.py:5",
    }  # fmt: skip
    out = run("trace", "plate.py").out
    assert "7 marks, 7 draws" in out
    assert "(the first)" in out


def test_what_a_line_drew_is_marked_on_the_picture(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(SKETCH, "plate.py")
    assert (
        run("trace", "plate.py", "--around", "6", "-o", "line.png").out
        == "line.png  3 marks of line 6\n    there at all: dial count (3)\n"
    )
    picture = pixels_of("line.png").astype(int)
    red = (picture[..., 0] - picture[..., 1]) > 60
    rows, columns = np.nonzero(red)
    assert 200 <= rows.min() <= rows.max() <= 300, "about the middles of the moths"
    assert {round(column / 333 - 0.5) for column in columns} == {0, 1, 2}
    assert run("trace", "plate.py", "--around", "plate.py:13", "--json").status == 0
    answer = run("trace", "plate.py", "--around", "14")
    assert answer.status == 2
    assert "lines that drew are plate.py:11, plate.py:5, plate.py:6" in answer.err


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["plate.py", "--at", "3"], "that is no point"),
        (["plate.py", "--at", "3,4px"], "one is in pixels and one is not"),
        (["plate.py", "--at", "90,5"], "that is not on the sheet, which is 60 x 40 mm"),
        (["plate.py", "--at", "nan,5"], "that is no point"),
        (["plate.py", "--marks", "--draws"], "not allowed with"),
        (["plain.png"], "cannot be traced: plain.png carries no history"),
        (["plain.png", "--seed", "3"], "a picture has its own seed and dials"),
    ],
)
def test_what_cannot_be_traced_is_told(run: Run, write_sketch: WriteSketch, words: list[str], message: str) -> None:
    from PIL import Image

    write_sketch(SKETCH, "plate.py")
    Image.new("RGB", (6, 4)).save("plain.png")
    answer = run("trace", *words)
    assert answer.status == 2
    assert message in answer.err


def test_a_sketch_that_draws_nothing_has_nothing_to_tell(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch("""
        from mothseed import artwork

        @artwork(width=9, height=9)
        def bare(sheet, chance):
            pass
    """, "bare.py")  # fmt: skip
    assert run("trace", "bare.py").out == "0 marks, 0 draws\n"
    assert run("trace", "bare.py", "--marks", "--csv").out == ""
    assert run("trace", "bare.py", "--at", "1,1").status == 0


def test_the_turns_of_loops_are_told_the_outermost_first(write_sketch: WriteSketch) -> None:
    sketch = write_sketch("""
        import numpy as np
        from mothseed import Colour, artwork


        def row(view, tints):
            for name, tint in tints.items():
                view.circle(1, 1, 1, fill=tint)


        @artwork(width=60, height=40)
        def plate(sheet, chance):
            for number in np.arange(2):
                for cell in sheet.grid(2, 1):
                    cell.circle(0, 0, 1)
            row(sheet, {"a name that is much longer than anybody reads": Colour(1, 0, 0)})
            [sheet.circle(3, 3, x) for x in (0.123456789, True) for y in ("low", None)]
            for _ in range(1):
                sheet.circle(5, 5, 1)
            number = 0
            while number < 1:
                sheet.circle(6, 6, 1)
                number += 1
    """, "plate.py")  # fmt: skip
    origins = perform(load_sketch(sketch), recipe(1), tracing=True).origins
    assert origins is not None
    assert [in_words(turns) for turns in origins.turns[:4]] == [
        f"number={number}, cell={cell}" for number in (0, 1) for cell in (0, 1)
    ]
    assert in_words(origins.turns[4]) == "name=a name that is much long, tint=#ff0000"
    assert [in_words(turns) for turns in origins.turns[5:9]] == ["x=0.123457, y=low", "x=0.123457", "x=True, y=low", "x=True"]
    assert in_words(origins.turns[9]) == "_=0"
    assert in_words(origins.turns[10]) == "", "a while loop sets no name"


def test_the_box_of_the_last_outline_does_not_reach_to_the_origin() -> None:
    sheet = Sheet(60, 60, "mm", Colour(1, 1, 1))
    sheet.polygon([(40, 40), (50, 40), (45, 50)], fill="red")
    assert mark_boxes(sheet.drawing()).tolist() == [[40, 40, 50, 50]]
    sheet.polygon([(20, 30), (30, 30), (25, 35)], fill="red")
    assert mark_boxes(trimmed(sheet.drawing().part(np.array([1])))).tolist() == [[20, 30, 30, 35]]
