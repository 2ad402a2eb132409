"""What made a mark as it is: sketches of which that is known, and what is told of them."""

from __future__ import annotations

import textwrap

import pytest

from mothseed.chance import Chance
from mothseed.sketch import load_sketch, perform
from mothseed.study import trying
from mothseed.study.attempt import Attempt, Bench, Inquiry, Subject
from mothseed.study.causes import Causes, causes_of
from tests.conftest import WriteSketch
from tests.recipes import recipe

HEAD = """
from mothseed import artwork, dial, ngon, smooth, Palette
import numpy as np

COLOURS = ["#14213d", "#7d4f7f", "#d9715b", "#e8b44f"]
"""


def told(causes: Causes) -> dict[str, str]:
    return {
        aspect: ", ".join(("dial " if cause.is_dial else "") + cause.name for cause in found)
        for aspect, found in causes.by_aspect.items()
    }


def causes(write_sketch: WriteSketch, text: str, mark: int) -> dict[str, str]:
    sketch = load_sketch(write_sketch(HEAD + textwrap.dedent(text), "plate.py"))
    impression = perform(sketch, recipe(7), tracing=True)
    assert -len(impression.drawing) <= mark < len(impression.drawing)
    (found,) = causes_of(sketch, impression, [Inquiry((mark % len(impression.drawing),))])
    return told(found)


PLATES = {
    "drawn first and painted later": ("""
        @artwork(width=100, height=100)
        def plate(sheet, chance):
            places = [(chance("place", i).between(5, 95), 50) for i in range(6)]
            tints = [chance("tint", i).pick(COLOURS) for i in range(6)]
            sizes = chance("size").between(1, 4)
            late = chance("late").between(0, 1)
            for (x, y), tint in zip(places, tints):
                sheet.circle(x, y, sizes, fill=tint)
            sheet.rect(0, 0, late, 1)
        """, 2, {"place": "place/2", "size": "size", "fill": "tint/2"}),
    "helpers": ("""
        def where(chance):
            return chance("where").point((50, 50, 40))

        def colour_of(chance):
            return Palette(COLOURS).pick(chance("colour"))

        def dot(view, chance):
            view.circle(*where(chance), 2, fill=colour_of(chance))

        @artwork(width=100, height=100)
        def plate(sheet, chance):
            for i in range(5):
                dot(sheet, chance("dot", i))
        """, 3, {"place": "dot/3/where", "fill": "dot/3/colour"}),
    "arrays": ("""
        @artwork(width=100, height=100)
        def plate(sheet, chance):
            x = chance("across").between(0, 100, size=40)
            y = chance("down").between(0, 100, size=40)
            unused = chance("unused").between(0, 1, size=40)
            sheet.circles(x, y, chance("size").between(1, 2, size=40), fill=chance("tint").pick(COLOURS, size=40))
        """, 20, {"place": "across, down", "size": "size", "fill": "tint"}),
    "an array of which some are left out": ("""
        @artwork(width=100, height=100)
        def plate(sheet, chance, *, share=dial(0.9, 0, 1)):
            x = chance("across").between(0, 100, size=40)
            there = chance("there").between(0, 1, size=40) < share
            sheet.circles(x[there], 50, 1)
        """, 8, {"there at all": "there, dial share", "place": "across"}),
    "recursion": ("""
        def grow(view, chance, depth):
            view.line(0, 0, 0, -10, stroke="#222222", stroke_width=chance("girth").between(0.2, 1))
            if depth:
                for side in (-1, 1):
                    own = chance("bough", depth, "right" if side > 0 else "left")
                    if own("grows").odds(0.9):
                        grow(view.frame(0, -10, turn=side * own("turn").between(10, 40), scale=0.8), own, depth - 1)

        @artwork(width=100, height=100)
        def plate(sheet, chance):
            grow(sheet.frame(50, 90), chance("tree"), 2)
        """, 2, {"there at all": "tree/bough/2/left/grows, tree/bough/2/left/bough/1/left/grows",
                 "place": "tree/bough/2/left/turn, tree/bough/2/left/bough/1/left/turn",
                 "turn": "tree/bough/2/left/turn, tree/bough/2/left/bough/1/left/turn",
                 "style": "tree/bough/2/left/bough/1/left/girth"}),
    "motifs as values": ("""
        def disc(view, tint):
            view.circle(0, 0, 4, fill=tint)

        def tile(view, tint):
            view.rect(-3, -3, 6, 6, fill=tint)

        @artwork(width=100, height=100)
        def plate(sheet, chance):
            for cell in sheet.grid(4, 4):
                own = chance("cell", cell.index)
                own("motif").pick([disc, tile])(cell, own("tint").pick(COLOURS))
        """, 5, {"there at all": "cell/5/motif", "fill": "cell/5/tint"}),
    "a decorator": ("""
        def trembling(motif):
            def drawn(view, chance, *arguments):
                motif(view.frame(turn=chance("tremble").bell(0, 5)), *arguments)
            return drawn

        @trembling
        def bar(view, length):
            view.rect(-1, 0, 2, length, fill="#333333")

        @artwork(width=100, height=100)
        def plate(sheet, chance):
            for i in range(4):
                bar(sheet.frame(20 * i + 10, 50), chance("bar", i), chance("length", i).between(5, 30))
        """, 1, {"place": "length/1, bar/1/tremble", "turn": "bar/1/tremble", "size": "length/1"}),
    "interleaved streams": ("""
        @artwork(width=100, height=100)
        def plate(sheet, chance):
            place, tint = chance("place"), chance("tint")
            for i in range(8):
                x = place.between(0, 100)
                colour = tint.pick(COLOURS)
                y = place.between(0, 100)
                sheet.circle(x, y, 2, fill=colour)
        """, 4, {"place": "place", "fill": "tint"}),
    "a condition": ("""
        @artwork(width=100, height=100)
        def plate(sheet, chance, *, dusk=dial(0.8, 0, 1), tall=dial(9.0, 1, 20)):
            dark = chance("dark").odds(dusk)
            sheet.rect(0, 0, 10, 10, fill="#111111" if dark else "#eeeeee")
            if chance("moon").odds(0.97):
                sheet.circle(50, 20, tall, fill="#ffffff")
        """, 1, {"there at all": "moon", "size": "dial tall"}),
    "what hardly ever comes": ("""
        @artwork(width=100, height=100)
        def plate(sheet, chance):
            ghost = chance("ghost").odds(0.01)
            sheet.circle(50, 50, 9, fill="#ffffff" if ghost else "#222222")
        """, 0, {"fill": "ghost"}),
    "a loop with gaps": ("""
        @artwork(width=100, height=100)
        def plate(sheet, chance):
            for i in range(12):
                if chance("on", i).odds(0.6):
                    sheet.circle(8 * i, chance("height", i).between(20, 80), 2)
        """, 3, {"there at all": "on/5", "place": "height/5"}),
    "until enough are found": ("""
        @artwork(width=100, height=100)
        def plate(sheet, chance):
            search, found = chance("search"), []
            while len(found) < 5:
                x, y = search.between(0, 100), search.between(0, 100)
                if (x - 50) ** 2 + (y - 50) ** 2 < 1600:
                    found.append((x, y))
            for x, y in found:
                sheet.circle(x, y, chance("size").between(1, 3))
        """, 2, {"place": "search", "size": "size"}),
    "symmetry and a layer": ("""
        @artwork(width=100, height=100)
        def plate(sheet, chance, *, veil=dial(0.5, 0, 1)):
            both = sheet.layer("veil", opacity=veil).centred().mirrored()
            both.circle(chance("apart").between(5, 40), 0, 4, fill=chance("tint").pick(COLOURS))
        """, 1, {"place": "apart", "fill": "tint", "style": "dial veil"}),
    "an outline": ("""
        @artwork(width=100, height=100)
        def plate(sheet, chance):
            knots = [(20 * i, 50 + chance("knot", i).between(-20, 20)) for i in range(5)]
            sheet.frame(turn=chance("lean").between(-3, 3)).path(smooth(knots), fill=None, stroke=chance("ink").pick(COLOURS))
        """, 0, {"place": "lean", "turn": "lean", "shape": "knot/*", "stroke": "ink"}),
    "techniques by odds": ("""
        def frost(view, chance):
            view.circle(50, 50, chance("reach").between(5, 30), fill="#eeeeff")

        def soot(view, chance):
            view.rect(chance("left").between(0, 50), 0, 5, 5, fill="#111111")

        @artwork(width=100, height=100)
        def plate(sheet, chance):
            for technique in chance.chosen({frost: 0.9, soot: 0.9}):
                technique(sheet, chance(technique.__name__))
        """, -1, {"there at all": "chosen/soot", "place": "soot/left"}),
    "many of a symbol": ("""
        @artwork(width=100, height=100)
        def plate(sheet, chance, *, turned=dial(0, 0, 90)):
            leaf = sheet.symbol(lambda view: view.ellipse(0, 0, 3, chance("leaf").between(1, 2), fill="#224422"))
            for i in range(6):
                sheet.frame(10 * i, chance("height", i).between(0, 90), turn=turned).use(leaf)
        """, 4, {"place": "height/4", "turn": "dial turned", "size": "leaf"}),
    "what only another choice needs": ("""
        @artwork(width=100, height=100)
        def plate(sheet, chance, *, form=dial("disc", choices=["disc", "bar"])):
            wide = chance("wide").between(1, 5)
            high = chance("high").between(1, 5)
            if form == "disc":
                sheet.circle(50, 50, wide)
            else:
                sheet.rect(50, 50, high, 9)
        """, 0, {"there at all": "dial form", "size": "wide"}),
    "the chance that is given": ("""
        @artwork(width=100, height=100)
        def plate(sheet, chance):
            sheet.circle(chance.between(0, 100), 50, chance("size").between(1, 5))
        """, 0, {"place": "chance", "size": "size"}),
    "a count": ("""
        @artwork(width=100, height=100)
        def plate(sheet, chance, *, count=dial(6, 1, 12)):
            for i in range(count):
                sheet.circle(100 * (i + 0.5) / count, 50, 2, fill=Palette(COLOURS).cycle(i))
        """, 4, {"there at all": "dial count", "place": "dial count"}),
}  # fmt: skip


@pytest.mark.parametrize("name", PLATES)
def test_what_made_a_mark_is_told_no_more_and_no_less(write_sketch: WriteSketch, name: str) -> None:
    text, mark, expected = PLATES[name]
    assert causes(write_sketch, text, mark) == expected


def test_what_a_line_drew_has_the_causes_of_all_its_marks(write_sketch: WriteSketch) -> None:
    text = """
        @artwork(width=100, height=100)
        def plate(sheet, chance, *, count=dial(6, 1, 12)):
            for i in range(count):
                if chance("on", i).odds(0.7):
                    sheet.circle(8 * i, chance("height", i).between(20, 80), 2)
    """
    sketch = load_sketch(write_sketch(HEAD + textwrap.dedent(text), "plate.py"))
    impression = perform(sketch, recipe(7), tracing=True)
    assert impression.origins is not None
    (line,) = {(calls[0].file, calls[0].number) for calls in impression.origins.calls if "circle" in calls[0].text}
    (found,) = causes_of(sketch, impression, [Inquiry(tuple(range(len(impression.drawing))), (line,))])
    assert told(found) == {"there at all": "on/*, dial count", "place": "height/*"}


def test_what_is_left_out_is_left_out_of_every_attempt(write_sketch: WriteSketch) -> None:
    text = """
        @artwork(width=100, height=100)
        def plate(sheet, chance):
            sheet.circle(50, 50, chance("size").between(1, 9), fill=chance("tint").pick(COLOURS))
            sheet.layer("veil", opacity=0.5).rect(0, 0, 100, 100, fill="#222222")
    """
    sketch = load_sketch(write_sketch(HEAD + textwrap.dedent(text), "plate.py"))
    impression = perform(sketch, recipe(7, without=["veil"]), tracing=True)
    (found,) = causes_of(sketch, impression, [Inquiry((0,))])
    assert (told(found), found.untried) == ({"size": "size", "fill": "tint"}, ())


def test_what_cannot_be_tried_is_said(write_sketch: WriteSketch) -> None:
    text = f"""
        @artwork(width=100, height=100)
        def plate(sheet, chance, *, reach=dial(3.0, 3.0, 9.0)):
            if chance("first").between(0, 1) != {Chance(7)("first").between(0, 1)!r}:
                raise ValueError
            sheet.circle(50, 50, reach, fill=chance("tint").pick(COLOURS))
    """
    sketch = load_sketch(write_sketch(HEAD + textwrap.dedent(text), "plate.py"))
    (found,) = causes_of(sketch, perform(sketch, recipe(7), tracing=True), [Inquiry((0,))])
    assert told(found) == {"size": "dial reach", "fill": "tint"}
    assert [cause.name for cause in found.untried] == ["first"]


def test_what_draws_far_too_much_is_given_up(write_sketch: WriteSketch) -> None:
    text = """
        @artwork(width=100, height=100)
        def plate(sheet, chance, *, many=dial(10, 10, 200_000), over=dial(0, 0, 100_000)):
            for i in range(many + 9 * over):
                sheet.circle(i % 100, 50, 1 if i < 10 else 2)
            sheet.rect(0, 0, many, 5)
    """
    sketch = load_sketch(write_sketch(HEAD + textwrap.dedent(text), "plate.py"))
    impression = perform(sketch, recipe(7), tracing=True)
    bench = Bench(sketch, Subject(sketch.path, impression.recipe, (Inquiry((10,)),), None))
    tried = {many: bench.tried(Attempt(dials=(("many", many),))) for many in (13, 40_000, 60_000)}
    assert tried == {13: (frozenset({"size", "place"}),), 40_000: (frozenset({"size", "place"}),), 60_000: None}
    (found,) = causes_of(sketch, impression, [Inquiry((10,))])
    assert told(found) == {"place": "dial many", "size": "dial many"}
    assert [cause.name for cause in found.untried] == ["over"], "what else was tried of the other dial says enough"


def test_more_processes_find_the_same(write_sketch: WriteSketch, monkeypatch: pytest.MonkeyPatch) -> None:
    text, mark, expected = PLATES["recursion"]
    sketch = load_sketch(write_sketch(HEAD + textwrap.dedent(text), "plate.py"))
    impression = perform(sketch, recipe(7), tracing=True)
    monkeypatch.setattr(trying, "_WORTH_PROCESSES", 0.0)
    done: list[int] = []
    (found,) = causes_of(sketch, impression, [Inquiry((mark,))], workers=3, told=done.append)
    assert told(found) == expected
    assert max(done) > 1, "some came from others"
