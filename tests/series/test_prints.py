"""Final prints of what was chosen, and marks that come from a file."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from mothseed.cli import options
from mothseed.cli import palette as palette_command
from mothseed.colour.palette import ORDERS
from mothseed.colour.ways import WAYS
from mothseed.formats.picture_reading import read_history
from mothseed.series import series_editions
from mothseed.series.marking import MARKS, marks_of
from tests.conftest import Run, WriteSketch, made_series, pixels_of


@pytest.fixture
def series(run: Run, write_sketch: WriteSketch) -> Path:
    folder = made_series(write_sketch(), "1-5,moth", count=8)
    run("mark", "s", "2,moth", "keep")
    return folder


def test_what_was_kept_is_printed_large_and_numbered(run: Run, series: Path) -> None:
    Path("spots.py").write_text("not the sketch any more")
    size = ["--width", "30mm", "--dpi", "254", "--jobs", "1"]
    answer = run("edition", "s", "--marked", "keep", *size, "--number")
    assert answer.status == 0
    prints = series_editions(Path("s-prints"))
    assert [(each.file, each.number) for each in prints] == [("1-of-2-0002.png", "1/2"), ("2-of-2-moth.png", "2/2")]
    kept = {edition.seed: edition.fingerprint for edition in series_editions(series)}
    assert all(each.fingerprint == kept[each.seed] and each.dials["count"] == 8 for each in prints)
    assert pixels_of("s-prints/1-of-2-0002.png").shape == (200, 300, 3)
    assert json.loads(read_history(Path("s-prints/1-of-2-0002.png")) or "")["number"] == "1/2"
    assert (Path("s-prints/source/spots.py")).read_text() != "not the sketch any more"
    assert run("verify", "s-prints", "--jobs", "1").status == 0
    assert "number" in run("table", "s-prints").out.split()
    assert "number" not in run("table", "s").out.split()

    run("mark", "s", "4", "keep")
    again = run("edition", "s", "--marked", "keep", *size, "--number")
    assert "3 made" in again.out
    assert sorted(path.name for path in Path("s-prints").glob("*-of-*.png")) == [
        "1-of-3-0002.png", "2-of-3-0004.png", "3-of-3-moth.png",
    ]  # fmt: skip
    Path("s-prints/ledger.sqlite").unlink()
    assert run("recover", "s-prints").status == 0
    assert [each.number for each in series_editions(Path("s-prints"))] == ["1/3", "2/3", "3/3"]


def test_prints_may_be_chosen_and_ordered_by_anything_known(run: Run, series: Path) -> None:
    answer = run(
        "edition", "s", "--where", "seed < 3", "--sort", "seed desc", "--number", "--jobs", "1", "-o", "p", "--dry-run"
    )
    assert [line.split()[0] for line in answer.out.splitlines()[:2]] == ["1-of-2-0002.png", "2-of-2-0001.png"]
    assert answer.out.splitlines()[-1] == "prints of s in p: 2 of 2 would be made"


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["s", "--seeds", "1"], "--seeds cannot be given beside a series"),
        (["s", "--marked", "drop"], "no edition of s matches"),
        (["s", "-o", "s"], "need a folder of their own"),
        (["spots.py", "--marked", "keep", "--seeds", "1"], "--marked choose editions of a series"),
        (["."], "is not a series"),
    ],
)
def test_what_cannot_be_printed_is_told(run: Run, series: Path, words: list[str], message: str) -> None:
    answer = run("edition", *words)
    assert answer.status in (1, 2)
    assert message in answer.err


def test_prints_need_the_source_that_made_them(run: Run, series: Path) -> None:
    Path("s/source/spots.py").write_text("changed")
    answer = run("edition", "s", "--marked", "keep")
    assert "0002.png cannot be printed: source/ no longer has the spots.py that made it" in answer.err
    assert not Path("s-prints").exists()


def test_marks_pass_through_a_file(run: Run, series: Path) -> None:
    run("mark", "s", "3", "drop", "--note", "für später: <b>")
    marks = marks_of(series_editions(series))
    Path("marks.json").write_text(json.dumps({"series": "s", "marks": marks}))
    run("mark", "s", "1-5,moth", "none", "--note", "")
    assert marks_of(series_editions(series)) == []
    answer = run("mark", "s", "--from", "marks.json")
    assert answer.out == "s: 2 kept, 1 dropped\n"
    assert marks_of(series_editions(series)) == marks
    assert {"seed": 3, "variant": "", "mark": "drop", "note": "für später: <b>"} in marks


@pytest.mark.parametrize(
    ("content", "message"),
    [
        ("no json", "is not JSON"),
        ("[" * 100_000, "is not JSON"),
        ("[]", 'has no list of "marks"'),
        (
            '{"marks": [3, {"seed": true}, {"seed": 1, "mark": "burn"}]}',
            (
                "marks[0]: expected an object, got 3\n  marks[1].seed: expected a whole number or a word, got true\n"
                "  marks[2].mark: expected keep"
            ),
        ),
        ('{"marks": [{"seed": "../x"}]}', 'marks[0].seed: "../x" is neither'),
        ('{"marks": [{"seed": 1, "note": 4}]}', "marks[0].note: expected a text, got 4"),
        ('{"marks": [{"seed": 99, "mark": "keep"}]}', "s has no edition 99"),
    ],
)
def test_a_file_of_marks_that_makes_no_sense_changes_nothing(run: Run, series: Path, content: str, message: str) -> None:
    Path("marks.json").write_text(content)
    answer = run("mark", "s", "--from", "marks.json")
    assert answer.status == 2
    assert message in answer.err
    assert [each.seed for each in series_editions(series) if each.mark] == [2, "moth"]


def test_ways_to_mark_do_not_mix(run: Run, series: Path) -> None:
    assert "the seeds to mark are missing" in run("mark", "s").err
    assert "has seeds, marks and notes of its own" in run("mark", "s", "3", "keep", "--from", "marks.json").err
    assert "cannot be read" in run("mark", "s", "--from", "marks.json").err


def test_choices_that_help_repeats_are_those_that_there_are() -> None:
    assert options.MARKS == MARKS
    assert tuple(palette_command._METHODS) == tuple(WAYS)
    assert tuple(palette_command._ORDERS) == tuple(ORDERS)


def test_a_condition_that_is_not_understood_is_told_as_it_was_written(run: Run, write_sketch: WriteSketch) -> None:
    made_series(write_sketch(), "1-3")
    run("mark", "s", "2", "keep")
    assert "--where: seed > is not understood" in run("table", "s", "--where", "seed >").err
    assert "--where: mark = 'keep' and ( seed > ) is not" in run("table", "s", "--where", "seed >", "--marked", "keep").err
    chosen = ("table", "s", "--columns", "seed", "--csv", "--where", "seed = 1 or seed = 2 -- both")
    assert run(*chosen).out.split() == ["seed", "1", "2"]
    assert run(*chosen, "--marked", "keep").out.split() == ["seed", "2"]
