"""Whatever is typed, and whatever files hold: an answer and its status, never a traceback, and nothing sent to the terminal.

Seeded and bounded; `ROUNDS=50 pytest tests/test_anything.py` goes on for longer.
"""

from __future__ import annotations

import argparse
import json
import os
import random
import shutil
import signal
import sqlite3
import tomllib
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

from mothseed.cli.main import parser
from mothseed.layout import LEDGER_NAME
from tests.conftest import Answer, Run, WriteSketch, made_series

ROUNDS = int(os.environ.get("ROUNDS", "2" if os.environ.get("CI") else "1"))
LINES = 40
SKETCH = """
    from mothseed import artwork, dial

    @artwork(width=60, height=40, paper="#f4efe4")
    def spots(sheet, chance, *, count=dial(5, 0, 50), big=dial(False), ink=dial("#22203a"), edge=dial("round", choices=("round", "butt"))):
        for index in range(count):
            own = chance("spot", index)
            sheet.layer("a").circle(own.between(0, 60), own.between(0, 40), 9 if big else 3, fill=ink)
        chance.odds(0.5, label="rare")
"""  # noqa: E501  # one line, as an artist may write it

WORDS = [
    "", "-", "0", "-1", "1", "1.5", "1e309", "nan", "-inf", "9" * 5000, "0x10", "١٢", "½", "1-3", "3-1", "1-", "1,2,,",
    "lamp", "a b", "é" * 70, "x" * 300, "a" * 4000, "\udcff", "\x1b[31m", "\u202e", "\n", "../..", "/", "/dev/full", "fifo",
    "loop", "folder", "empty", "bytes", "cut.png", "a.png", "b.png", "a.svg", "spots.py", "s", "s:1", "s:99", "plan.toml",
    "deep.json", "deep.toml", "marks.json", "missing.png", "missing/x.png", "a.png/x", "--", "count=3", "count=", "=3",
    "count=1..5", "count=nan", "count=1..1e9", "big=maybe", "ink=#zz", "edge=x", "x=1", "count=1,2,3", "seed=1..3",
    "reseed:spot=2", "spot=3", "spot=", "0px", "1px", "60px", "1e9px", "-5px", "5mm", "NaNmm", "seed > 1", "1/0",
    "seed desc", "nosuch", "keep", "drop", "90,70", "400px,310px", "1,", "A4", "out.png", "out.svg", "out.pdf", "out.gif",
    "out.html", "out.webp", "out.json", "out.txt", "0GB", "tcp://x:1", "#fff", "{seed}", "[", "'", "%s", "~", "*",
]  # fmt: skip
GOOD = {"sketch": "spots.py", "what": "spots.py", "series": "s", "first": "spots.py", "second": "a.png"}
ALONE = {"watch", "demo", "completion"}
"""Commands that go on for ever, make much, or speak to shells."""


@pytest.fixture
def place(write_sketch: WriteSketch, run: Run, tmp_path: Path) -> Iterator[Path]:
    """A folder with a series, pictures, and whatever else may lie about."""
    made_series(write_sketch(SKETCH), "1-3")
    for name, seed in {"a.png": 1, "b.png": 2, "a.svg": 1}.items():
        run("proof", "spots.py", "--seed", seed, "-o", name, *(["--width", "60px"] if name != "a.svg" else []))
    (tmp_path / "plan.toml").write_text('sketch = "spots.py"\nseeds = "1-2"\n')
    (tmp_path / "empty").touch()
    (tmp_path / "deep.json").write_text("[" * 100_000)
    (tmp_path / "deep.toml").write_text("a=" + "[" * 100_000)
    (tmp_path / "bytes").write_bytes(random.Random(1).randbytes(3000))
    (tmp_path / "cut.png").write_bytes((tmp_path / "a.png").read_bytes()[:300])
    (tmp_path / "marks.json").write_text('{"marks": [{"seed": 1, "mark": "keep"}]}')
    (tmp_path / "folder").mkdir()
    (tmp_path / "loop").symlink_to("loop")
    for name in ("fifo", "fifo.png", "fifo.svg", "fifo.py", "fifo.toml", "fifo.json"):
        os.mkfifo(tmp_path / name)

    def late(*_: object) -> None:
        raise TimeoutError("it takes for ever")

    before = signal.signal(signal.SIGALRM, late)
    yield tmp_path
    signal.signal(signal.SIGALRM, before)


def held(run: Run, words: list[str]) -> Answer:
    """Run a line and look whether it is answered as lines are."""
    signal.alarm(60)
    try:
        answer = run(*words)
    finally:
        signal.alarm(0)
    assert answer.status in (0, 1, 2, 130), (words, answer.err[-500:])
    assert "Traceback" not in answer.err, words
    assert not {"\x1b", "\u202e"} & set(answer.out + answer.err), words
    return answer


@pytest.mark.parametrize("seed", range(2 * ROUNDS))
def test_any_line_is_answered(place: Path, run: Run, monkeypatch: pytest.MonkeyPatch, seed: int) -> None:
    choose = random.Random(seed)
    actions = parser()._actions  # argparse has no other way to ask what there is
    commands = next(action for action in actions if isinstance(action, argparse._SubParsersAction)).choices  # as above
    for _ in range(LINES):
        name = choose.choice([name for name in commands if name not in ALONE])
        held(run, _line(choose, name, commands[name]))
        monkeypatch.chdir(place)
        for file in place.glob("out*"):
            file.unlink()


def _line(choose: random.Random, name: str, command: argparse.ArgumentParser) -> list[str]:
    words = [name]
    for action in command._actions:  # as above
        if action.option_strings:
            if action.dest in ("help", "debug", "jobs") or choose.random() > 0.25:
                continue
            words.append(choose.choice(action.option_strings))
            if action.nargs != 0:
                known = list(map(str, action.choices or ()))
                words.append(choose.choice(known if known and choose.random() < 0.4 else WORDS))
        elif choose.random() < 0.9:
            good = GOOD.get(action.dest)
            words.append(good if good and choose.random() < 0.75 else choose.choice(WORDS))
    if any(action.dest == "jobs" for action in command._actions):  # as above
        words += ["--jobs", "1"]
    return words + ["--dry-run"] * (name == "edition")


@pytest.mark.parametrize(
    "name", ["fifo.png", "fifo.svg", "fifo.py", "fifo.toml", "fifo.json", "deep.json", "deep.toml", "folder"]
)
def test_no_kind_of_file_keeps_anybody_waiting(place: Path, run: Run, name: str) -> None:
    for words in (
        ["compare", name, "b.png"], ["trace", name], ["palette", name], ["proof", name], ["check", name], ["edition", name],
        ["mark", "s", "--from", name], ["table", name], ["contact", name], ["sweep", name], ["influence", name], ["new", name],
    ):  # fmt: skip
        held(run, words)


ODD: list[Any] = [
    None,
    True,
    -1,
    0,
    10**30,
    1.5,
    float("inf"),
    "",
    "x" * 500,
    "../..",
    "\x1b[2J",
    "\u202e",
    [],
    {},
    [[]],
    {"a": {}},
]


def _with_odd_value(choose: random.Random, record: Any) -> Any:
    """A record in which one value, wherever it lies, is another."""
    if isinstance(record, dict) and record and choose.random() < 0.8:
        name = choose.choice(list(record))
        return {**record, name: _with_odd_value(choose, record[name])}
    if isinstance(record, list) and record and choose.random() < 0.8:
        place = choose.randrange(len(record))
        return [*record[:place], _with_odd_value(choose, record[place]), *record[place + 1 :]]
    return choose.choice(ODD)


def _as_toml(value: Any) -> str:
    if isinstance(value, dict):
        return "{" + ", ".join(f"{json.dumps(name)} = {_as_toml(each)}" for name, each in value.items()) + "}"
    if isinstance(value, list):
        return "[" + ", ".join(map(_as_toml, value)) + "]"
    if isinstance(value, bool) or not isinstance(value, float):
        return "false" if value is None else json.dumps(value)
    return "inf"


MARKS = {"marks": [{"seed": 1, "variant": "", "mark": "keep", "note": "a"}, {"seed": "lamp", "mark": ""}]}
PALETTE = {"swatches": [{"colour": "#14213d", "share": 0.5}, {"colour": "teal", "share": 0.5}]}
PLAN = tomllib.loads(
    """
    sketch = "spots.py"
    seeds = ["1-2", 7]
    width = "60px"
    caption = "{seed}"
    [dials]
    count = 3
    [[variant]]
    name = "big"
    dials = { big = true }
    """
)


@pytest.mark.parametrize("seed", range(6 * ROUNDS))
def test_any_record_is_answered(place: Path, run: Run, seed: int) -> None:
    choose = random.Random(seed)
    (place / "marks.json").write_text(json.dumps(_with_odd_value(choose, MARKS)))
    held(run, ["mark", "s", "--from", "marks.json"])
    (place / "colours.json").write_text(json.dumps(_with_odd_value(choose, PALETTE)))
    held(run, ["palette", "colours.json"])
    plan = _with_odd_value(choose, PLAN)
    lines = [f"{json.dumps(name)} = {_as_toml(value)}" for name, value in plan.items()] if isinstance(plan, dict) else ["x"]
    (place / "plan.toml").write_text("\n".join(lines))
    held(run, ["edition", "plan.toml", "--dry-run"])
    _change_ledger(choose, place / "s" / LEDGER_NAME)
    for command in ("table", "tally", "contact", "lightbox", "variety", "verify"):
        held(run, [command, "s", *(["--sample", "0"] if command == "verify" else [])])
    held(run, ["edition", "spots.py", "--seeds", "1-3", "-o", "s", "--dry-run", "--width", "60px"])


def _change_ledger(choose: random.Random, path: Path) -> None:
    with sqlite3.connect(path) as connection:
        columns = [name for _, name, *_ in connection.execute("PRAGMA table_info(edition)")]
        for column in choose.sample(columns, 3):
            kept = connection.execute(f"SELECT {column} FROM edition WHERE seed = '2'").fetchone()
            if kept is None:
                break
            value = kept[0]
            if isinstance(value, str) and value[:1] in ("{", "["):
                value = json.dumps(_with_odd_value(choose, json.loads(value)))
            else:
                value = choose.choice([odd for odd in ODD if not isinstance(odd, list | dict) and odd != 10**30])
            try:
                connection.execute(f"UPDATE OR IGNORE edition SET {column} = ? WHERE seed = '2'", (value,))
            except sqlite3.IntegrityError:  # the table takes no value of that kind
                continue
    connection.close()


@pytest.mark.parametrize("seed", range(6 * ROUNDS))
def test_any_damage_is_answered(place: Path, run: Run, seed: int) -> None:
    choose = random.Random(seed)
    damages: list[Callable[[bytearray], None]] = [_flip, _cut, _repeat]
    for name in ("a.png", "a.svg", f"s/{LEDGER_NAME}", "s/0002.png", "spots.py"):
        content = bytearray((place / name).read_bytes())
        choose.choice(damages)(content) if name != "spots.py" or seed % 5 == 0 else None
        (place / name).write_bytes(content)
    for words in (
        ["compare", "a.png", "b.png"], ["compare", "a.svg", "b.png"], ["trace", "a.png"], ["palette", "a.png"], ["table", "s"],
        ["contact", "s"], ["lightbox", "s"], ["variety", "s"], ["tally", "s"], ["mark", "s", "1", "keep"], ["recover", "s"],
        ["verify", "s", "--sample", "0"], ["check", "spots.py", "--jobs", "1"], ["proof", "spots.py", "--width", "60px"],
    ):  # fmt: skip
        held(run, words)
    shutil.rmtree(place / "s")


def _flip(content: bytearray) -> None:
    choose = random.Random(len(content))
    for _ in range(20):
        content[choose.randrange(len(content))] ^= 1 << choose.randrange(8)


def _cut(content: bytearray) -> None:
    del content[len(content) // 3 :]


def _repeat(content: bytearray) -> None:
    middle = len(content) // 2
    content[middle:middle] = content[:middle]
