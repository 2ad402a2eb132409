"""A series, a picture or a condition may come from somebody else: nothing outside is read, written, removed or run."""

from __future__ import annotations

import json
import os
import shutil
import sqlite3
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mothseed.formats.png_writing import write_png
from mothseed.layout import LEDGER_NAME
from mothseed.sketch.history import history_in_picture
from tests.conftest import Run, WriteSketch, made_series

COMMANDS = (
    ["table", "s"], ["contact", "s"], ["lightbox", "s"], ["tally", "s"], ["variety", "s"], ["mark", "s", "2", "keep"],
    ["edition", "spots.py", "--seeds", "1-3", "-o", "s", "--width", "60px"],
    ["edition", "s", "-o", "prints", "--width", "60px"],
)  # fmt: skip


def state_of(folder: Path) -> dict[str, tuple[int, bytes]]:
    return {path.name: (path.stat().st_mtime_ns, path.read_bytes()) for path in folder.iterdir()}


@pytest.mark.parametrize(
    ("column", "value"),
    [
        ("seed", "../../elsewhere/victim"), ("seed", "/elsewhere"), ("seed", ""), ("seed", "-1"), ("seed", "1" * 400),
        ("variant", "../elsewhere/x"), ("variant", "a/b"), ("number", "../3/4"), ("number", "1/0x"),
        ("file", "../elsewhere/victim.png"), ("file", "elsewhere"), ("file", "\0"), ("sketch", "../elsewhere/evil.py"),
        ("sources", '{"../elsewhere/victim.png": "00"}'), ("sources", '{"/dev/zero": "00"}'), ("sources", '{"pipe": "00"}'),
        ("sources", '{"\\u0000": "00"}'), ("reseeds", '{"a": -5}'), ("palette", '[["<script>", 1]]'),
        ("measures", '{"a": 1e999}'),
        ("dials", '{"count": {"deep": [[[]]]}}'), ("appearance", b"\1\2\3"), ("forms", b"\1"), ("mark", "\x1b[31m"),
    ],
)  # fmt: skip
def test_whatever_a_row_says_nothing_outside_is_touched(
    write_sketch: WriteSketch, run: Run, tmp_path: Path, column: str, value: Any
) -> None:
    made_series(write_sketch(), "1-3")
    os.mkfifo("pipe")
    elsewhere = tmp_path / "elsewhere"
    elsewhere.mkdir()
    (elsewhere / "victim.png").write_bytes(b"mine")
    (elsewhere / "evil.py").write_text("raise SystemExit('it was run')")
    before = state_of(elsewhere)
    with sqlite3.connect(Path("s") / LEDGER_NAME) as connection:
        connection.execute(f"UPDATE edition SET {column} = ? WHERE seed = '2'", (value,))
    connection.close()
    shown = {"file", "seed", "variant", "palette", "appearance"}
    for words in COMMANDS if column in shown else COMMANDS[5:]:
        answer = run(*words)
        assert answer.status in (0, 1, 2), (words, answer.err)
        assert "it was run" not in answer.err
        assert "\x1b" not in answer.out + answer.err
    assert state_of(elsewhere) == before


@pytest.mark.parametrize(
    ("statement", "words"),
    [
        ("CREATE TRIGGER t AFTER UPDATE ON edition BEGIN DELETE FROM edition; END", 'has a trigger "t"'),
        ("ALTER TABLE edition RENAME TO other; CREATE VIEW edition AS SELECT * FROM other", "tables are not those of a ledger"),
        ("ALTER TABLE decision ADD COLUMN more TEXT", "tables are not those of a ledger"),
        ("DROP VIEW outcome", "tables are not those of a ledger"),
        ("DROP VIEW outcome; CREATE VIEW outcome AS SELECT * FROM edition", "tables are not those of a ledger"),
    ],
)  # fmt: skip
def test_a_ledger_in_which_more_happens_is_not_used(write_sketch: WriteSketch, run: Run, statement: str, words: str) -> None:
    made_series(write_sketch(), "1-3")
    connection = sqlite3.connect(Path("s") / LEDGER_NAME)
    connection.executescript(statement)
    connection.close()
    for command in (["table", "s"], ["mark", "s", "1", "keep"], ["edition", "spots.py", "--seeds", "1-3", "-o", "s"]):
        answer = run(*command)
        assert answer.status == 1
        assert words in answer.err
    assert run("recover", "s").status == 0
    assert run("table", "s").status == 0


def test_nothing_is_written_or_read_through_links_in_a_series(write_sketch: WriteSketch, run: Run, tmp_path: Path) -> None:
    made_series(write_sketch(), "1-3")
    victim = tmp_path / "victim"
    victim.write_text("mine")
    for name in ("0002.png", "contact.png", "source/spots.py"):
        (tmp_path / "s" / name).unlink(missing_ok=True)
        (tmp_path / "s" / name).symlink_to(victim)
    answer = run("edition", "spots.py", "--seeds", "1-3", "-o", "s", "--width", "60px")
    assert answer.out.startswith("s: 1 made, 2 there already")
    assert victim.read_text() == "mine"
    assert not any((tmp_path / "s" / name).is_symlink() for name in ("0002.png", "contact.png", "source/spots.py"))
    shutil.move("s/source", "elsewhere")
    Path("s/source").symlink_to(tmp_path / "elsewhere")
    before = state_of(tmp_path / "elsewhere")
    answer = run("edition", "spots.py", "--seeds", "1-4", "-o", "s", "--width", "60px")
    assert answer.status == 1
    assert "source is a link" in answer.err
    assert state_of(tmp_path / "elsewhere") == before
    shutil.move("s/ledger.sqlite", "other.sqlite")
    Path("s/ledger.sqlite").symlink_to(tmp_path / "other.sqlite")
    assert "is a link" in run("table", "s").err


EVIL = """
    from pathlib import Path
    from mothseed import artwork

    Path("was-run").touch()

    @artwork(width=60, height=40)
    def spots(sheet, chance):
        sheet.circle(5, 5, 5)
"""


def test_a_sketch_that_only_a_picture_names_is_not_run(write_sketch: WriteSketch, run: Run) -> None:
    write_sketch(EVIL)
    run("proof", "spots.py", "-o", "a.png", "--width", "60px")
    run("proof", "spots.py", "--seed", "2", "-o", "b.png", "--width", "60px")
    run("edition", "spots.py", "--seeds", "1-2", "-o", "s", "--width", "60px")
    Path("was-run").unlink()
    answer = run("compare", "a.png", "b.png")
    assert answer.status == 0
    assert "shapes are not compared: spots.py is named by the picture alone, and so not run" in answer.out
    assert "to compare the shapes too, if you trust spots.py, add --sketch spots.py" in answer.err
    assert run("compare", "s/0001.png", "s/0002.png").status == 0
    assert run("trace", "a.png", "--at", "1,1").status == 2
    assert not Path("was-run").exists()
    assert "shape unchanged" in run("compare", "a.png", "b.png", "--sketch", "spots.py").out
    assert Path("was-run").exists()
    assert "shape unchanged" in run("compare", "s:1", "s:2").out
    assert "mark 1, a circle" in run("trace", "s:1", "--at", "5,5").out


HISTORIES: list[dict[str, Any]] = [
    {"seed": "../../victim"}, {"seed": -1}, {"seed": None}, {"seed": 10**400}, {"seed": "1.5"}, {"variant": "../x"},
    {"variant": 3},    {"number": "x/y"}, {"paper": "no colour"}, {"paper": 5}, {"sheet": [0, 1, "mm"]}, {"sheet": ["a"]},
    {"sheet": 5},
    {"sketch": "../evil.py"}, {"sketch": "a\0b"}, {"sources": []}, {"outcomes": [[1, 2]]}, {"dials": []},
    {"reseeds": {"a": "b c"}},
]  # fmt: skip


@pytest.mark.parametrize("change", HISTORIES)
def test_a_history_with_any_value_is_passed_over(write_sketch: WriteSketch, run: Run, change: dict[str, Any]) -> None:
    made_series(write_sketch(), "1-2")
    history = history_in_picture(Path("s/0001.png"))
    assert history is not None
    write_png(Path("s/0003.png"), np.zeros((4, 4, 3), np.uint8), json.dumps({**history.as_dict(), **change}))
    Path("s/ledger.sqlite").unlink()
    answer = run("recover", "s")
    assert answer.status == 0, answer.err
    assert "left out: 0003.png: it carries no history" in answer.err
    assert answer.out.startswith("s: 2 editions recovered")
    assert run("compare", "s/0001.png", "s/0003.png").status in (0, 2)


@pytest.mark.parametrize(
    "condition",
    [
        "length(randomblob(1000000000)) > 1",
        "length(replace(hex(zeroblob(1900000)), '0', 'aaaaaaaaaa')) > 1",
        "(WITH RECURSIVE c(x) AS (SELECT 1 UNION ALL SELECT x + 1 FROM c) SELECT max(x) FROM c) > 1",
        "load_extension('x')",
        "1); DELETE FROM edition; --",
        "(" * 3000,
        "seed = '" + "x" * 5_000_000,
    ],
)
def test_a_condition_has_bounds(write_sketch: WriteSketch, run: Run, condition: str) -> None:
    made_series(write_sketch(), "1-2")
    answer = run("table", "s", "--where", condition)
    assert answer.status == 2
    assert "--where" in answer.err
    assert len(answer.err) < 20_000


def test_a_condition_without_an_end_is_ended(write_sketch: WriteSketch, run: Run, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("mothseed.series.condition._SECONDS", 0.2)  # nobody waits for ten in a test
    made_series(write_sketch(), "1-9")
    tables = ", ".join(f"edition e{number}" for number in range(12))
    answer = run("table", "s", "--where", f"(SELECT count(*) FROM {tables}) > 1")
    assert answer.status == 2
    assert "takes longer than 0.2 s" in answer.err
