"""Edits of a sketch whose effect is known: what is told of them is that, no more and no less."""

from __future__ import annotations

import pytest

from mothseed.compare import ShapeChanges, shape_changes
from mothseed.sketch import load_sketch, perform
from tests.conftest import WriteSketch

BEFORE = """
    from mothseed import Palette, artwork, dial, ngon, soft_shadow

    COLOURS = ["#14213d", "#7d4f7f", "#d9715b", "#e8b44f"]

    def spot(view, radius, tint):
        view.circle(0, 0, radius, fill=tint)
        view.circle(0, 0, radius / 2, fill="#fffaf0")

    @artwork(width=120, height=100)
    def plate(sheet, chance):
        palette = Palette(COLOURS)
        sheet.rect(2, 2, 116, 96, fill=None, stroke="#333333", stroke_width=0.5)
        for index in range(12):
            sheet.circle(8 * index + 6, 10, 3, fill=palette.cycle(index))
        for index in range(6):
            spot(sheet.frame(15 * index + 12, 30), 4, palette.cycle(index))
        sheet.circle(40, 60, 12, fill="#8899aa")
        sheet.circle(50, 60, 12, fill="#aa9988")
        sheet.frame(20, 80, turn=10).path(ngon(5, radius=8), fill="#226644")
        for index in range(10):
            sheet.line(60, 75 + 2 * index, 90, 75 + 2 * index, stroke="#2a2036", stroke_width=0.3)
"""
COUNT = 38
RING = "sheet.circle(8 * index + 6, 10, 3, fill=palette.cycle(index))"
SPOT = "            spot("
LINES = 'sheet.line(60, 75 + 2 * index, 90, 75 + 2 * index, stroke="#2a2036", stroke_width=0.3)'
LINE_LOOP = f"        for index in range(10):\n            {LINES}\n"
LEFT, RIGHT = 'sheet.circle(40, 60, 12, fill="#8899aa")', 'sheet.circle(50, 60, 12, fill="#aa9988")'
FIVE = '        sheet.frame(20, 80, turn=10).path(ngon(5, radius=8), fill="#226644")\n'
FRAME = '        sheet.rect(2, 2, 116, 96, fill=None, stroke="#333333", stroke_width=0.5)\n'
TAKEN = '["#14213d", "#7d4f7f", "#d9715b", "#e8b44f"]'
AS_ARRAYS = "        sheet.lines([60] * 10, [75 + 2 * i for i in range(10)], 90, [75 + 2 * i for i in range(10)], "


def edited(write_sketch: WriteSketch, *edits: tuple[str, str]) -> ShapeChanges:
    text = BEFORE
    for old, new in edits:
        assert text.count(old) == 1, old
        text = text.replace(old, new)
    sketches = load_sketch(write_sketch(BEFORE, "plate.py")), load_sketch(write_sketch(text, "later.py"))
    return shape_changes(*(perform(sketch, tracing=True) for sketch in sketches))


@pytest.mark.parametrize(
    ("edits", "expected"),
    [
        pytest.param([], {}, id="another name of the file"),
        pytest.param([("COLOURS = [", "INKS = ["), ("Palette(COLOURS)", "Palette(INKS)")], {}, id="a name"),
        pytest.param([("def spot(", "def eye("), ("            spot(", "            eye(")], {}, id="a motif renamed"),
        pytest.param([(RING, f"sheet.frame(0, 0).{RING[6:]}")], {}, id="the line that draws, to the same effect"),
        pytest.param([(LINE_LOOP, AS_ARRAYS + 'stroke="#2a2036", stroke_width=0.3)\n')], {}, id="a loop as arrays"),
        pytest.param([("10, 3, fill", "10, 3.5, fill")], {"resized": 12}, id="a radius"),
        pytest.param([(RING, RING[:-1] + ", opacity=0.5)")], {"restyled": 12}, id="an argument more"),
        pytest.param([("index + 6, 10", "index + 7, 10")], {"moved": 12}, id="a place"),
        pytest.param([("index + 6, 10, 3,", "index + 7, 10, 3.5,")], {"moved": 12, "resized": 12}, id="place and size"),
        pytest.param([("range(12)", "range(13)")], {"added": 1}, id="one more at the end"),
        pytest.param([("range(12)", "range(11)")], {"removed": 1}, id="one less at the end"),
        pytest.param([("range(12)", "range(1, 12)")], {"removed": 1}, id="one less at the start"),
        pytest.param([("range(12)", "(0, 1, 2, 3, 5, 6, 7, 8, 9, 10, 11)")], {"removed": 1}, id="one less within"),
        pytest.param([("range(12)", "range(11)"), ("index + 6, 10", "index + 6.5, 10")], {"removed": 1, "moved": 11},
                     id="less, and moved"),
        pytest.param([("#d9715b", "#c95f4a")], {"repainted": 4}, id="a colour of the palette"),
        pytest.param(
            [(TAKEN, '["#203a2f", "#52796f", "#84a98c", "#cad2c5"]')], {"repainted": 18}, id="all colours of the palette"
        ),
        pytest.param([(RING, RING.replace("cycle(index)", "cycle(index + 1)"))], {"recoloured": 12}, id="a cycle begun later"),
        pytest.param([("#8899aa", "#ff0000")], {"recoloured": 1}, id="one colour used once"),
        pytest.param(
            [(LINES, LINES.replace("#2a2036", "#5a2036"))], {"recoloured": 10}, id="the one colour of a line"
        ),
        pytest.param([("stroke_width=0.3", "stroke_width=0.6")], {"restyled": 10}, id="a stroke"),
        pytest.param([(LEFT, RIGHT), (f"        {RIGHT}\n        sheet.frame", f"        {LEFT}\n        sheet.frame")],
                     {"reordered": 1}, id="two overlapping ones swapped"),
        pytest.param([(FIVE, ""), (LINE_LOOP, LINE_LOOP + FIVE)], {}, id="drawn later, and on nothing"),
        pytest.param([(FRAME, ""), (LINE_LOOP, LINE_LOOP + FRAME)], {}, id="a frame drawn last that nothing touches"),
        pytest.param([("turn=10", "turn=30")], {"turned": 1}, id="a turn"),
        pytest.param([("ngon(5, radius=8)", "ngon(6, radius=8)")], {"reshaped": 1}, id="another outline"),
        pytest.param([("radius=8", "radius=9")], {"resized": 1}, id="a larger outline"),
        pytest.param([("radius / 2", "radius / 3")], {"resized": 6}, id="within a motif"),
        pytest.param([(SPOT, f'            sheet.circle(15 * index + 12, 40, 1, fill="#777777")\n{SPOT}')], {"added": 6},
                     id="a line more in a loop"),
        pytest.param([('        view.circle(0, 0, radius / 2, fill="#fffaf0")\n', "")], {"removed": 6},
                     id="a line less in a motif"),
        pytest.param([(LINE_LOOP, "")], {"removed": 10}, id="a loop less"),
        pytest.param([(FIVE, FIVE + '        sheet.rect(100, 60, 9, 9, fill="#123456")\n')], {"added": 1}, id="a line more"),
        pytest.param([(LEFT, f"{LEFT}\n        {LEFT}")], {"added": 1}, id="a line twice"),
        pytest.param([("sheet.circle(40, 60, 12,", "sheet.ellipse(40, 60, 12, 9,")], {"resized": 1}, id="a circle flattened"),
        pytest.param([("sheet.circle(40, 60, 12,", "sheet.rect(40, 60, 12, 12,")], {"added": 1, "removed": 1},
                     id="another kind"),
        pytest.param([("index + 12, 30), 4", "index + 12, 33), 4")], {"moved": 12}, id="a call of a motif"),
        pytest.param([("        palette =", "        sheet = sheet.frame(1, 0)\n        palette =")], {"moved": COUNT},
                     id="everything"),
        pytest.param([(RING, 'sheet.layer("row", opacity=0.5)' + RING[5:])], {"restyled": 12}, id="a layer"),
        pytest.param([(RIGHT, RIGHT[:-1] + ", shadow=soft_shadow(1, 1))")], {"restyled": 1}, id="a shadow"),
        pytest.param([(LINE_LOOP, AS_ARRAYS + 'stroke="#2a2036", stroke_width=0.5)\n')], {"restyled": 10},
                     id="a loop as arrays, and a stroke"),
        pytest.param([("10, 3, fill", "10, 3.5, fill"), ("turn=10", "turn=30"), ("stroke_width=0.3", "stroke_width=0.6")],
                     {"resized": 12, "turned": 1, "restyled": 10}, id="three edits"),
    ],
)  # fmt: skip
def test_what_an_edit_did_is_told_no_more_and_no_less(
    write_sketch: WriteSketch, edits: list[tuple[str, str]], expected: dict[str, int]
) -> None:
    changes = edited(write_sketch, *edits)
    assert {name: count for name, count in changes.counts.items() if count} == expected
    assert len(changes.same) + len(changes.pairs) + len(changes.removed) == COUNT


def test_a_palette_is_told_by_its_colours(write_sketch: WriteSketch) -> None:
    changes = edited(write_sketch, ("#d9715b", "#c95f4a"), ("#e8b44f", "#f8c45f"))
    assert [(before.css, after.css) for before, after in changes.palette] == [("#d9715b", "#c95f4a"), ("#e8b44f", "#f8c45f")]


def test_colours_of_their_own_are_no_palette(write_sketch: WriteSketch) -> None:
    text = """
        from mothseed import artwork

        @artwork(width=60, height=60)
        def plate(sheet, chance):
            for index in range(20):
                sheet.circle(3 * index, 20, 1, fill=chance("tint", index).colour(hue=(0, 90)))
    """
    sketches = [load_sketch(write_sketch(each, name)) for each, name in (
        (text, "plate.py"), (text.replace("(0, 90)", "(90, 180)"), "later.py"))]  # fmt: skip
    changes = shape_changes(*(perform(sketch, tracing=True) for sketch in sketches))
    assert (changes.counts["recoloured"], changes.counts["repainted"], changes.palette) == (20, 0, ())


def test_of_very_many_that_all_moved_the_one_that_is_gone_is_known(write_sketch: WriteSketch) -> None:
    text = """
        from mothseed import artwork

        @artwork(width=100, height=100)
        def plate(sheet, chance):
            for index in range(700):
                sheet.circle(index % 70, index // 70, 0.4, fill="#14213d")
                sheet.line(index % 70, index // 70, 90, 90, stroke="#d9715b")
    """
    later = text.replace("index // 70, 0.4", "index // 70 + 0.02, 0.4").replace(
        "range(700):", "range(700):\n                if index == 33: continue"
    )
    sketches = load_sketch(write_sketch(text, "plate.py")), load_sketch(write_sketch(later, "later.py"))
    changes = shape_changes(*(perform(sketch, tracing=True) for sketch in sketches))
    assert {name: count for name, count in changes.counts.items() if count} == {"removed": 2, "moved": 699}
    assert changes.removed.tolist() == [66, 67]
