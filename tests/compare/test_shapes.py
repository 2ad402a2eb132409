"""What changed from one drawing to another, shape by shape."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image

from mothseed.colour import Colour
from mothseed.compare import CHANGES, ShapeChanges, shape_changes
from mothseed.geometry.outline import Outline, through
from mothseed.report.change_map import CHANGE_COLOURS, changed_picture
from mothseed.sheet import Sheet
from mothseed.sheet.form_hash import shape_words
from mothseed.sketch import load_sketch, perform
from tests.conftest import Run, WriteSketch, pixels_of
from tests.recipes import recipe

HEAD = """
    from mothseed import artwork, dial, ngon, smooth, soft_shadow, linear_ramp

    def wing(view, tint, size=9):
        view.path(smooth([(0, 0), (size, -size), (size * 2, 0)], closed=True), fill=tint)

    @artwork(width=100, height=100)
    def plate(sheet, chance, *, on=dial(False), count=dial(6)):
        for index in range(count):
            sheet.rect(10 * index, 80, 6, 6, fill="teal" if index != 3 else "red")
        wing(sheet.frame(50, 40), "grey")
"""


def changes_of(write_sketch: WriteSketch, lines: str, first: dict[str, Any], second: dict[str, Any]) -> ShapeChanges:
    text = HEAD + "".join(f"        {line}\n" for line in lines.splitlines())
    sketch = load_sketch(write_sketch(text, "plate.py"))
    return shape_changes(*(perform(sketch, recipe(**dials), tracing=True) for dials in (first, second)))


def turned_on(write_sketch: WriteSketch, lines: str) -> dict[str, int]:
    changes = changes_of(write_sketch, lines, {}, {"on": True})
    assert len(changes.same) == 7, "what the dial does not touch stays"
    return {name: count for name, count in changes.counts.items() if count}


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        ("sheet.circle(30 + 5 * on, 30, 6)", {"moved": 1}),
        ("sheet.circle(30, 30, 6 + on)", {"resized": 1}),
        ("sheet.ellipse(30, 30, 6, 4 + on)", {"resized": 1}),
        ("sheet.circle(30, 30, 6, fill='red' if on else 'blue')", {"recoloured": 1}),
        ("sheet.circle(30, 30, 6, fill=None if on else 'blue', stroke='red')", {"recoloured": 1, "restyled": 1}),
        ("sheet.circle(30, 30, 6, opacity=0.5 + on / 4)", {"restyled": 1}),
        ("sheet.line(3, 3, 50, 9, stroke='red', stroke_width=1 + on)", {"restyled": 1}),
        ("sheet.line(3, 3, 50, 9, stroke='red', dash=(2, 2) if on else None)", {"restyled": 1}),
        ("sheet.circle(30, 30, 6, shadow=soft_shadow(1, 2) if on else None)", {"restyled": 1}),
        ("sheet.circle(30, 30, 6, fill=linear_ramp((0, 0), (9, 0), ['red', 'blue' if on else 'teal']))", {"recoloured": 1}),
        ("(sheet.layer('veil', opacity=0.5) if on else sheet).circle(30, 30, 6)", {"restyled": 1}),
        ("sheet.frame(30, 30, turn=20 * on).rect(-5, -3, 10, 6)", {"turned": 1}),
        ("sheet.frame(30, 30, turn=180 * on).rect(-5, -3, 10, 6)", {}),
        ("sheet.frame(30, 30, turn=20 * on).circle(0, 0, 6)", {}),
        ("sheet.frame(30, 30, turn=180 * on).path(ngon(3, radius=9))", {"turned": 1}),
        ("sheet.frame(30, 30, turn=10 * on, scale=1 + on).path(ngon(5, radius=9))", {"turned": 1, "resized": 1}),
        ("wing(sheet.frame(30, 30), 'red', 9 + on)", {"moved": 1, "resized": 1}),
        ("sheet.polygon([(0, 0), (9, 0), (9 + 6 * on, 9)])", {"moved": 1, "reshaped": 1}),
        ("sheet.polygon([(0, 0), (9, 0), (9, 9)] + [(0, 9)] * on)", {"moved": 1, "reshaped": 1}),
        ("sheet.circle(30, 30, 6) if on else None", {"added": 1}),
        ("None if on else sheet.circle(30, 30, 6)", {"removed": 1}),
        ("sheet.rect(3, 3, 5, 5) if on else sheet.circle(5, 5, 3)", {"added": 1, "removed": 1}),
        ("sheet.circle(30 + on / 100, 30, 6)", {}),
    ],
)
def test_each_kind_of_change_is_told(write_sketch: WriteSketch, line: str, expected: dict[str, int]) -> None:
    told = turned_on(write_sketch, line) if expected else changes_of(write_sketch, line, {}, {"on": True}).counts
    assert {name: count for name, count in told.items() if count} == expected


def test_what_was_left_out_in_the_middle_is_removed_and_moves_nothing(write_sketch: WriteSketch) -> None:
    line = """
for index in range(40):
    if not (on and index == 17): sheet.circle(2 * index, index * index % 37, 1 + index % 3, fill="teal")
"""
    changes = changes_of(write_sketch, line.strip(), {}, {"on": True})
    assert changes.counts == {"added": 0, "removed": 1, **dict.fromkeys(CHANGES, 0)}
    assert changes.first.marks["place"][changes.removed[0], 0] == 34


def test_of_unlike_many_the_most_alike_are_held_to_be_one(write_sketch: WriteSketch) -> None:
    line = """
shift = 0.5 if on else 0
for index in range(30):
    if not (on and index == 4): sheet.circle(3 * index + shift, 20, 1, fill="teal")
"""
    changes = changes_of(write_sketch, line.strip(), {}, {"on": True})
    assert changes.counts == {"added": 0, "removed": 1, **dict.fromkeys(CHANGES, 0), "moved": 29}
    assert changes.first.marks["place"][changes.removed[0], 0] == 12


def test_more_of_the_same_are_added(write_sketch: WriteSketch) -> None:
    counts = changes_of(write_sketch, "", {}, {"count": 9}).counts
    assert (counts["added"], counts["removed"], counts["moved"]) == (3, 0, 0)


def test_changes_name_the_lines_behind_them(write_sketch: WriteSketch) -> None:
    changes = changes_of(write_sketch, "wing(sheet.frame(20, 20 + 9 * on), 'red')", {}, {"on": True, "count": 8})
    lines = {name: [(str(line), count) for line, count in found] for name, found in changes.lines().items()}
    assert lines == {"added": [("plate.py:9", 2)], "moved": [("plate.py:4", 1)]}
    assert changes.origins[1].calls[changes.origins[1].of_marks[changes.pairs[0, 1]]][1].number == 11


def test_a_line_is_known_though_others_were_put_in_above(write_sketch: WriteSketch) -> None:
    before = load_sketch(write_sketch(HEAD, "plate.py"))
    text = HEAD.replace("    def wing", "    # a remark\n\n    def wing").replace("fill=tint", "fill=tint, opacity=0.5")
    after = load_sketch(write_sketch(text, "later/plate.py"))
    changes = shape_changes(*(perform(sketch, recipe(1), tracing=True) for sketch in (before, after)))
    assert {name: count for name, count in changes.counts.items() if count} == {"restyled": 1}
    assert len(changes.same) == 6


def test_empty_drawings_and_repeated_marks_are_no_trouble(write_sketch: WriteSketch) -> None:
    sketch = load_sketch(write_sketch("""
        from mothseed import artwork, dial

        @artwork(width=9, height=9)
        def dots(sheet, chance, *, count=dial(0)):
            for _ in range(count):
                sheet.circle(4, 4, 1)
    """))  # fmt: skip
    none, three, five = (perform(sketch, recipe(1, count=count), tracing=True) for count in (0, 3, 5))
    assert shape_changes(none, none).counts["added"] == 0
    assert shape_changes(none, three).counts["added"] == 3
    assert shape_changes(five, three).counts == {"added": 0, "removed": 2, **dict.fromkeys(CHANGES, 0)}


def test_marks_know_their_lines_under_symmetry_layers_and_arrays(write_sketch: WriteSketch) -> None:
    sketch = load_sketch(write_sketch("""
        from mothseed import artwork

        @artwork(width=9, height=9)
        def dots(sheet, chance):
            below = sheet.layer("below")
            sheet.spun(3).circle(4, 4, 1)
            below.circles([1, 2], [1, 2], 1)
            sheet.mirrored().rect(0, 0, 1, 1)
    """))  # fmt: skip
    impression = perform(sketch, recipe(1), tracing=True)
    assert impression.origins is not None
    lines = [impression.origins.calls[number][0].number for number in impression.origins.of_marks]
    assert lines == [7, 7, 6, 6, 6, 8, 8]
    left_out = perform(sketch, recipe(without=["below"]), tracing=True)
    assert left_out.origins is not None
    assert len(left_out.origins.of_marks) == len(left_out.drawing) == 5
    assert perform(sketch, recipe(1)).origins is None


def test_changes_are_drawn_in_their_colours(write_sketch: WriteSketch) -> None:
    changes = changes_of(write_sketch, "sheet.circle(30, 30, 10, fill='red') if on else None", {}, {"on": True, "count": 5})
    picture = np.asarray(changed_picture(changes, np.full((400, 400, 3), 255, np.uint8))).astype(int)

    def has(name: str, box: tuple[int, int, int, int]) -> bool:
        left, top, right, bottom = box
        colour = np.array(Image.new("RGB", (1, 1), CHANGE_COLOURS[name]))[0, 0].astype(int)
        return bool((np.abs(picture[top:bottom, left:right] - colour).sum(axis=2) < 90).any())

    assert has("added", (70, 70, 170, 170))
    assert has("removed", (195, 315, 230, 350))
    assert not has("removed", (0, 0, 400, 300))


# The command


def test_a_sketch_is_compared_with_itself_but_for_one_thing(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    answer = run("compare", "spots.py", "--seed", "4", "--but", "count=8", "-o", "pair.png")
    assert answer.status == 0
    assert "dial count: 5 -> 8\n" in answer.out
    assert "5 shapes unchanged\n3 added: spots.py:8\n" in answer.out
    assert pixels_of("pair.png").shape[1] > 1500
    report = json.loads(run("compare", "spots.py", "--but", "reseed:spot=9", "--but", "big=on", "--json").out)
    assert report["shapes"]["resized"] == {
        "count": 5,
        "lines": [{"file": str(Path("spots.py").resolve()), "line": 8, "count": 5}],
        "uses": {},
    }
    assert report["shapes"]["moved"]["count"] == 5
    assert 0 < report["structural_similarity"] < 1


def test_a_ramp_as_paper_is_told_as_the_paper(run: Run, write_sketch: WriteSketch) -> None:
    text = write_sketch().read_text(encoding="utf-8").replace("import artwork", "import linear_ramp, artwork")
    for name, end in (("a", "#203040"), ("b", "#803040")):
        paper = f"paper=linear_ramp((0, 0), (0, 60), ['#102030', '{end}'])"
        Path(f"{name}.py").write_text(text.replace('paper="#f4efe4"', paper), encoding="utf-8")
    assert "5 shapes unchanged\n1 recoloured: the paper\n" in run("compare", "a.py", "b.py").out
    Path("c.py").write_text(text, encoding="utf-8")
    assert "1 removed: the paper\n" in run("compare", "a.py", "c.py").out


def test_editions_of_a_series_are_compared_by_their_seeds(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    run("edition", "spots.py", "--seeds", "1,moth", "--width", "200px", "--jobs", "1", "-o", "s")
    Path("spots.py").write_text("from mothseed import artwork\n")
    answer = run("compare", "s:1", "s:moth")
    assert "seed: 1 -> moth" in answer.out
    assert "5 moved: spots.py:8" in answer.out, "the series has its own copy of the sketch"
    assert "there is no picture" in run("compare", "s:1", "s:2").err


def test_what_is_not_known_is_said(run: Run, write_sketch: WriteSketch) -> None:
    path = write_sketch()
    run("proof", "spots.py", "-o", "a.png", "--width", "200px")
    run("proof", "spots.py", "-o", "b.png", "--width", "300px", "--seed", "2")
    assert "5 moved" in run("compare", "a.png", "b.png", "--sketch", "spots.py").out, (
        "of unlike size they are compared at the drawing's scale"
    )
    path.write_text(path.read_text(encoding="utf-8").replace("0.7", "0.8"), encoding="utf-8")
    answer = run("compare", "a.png", "b.png", "--sketch", "spots.py")
    assert "shapes are not compared: the spots.py that made a.png is not here, or was changed since\n" in answer.out
    assert "sketch: its code was changed" in run("compare", "a.png", "spots.py").out


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["spots.py"], "there is nothing to compare it with"),
        (["a.png"], "there is nothing to compare it with"),
        (["spots.py", "--but", "count=1,2"], "the second has one value"),
        (["spots.py", "--but", "size=3"], "there is nothing called size"),
        (["a.png", "a.png", "--but", "count=3"], "are for sketches"),
        (["spots.py", "--but", "count=2", "-o", "spots.txt"], "is not the name of a PNG file"),
    ],
)
def test_wrong_ways_to_ask_are_told(run: Run, write_sketch: WriteSketch, words: list[str], message: str) -> None:
    write_sketch()
    run("proof", "spots.py", "-o", "a.png", "--width", "60px")
    answer = run("compare", *words)
    assert answer.status == 2
    assert message in answer.err


@pytest.mark.parametrize("name", ["turns.gif", "turns.webp"])
def test_two_pictures_take_turns(run: Run, write_sketch: WriteSketch, name: str) -> None:
    write_sketch()
    assert run("compare", "spots.py", "--but", "big=on", "-o", name).status == 0
    with Image.open(name) as image:
        assert getattr(image, "n_frames", 1) == 2
        assert image.size[0] == 1000
        first = np.asarray(image.convert("RGB")).astype(int)
        image.seek(1)
        assert np.abs(np.asarray(image.convert("RGB")).astype(int) - first).max() > 60


def test_an_outline_has_its_word_wherever_it_stands(write_sketch: WriteSketch) -> None:
    sheet = Sheet(100, 100, "mm", Colour(1, 1, 1))
    outlines = [
        through(np.array(points, float), closed=True) for points in ([(0, 0), (9, 0), (5, 5)], [(1, 1), (2, 3), (4, 4)])
    ]
    empty = Outline(np.zeros(0, np.uint8), np.zeros((0, 2)))
    for outline in (*outlines, empty, outlines[0].moved(0, 0), empty):
        sheet.path(outline)
    words = shape_words(sheet.drawing(), 20)
    assert words[0] == words[3] != words[1]
    assert words[2] == words[4] == 0
