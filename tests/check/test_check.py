"""Each rule has a sketch that trips it, and a near miss that does not."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
import textwrap
from importlib import import_module
from pathlib import Path

import pytest

from mothseed.check import Finding, Look, codes, findings
from mothseed.check.registry import own_rules
from mothseed.check.text import function_lines
from mothseed.sketch import Sketch, load_sketch, perform
from mothseed.sketch.recipe import AS_IT_IS
from tests.conftest import Run, WriteSketch
from tests.places import ROOT
from tests.recipes import recipe

HEAD = """
    import math
    import random
    import time
    import numpy as np
    from mothseed import Colour, artwork, dial, smooth


    @artwork(width=60, height=40, paper="white")
    def plate(sheet, chance, *, size=dial(5.0, 1, 9)):
        sheet.circle(30, 20, size, fill="teal")
"""


def codes_in(write_sketch: WriteSketch, lines: str) -> dict[str, str]:
    """The code of each finding, with the text of its line."""
    text = HEAD + "".join(f"        {line}\n" for line in lines.splitlines())
    sketch = load_sketch(write_sketch(text, "plate.py"))
    found = findings(sketch, [1, 2])
    return {each.code: each.line.text if each.line else "" for each in found}


def found_by(rules: tuple[str, ...], sketch: Sketch, *seeds: int) -> list[Finding]:
    """What some rules find in a sketch, performed here for some seeds."""
    impressions = tuple(perform(sketch, recipe(seed), tracing=True) for seed in seeds)
    look = Look(sketch, AS_IT_IS, impressions)
    return [found for name in rules for found in import_module(f"mothseed.check.rules.{name}").RULE.find(look)]


OF_DRAWINGS = ("nothing_drawn", "unseen", "hiding", "bare_corners", "crowded")
OF_CHANCE = ("idle_dials", "rarities", "shared_streams")


def seen_here(sketch: Sketch, *seeds: int) -> list[Finding]:
    """What all rules find that look at what is drawn in this process."""
    look = Look(sketch, AS_IT_IS, tuple(perform(sketch, recipe(seed), tracing=True) for seed in seeds))
    repeat = import_module("mothseed.check.rules.repeat").RULE
    return [found for rule in own_rules() if rule is not repeat for found in rule.find(look)]


OF_TEXTS = ("unseeded", "angles", "gamut", "wasted")

DRAWN = [
    ("off-sheet", "sheet.circle(80, 20, 5, fill='red')", "sheet.circle(64, 20, 5, fill='red')"),
    ("off-sheet", "sheet.line(-9, 5, -3, 9, stroke='red')", "sheet.line(-9, 5, 3, 9, stroke='red')"),
    ("no-paint", "sheet.circle(9, 9, 3, fill=None)", "sheet.circle(9, 9, 3, fill=None, stroke='red')"),
    ("no-paint", "sheet.circle(9, 9, 3, fill='red', opacity=0)", "sheet.circle(9, 9, 3, fill='red', opacity=0.2)"),
    ("no-size", "sheet.rect(9, 9, 0, 5, fill='red')", "sheet.rect(9, 9, 1, 5, fill='red')"),
    ("same-paint", "sheet.circle(30, 20, 1, fill='teal')", "sheet.circle(30, 20, 1, fill='#008890')"),
    ("hides-all", "sheet.rect(0, 0, 60, 40, fill='navy')", "sheet.rect(0, 0, 60, 40, fill='navy', opacity=0.9)"),
    ("hides-all", "sheet.circle(30, 20, 90, fill='navy')", "sheet.circle(50, 20, 17, fill='navy')"),
    (
        "edge-shows",
        "sheet.frame(30, 20, turn=8).rect(-30, -20, 60, 40, fill='navy', opacity=0.5)",
        "sheet.frame(30, 20, turn=8).rect(-60, -50, 120, 100, fill='navy', opacity=0.5)",
    ),
]


@pytest.mark.parametrize(("code", "wrong", "right"), DRAWN)
def test_what_is_drawn_wrongly_is_told_with_its_line(write_sketch: WriteSketch, code: str, wrong: str, right: str) -> None:
    for line, expected in ((wrong, code), (right, None)):
        text = HEAD + f"        {line}\n        sheet.circle(55, 35, 2, fill='red')\n"
        sketch = load_sketch(write_sketch(text, f"{code}-{expected}.py"))
        found = found_by(OF_DRAWINGS, sketch, 1, 2)
        told = {each.code: each.line.text if each.line else "" for each in found}
        if expected:
            assert told.get(code) == line
        else:
            assert told == {}


def test_a_mark_that_is_covered_is_told_and_one_that_peeps_out_is_not(write_sketch: WriteSketch) -> None:
    for radius, expected in ((2, ["covered"]), (6, [])):
        text = HEAD.replace("size=dial(5.0, 1, 9)", "size=dial(5)") + (
            f"        sheet.circle(9, 9, {radius}, fill='red')\n        sheet.circle(9, 9, 5, fill='black')\n"
        )
        sketch = load_sketch(write_sketch(text, f"covered{radius}.py"))
        found = found_by(OF_DRAWINGS, sketch, 1)
        assert [each.code for each in found] == expected


def test_what_is_seen_in_any_picture_is_not_unseen(write_sketch: WriteSketch) -> None:
    line = "sheet.circle(chance('far').pick([30, 200]), 5, 3, fill='red')"
    sketch = load_sketch(write_sketch(HEAD + f"        {line}\n", "far.py"))
    assert found_by(OF_DRAWINGS, sketch, *range(12)) == []


@pytest.mark.parametrize("fill", ["#000000", "#ffffff", "#808080"])
def test_without_paper_every_colour_is_seen(write_sketch: WriteSketch, fill: str) -> None:
    drawn = f"        sheet.circle(12, 20, 8, fill='{fill}')\n        sheet.circle(12, 20, 5, fill='{fill}')\n"
    sketch = load_sketch(write_sketch(HEAD.replace('paper="white"', 'paper="#00000000"') + drawn, "plate.py"))
    (found,) = found_by(OF_DRAWINGS, sketch, 1)
    assert (found.code, found.line and found.line.text) == ("same-paint", f"sheet.circle(12, 20, 5, fill='{fill}')")


def test_nothing_drawn_and_too_much_drawn(write_sketch: WriteSketch) -> None:
    empty = load_sketch(write_sketch(HEAD.replace('sheet.circle(30, 20, size, fill="teal")', "pass"), "empty.py"))
    assert [each.code for each in found_by(OF_DRAWINGS, empty, 1)] == ["nothing-drawn"]
    many = "        sheet.circles(np.linspace(0, 60, 700_000), 20, 0.5, fill='red')\n"
    crowded = load_sketch(write_sketch(HEAD + many, "crowded.py"))
    (found,) = found_by(OF_DRAWINGS, crowded, 1)
    assert found.code == "crowded"
    assert "700,001 marks on 666,667 pixels" in found.words


NEVER_CALLED = """
    import glob, math, os, random, time, urllib.request, uuid
    from pathlib import Path
    import numpy as np
    from mothseed import Colour, artwork


    def never(sheet, chance, x):
        LINE


    @artwork()
    def plate(sheet, chance):
        sheet.circle(9, 9, 3)
        if sheet is None:
            never(sheet, chance, 1)
"""


WRONG = [
    ("unseeded", "x = random.random()"),
    ("unseeded", "x = random.Random().random()"),
    ("unseeded", "x = np.random.default_rng().random()"),
    ("unseeded", "x = np.random.default_rng(None)"),
    ("unseeded", "x = np.random.uniform(0, 1)"),
    ("unseeded", "x = time.time()"),
    ("unseeded", "x = os.listdir('.')[0]"),
    ("unseeded", "for name in glob.glob('*.png'): pass"),
    ("unseeded", "for path in Path('.').iterdir(): pass"),
    ("unseeded", "paths = [each for each in Path('.').rglob('*.png')]"),
    ("unseeded", "x = urllib.request.urlopen('http://a').read()"),
    ("unseeded", "x = os.environ['HOME']"),
    ("unseeded", "x = os.environ.get('HOME')"),
    ("unseeded", "x = os.getenv('HOME')"),
    ("unseeded", "x = [y for y in {1, 2, 3}]"),
    ("unseeded", "for tint in set(['red', 'blue']): pass"),
    ("unseeded", "tints = {'red', 'blue'}; x = list(tints)"),
    ("unseeded", "tints = {'red', 'blue'}; x = [tint for tint in tints]"),
    ("unseeded", "x = chance.pick(tuple({'red', 'blue'}))"),
    ("unseeded", "x = [*{'red', 'blue'}]"),
    ("unseeded", "x = ' '.join({'red', 'blue'})"),
    ("unseeded", "x = hash('moth')"),
    ("radians", "sheet.frame(9, 9, turn=math.pi / 4).circle(0, 0, 1)"),
    ("radians", "sheet.frame(9, 9, turn=math.radians(45)).circle(0, 0, 1)"),
    ("radians", "a = math.pi / 4; sheet.frame(9, 9, turn=a).circle(0, 0, 1)"),
    ("radians", "a = math.tau; b = a * x / 7; sheet.frame(9, 9, turn=b).circle(0, 0, 1)"),
    ("radians", "sheet.frame(9, 9, turn=math.atan2(x, 2)).circle(0, 0, 1)"),
    ("radians", "a = np.arctan2(x, 2); sheet.frame(9, 9, turn=a).circle(0, 0, 1)"),
    ("degrees", "x = math.cos(90)"),
    ("degrees", "x = np.sin(-45.0)"),
    ("degrees", "x = [math.cos(i * 30) for i in range(12)]"),
    ("degrees", "for i in range(12): x = math.sin(30 * i + 15)"),
    ("degrees", "for a in range(0, 360, 30): x = math.sin(a)"),
    ("degrees", "x = np.cos(np.linspace(0, 360, 12))"),
    ("degrees", "a = np.arange(0, 360, 15); x = np.sin(a)"),
    ("out-of-gamut", "x = Colour.parse('oklch(0.7 0.4 150)')"),
    ("out-of-gamut", "sheet.circle(9, 9, 5, fill=chance('tint').colour(lightness=(0.9, 0.95), chroma=(0.25, 0.3)))"),
    ("unused-view", "sheet.styled(fill='red')"),
    ("unused-view", "sheet.frame(9, 9, turn=20)"),
    ("unused-view", "sheet.centred().spun(5)"),
    ("unused-draw", "chance('drift').between(0, 1)"),
    ("unused-draw", "chance.odds(0.5)"),
]  # fmt: skip
RIGHT = [
    "x = chance.between(0, 1)",
    "x = random.Random(7).random()",
    "x = np.random.default_rng(7).random()",
    "x = np.random.default_rng(seed=x).random()",
    "random.seed(7); x = random.random()",
    "x = sorted(os.listdir('.'))",
    "for path in sorted(Path('.').iterdir()): pass",
    "x = len(glob.glob('*.png'))",
    "x = sorted(path.name for path in Path('.').glob('*.png'))",
    "x = os.path.join('a', 'b')",
    "x = Path('.').resolve()",
    "for tint in sorted(set(['red', 'blue'])): pass",
    "tints = {'red', 'blue'}; x = 'red' in tints",
    "tints = {'red', 'blue'}; x = sorted(tints)",
    "tints = {'red', 'blue'}; x = len(tints)",
    "tints = {'red': 1, 'blue': 2}; x = list(tints)",
    "tints = {'red'}; tints = ['red']; x = list(tints)",
    "x = uuid.uuid5(uuid.NAMESPACE_URL, 'moth')",
    "sheet.frame(9, 9, turn=math.degrees(math.pi / 4)).circle(0, 0, 1)",
    "sheet.frame(9, 9, turn=3.1 * 180 / math.pi).circle(0, 0, 1)",
    "sheet.frame(9, 9, turn=math.degrees(math.atan2(x, 2))).circle(0, 0, 1)",
    "a = math.pi / 4; sheet.frame(9, 9, turn=math.degrees(a)).circle(0, 0, 1)",
    "a = math.pi; a = 45; sheet.frame(9, 9, turn=a).circle(0, 0, 1)",
    "sheet.circle(math.pi, 9, 1)",
    "sheet.circle(9, 9, 5, fill=chance('tint').colour(lightness=(0.6, 0.95), chroma=(0.1, 0.4)))",
    "sheet.circle(9, 9, 5, fill=chance('tint').colour(chroma=x / 10))",
    "x = math.cos(math.radians(90))",
    "x = math.cos(2)",
    "x = [math.cos(i * 0.3) for i in range(12)]",
    "x = [math.cos(i * 7) for i in range(12)]",
    "for i in range(12): x = math.sin(math.radians(i * 30))",
    "for a in range(0, 360, 30): x = math.sin(math.radians(a))",
    "x = np.cos(np.linspace(0, 2 * np.pi, 12))",
    "a = np.deg2rad(np.arange(0, 360, 15)); x = np.sin(a)",
    "across = np.linspace(0, 360, 90); x = np.sin(across / 20)",
    "x = Colour.parse('oklch(0.7 0.1 150)')",
    "x = Colour.parse('oklch(maybe)')",
    "x = 'random.random() and hash(1)'",
    "red = sheet.styled(fill='red'); red.circle(9, 9, 1)",
    "sheet.frame(9, 9, turn=20).circle(0, 0, 1)",
    "sheet.layer('glow')",
    "chance('form').pick(['hawk', 'owlet'], label='form')",
    "names = ['b', 'a']; names.sort()",
    "for name in dict.fromkeys(['red', 'blue']): pass",
]  # fmt: skip


@pytest.mark.parametrize(("code", "line"), [*WRONG, *(("", line) for line in RIGHT)])
def test_the_text_of_a_sketch_tells_of_mistakes(write_sketch: WriteSketch, code: str, line: str) -> None:
    found = found_by(OF_TEXTS, load_sketch(write_sketch(NEVER_CALLED.replace("LINE", line), "plate.py")), 1)
    assert [each.code for each in found] == ([code] if code else [])
    if found:
        assert found[0].line is not None
        assert found[0].line.text == line


@pytest.mark.parametrize(
    ("angle", "remedy"),
    [
        ("math.pi / 4", "write 45"),
        ("-math.tau * 3 / 8", "write -135"),
        ("2 * math.pi - math.pi / 2", "write 270"),
        ("math.radians(x)", "write x"),
        ("math.pi / x", "pi is 180"),
        ("math.pi / 0", "pi is 180"),
    ],
)
def test_an_angle_in_radians_is_told_in_degrees(write_sketch: WriteSketch, angle: str, remedy: str) -> None:
    text = NEVER_CALLED.replace("LINE", f"sheet.frame(9, 9, turn={angle}).circle(0, 0, 1)")
    (found,) = found_by(OF_TEXTS, load_sketch(write_sketch(text, "plate.py")), 1)
    assert found.code == "radians"
    assert found.remedy.endswith(remedy)


GRID_OF_HILLS = """
        hills, own = chance('hills').field(scale={scale}), chance('place').between(5, 50)
        x = np.arange(10, 60, 10.0)
        sheet.circles(x, 9, 1 + hills.at(x + {off}, x), fill='red')
        sheet.circle(own, 30, 2, fill='red')
"""
SEEN = [
    ("thin-stroke", "sheet.line(5, 5, 50, 9, stroke='red', stroke_width=0.02)",
     "sheet.line(5, 5, 50, 9, stroke='red', stroke_width=0.1)"),
    ("thin-stroke", "sheet.frame(5, 5, scale=0.1).circle(9, 9, 40, stroke='red', stroke_width=0.3, fill=None)",
     "sheet.frame(5, 5, scale=0.5).circle(9, 9, 8, stroke='red', stroke_width=0.3, fill=None)"),
    ("small-text", "sheet.text(5, 9, 'moth', size=0.6)", "sheet.text(5, 9, 'moth', size=3)"),
    ("small-text", "sheet.frame(5, 5, scale=0.1).text(0, 0, 'moth', size=5)",
     "sheet.frame(5, 5, scale=0.9).text(0, 0, 'moth', size=5)"),
    ("cut-text", "sheet.text(50, 9, 'a moth at the lamp', size=4)", "sheet.text(5, 9, 'a moth', size=4)"),
    ("cut-text", "sheet.text(5, 2, 'moth', size=5)", "sheet.text(5, 12, 'moth', size=5)"),
    ("cut-shape", "sheet.circle(3.2, 9, 3.6, fill='red')", "sheet.circle(4.2, 9, 3.6, fill='red')"),
    ("cut-shape", "sheet.rect(50, 5, 10.9, 5, fill='red')", "sheet.rect(50, 5, 18, 5, fill='red')"),
    ("faint-text", "sheet.text(5, 12, 'moth', size=5, fill='#ddd')", "sheet.text(5, 12, 'moth', size=5, fill='#666')"),
    ("faint-text", "sheet.text(26, 22, 'moth', size=3, fill='#077')", "sheet.text(26, 22, 'moth', size=3, fill='white')"),
    ("hardly-seen", "sheet.rect(2, 2, 9, 9, fill='#fdfdfd')", "sheet.rect(2, 2, 9, 9, fill='#eee')"),
    ("hardly-seen", "sheet.circle(30, 20, 2, fill='#008181')", "sheet.circle(30, 20, 2, fill='#00c0c0', opacity=0.3)"),
    ("drawn-twice", "sheet.circle(9, 9, 3, fill='red', opacity=0.5)\n        sheet.circle(9, 9, 3, fill='red', opacity=0.5)",
     "for _ in range(9): sheet.circle(9, 9, 3, fill='red', opacity=0.5)"),
    ("drawn-twice", "sheet.frame(20, 9).mirrored().circle(0, 0, 3, fill='red', opacity=0.5)",
     "sheet.frame(20, 9).mirrored().circle(5, 0, 3, fill='red', opacity=0.5)"),
    ("drawn-twice", "sheet.frame(20, 9).spun(5).circle(0, 0, 3, fill='red', opacity=0.5)",
     "sheet.frame(20, 9).spun(5).circle(0, 3, 1, fill='red', opacity=0.5)"),
    ("field-corners", GRID_OF_HILLS.format(scale=10, off=0), GRID_OF_HILLS.format(scale=13, off=0)),
    ("field-corners", GRID_OF_HILLS.format(scale=5, off=0), GRID_OF_HILLS.format(scale=5, off=2)),
    ("field-corners", GRID_OF_HILLS.format(scale=5, off=0), GRID_OF_HILLS.format(scale="5, isotropic=True", off=0)),
    ("keyless-stream", "for i in range(5): sheet.circle(9 * i + 5, chance('height').between(9, 30), 1, fill='red')",
     "for i in range(5): sheet.circle(9 * i + 5, chance('height', i).between(9, 30), 1, fill='red')"),
    ("keyless-stream", "for i in range(5): sheet.circle(9 * i + 5, chance.between(9, 30), 1, fill='red')",
     "dust = chance('dust')\n        for i in range(5): sheet.circle(9 * i + 5, dust.between(9, 30), 1, fill='red')"),
    ("seeds-alike", "tint = chance('tint').between(0, 1)",
     "tint = chance('tint').between(0, 1); sheet.circle(9, 9, 1 + 3 * tint, fill='red')"),
    ("out-of-gamut", "for i in range(5): sheet.circle(9 * i + 5, 9, 2, fill=f'oklch(0.7 0.4 {72 * i})')",
     "for i in range(5): sheet.circle(9 * i + 5, 9, 2, fill=f'oklch(0.7 0.1 {72 * i})')"),
    ("fails", "sheet.circle(9, 9, 9 - size if size < 9 else -1, fill='red')", "sheet.circle(9, 9, 10 - size, fill='red')"),
    ("fails", "sheet.circle(chance('x').between(5, 50), 9, 2 if chance('rare').odds(0.97) else -1, fill='red')",
     "sheet.circle(chance('x').between(5, 50), 9, 2 if chance('rare').odds(0.97) else 1, fill='red')"),
]  # fmt: skip


@pytest.mark.parametrize(("code", "wrong", "right"), SEEN)
def test_what_is_seen_of_a_sketch_tells_of_mistakes(write_sketch: WriteSketch, code: str, wrong: str, right: str) -> None:
    for lines, expected in ((wrong, {code}), (right, set())):
        text = HEAD.replace('paper="white"', 'paper="white", unit="mm"') + f"        {lines}\n"
        sketch = load_sketch(write_sketch(text, f"{code}-{len(expected)}.py"))
        # What is seen here needs no other processes, which would take most of the time.
        found = findings(sketch, [1, 2, 4]) if code == "fails" else seen_here(sketch, 1, 2, 4)
        assert {each.code for each in found} == expected


def test_a_function_that_nobody_calls_is_no_finding(write_sketch: WriteSketch) -> None:
    text = NEVER_CALLED.replace("never(sheet, chance, 1)", "pass").replace("LINE", "x = time.time() + math.cos(90)")
    assert found_by(OF_TEXTS, load_sketch(write_sketch(text, "plate.py")), 1) == []
    called = text.replace("def plate(sheet, chance):", "def plate(sheet, chance):\n        motifs = {'a': never}")
    assert [each.code for each in found_by(OF_TEXTS, load_sketch(write_sketch(called, "plate.py")), 1)] == [
        "unseeded",
        "degrees",
    ]


def test_text_that_is_no_python_has_no_functions() -> None:
    assert function_lines("def (") == {}
    assert function_lines("x\0y") == {}


def test_a_module_that_is_no_python_any_more_is_no_finding(write_sketch: WriteSketch) -> None:
    module = write_sketch("WIDE = 3\n", "sizes.py")
    sketch = load_sketch(write_sketch("from sizes import WIDE\n" + textwrap.dedent(HEAD), "plate.py"))
    module.write_text("def (", encoding="utf-8")
    assert found_by(OF_TEXTS, sketch, 1) == []


def test_what_no_seed_decides_is_found_by_doing_it_again(write_sketch: WriteSketch, tmp_path: Path) -> None:
    line = "for at, word in enumerate(dict.fromkeys({'ab', 'cd', 'ef', 'gh', 'ij'})): sheet.rect(at, 1, 2, ord(word[0]) / 9)"
    found = codes_in(write_sketch, line)
    assert found == {"irreproducible": line}
    assert codes_in(write_sketch, line.replace("{'ab'", "['ab'").replace("'ij'}", "'ij']")) == {}


def test_what_python_keeps_compiled_elsewhere_is_its_own(write_sketch: WriteSketch, tmp_path: Path, installed: Run) -> None:
    settings = {"PYTHONPYCACHEPREFIX": str(tmp_path / "kept"), "PYTHONDONTWRITEBYTECODE": ""}
    subprocess.run([sys.executable, "-c", "import webcolors"], env={**os.environ, **settings}, check=True)
    assert any((tmp_path / "kept").rglob("webcolors/*.pyc"))
    write_sketch(
        HEAD.replace('paper="white"', 'paper="#ffffff"') + "        sheet.circle(9, 9, 4, fill='tan')\n", "own/plate.py"
    )
    answer = installed("check", "own/plate.py", "--seeds", "lamp", **settings)
    assert (answer.status, answer.out) == (0, "own/plate.py: nothing found in 1 seed\n")


def test_files_from_elsewhere_are_told(write_sketch: WriteSketch, tmp_path: Path) -> None:
    (tmp_path / "far").mkdir()
    far, near = tmp_path / "far" / "tints.txt", tmp_path / "near.txt"
    far.write_text("red")
    near.write_text("red")
    head = HEAD.replace("import math\n", "import math\n    from pathlib import Path\n", 1)
    sketch = write_sketch(head + f"        tint = Path({str(far)!r}).read_text()\n", "own/plate.py")
    found = [each for each in findings(load_sketch(sketch), [1]) if each.code == "outside-file"]
    assert [each.words for each in found] == [f"{far} is read"]
    sketch = write_sketch(head + f"        tint = Path({str(near)!r}).read_text()\n", "plate.py")
    assert list(findings(load_sketch(sketch), [1])) == []


CHANCED = [
    ("idle-dial", "", "tall=dial(3)"),
    ("hardly-ever", 'chance("form").pick(["moth", "ghost"], weights=[9999, 1], label="form")', ""),
    ("shared-stream", "shape(sheet, chance('wing')); tinted(sheet, chance('wing'))", ""),
    (None, "sheet.circle(5, 5, tall, fill='red')", "tall=dial(3)"),
    (None, 'chance("form").pick(["moth", "ghost"], weights=[19, 1], label="form")', ""),
    (None, "shape(sheet, chance('wing', 1)); tinted(sheet, chance('wing', 2))", ""),
    (None, "shape(sheet, chance('wing')); shape(sheet, chance('wing'))", ""),
]


@pytest.mark.parametrize(("code", "line", "dial"), CHANCED)
def test_dials_outcomes_and_streams_are_looked_over(write_sketch: WriteSketch, code: str | None, line: str, dial: str) -> None:
    head = HEAD.replace("size=dial(5.0, 1, 9)", f"size=dial(5.0, 1, 9), {dial}").replace(
        "    @artwork",
        "    def shape(view, own):\n        view.circle(own.between(0, 60), 5, 1)\n\n\n"
        "    def tinted(view, own):\n        view.circle(own.between(0, 60), 9, 1)\n\n\n    @artwork",
    )
    sketch = load_sketch(write_sketch(head + (f"        {line}\n" if line else ""), "plate.py"))
    found = found_by(OF_CHANCE, sketch, 1, 2, 3)
    assert [each.code for each in found] == ([code] if code else [])


@pytest.mark.parametrize("name", ["specimen", "register"])
def test_the_demo_makes_no_mistake(name: str) -> None:
    sketch = load_sketch(ROOT / "src" / "mothseed" / "demo" / f"{name}.py")
    assert list(findings(sketch, [1, 2])) == []


def test_dials_and_streams_that_are_set_count_for_what_is_tried(write_sketch: WriteSketch) -> None:
    head = HEAD.replace("size=dial(5.0, 1, 9)", "size=dial(5.0, 1, 9), tall=dial(3)")
    sketch = load_sketch(write_sketch(head + "        sheet.circle(chance('place').between(0, 60), 5, 1)\n", "plate.py"))
    found = findings(sketch, [1], recipe(size=7.0, reseeds={"place": 4}))
    assert [(each.code, each.words.split()[0]) for each in found] == [("idle-dial", "tall")]


# The command


def test_findings_are_told_with_line_and_remedy(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(HEAD + "        sheet.circle(200, 9, 2)\n        x = time.time()\n", "plate.py")
    answer = run("check", "plate.py", "--seeds", "1-2")
    assert answer.status == 1
    assert "plate.py:12: unseeded: a number, time or order that no seed decides\n    x = time.time()\n" in answer.out
    assert "plate.py:11: off-sheet: all that a line draws lies off the sheet\n    sheet.circle(200, 9, 2)\n" in answer.out
    assert "look at the origin of its frame" in answer.out
    assert "plate.py: 2 findings in 2 seeds" in answer.out
    rows = json.loads(run("check", "plate.py", "--seeds", "1", "--json").out)
    assert {(row["code"], row["line"]) for row in rows} == {("unseeded", 12), ("off-sheet", 11)}


def test_certain_changes_are_shown_as_a_diff_and_nothing_is_changed(run: Run, write_sketch: WriteSketch) -> None:
    lines = (
        "for tint in {'red', 'blue'}: sheet.circle(9, 9, 1, fill=tint)",
        "sheet.frame(9, 9, turn=math.pi / 4).rect(0, 0, 5, 2, fill='red'); grün = math.cos(90)",
        "sheet.styled(fill='red')",
        "time.time()",
    )
    path = write_sketch(HEAD + "".join(f"        {line}\n" for line in lines), "plate.py")
    before = path.read_bytes()
    answer = run("check", "plate.py", "--seeds", "1", "--fix")
    assert answer.status == 1
    changed = [line.strip("+ ") for line in answer.out.splitlines() if line.startswith("+ ")]
    assert changed == [
        "for tint in sorted({'red', 'blue'}): sheet.circle(9, 9, 1, fill=tint)",
        "sheet.frame(9, 9, turn=45).rect(0, 0, 5, 2, fill='red'); grün = math.cos(math.radians(90))",
        "sheet = sheet.styled(fill='red')",
    ]
    assert "4 changes; " in answer.err
    assert path.read_bytes() == before


def test_a_sketch_in_order_is_passed(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(HEAD, "plate.py")
    answer = run("check", "plate.py", "--seeds", "lamp")
    assert (answer.status, answer.out) == (0, "plate.py: nothing found in 1 seed\n")
    write_sketch(HEAD + "        sheet.circle(1, 1, -1)\n", "broken.py")
    assert "radius must be 0 or more" in run("check", "broken.py").err


def test_every_code_is_explained_in_the_docs() -> None:
    page = (ROOT / "docs" / "checks.md").read_text(encoding="utf-8")
    assert sorted(re.findall(r"^## `(.+)`$", page, re.MULTILINE)) == sorted(codes())
    for words in codes().values():
        assert words[0].upper() + words[1:] in page
