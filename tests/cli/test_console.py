"""What commands say, and where: results for people, for other programs and for files; all else beside them."""

from __future__ import annotations

import csv
import io
import json
import re
import sys
import time
from pathlib import Path

import pytest

from mothseed.cli import console
from mothseed.cli.progress import Progress
from mothseed.faults import FieldError, SketchError, Whereabouts
from mothseed.sketch import Recipe

Captured = pytest.CaptureFixture[str]


def test_results_and_remarks_go_their_own_ways(capsys: Captured) -> None:
    console.say("spots.png  90 x 60 px")
    console.note("mothseed: preparing the renderer")
    captured = capsys.readouterr()
    assert captured.out == "spots.png  90 x 60 px\n"
    assert captured.err == "mothseed: preparing the renderer\n"


def test_it_is_told_how_far_a_long_run_is(capsys: Captured, monkeypatch: pytest.MonkeyPatch) -> None:
    now = [0.0]
    monkeypatch.setattr(time, "monotonic", lambda: now[0])
    for total, words in (
        (200, "40 of 200, 2 failed, 2.0 a second, about 80 s left"),
        (None, "40 so far, 2 failed, 2.0 a second"),
    ):
        progress = Progress()
        if total:
            progress.start(total)
        now[0] += 5
        progress.advance(10)
        assert not capsys.readouterr().err, "there has been nothing to wait for"
        now[0] += 15
        progress.advance(30, 2)
        assert capsys.readouterr().err == f"{words}\n"


def test_json_is_one_value_with_every_letter_as_it_is(capsys: Captured) -> None:
    value = {"note": "für die Wand", "parts": [1, None, 0.5, True]}
    console.say_json(value)
    assert json.loads(text := capsys.readouterr().out) == value
    assert "für die Wand" in text
    console.say_json_line(value)
    console.say_json_line(value)
    assert [json.loads(line) for line in capsys.readouterr().out.splitlines()] == [value, value]


def test_rows_for_a_spreadsheet_are_read_back(capsys: Captured) -> None:
    rows = [(1, 'a "quoted" word', None), (2, "with, comma", 0.5), (3, "two\nlines", "")]
    console.say_csv(("seed", "note", "odds"), rows)
    found = list(csv.reader(io.StringIO(capsys.readouterr().out)))
    assert found[0] == ["seed", "note", "odds"]
    assert found[1:] == [["1", 'a "quoted" word', ""], ["2", "with, comma", "0.5"], ["3", "two\nlines", ""]]


def test_a_table_has_all_of_its_words_and_numbers_to_the_right(capsys: Captured) -> None:
    console.say_table(("seed", "form", "lightness"), [(1, "hawk " * 30, 0.123456), ("lamp", "owlet", None), (12, "[bold]x", 2)])
    lines = capsys.readouterr().out.splitlines()
    text = "\n".join(lines)
    assert ("hawk " * 30).strip() in text, "a file has room for all of it"
    assert "[bold]x" in text, "nothing in a cell is markup"
    assert "0.1235" in text
    ends = [line.rstrip()[-6:].strip() for line in lines if "hawk" in line or "bold" in line]
    assert ends == ["0.1235", "2"]


def test_a_fault_is_told_from_what_happened_to_what_to_do(capsys: Captured, tmp_path: Path) -> None:
    place = Whereabouts(tmp_path / "wings.py", 7, "sheet.circle(1, 1, -1)")
    fault = SketchError("circle: radius must be a length above 0 (got -1)", hint="write a radius above 0", place=place)
    console.tell_fault(fault, "seed 7, spots=3", "mothseed proof wings.py --seed 7")
    assert capsys.readouterr().err.splitlines() == [
        "mothseed: circle: radius must be a length above 0 (got -1)",
        f"  in {place}:",
        "      sheet.circle(1, 1, -1)",
        "  with seed 7, spots=3",
        "  write a radius above 0",
        "  to see it again: mothseed proof wings.py --seed 7",
    ]
    console.tell_fault(FieldError("width", "a picture of 0 pixels cannot be made"))
    assert capsys.readouterr().err == "mothseed: width: a picture of 0 pixels cannot be made\n"


def test_circumstances_are_a_seed_and_what_is_set() -> None:
    recipe = Recipe(seed="lamp", dials={"spots": 3, "shadow": False, "spread": 0.1 + 0.2})
    assert console.circumstances_of(recipe) == "seed lamp, spots=3, shadow=off, spread=0.3"


def test_colours_are_blocks_only_where_they_can_be_shown(capsys: Captured, monkeypatch: pytest.MonkeyPatch) -> None:
    rows = [("#14213d", 0.75), ("#e8b44f", 0.25)]
    console.say_swatches(rows)
    assert capsys.readouterr().out == "#14213d   75.0%\n#e8b44f   25.0%\n"
    for name, value in {"FORCE_COLOR": "1", "COLORTERM": "truecolor", "TERM": "xterm-256color", "TTY_COMPATIBLE": "1"}.items():
        monkeypatch.setenv(name, value)
    monkeypatch.delenv("NO_COLOR", raising=False)
    console.say_swatches(rows)
    shown = capsys.readouterr().out
    assert "48;2;20;33;61m" in shown
    blocks = [len(match) for match in re.findall(r"48;2;[\d;]+m( +)", shown)]
    assert blocks[0] == 3 * blocks[1], "as long as their shares"


def divided(one: int, other: int) -> float:
    return one / other


def test_a_mistake_of_our_own_says_so_and_where(capsys: Captured) -> None:
    with pytest.raises(ZeroDivisionError) as caught:
        divided(1, 0)
    console.tell_own_mistake(caught.value)
    err = capsys.readouterr().err
    assert "this is a bug in Moth Seed, not in your sketch: ZeroDivisionError: division by zero" in err
    assert "in test_console.py, line " in err
    assert "--debug" in err


def test_what_is_wrong_is_coloured_on_a_terminal_unless_nobody_wants_it(
    capsys: Captured, monkeypatch: pytest.MonkeyPatch
) -> None:
    def said() -> tuple[str, str]:
        console.say_finding("plate.py:3: ", "radians", "pi\x1b[2J is no angle")
        console.tell_fault(SketchError("no size", hint="give it one"))
        shown = capsys.readouterr()
        return shown.out, shown.err

    monkeypatch.delenv("NO_COLOR", raising=False)
    monkeypatch.setenv("TERM", "xterm-256color")
    plain = "plate.py:3: radians: pi␛[2J is no angle\n", "mothseed: no size\n  give it one\n"
    assert said() == plain
    for stream in (sys.stdout, sys.stderr):
        monkeypatch.setattr(stream, "isatty", lambda: True)
    out, err = said()
    assert out == "plate.py:3: \x1b[33mradians\x1b[0m: pi␛[2J is no angle\n"
    assert err == "\x1b[1;31mmothseed:\x1b[0m no size\n  give it one\n"
    monkeypatch.setenv("NO_COLOR", "1")
    assert said() == plain
    monkeypatch.delenv("NO_COLOR")
    monkeypatch.setenv("TERM", "dumb")
    assert said() == plain


def test_marks_have_their_colours_in_a_table(capsys: Captured, monkeypatch: pytest.MonkeyPatch) -> None:
    for name, value in {"FORCE_COLOR": "1", "COLORTERM": "truecolor", "TERM": "xterm-256color", "TTY_COMPATIBLE": "1"}.items():
        monkeypatch.setenv(name, value)
    monkeypatch.delenv("NO_COLOR", raising=False)
    console.say_table(("seed", "mark", "form"), [(1, "keep", "keep"), (2, "drop", "owlet")])
    shown = capsys.readouterr().out
    assert shown.count("\x1b[32mkeep") == shown.count("\x1b[31mdrop") == 1, "a word elsewhere is none"
