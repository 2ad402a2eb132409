from __future__ import annotations

import sys
import textwrap
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.colour import Colour
from mothseed.faults import MothSeedError, PictureError, SketchError, UsageError
from mothseed.formats.png_writing import write_png
from mothseed.records import as_record, from_json
from mothseed.sheet import fingerprint
from mothseed.sketch import dial, load_sketch, perform
from mothseed.sketch.dials import Dial
from mothseed.sketch.history import History, history_in_picture, history_of
from mothseed.sketch.perform import parsed_dials
from tests.conftest import SPOTS, Run, WriteSketch
from tests.recipes import recipe


@pytest.mark.parametrize(
    ("made", "text", "value"),
    [
        (dial(4, 0, 9), "7", 7),
        (dial(4, 0, 9), " 7 ", 7),
        (dial(0.5, 0, 1), "0.25", 0.25),
        (dial(0.5, 0, 1), "1", 1.0),
        (dial(30, 0, 90, step=15), "45", 45),
        (dial(True), "off", False),
        (dial(False), "Yes", True),
        (dial("owlet", choices=["owlet", "hawk"]), "hawk", "hawk"),
        (dial(2, choices=[1, 2, 4]), "4", 4),
        (dial("teal"), "#102030", Colour.parse("#102030")),
    ],
)
def test_a_dial_takes_what_it_says(made: Dial, text: str, value: Any) -> None:
    assert made.parsed("x", text) == value
    assert made.checked("x", value) == value


@pytest.mark.parametrize(
    ("made", "text", "words"),
    [
        (dial(4, 0, 9), "many", 'dial x: expected a whole number from 0 to 9, got "many"'),
        (dial(4, 0, 9), "10", "dial x: expected a whole number from 0 to 9, got 10"),
        (dial(4, 0, 9), "2.5", 'expected a whole number from 0 to 9, got "2.5"'),
        (dial(4, 0), "-1", "expected a whole number from 0 on, got -1"),
        (dial(0.5, high=1), "2", "expected a number up to 1, got 2"),
        (dial(0.5), "nan", "expected a number, got nan"),
        (dial(0.5), "inf", "expected a number, got inf"),
        (dial(30, 0, 90, step=15), "50", "from 0 to 90 in steps of 15, got 50"),
        (dial(True), "maybe", 'expected on or off, got "maybe"'),
        (dial("owlet", choices=["owlet", "hawk"]), "moth", 'expected one of owlet, hawk, got "moth"'),
        (dial("teal"), "tealish", 'expected a CSS colour, got "tealish"'),
    ],
)
def test_a_dial_refuses_the_rest_naming_itself_and_what_it_takes(made: Dial, text: str, words: str) -> None:
    with pytest.raises(UsageError) as caught:
        made.parsed("x", text)
    assert words in caught.value.message


@given(st.integers(-50, 50), st.integers(0, 50), st.integers(0, 50))
def test_a_range_includes_both_its_ends(middle: int, below: int, above: int) -> None:
    made = dial(middle, middle - below, middle + above)
    assert made.checked("x", middle - below) == middle - below
    assert made.checked("x", middle + above) == middle + above
    with pytest.raises(UsageError):
        made.checked("x", middle + above + 1)


@pytest.mark.parametrize(
    ("declare", "words"),
    [
        (lambda: dial(12, 0, 9), "its own default 12 is not a whole number from 0 to 9"),
        (lambda: dial("owlet"), "'owlet' is not a colour; a word needs choices"),
        (lambda: dial("owl", choices=["owlet"]), "its own default 'owl' is not one of owlet"),
        (lambda: dial(True, 0, 1), "a switch has no range"),
        (lambda: dial([1]), "a default is a number, a switch, a colour, or one of choices"),
        (lambda: dial(1, low=float("nan")), "low must be a finite number"),
        (lambda: dial(1, step=0), "step must be above 0"),
    ],
)
def test_a_dial_that_contradicts_itself_is_refused(declare: Any, words: str) -> None:
    with pytest.raises(SketchError) as caught:
        declare()
    assert words in caught.value.message


def test_a_sketch_is_performed_with_its_dials_and_gives_the_same_each_time(write_sketch: WriteSketch) -> None:
    sketch = load_sketch(write_sketch())
    impression = perform(sketch, recipe(7, count=3))
    assert len(impression.drawing) == 3
    assert impression.recipe.dials == {"count": 3, "big": False}
    assert [outcome.label for outcome in impression.outcomes] == ["tint"] * 3
    assert fingerprint(perform(load_sketch(write_sketch()), recipe(7, count=3)).drawing) == fingerprint(impression.drawing)
    assert fingerprint(perform(sketch, recipe(8, count=3)).drawing) != fingerprint(impression.drawing)


def test_the_first_items_look_the_same_whether_few_or_many_are_made(write_sketch: WriteSketch) -> None:
    sketch = load_sketch(write_sketch())
    few, many = (perform(sketch, recipe(7, count=count)).drawing.marks for count in (5, 50))
    assert many[:5].tobytes() == few.tobytes()


def test_an_unknown_dial_is_told_with_the_nearest_one(write_sketch: WriteSketch) -> None:
    with pytest.raises(UsageError, match="has no dial cuont; its dials are count, big") as caught:
        parsed_dials(load_sketch(write_sketch()).artwork.dials, {"cuont": "3"})
    assert caught.value.hint == "did you mean count?"


def test_a_sketch_may_import_modules_of_its_folder_and_sees_their_changes(write_sketch: WriteSketch) -> None:
    write_sketch("COUNT = 3\n", "motif_counts.py")
    text = """
        from mothseed import artwork
        from motif_counts import COUNT
        @artwork()
        def picture(sheet, chance):
            for _ in range(COUNT):
                sheet.circle(5, 5, 1)
    """
    path = write_sketch(text)
    sketch = load_sketch(path)
    assert len(perform(sketch, recipe(1)).drawing) == 3
    assert sketch.module_files() == [path.with_name("motif_counts.py")]
    assert "motif_counts" not in sys.modules
    write_sketch("COUNT = 4\n", "motif_counts.py")
    assert len(perform(load_sketch(path), recipe(1)).drawing) == 4
    assert not list(path.parent.rglob("__pycache__")), "the artist's folder stays clean"
    assert str(path.parent) not in sys.path


def test_a_file_beside_a_sketch_does_not_stand_for_a_module_of_python(write_sketch: WriteSketch, installed: Run) -> None:
    """`colorsys` is a module that nobody has imported by then."""
    write_sketch("raise RuntimeError('mine')\n", "colorsys.py")
    write_sketch(f"import colorsys\n{textwrap.dedent(SPOTS)}")
    answer = installed("proof", "spots.py", "--no-daybook", "--width", "40px")
    assert answer.status == 0, answer.err


def test_what_a_sketch_prints_does_not_mix_with_results(write_sketch: WriteSketch, capsys: pytest.CaptureFixture[str]) -> None:
    path = write_sketch("from mothseed import artwork\n@artwork()\ndef p(sheet, chance):\n    print('hello')\n")
    perform(load_sketch(path), recipe(1))
    captured = capsys.readouterr()
    assert (captured.out, captured.err) == ("", "hello\n")


HEAD = "from mothseed import artwork, dial, Palette\n"
FAULTY = [
    ("", "has no artwork", None, "@artwork(width=180"),
    (HEAD + "@artwork()\ndef a(s, c): ...\n@artwork()\ndef b(s, c): ...\n", "this has two: a and b", 4, "take @artwork off"),
    (HEAD + "def a(s, c:\n", "this is not Python", 2, ""),
    (HEAD + "x = 1 / 0\n", "ZeroDivisionError: division by zero", 2, ""),
    (HEAD + "import nowhere_to_be_found\n", "ModuleNotFoundError", 2, ""),
    (HEAD + "@artwork\ndef a(s, c): ...\n", "@artwork needs to be called", 2, "write @artwork()"),
    (HEAD + "@artwork(width=0)\ndef a(s, c): ...\n", "width must be a length above 0", 2, ""),
    (HEAD + "@artwork(unit='inch')\ndef a(s, c): ...\n", "unit must be one of mm, cm, in, pt, px", 2, ""),
    (HEAD + "@artwork()\ndef a(s): ...\n", "a must take the sheet and chance", 2, "def a(sheet, chance, *"),
    (HEAD + "@artwork()\ndef a(s, c, *, n=3): ...\n", "n is not a dial", 2, "n=dial(12, 1, 99)"),
    (HEAD + "@artwork()\ndef a(s, c, *, n=dial(9, 0, 3)): ...\n", "its own default 9", 3, "widen the range"),
    (HEAD + "import sys\nsys.exit(3)\n", "the sketch stopped the program", 3, "return ends a function"),
    (b"\xff\xfe\x00broken", "this is not Python", None, ""),
]


@pytest.mark.parametrize(("text", "words", "line", "remedy"), FAULTY)
def test_a_sketch_that_cannot_be_loaded_is_told_with_its_line(
    tmp_path: Path, text: str | bytes, words: str, line: int | None, remedy: str
) -> None:
    path = tmp_path / "faulty.py"
    path.write_bytes(text if isinstance(text, bytes) else text.encode())
    with pytest.raises(SketchError) as caught:
        load_sketch(path)
    fault = caught.value
    assert words in fault.message
    assert remedy in fault.hint
    assert (fault.place.line if fault.place else None) == line


BODY = (
    HEAD + "def moth(view, size, *, tint='red'):\n    view.circle(0, 0, size, fill=tint)\n@artwork()\ndef a(sheet, chance):\n"
)
RAISING: list[tuple[str, type[MothSeedError], str, int, str]] = [
    ("    sheet.circle(1, 2, -3)", SketchError, "circle: radius must be 0 or more", 6, "abs"),
    ("    moth(sheet)", SketchError, "missing 1 required positional argument: 'size'", 6, "moth(view, size, *, tint='red')"),
    ("    moth(sheet, 3, colour='red')", SketchError, "unexpected keyword argument 'colour'", 6, "moth is called as moth"),
    ("    moth(sheet, 3, tint='redd')", SketchError, "'redd' is not a colour", 3, ""),
    ("    sheet.squiggle()", SketchError, "a Sheet has no squiggle", 6, "it has across, along, annulus"),
    ("    sheet.circel()", SketchError, "a Sheet has no circel", 6, "did you mean circle?"),
    ("    sheet.circle(3, 4)", SketchError, "TypeError: circle() missing", 6, "is called as circle(x, y, radius, **paint)"),
    ("    chance.between(3)", SketchError, "TypeError: between() missing", 6, "between(low, high, *, size=None, label=None)"),
    ("    sheet.circle(3, 4, '5')", SketchError, "radius is a number", 6, "leave the quotation marks out"),
    ("    pallete = 3\n    sheet.dots(palette)", SketchError, "name 'palette' is not defined", 7, "did you mean pallete?"),
    ("    smooth([])", SketchError, "NameError", 6, "from mothseed import smooth"),
    ("    math.pi", SketchError, "NameError", 6, "import math"),
    ("    import moht", SketchError, "ModuleNotFoundError", 6, "put moht.py beside the sketch"),
    ("    import failin", SketchError, "ModuleNotFoundError", 6, "did you mean failing?"),
    ("    from mothseed import Palete", SketchError, "cannot import name 'Palete' from 'mothseed'", 6, "did you mean Palette?"),
    ("    1 / sheet.left", SketchError, "ZeroDivisionError", 6, "max(count - 1, 1)"),
    ("    [][3]", SketchError, "IndexError", 6, "begin again"),
    ("    {'a': 1}['b']", SketchError, "there is no 'b' among the keys", 6, ""),
    ("    'a'.uper()", SketchError, "AttributeError", 6, "did you mean upper?"),
    ("    raise KeyError", SketchError, "KeyError", 6, ""),
    ("    Palette.from_picture('none.png')", PictureError, "there is no picture", 6, "relative to the sketch"),
    ("    exit()", SketchError, "the sketch stopped the program", 6, ""),
    (
        "    a_long_way_down = lambda: a_long_way_down()\n    a_long_way_down()",
        SketchError,
        "RecursionError",
        6,
        "needs an end",
    ),
]


@pytest.mark.parametrize(("body", "kind", "words", "line", "remedy"), RAISING)
def test_a_sketch_that_fails_is_told_with_the_deepest_line_of_its_own(
    tmp_path: Path, body: str, kind: type[MothSeedError], words: str, line: int, remedy: str
) -> None:
    path = tmp_path / "failing.py"
    path.write_text(BODY + body + "\n")
    with pytest.raises(kind) as caught:
        perform(load_sketch(path), recipe(1))
    fault = caught.value
    assert words in fault.message
    assert remedy in fault.hint
    assert fault.place is not None
    assert fault.place.line == line
    assert fault.place.text == (BODY + body).splitlines()[line - 1].strip()


def test_a_missing_sketch_and_a_folder_are_wrong_usage(tmp_path: Path) -> None:
    with pytest.raises(UsageError, match="there is no sketch"):
        load_sketch(tmp_path / "none.py")
    with pytest.raises(UsageError, match="is a folder"):
        load_sketch(tmp_path)


def test_a_history_survives_being_written_down(write_sketch: WriteSketch, tmp_path: Path) -> None:
    sketch = load_sketch(write_sketch())
    history = history_of(sketch, perform(sketch, recipe("lamp", reseeds={"spot": 3}, count=2)))
    assert as_record(from_json(history.as_json()), History) == history
    assert history.reseeds == {"spot": 3}
    picture = np.zeros((2, 3, 3), np.uint8)
    write_png(tmp_path / "whole.png", picture, history.as_json())
    assert history_in_picture(tmp_path / "whole.png") == history
    for number, damaged in enumerate(("", "{}", "[1]", '{"seed": 1}', "null", history.as_json()[:-9], "7")):
        write_png(tmp_path / f"{number}.png", picture, damaged)
        assert history_in_picture(tmp_path / f"{number}.png") is None
