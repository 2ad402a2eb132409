"""Plans, tables, verifying, recovering and sweeping, through the commands."""

from __future__ import annotations

import json
import shutil
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PIL.PngImagePlugin import PngInfo

from mothseed.chance import Outcome
from mothseed.faults import UsageError
from mothseed.formats.picture_reading import read_history
from mothseed.layout import LEDGER_NAME
from mothseed.measure import MEASURES
from mothseed.report.contact import shown_width
from mothseed.report.grid import cell_width
from mothseed.series import Edition, series_editions
from mothseed.series.ledger import Ledger
from mothseed.series.table import selected, series_table, table_of
from mothseed.sketch.dials import dial
from mothseed.sketch.vary import parse_axis
from tests.conftest import Run, WriteSketch, pixels_of
from tests.recipes import known_edition

PLAN = """
sketch = "spots.py"
seeds = "1-2,lamp"
folder = "night"
width = "90px"
caption = "{variant}: {count} of {tint}"
[dials]
count = 3
[[variant]]
name = "small"
[[variant]]
name = "big"
dials = { big = true }
reseed = { spot = 9 }
"""


def test_a_plan_makes_each_seed_in_each_variant(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    Path("plan.toml").write_text(PLAN)
    answer = run("edition", "plan.toml", "--jobs", "1")
    assert answer.status == 0, answer.err
    editions = series_editions(Path("night"))
    assert [edition.file for edition in editions] == [
        *("0001.big.png", "0001.small.png", "0002.big.png", "0002.small.png", "lamp.big.png", "lamp.small.png")
    ]
    assert [(e.dials["big"], e.dials["count"], e.reseeds) for e in editions[:2]] == [(True, 3, {"spot": 9}), (False, 3, {})]
    assert pixels_of("night/0001.big.png").shape == (60, 90, 3)
    assert "6 there already" in run("edition", "plan.toml").out
    Path("plan.toml").write_text(PLAN.replace("count = 3", "count = 4"))
    dry = run("edition", "plan.toml", "--dry-run")
    assert dry.out.splitlines()[0] == "0001.small.png  dial count was changed"
    assert dry.out.splitlines()[-1] == "night: 6 of 6 would be made"
    assert series_editions(Path("night"))[0].dials["count"] == 3, "a dry run changes nothing"


def test_all_faults_of_a_plan_are_told_each_with_its_place(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    Path("plan.toml").write_text("""
        sketch = "spots.py"
        seeds = "3-1"
        widht = "90px"
        dpi = "many"
        format = "gif"
        without = [1]
        [dials]
        count = "many"
        size = 3
        [reseed]
        tint = "a b"
        [[variant]]
        name = "two words"
        [[variant]]
        dial = { big = true }
    """)
    answer = run("edition", "plan.toml")
    assert answer.status == 2
    assert answer.out == ""
    told = answer.err.splitlines()
    assert told[0] == "mothseed: plan.toml has 11 faults:"
    for words in (
        'seeds: "3-1" runs backwards',
        "widht: there is no such key; keys are sketch, seeds,",
        'dpi: expected a number of pixels in an inch, got "many"',
        'format: expected png, svg, pdf, webp, tif, tiff, jpg, jpeg, got "gif"',
        'without: expected a list of layers such as ["glow"], got [1]',
        'reseed.tint: "a b" is neither a whole number nor a word',
        'variant 1.name: "two words" is neither',
        'variant 2.name: it is missing; write name = "flat"',
        "variant 2.dial: there is no such key; keys are name, settings, dials, reseed, without",
        'dials.count: expected a whole number from 0 to 50, got "many"',
        "dials.size: the sketch has no dial size",
    ):
        assert any(words in line for line in told), words


@pytest.mark.parametrize(
    ("content", "words"),
    [
        ("sketch = ", "is not TOML"),
        ("", "sketch: it is missing"),
        ('sketch = "nix.py"\nseeds = 1', "there is no sketch"),
        ('sketch = "spots.py"\nseeds = 1\n[[variant]]\nname = "a"\n[[variant]]\nname = "a"', "two variants of the name a"),
        ('sketch = "spots.py"\nseeds = 1\nvariant = 3', "variant: expected tables"),
    ],
)
def test_what_is_no_plan_is_told(run: Run, write_sketch: WriteSketch, content: str, words: str) -> None:
    write_sketch()
    Path("plan.toml").write_text(content)
    answer = run("edition", "plan.toml")
    assert (answer.status, words in answer.err) == (2, True), answer.err


def test_options_that_a_plan_answers_are_refused_beside_it(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    Path("plan.toml").write_text(PLAN)
    answer = run("edition", "plan.toml", "--seeds", "1", "--width", "9px")
    assert answer.status == 2
    assert "--seeds, --width cannot be given beside a plan" in answer.err
    assert run("edition", "none.toml").status == 2
    assert "--seeds is missing" in run("edition", "spots.py").err


EDITIONS = [
    known_edition(1, {"spots": 2, "width": 7}, width=90, milliseconds=5.0, file="0001.png", mark="keep"),
    known_edition(2, {"spots": 4, "width": 7}, width=90, milliseconds=3.0, file="0002.png", measures={"coverage": 0.5}),
    known_edition("lamp", {"spots": 3, "width": 7}, width=90, milliseconds=4.0, error="it's <b>broken</b>"),
]


@pytest.mark.parametrize(
    ("where", "sort", "seeds"),
    [
        ("", [], [1, 2, "lamp"]),
        ("spots > 2", [], [2, "lamp"]),
        ("spots > 2 and status = 'done'", [], [2]),
        ("\"dial.width\" = 7 and mark = 'keep'", [], [1]),
        ("coverage is not null", [], [2]),
        ("", ["spots desc"], [2, "lamp", 1]),
        ("", ["status", "milliseconds"], [2, 1, "lamp"]),
        ("error like '%broken%' -- and a comment", [], ["lamp"]),
    ],
)
def test_rows_are_chosen_and_sorted(where: str, sort: list[str], seeds: list[object]) -> None:
    assert [row["seed"] for row in selected(table_of(EDITIONS), where, sort).dicts()] == seeds


@pytest.mark.parametrize(
    ("where", "sort", "words"),
    [
        ("spotz > 2", [], "asks for spotz, and there is no such column"),
        ("spots >", [], "syntax error"),
        ("1); delete from edition; --", [], "where: "),
        ("(select 1 from pragma_database_list)", [], "where: "),
        ("load_extension('x')", [], "where: "),
        ("", ["nix"], "there is no column nix"),
    ],
)
def test_what_is_no_condition_is_told_and_can_do_no_harm(where: str, sort: list[str], words: str) -> None:
    with pytest.raises(UsageError) as caught:
        selected(table_of(EDITIONS), where, sort)
    assert words in caught.value.message


SHARED = [
    known_edition(1, {"spots": 2, "tone": 1}, outcomes=(Outcome("spots", 5), Outcome("form", "hawk")), measures={"spots": 0.1}),
    known_edition(2, {"spots": 3}, outcomes=(Outcome("form", "owlet"),), measures={"form": 0.2, "tone": 0.3, "hue": 4.0}),
]
"""Where dials, outcomes and measures go by the same names."""


@pytest.mark.parametrize(
    "asked",
    [
        ["seed"], ["spots"], ["dial.spots"], ["outcome.spots"], ["measure.spots"], ["form"], ["measure.form"], ["hue"],
        ["measure.tone", "tone"], ["measure.hue"], ["outcome.form"], ["hue", "spots", "mark"], ["nix"],
    ],
)  # fmt: skip
def test_a_few_columns_of_a_series_are_those_among_all(tmp_path: Path, asked: list[str]) -> None:
    with Ledger(tmp_path) as ledger:
        ledger.add([replace(SHARED[0], outcomes=(Outcome("lost", 1),)), *SHARED])
    whole, few = series_table(tmp_path), series_table(tmp_path, asked)
    there = [name for name in asked if name in whole.columns]
    assert there == [name for name in asked if name in few.columns]
    assert few.chosen(there).rows == whole.chosen(there).rows


def test_a_table_shows_a_series(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    run("edition", "spots.py", "--seeds", "1-4", "--width", "60px", "--jobs", "1", "-o", "s")
    shown = run("table", "s", "--sort", "seed desc")
    assert shown.out.split()[:5] == ["seed", "status", "count", "big", "tint"]
    assert [line.split()[0] for line in shown.out.splitlines()[3:7]] == ["4", "3", "2", "1"]
    assert shown.err == "4 of 4 editions\n"
    assert (
        run("table", "s", "--columns", "seed,file", "--where", "seed < 3", "--csv").out
        == "seed,file\r\n1,0001.png\r\n2,0002.png\r\n"
    )
    assert len(json.loads(run("table", "s", "--columns", "all", "--json").out)[0]) >= 12
    assert run("table", "s", "--csv", "--json").status == 2
    assert run("table", "s", "--columns", "nix").status == 2
    assert "is not a series: it has no ledger.sqlite" in run("table", ".").err


def test_verify_finds_what_was_altered_and_nothing_in_what_was_not(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    run("edition", "spots.py", "--seeds", "1-5", "--width", "60px", "--jobs", "1", "-o", "s")
    sound = run("verify", "s", "--jobs", "1")
    assert (sound.status, sound.out) == (0, "s: 5 pictures; 5 made again; 0 findings\n")
    Path("s/0002.png").unlink()
    shutil.copy("s/0001.png", "s/0003.png")
    Path("s/0004.png").write_bytes(Path("s/0004.png").read_bytes()[:200])
    Image.new("RGB", (4, 4)).save("s/other.png")
    report = run("verify", "s", "--sample", "2", "--jobs", "1", "--json")
    assert report.status == 1
    found = json.loads(report.out)
    assert found["made_again"] == 2
    assert [(each["file"], each["kind"]) for each in found["findings"]] == [
        ("0002.png", "missing"),
        ("0003.png", "altered"),
        ("0004.png", "altered"),
        ("other.png", "unknown"),
    ]
    write_sketch("from mothseed import artwork\n@artwork()\ndef picture(sheet, chance):\n    pass\n", "s/source/spots.py")
    assert "unverifiable: source/ no longer has the spots.py that made it" in run("verify", "s", "--sample", "1").out


def lied_in_ledger(**lies: object) -> None:
    with Ledger.of(Path("s")) as ledger:
        ledger.add([replace(edition, **lies) for edition in ledger.editions() if edition.seed == 2])  # type: ignore[arg-type]


def lied_in_picture(**lies: object) -> None:
    path = Path("s/0002.png")
    history = {**json.loads(read_history(path) or ""), **lies}
    text = PngInfo()
    text.add_itxt("mothseed", json.dumps(history))
    with Image.open(path) as image:
        image.load()
        image.save(path, pnginfo=text)


@pytest.mark.parametrize(
    ("lie", "words"),
    [
        (lambda: lied_in_ledger(measures={"coverage": 0.5}), "its measures in the ledger are not those that come of it"),
        (lambda: lied_in_ledger(palette=(("#ff0000", 1.0),)), "its palette in the ledger"),
        (lambda: lied_in_ledger(forms=b"\1" * 256), "its forms in the ledger"),
        (
            lambda: lied_in_ledger(outcomes=(Outcome("form", "ghost"),)),
            "the history in it and the ledger differ in outcomes",
        ),
        (lambda: lied_in_picture(seed=9), "the history in it and the ledger differ in seed"),
        (lambda: lied_in_picture(dials={"count": 3, "big": False}), "the history in it and the ledger differ in dials"),
        (lambda: lied_in_picture(fingerprint="0" * 32), "the history in it and the ledger differ in fingerprint"),
    ],
)
def test_verify_finds_what_a_ledger_or_a_history_says_wrongly(
    run: Run, write_sketch: WriteSketch, lie: Callable[[], None], words: str
) -> None:
    write_sketch()
    run("edition", "spots.py", "--seeds", "1-3", "--width", "60px", "--jobs", "1", "-o", "s")
    lie()
    answer = run("verify", "s", "--jobs", "1")
    assert answer.status == 1
    assert words in answer.out
    assert all(line.startswith(("0002.png  altered: ", "s: ")) for line in answer.out.splitlines())


UNSTEADY = """
    import random
    from mothseed import artwork
    @artwork(width=60, height=40)
    def picture(sheet, chance):
        sheet.circle(10, 10, 5)
        for name in {"hawk", "owlet", "plume", "emerald"}:
            sheet.circle(len(name) * 5, 20, 3)
        sheet.rect(random.random() * 40, 5, 9, 9)
"""


def test_verify_names_the_first_shape_of_a_sketch_that_is_not_reproducible(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(UNSTEADY)
    run("edition", "spots.py", "--seeds", "1", "--width", "60px", "-o", "s")
    answer = run("verify", "s", "--jobs", "1")
    assert answer.status == 1
    assert "0001.png  not reproducible: mark " in answer.out
    assert "differs from run to run: a " in answer.out


def test_a_ledger_is_built_again_from_the_pictures(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    Path("plan.toml").write_text(PLAN)
    run("edition", "plan.toml", "--jobs", "1")
    before = series_editions(Path("night"))
    assert "is sound: it knows 6 editions" in run("recover", "night").err
    Path("night", LEDGER_NAME).write_bytes(b"not a ledger any more")
    assert "rebuild it from the pictures: mothseed recover night" in run("table", "night").err
    shutil.copy("night/0001.big.png", "night/0007.png")
    answer = run("recover", "night")
    assert answer.status == 0
    assert "night: 6 editions recovered" in answer.out
    assert "left out: 0007.png: it is a copy of 0001.big.png" in answer.err
    after = series_editions(Path("night"))
    for one, other in zip(before, after, strict=True):
        assert _known(one) == _known(other)
    Path("night/0007.png").unlink()
    assert "6 there already" in run("edition", "plan.toml").out, "nothing has to be made again"
    Path("night", LEDGER_NAME).unlink()
    assert json.loads(run("recover", "night", "--json").out)["editions"] == 6
    assert run("recover", "nowhere").status == 1
    assert "no picture that carries the history" in run("recover", ".").err


def _known(edition: Edition) -> dict[str, object]:
    """All but what a picture does not tell: how long it took, and how many marks it has of each kind."""
    known = {name: getattr(edition, name) for name in Edition.__dataclass_fields__ if name != "milliseconds"}
    return {**known, "measures": {name: edition.measures[name] for name in MEASURES}, "forms": b""}


DIALS = {
    "count": dial(5, 0, 50),
    "spread": dial(0.5, 0, 1),
    "step": dial(10, 0, 100, step=10),
    "big": dial(False),
    "form": dial("a", choices=["a", "b"]),
}


@pytest.mark.parametrize(
    ("text", "labels"),
    [
        ("count=10,50", ["count 10", "count 50"]),
        ("count=0..8", ["count 0", "count 2", "count 4", "count 6", "count 8"]),
        ("count=1..2", ["count 1", "count 2"]),
        ("spread=0..1/3", ["spread 0", "spread 0.5", "spread 1"]),
        ("step=0..100/4", ["step 0", "step 30", "step 70", "step 100"]),
        ("big", ["big off", "big on"]),
        ("form", ["form a", "form b"]),
        ("form=b", ["form b"]),
        ("seed=1-3,lamp", ["seed 1", "seed 2", "seed 3", "seed lamp"]),
        ("reseed:spot=4,5", ["spot 4", "spot 5"]),
        ("without=none,glow", ["all layers", "without glow"]),
    ],
)
def test_what_varies_is_read(text: str, labels: list[str]) -> None:
    assert [setting.label for setting in parse_axis(text, DIALS).settings] == labels


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("count", "which values of count"),
        ("nix=3", "there is nothing called nix"),
        ("nix", "names nothing that can be varied"),
        ("count=99", "expected a whole number from 0 to 50"),
        ("count=0..99", "expected a whole number from 0 to 50"),
        ("spread=0..1/1", "divided into 2 to 64 values"),
        ("spread=0..1..2", "is not a range"),
        ("spread=-..1", "expected a number"),
        ("seed=", "names nothing"),
        ("seed=5-1", "runs backwards"),
    ],
)
def test_what_cannot_vary_is_told(text: str, words: str) -> None:
    with pytest.raises(UsageError) as caught:
        parse_axis(text, DIALS)
    assert words in caught.value.message


def test_a_sweep_is_one_sheet_of_all_combinations(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    answer = run("sweep", "spots.py", "--vary", "count=1,20", "--vary", "seed=1-3", "-o", "sheet.png", "--json", "--jobs", "1")
    assert answer.status == 0, answer.err
    pictures = json.loads(answer.out)["pictures"]
    assert [(each["seed"], each["dials"]["count"]) for each in pictures] == [
        (seed, count) for seed in (1, 2, 3) for count in (1, 20)
    ]
    assert len({each["fingerprint"] for each in pictures}) == 6
    assert pixels_of("sheet.png").shape[1] > 800
    assert run("sweep", "spots.py", "--vary", "big").out.startswith("spots-sweep.png  2 pictures, big; ")
    assert not list(Path().glob("*.r*")), "the single pictures are not kept"


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["--vary", "big", "--vary", "count=1", "--vary", "seed=1"], "can vary two things at most"),
        (["--vary", "big", "--vary", "big"], "big is varied twice"),
        (["--vary", "seed=1-900"], "a sheet of 900 pictures is too large"),
        ([], "--vary"),
    ],
)
def test_a_sweep_that_cannot_be_made_is_told(run: Run, write_sketch: WriteSketch, arguments: list[str], words: str) -> None:
    write_sketch()
    answer = run("sweep", "spots.py", *arguments)
    assert (answer.status, words in answer.err) == (2, True), answer.err


def test_a_sweep_over_a_fault_tells_the_first(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch("""
        from mothseed import artwork, dial
        @artwork(width=60, height=40)
        def picture(sheet, chance, *, parts=dial(3, 0, 9)):
            sheet.circle(30, 20, 10 / parts)
    """)
    answer = run("sweep", "spots.py", "--vary", "parts=2,0", "--jobs", "1")
    assert answer.status == 1
    assert "ZeroDivisionError: division by zero (spots.py, line 4:" in answer.err
    assert "--set parts=0" in answer.err
    assert not Path("spots-sweep.png").exists()


@pytest.mark.parametrize("varied", [["--vary", "count=2,3,4,5,6,7"], ["--vary", "count=2,3,4,5,6,7", "--vary", "seed=1-2"]])
def test_pictures_of_a_sweep_are_painted_as_large_as_they_are_shown(
    run: Run, write_sketch: WriteSketch, varied: list[str]
) -> None:
    sketch = write_sketch()
    assert run("sweep", sketch, *varied, "--jobs", "1", "-o", "sheet.png").status == 0
    sheet = pixels_of("sheet.png")
    width = shown_width(6, 2 / 3) if len(varied) == 2 else cell_width(6)
    assert run("proof", sketch, "--set", "count=2", "--width", f"{width}px", "-o", "one.png").status == 0
    one = pixels_of("one.png")
    paper = (sheet == one[0, 0]).all(axis=2)
    corners = np.argwhere(paper[1:, 1:] & ~paper[:-1, 1:] & ~paper[1:, :-1]) + 1
    shown = [sheet[top : top + one.shape[0], left : left + one.shape[1]] for top, left in corners.tolist()]
    assert any(np.array_equal(place, one) for place in shown)
