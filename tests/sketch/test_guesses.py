"""First guesses of somebody who knows Python's random, NumPy, SVG and CSS: what works, and what is written instead."""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import pytest

import mothseed
from mothseed import Chance, Palette, Style, Trail, View
from mothseed.colour import Colour
from mothseed.faults import SketchError
from mothseed.formats.png_writing import write_png
from mothseed.geometry.outline import through
from mothseed.sheet import Sheet, fingerprint
from mothseed.sketch import load_sketch, perform
from mothseed.sketch.guesses import GUESSES, USUAL
from tests.recipes import recipe
from tests.reference import ink_sheet

HEAD = """from mothseed import *
import numpy as np
wing = Outline.rect(0, 0, 30, 20)
palette = Palette(["teal", "navy"])
ink = Colour.parse("teal")
@artwork(width=100, height=100)
def a(sheet, chance):
    hills = chance.field(20)
"""


def hint_for(folder: Path, line: str) -> str:
    """What is told to do about a sketch that fails in a line."""
    path = folder / "guessed.py"
    path.write_text(f"{HEAD}    {line}\n", encoding="utf-8")
    with pytest.raises(SketchError) as caught:
        perform(load_sketch(path), recipe(1))
    return caught.value.hint


GUESSED = {
    "sheet.rotate(45)": "write sheet.frame(turn=45), and draw on what it gives",
    "sheet.translate(10, 2 * 4)": "write sheet.frame(10, 2 * 4), and draw on what it gives",
    "sheet.scale(factor=3)": "write sheet.frame(scale=3), and draw on what it gives",
    "sheet.square(3, 4, 5)": "write sheet.rect(3, 4, 5, 5)",
    'sheet.frame(5, 5).rectangle(1, 2, 3, height=4, fill="red")': "write sheet.frame(5, 5).rect(1, 2, 3, 4)",
    "sheet.rectangle(*[1, 2, 3, 4])": "write sheet.rect(10, 10, 30, 20)",
    "x = sheet.centre": "write sheet.centred(), and draw on what it gives; its place is sheet.across(0.5), sheet.down(0.5)",
    "w, h = sheet.size": "write sheet.width and sheet.height",
    'sheet.background("red")': 'write @artwork(paper="red") above the function',
    "sheet.curve([(1, 2), (3, 4)])": "write sheet.path(smooth([(1, 2), (3, 4)])), after: from mothseed import smooth",
    "for cell in sheet.repeat(5, 8): cell.circle(0, 0, 1)": "write for cell in sheet.grid(5, 8), and draw on each cell",
    'chance.choice(["teal", "navy"])': 'write chance.pick(["teal", "navy"])',
    'chance("wings").uniform(1, 2)': 'write chance("wings").between(1, 2)',
    "if chance.random() < 0.3: sheet.circle(1, 1, 1)": "write chance.between(0, 1)",
    "chance.integers(10)": "write chance.whole(0, 10 - 1)",
    "chance.integers(5, 10)": "write chance.whole(5, 10 - 1)",
    "chance.gauss(0, 2)": "write chance.bell(0, 2)",
    "chance.shuffle([1, 2])": "write chance.shuffled([1, 2]), which gives a new list",
    "chance.seed(3)": 'the seed is chosen when mothseed proof draws it; chance("wings") has draws of its own',
    "x = randint(1, 6)": "write chance.whole(1, 6)",
    "x = uniform(1, 6)": "write chance.between(1, 6)",
    "circle(3, 4, 5)": "write sheet.circle(3, 4, 5)",
    "x = width": "write sheet.width",
    "pick([1, 2])": "write chance.pick([1, 2])",
    "x = abs(hills(3, 4))": "write hills.at(3, 4)",
    "x = chance.field()(3, 4)": "write chance.field().at(3, 4)",
    "palette.colors": "write palette.swatches",
    "palette.lerp(0.3)": "write palette.ramp(0.3)",
    "palette.cycle(1.5)": "write cycle(int(number)), or ramp(fraction) for colours in between",
    "ink.lighten(0.1)": 'write mixed(ink, "white", 0.1), after: from mothseed import mixed',
    "ink.hex": "write ink.css",
    'Colour("red")': 'write Colour.parse("red")',
    'Picture("photo.png")': 'write sheet.picture("photo.png")',
    'chance.odds("30%")': "for a percentage divide by 100: odds(30 / 100)",
    'sheet.text("Plume", 3, 4, 5)': 'the place comes first: text(10, 50, "Plume", 8)',
    "sheet.rect(1, 2, 3, 4, radius=(1, 2))": "one radius is that of all corners: radius=2",
    "sheet.circel(1, 2, 3)": "did you mean circle?",
    "sheet.rect(1, 2, 3, 4, rotate=30)": "draw it on a turned frame: frame(50, 40, turn=30)",
    "sheet.rect(1, 2, 3, 4, rx=2)": "a rectangle has radius=2 at all corners",
    'sheet.circle(1, 2, 3, color="teal")': 'write fill="teal"',
    "sheet.circle(1, 2, 3, alpha=0.5)": "write opacity=0.5",
    'sheet.line(1, 2, 3, 4, stroke="teal", width=0.5)': "write stroke_width=0.5",
    'sheet.line(1, 2, 3, 4, stroke="teal", line_cap="round")': 'write linecap="round"',
    'sheet.circle(1, 2, 3, mix_blend_mode="multiply")': 'write blend="multiply"',
    'sheet.polyline([(1, 2), (3, 4)], stroke="teal", closed=True)': "a polyline that is closed is a polygon(points)",
    'sheet.text(3, 4, "Plume", 5, along=wing)': 'words follow an outline as path(lettering("owlet", 6, along=outline))',
    "sheet.circle(1, 2, 3, fil=ink)": "did you mean fill=?",
    "wing.rotate(45)": "write wing.turned(45)",
    "wing.buffer(3)": "write wing.grown(3)",
    "wing.subtract(wing)": "write wing.difference(wing)",
    "wing.moved(9, 9).point_at(0.25)": "write wing.moved(9, 9).at(0.25)",
    "wing.hatch(2, 30)": "write wing.hatched(2, 30), and draw it with a stroke",
    "wing.length()": "length is a value: write wing.length without brackets",
    "wing.bounds()": "bounds is a value: write wing.bounds without brackets",
    'Outline("M 0 0 L 5 5")': 'write Outline.from_svg("M 0 0 L 5 5")',
    "Outline([(0, 0), (5, 5), (5, 0)])": "write Outline.polygon([(0, 0), (5, 5), (5, 0)])",
    'Outline.from_path("M 0 0")': 'write Outline.from_svg("M 0 0")',
    "Outline.square(1, 2, 3)": "write Outline.rect(1, 2, 3, 3)",
    "Outline.circle(1, 2)": "circle is called as circle(x, y, radius)",
    "wing.hatched(2, angle=30)": "hatched is called as hatched(spacing, turn=0.0)",
}


@pytest.mark.parametrize("line", GUESSED)
def test_a_first_guess_is_told_what_to_write(line: str, tmp_path: Path) -> None:
    assert hint_for(tmp_path, line) == GUESSED[line]


def test_only_a_percentage_is_told_to_be_divided(tmp_path: Path) -> None:
    for line in ("chance.odds(-0.5)", 'chance.odds("often")', "chance.odds(float('nan'))"):
        assert hint_for(tmp_path, line) == ""
    assert hint_for(tmp_path, "chance.odds(30)") == "for a percentage divide by 100: odds(30 / 100)"


def test_what_is_unlike_any_word_is_not_taken_for_one(tmp_path: Path) -> None:
    for line in ("sheet.seed(3)", "sheet.orbit(3)", "chance.flux()"):
        assert hint_for(tmp_path, line).startswith("it has ")


WORDS = [(kind, word) for kind, guesses in GUESSES.items() for word in guesses]


@pytest.mark.parametrize(("kind", "word"), WORDS)
def test_what_is_told_can_be_written(kind: str, word: str, tmp_path: Path) -> None:
    """No word of the table must be one of the class's own, and what it says instead runs as it is."""
    photo = tmp_path / "photo.png"
    write_png(photo, np.full((8, 8, 4), 200, np.uint8))
    sheet, chance = Sheet(100, 100, "mm", Colour(1, 1, 1)), Chance(7)
    known = {name: getattr(mothseed, name) for name in mothseed.__all__}
    values = {
        "sheet": sheet,
        "chance": chance,
        "picture": sheet.picture(photo),
        "palette": Palette(["teal", "navy"]),
        "colour": Colour.parse("teal"),
        "outline": mothseed.Outline.rect(0, 0, 30, 20),
    }
    assert not hasattr(values[USUAL[kind]], word)
    code = re.sub(r'"photo.png"', repr(str(photo)), GUESSES[kind][word].written(USUAL[kind], [], {}))
    if not code.startswith("write "):
        assert "mothseed proof" in code
        return
    code = re.split(r", (?:and |after|which)|: from | above ", code.removeprefix("write "))[0]
    if code.startswith("@"):
        code += "\ndef a(sheet, chance): ..."
    elif code.startswith("for "):
        code += ": cell.circle(0, 0, 1)"
    exec(code, {**known, **values})


def drawn(draw: object) -> str:
    sheet = ink_sheet(100, 100)
    draw(sheet)  # type: ignore[operator]
    return fingerprint(sheet.drawing())


ALIKE: dict[str, tuple[object, object]] = {
    "none": (lambda v: v.circle(5, 5, 3, fill="none", stroke="red"), lambda v: v.circle(5, 5, 3, fill=None, stroke="red")),
    "SVG's names": (
        lambda v: v.line(1, 1, 9, 9, stroke="red", stroke_linecap="round", stroke_dasharray="4 2"),
        lambda v: v.line(1, 1, 9, 9, stroke="red", linecap="round", dash=(4, 2)),
    ),
    "SVG's names of a style": (
        lambda v: v.styled(stroke_linejoin="round", stroke="red", stroke_dasharray="4,2").rect(1, 1, 8, 8),
        lambda v: v.styled(linejoin="round", stroke="red", dash=(4, 2)).rect(1, 1, 8, 8),
    ),
    "no dash": (
        lambda v: v.line(1, 1, 9, 9, stroke="red", stroke_dasharray="none"),
        lambda v: v.line(1, 1, 9, 9, stroke="red"),
    ),
    "even-odd": (
        lambda v: v.polygon([(1, 1), (9, 1), (5, 9)], fill_rule="even-odd"),
        lambda v: v.polygon([(1, 1), (9, 1), (5, 9)], fill_rule="evenodd"),
    ),
    "per cent": (lambda v: v.circle(5, 5, 3, opacity="50%"), lambda v: v.circle(5, 5, 3, opacity=0.5)),
    "a row of an array": (
        lambda v: v.circle(5, 5, 3, fill=np.array([[0.1, 0.2, 0.3, 1.0]])[0]),
        lambda v: v.circle(5, 5, 3, fill=(0.1, 0.2, 0.3)),
    ),
    "a style made by its class": (
        lambda v: v.styled(Style(fill="red")).circle(5, 5, 2),  # type: ignore[arg-type]  # as an artist writes it
        lambda v: v.styled(Style.of(fill="red")).circle(5, 5, 2),
    ),
    "a trail": (
        lambda v: v.path(Trail(5, 5).walk(20), stroke="red"),
        lambda v: v.path(Trail(5, 5).walk(20).outline, stroke="red"),
    ),
    "corners of a clip": (
        lambda v: v.clipped([(1, 1), (9, 1), (5, 9)]).circle(5, 5, 2),
        lambda v: v.clipped(through(np.array([(1.0, 1), (9, 1), (5, 9)]), closed=True)).circle(5, 5, 2),
    ),
}


@pytest.mark.parametrize("name", ALIKE)
def test_standard_spellings_are_taken(name: str) -> None:
    guess, known = ALIKE[name]
    assert drawn(guess) == drawn(known)


def test_straight_lines_are_outlines_too() -> None:
    def dots(view: View, outline: object) -> None:
        for place in view.along(outline, 3):  # type: ignore[arg-type]  # as an artist writes it
            place.circle(0, 0, 1)

    points = [(1, 1), (20, 1), (20, 30)]
    sheet, same = ink_sheet(100, 100), ink_sheet(100, 100)
    dots(sheet, points)
    dots(same, np.array(points))
    assert fingerprint(sheet.drawing()) == fingerprint(same.drawing())
    with pytest.raises(SketchError, match="path: points are pairs of numbers"):
        sheet.path([1, 2, 3])
    with pytest.raises(SketchError, match="clipped: an outline is needed"):
        sheet.clipped(7)  # type: ignore[arg-type]  # what an artist might write
    assert mothseed.mixed("black", "white", 0.5).css == "#636363"
