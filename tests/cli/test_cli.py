from __future__ import annotations

import argparse
import json
import os
import pkgutil
import re
import shlex
import subprocess
from importlib import import_module
from io import StringIO
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from rich.console import Console

import mothseed
import mothseed.cli
from mothseed.cli.main import parser
from mothseed.faults import FieldError, SketchError
from mothseed.formats.picture_reading import read_history
from mothseed.render import pixel_hash
from mothseed.sizes import output_size
from mothseed.sketch import load_sketch, perform
from mothseed.sketch.seeds import Seed
from tests.conftest import INSTALLED, Run, WriteSketch, made_series, pixels_of
from tests.places import ROOT
from tests.recipes import recipe

MODULES = {name: import_module(f"mothseed.cli.{name}") for _, name, _ in pkgutil.iter_modules(mothseed.cli.__path__)}
COMMANDS = {name: module for name, module in MODULES.items() if hasattr(module, "add_parser")}


def test_every_command_has_help_an_example_that_parses_and_a_place_among_the_commands(run: Run) -> None:
    action = next(a for a in parser()._actions if isinstance(a, argparse._SubParsersAction))
    assert set(action.choices) == set(COMMANDS)
    page = (ROOT / "docs" / "commands.md").read_text()
    for name, module in COMMANDS.items():
        answer = run(name, "--help")
        assert answer.status == 0
        assert module.EXAMPLE in answer.out.replace("\n                ", " ").replace("\n", " ").replace("  ", " ")
        words = shlex.split(module.EXAMPLE)
        assert words[:2] == ["mothseed", name]
        assert parser().parse_args(words[1:]).run is module.run
        assert f"mothseed {name}" in page


def test_no_command_and_an_unknown_one_are_wrong_usage(run: Run) -> None:
    assert run().status == 2
    assert "COMMAND" in run().err
    assert run("paint").status == 2
    assert run("--version").out == f"mothseed {mothseed.__version__}\n"


def test_a_proof_is_written_and_tells_path_seed_fingerprint_and_time(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    answer = run("proof", "spots.py", "--seed", "lamp", "--set", "count=3", "-o", "out/p.png", "--width", "240px")
    history = json.loads(read_history(Path("out/p.png")) or "")
    assert answer.status == 0
    assert answer.err == ""
    first, second, third = answer.out.splitlines()
    assert first.startswith("out/p.png  240 x 160 px, 3 marks, ")
    assert first.endswith(" s")
    assert second == f"seed lamp, fingerprint {history['fingerprint']}"
    tints = [outcome["value"] for outcome in history["outcomes"]]
    first_tint = max(tints, key=tints.count)
    assert third.startswith(f"tint  {first_tint} {tints.count(first_tint)}")
    assert history["dials"] == {"count": 3, "big": False}


def test_what_chance_decided_many_times_is_told_in_a_line(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(
        """
        from mothseed import artwork

        @artwork(width=60, height=40)
        def many(sheet, chance):
            chance("form").pick(["hawk"], label="form")
            for index in range(24):
                own = chance("dot", index)
                own("lit").odds(0.5 if index else 1, label="lit")
                own("size").between(1, 2, label="size")
                sheet.circle(index, 5, 1)
    """,
        "many.py",
    )
    lines = run("proof", "many.py", "--no-daybook").out.splitlines()
    values = [outcome["value"] for outcome in json.loads(read_history(Path("many-0001.png")) or "")["outcomes"]]
    lit = sum(value is True for value in values)
    counts = sorted([(lit, "on"), (24 - lit, "off")], key=lambda pair: -pair[0])
    assert lines[2] == "form = hawk"
    assert lines[3] == "lit  " + ", ".join(f"{word} {count}" for count, word in counts)
    assert re.fullmatch(r"size  24 numbers from 1\.\d+ to 1\.\d+, mean 1\.\d+", lines[4])


def test_a_narrow_terminal_has_whole_columns_and_is_told_of_the_others(monkeypatch: pytest.MonkeyPatch) -> None:
    from mothseed.cli import console

    screen = StringIO()
    monkeypatch.setattr(console, "_console", lambda: Console(file=screen, width=30, force_terminal=True, highlight=False))
    columns = ("seed", "alike", "form", "a_long_name_of_a_column")
    hidden = console.say_table(columns, [(1, "x", "hawk", 3.5), (2, "x", "owlet", 4.5)], hiding=True)
    assert hidden == ["alike", "a_long_name_of_a_column"]
    assert "owlet" in screen.getvalue()
    assert "…" not in screen.getvalue()


def test_reseeding_a_stream_keeps_the_places_and_changes_the_colours(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch("""
        from mothseed import artwork

        @artwork(width=60, height=40)
        def two(sheet, chance):
            for index in range(40):
                x, y = chance("place", index).point(sheet)
                sheet.circle(x, y, 2, fill=chance("tint", index).colour())
    """, "two.py")  # fmt: skip
    drawings = []
    given: list[dict[str, Seed]] = [{}, {"tint": 9}]
    for reseeds in given:
        sketch = load_sketch(Path("two.py"))
        drawings.append(perform(sketch, recipe(reseeds=reseeds)).drawing)
        words = [f"--reseed={name}={seed}" for name, seed in reseeds.items()]
        assert run("proof", "two.py", *words, "-o", f"{len(drawings)}.png").status == 0
    kept, anew = (drawing.marks for drawing in drawings)
    assert (kept["place"] == anew["place"]).all()
    assert (kept["fill"] != anew["fill"]).any(axis=1).all()
    assert pixel_hash(pixels_of("1.png")) != pixel_hash(pixels_of("2.png"))
    assert run("edition", "two.py", "--seeds", "1", "--reseed", "tint=9", "-o", "s", "--jobs", 1).status == 0
    assert pixel_hash(pixels_of("s/0001.png")) == pixel_hash(pixels_of("2.png"))


def test_a_palette_is_shown_and_written_and_read_again(run: Run) -> None:
    Image.fromarray(np.array([[[20, 33, 61]] * 3 + [[232, 180, 79]]], np.uint8)).save("night.png")
    answer = run("palette", "night.png", "-o", "night.json", "-o", "out/night.txt", "-o", "strip.png")
    assert answer.status == 0
    assert answer.out.split() == ["#14213d", "75.0%", "#e8b44f", "25.0%", "night.json", "out/night.txt", "strip.png"]
    assert Path("out/night.txt").read_text() == "#14213d\n#e8b44f\n"
    report = json.loads(run("palette", "night.json", "--sort", "share", "--json").out)
    assert [(row["colour"], row["share"]) for row in report["swatches"]] == [("#14213d", 0.75), ("#e8b44f", 0.25)]
    strip = pixels_of("strip.png")
    assert ((strip == (0x14, 0x21, 0x3D)).all(axis=2)).sum() > 2 * ((strip == (0xE8, 0xB4, 0x4F)).all(axis=2)).sum()
    assert run("palette", "night.png", "--count", "5", "--method", "median-cut", "--merge", "2").out.split()[1] == "100.0%"


@pytest.mark.parametrize(
    ("arguments", "status", "words"),
    [
        (["missing.png"], 1, "there is no picture"),
        ([""], 1, "is a folder"),
        (["night.png", "-o", "night.gif"], 2, "not the name of a PNG, JSON or text file"),
        (["night.png", "-o", "night.png"], 2, "is what the palette comes from"),
        (["night.png", "--count", "65"], 1, "count must be a whole number from 1 to 64"),
        (["night.png", "--count", "none"], 2, "expected a whole number, 1 or more"),
        (["night.png", "--merge", "nan"], 2, "expected a distance from 0 to 2"),
        (["night.png", "--sort", "size"], 2, "invalid choice"),
    ],
)
def test_a_palette_that_cannot_be_made_is_told(run: Run, arguments: list[str], status: int, words: str) -> None:
    Image.new("RGB", (4, 4), "#14213d").save("night.png")
    answer = run("palette", *arguments)
    assert answer.status == status
    assert words in answer.err
    assert answer.out == ""


def test_a_terminal_of_many_colours_shows_them(installed: Run, tmp_path: Path) -> None:
    Image.new("RGB", (4, 4), "#14213d").save(tmp_path / "night.png")
    in_colour = installed("palette", "night.png", FORCE_COLOR="1", COLORTERM="truecolor", TERM="xterm-256color")
    assert "48;2;20;33;61" in in_colour.out
    few = installed("palette", "night.png", FORCE_COLOR="1", COLORTERM="", TERM="xterm")
    assert "\x1b[4" not in few.out


def test_a_proof_has_a_name_of_its_own_where_none_is_given(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    assert run("proof", "spots.py").out.startswith("spots-0001.png  1000 x 667 px")
    assert Path("spots-0001.png").exists()


def test_a_proof_reports_as_json(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    report = json.loads(run("proof", "spots.py", "--json", "--width", "90px", "--reseed", "spot=5").out)
    assert report["file"] == "spots-0001.png"
    assert (report["width"], report["height"], report["marks"]) == (90, 60, 5)
    assert report["history"]["reseeds"] == {"spot": 5}


def test_a_failing_sketch_is_told_so_that_it_can_be_mended_and_seen_again(run: Run, write_sketch: WriteSketch) -> None:
    path = write_sketch("""
        from mothseed import artwork, dial
        @artwork(width=60, height=40)
        def picture(sheet, chance, *, size=dial(3)):
            sheet.circle(30, 20, -size)
    """)
    answer = run("proof", "spots.py", "--seed", "7", "--set", "size=4")
    assert answer.status == 1
    assert answer.out == ""
    assert answer.err.splitlines() == [
        "mothseed: circle: radius must be 0 or more (got -4)",
        f"  in {path.name}, line 4:",
        "      sheet.circle(30, 20, -size)",
        "  with seed 7, size=4",
        "  write abs(...) or max(0, ...)",
        "  to see it again: mothseed proof spots.py --seed 7 --set size=4",
    ]
    assert not list(path.parent.glob("*.png"))
    with pytest.raises(SketchError, match="radius"):
        run("proof", "spots.py", "--debug")


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["proof", "none.py"], "there is no sketch"),
        (["proof", "."], "is a folder, not a sketch"),
        (["proof", "spots.py", "--set", "count"], "write name=value"),
        (["proof", "spots.py", "--set", "count=x"], '--set count: expected a whole number from 0 to 50, got "x"'),
        (["proof", "spots.py", "--set", "size=3"], "--set size: the sketch has no dial size; its dials are count, big"),
        (["proof", "spots.py", "--seed", "1-3"], '"1-3" is several seeds, and one is needed'),
        (["proof", "spots.py", "--seed", "a b"], '"a b" is neither a whole number nor a word'),
        (["proof", "spot.py"], "did you mean spots.py?"),
        (["proof", "spots"], "spots is not a sketch, which is a .py file\n  did you mean spots.py?"),
        (["proof", "dusk.png"], "dusk.png is not a sketch"),
        (["watch", "dusk.png"], "dusk.png is not a sketch, which is a .py file"),
        (["watch", "spots"], "spots is not a sketch, which is a .py file\n  did you mean spots.py?"),
        (["watch", "moths.toml"], "a plan is made with: mothseed edition moths.toml"),
        (["proof"], "mothseed: proof: the following arguments are required: SKETCH\n  example: mothseed proof"),
        (["prof", "spots.py"], "unknown command prof\n  did you mean proof?"),
        (["sing"], "commands are new, proof"),
        (["proof", "spots.py", "--sed", "3"], "proof: unknown option --sed\n  did you mean --seed?"),
        (["proof", "spots.py", "--seed"], "proof: --seed: expected one argument\n  example: mothseed proof"),
        (["proof", "spots.py", "more"], "unexpected argument more"),
        (["replay", "spots.py", "--by", "marks"], "--by: invalid choice: 'marks'"),
        (["proof", "spots.py", "--set", "cuont=3"], "did you mean count?"),
        (["sweep", "spots.py", "--vary", "cuont=3"], "--vary: there is nothing called cuont\n  did you mean count?"),
        (["compare", "spots.py", "--but", "cuont=3"], "--but: there is nothing called cuont\n  did you mean count?"),
        (
            ["seek", "spots.py", "--where", "tnt = 1"],
            "--where: tnt = 1 asks for tnt, and there is no such column\n  did you mean tint?",
        ),
        ([], "usage: mothseed"),
        (["proof", "spots.py", "--width", "wide"], '--width: "wide" is not a length'),
        (["proof", "spots.py", "--width", "0px"], '--width: "0px" is not a length'),
        (["proof", "spots.py", "--width", "50000px"], "a picture of 50000 x 33333 pixels cannot be made"),
        (["proof", "spots.py", "--dpi", "-3"], "expected a number above 0"),
        (["proof", "spots.py", "-o", "p.gif"], "p.gif is not a picture format that can be written"),
        (["proof", "spots.py", "-o", "."], "is a folder, not the name of a picture"),
        (["edition", "spots.py"], "--seeds"),
        (["edition", "spots.py", "--seeds", "3-1"], '--seeds: "3-1" runs backwards'),
        (["edition", "spots.py", "--seeds", "1", "--jobs", "0"], "a whole number, 1 or more"),
        (["compare", "a.png"], "there is nothing to compare it with"),
        (["new", "spots.py"], "spots.py already exists"),
    ],
)
def test_wrong_usage_is_told_and_has_status_2(run: Run, write_sketch: WriteSketch, arguments: list[str], words: str) -> None:
    path = write_sketch()
    before = path.read_bytes()
    answer = run(*arguments)
    assert answer.status == 2
    assert words in answer.err
    assert answer.out == ""
    assert path.read_bytes() == before


@pytest.mark.parametrize(
    ("width", "dpi", "pixels", "resolution"),
    [
        (None, None, 1000, None),
        ("2400px", None, 2400, None),
        ("2400", 150, 2400, 150),
        ("10in", None, 3000, 300),
        ("254mm", 100, 1000, 100),
        ("2.54cm", 72, 72, 72),
        (None, 200, 1600, 200),
    ],
)
def test_sizes_of_output(width: str | None, dpi: float | None, pixels: int, resolution: float | None) -> None:
    size = output_size(width, dpi, sheet_inches=8)
    assert (size.pixels, size.dpi) == (pixels, resolution)


@pytest.mark.parametrize("width", ["", "px", "-5px", "5pt", "1.5px", "nan", "1e3px"])
def test_what_is_no_size_is_refused(width: str) -> None:
    with pytest.raises(FieldError, match="width: "):
        output_size(width or " ", None, 8)


def test_an_edition_makes_a_series_with_its_contact_sheet(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    answer = run("edition", "spots.py", "--seeds", "1-3,lamp", "--width", "120px", "--jobs", "1")
    assert answer.status == 0
    assert answer.out.startswith("spots-series: 4 made; ")
    assert answer.out.endswith("contact sheet: spots-series/contact.png\n")
    assert pixels_of("spots-series/contact.png").shape[1] > 300
    again = run("edition", "spots.py", "--seeds", "1-5", "--width", "120px", "--jobs", "1", "--json")
    report = json.loads(again.out)
    assert (report["made"], report["kept"], report["failed"]) == (2, 3, [])


def test_a_contact_sheet_of_very_many_has_an_even_choice(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("mothseed.report.series_sheet.MOST_ON_A_PAGE", 3)
        run("edition", "spots.py", "--seeds", "1-9", "--width", "60px", "-o", "many", "--jobs", "1")
    few = pixels_of("many/contact.png")
    run("edition", "spots.py", "--seeds", "1,4,7", "--width", "60px", "-o", "few", "--jobs", "1")
    assert pixels_of("few/contact.png").shape == few.shape
    top = 140  # below the head, which tells how many there are
    assert (pixels_of("few/contact.png")[top:] == few[top:]).all()


def test_failed_editions_are_listed_with_the_command_that_shows_them(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch("""
        from mothseed import artwork
        @artwork(width=60, height=40)
        def picture(sheet, chance):
            sheet.circle(30, 20, 1 / (chance.whole(1, 4) - 1))
    """)
    answer = run("edition", "spots.py", "--seeds", "1-12", "--width", "60px", "--jobs", "1")
    assert answer.status == 1
    assert "failed; " in answer.out
    assert "failed: ZeroDivisionError: division by zero (spots.py, line 4:" in answer.err
    assert "to see it: mothseed proof spots.py --seed " in answer.err


def test_two_proofs_are_compared(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    run("proof", "spots.py", "-o", "a.png", "--width", "200px")
    run("proof", "spots.py", "-o", "b.png", "--width", "200px", "--set", "big=on")
    answer = run("compare", "a.png", "b.png", "--sketch", "spots.py", "-o", "pair.png")
    assert answer.status == 0
    lines = answer.out.splitlines()
    assert lines[0] == "dial big: off -> on"
    assert lines[1:3] == ["0 shapes unchanged", "5 resized: spots.py:8"]
    assert [line.split(" ")[0] for line in lines[-4:]] == ["detail", "structural", "difference", "figure:"]
    assert pixels_of("pair.png").shape[1] > 600
    report = json.loads(run("compare", "a.png", "a.png", "--json").out)
    assert report["changes"] == []
    assert report["difference"]["largest"] == 0


def test_pictures_that_cannot_be_compared_are_told(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    run("proof", "spots.py", "-o", "a.png", "--width", "60px")
    run("proof", "spots.py", "-o", "b.png", "--width", "90px")
    Image.new("RGB", (60, 60), "teal").save("square.png")
    assert "unlike shape" in run("compare", "a.png", "square.png").err
    assert "there is no picture" in run("compare", "a.png", "c.png").err
    Path("words.png").write_text("no picture")
    assert "is not a picture" in run("compare", "a.png", "words.png").err
    assert "would overwrite" in run("compare", "a.png", "b.png", "-o", "a.png").err
    Image.new("RGB", (60, 40), "teal").save("plain.png")
    assert run("compare", "a.png", "plain.png").out.startswith("no history in both pictures to compare\n")
    assert not Path("out.png").exists()


def test_the_starter_sketch_runs_as_it_is(run: Run) -> None:
    said = run("new", "lamplight").out
    assert said.startswith("lamplight.py\nto see it: mothseed proof lamplight.py\n")
    assert said.endswith("mothseed watch lamplight.py --page\n")
    assert run("proof", "lamplight.py", "--width", "300px").status == 0
    assert len(np.unique(pixels_of("lamplight-0001.png").reshape(-1, 3), axis=0)) > 50


def test_a_folder_that_cannot_be_written_to_is_told(run: Run, write_sketch: WriteSketch, tmp_path: Path) -> None:
    write_sketch()
    (tmp_path / "taken").write_text("a file where a folder should be")
    for arguments in (["proof", "spots.py", "-o", "taken/p.png"], ["edition", "spots.py", "--seeds", "1", "-o", "taken"]):
        answer = run(*arguments)
        assert answer.status == 1
        assert "taken" in answer.err
        assert "Traceback" not in answer.err
    if os.geteuid() != 0:  # root may write anywhere
        tmp_path.chmod(0o500)
        assert run("proof", "spots.py").status == 1
        tmp_path.chmod(0o700)


def test_the_same_picture_comes_from_python_and_from_the_command_line(run: Run, write_sketch: WriteSketch) -> None:
    from mothseed.render import rendered
    from mothseed.sketch import load_sketch, perform

    path = write_sketch()
    run("proof", "spots.py", "--seed", "7", "--width", "300px")
    assert pixel_hash(pixels_of("spots-0007.png")) == pixel_hash(rendered(perform(load_sketch(path), recipe(7)).drawing, 300))


def test_a_mistake_of_our_own_is_told_as_one(run: Run, write_sketch: WriteSketch, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(*_: object, **__: object) -> None:
        raise RuntimeError("the lamp went out")

    monkeypatch.setattr("mothseed.making.make", broken)
    write_sketch()
    answer = run("proof", "spots.py")
    assert answer.status == 70
    assert "a bug in Moth Seed, not in your sketch: RuntimeError: the lamp went out" in answer.err
    assert "in test_cli.py, line" in answer.err
    with pytest.raises(RuntimeError):
        run("proof", "spots.py", "--debug")


@pytest.mark.parametrize(
    ("line", "offered"),
    [
        ("mothseed pro", {"proof "}),
        ("mothseed proof sp", {"spots.py "}),
        ("mothseed proof spots.py --set ", {"count=", "big="}),
        ("mothseed sweep spots.py --vary c", {"count="}),
        ("mothseed compare spots.py --but b", {"big="}),
        ("mothseed proof none.py --set ", set()),
        ("mothseed proof spots.py --settings d", {"dawn", "dusk"}),
        ("mothseed proof none.py --settings ", set()),
        ("mothseed proof spots.py --see", {"--seed "}),
        ("mothseed mark moths 3 k", {"keep "}),
    ],
)
def test_the_shell_completes(write_sketch: WriteSketch, tmp_path: Path, line: str, offered: set[str]) -> None:
    write_sketch()
    if "--settings" in line:
        (tmp_path / "spots.settings.toml").write_text("[dawn]\n[dusk]\n[noon]\n")
    answer = tmp_path / "answer"
    environment = {
        **os.environ,
        "_ARGCOMPLETE": "1",
        "_ARGCOMPLETE_IFS": "\n",
        "_ARGCOMPLETE_STDOUT_FILENAME": str(answer),
        "COMP_LINE": line,
        "COMP_POINT": str(len(line)),
    }
    done = subprocess.run([INSTALLED], cwd=tmp_path, env=environment, capture_output=True, check=False, timeout=60)
    assert done.returncode == 0, done.stderr
    assert set(filter(None, answer.read_text().split("\n"))) == offered


def test_the_renderer_is_prepared_and_told_where_it_is_kept(run: Run, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    told = json.loads(run("prepare", "--json").out)
    assert Path(told["folder"]).is_dir()
    assert run("prepare").out.startswith(told["folder"])
    monkeypatch.setattr("mothseed.native.store.home", lambda: None)
    answer = run("prepare")
    assert answer.status == 1
    assert "set MOTHSEED_CACHE_DIR" in answer.out


@pytest.mark.parametrize("words", ["--help", "proof --help", "table s"])
def test_a_reader_who_has_seen_enough_ends_it_quietly(run: Run, write_sketch: WriteSketch, tmp_path: Path, words: str) -> None:
    made_series(write_sketch(), "1-3")
    reading, writing = os.pipe()
    os.close(reading)
    done = subprocess.run(
        [INSTALLED, *words.split()], cwd=tmp_path, stdout=writing, stderr=subprocess.PIPE, check=False, timeout=60
    )
    os.close(writing)
    assert (done.returncode, done.stderr) == (0, b"")
