"""The kinds of fault: each with its status and its remedy, in the table and as a command says it."""

from __future__ import annotations

import pickle
import re
from pathlib import Path

import pytest

from mothseed.faults import (
    ChangeError,
    FieldError,
    ManyFaultsError,
    MothSeedError,
    SeriesInUseError,
    SketchError,
    UnknownNameError,
    UsageError,
    Whereabouts,
    did_you_mean,
    kinds,
)
from tests.conftest import Run, WriteSketch
from tests.places import ROOT


def test_the_table_in_the_docs_has_every_kind_with_its_status_and_remedy() -> None:
    page = (ROOT / "docs" / "faults.md").read_text(encoding="utf-8")
    rows = re.findall(r"^\| `(\w+)` \| (.+?) \| (\d+) \| (.+?) \|$", page, re.MULTILINE)
    told = [(kind.__name__, kind.when, str(kind.exit_status), kind.remedy or "see the message") for kind in kinds()]
    assert sorted(rows) == sorted(told)


def test_each_kind_says_when_it_is_and_none_says_it_as_another_does() -> None:
    every = list(kinds())
    assert len({kind.when for kind in every}) == len(every) > 15
    assert {kind.exit_status for kind in every} == {1, 2}
    assert all(kind.exit_status == 2 for kind in every if issubclass(kind, UsageError))


def test_a_fault_has_the_remedy_of_its_kind_unless_it_has_its_own() -> None:
    assert SeriesInUseError("another run is making moths").hint == "wait until it is done, or choose another folder"
    assert SeriesInUseError("another run is making moths", hint="wait").hint == "wait"
    assert MothSeedError("it rains").hint == ""


def test_a_field_is_told_under_any_name() -> None:
    fault = FieldError("dial spots", "expected a whole number, got 3.5")
    assert (fault.message, fault.exit_status) == ("dial spots: expected a whole number, got 3.5", 2)
    assert fault.told_as("variant 2.dials.spots") == "variant 2.dials.spots: expected a whole number, got 3.5"
    assert FieldError("", "it is none").message == "it is none"


def test_a_name_that_is_not_there_comes_with_the_nearest() -> None:
    fault = UnknownNameError("layer glwo", "there is none", name="glwo", known=["glow", "ink"], hint="make one")
    assert (fault.hint, fault.name, fault.known) == ("did you mean glow?", "glwo", ("glow", "ink"))
    assert UnknownNameError("layer x", "there is none", name="x", known=["glow"], hint="make one").hint == "make one"
    assert did_you_mean("forn", ["form", "tint"]) == "did you mean form?"
    assert did_you_mean("qqq", ["form"]) == ""


def test_many_faults_are_told_at_once_but_not_without_end() -> None:
    fault = ManyFaultsError(Path("p.toml"), ["a: is none", "b: is none", "c: is none"], most=2)
    assert fault.message == "p.toml has 3 faults:\n  a: is none\n  b: is none\n  ... and 1 more"
    assert len(fault.faults) == 3
    assert ManyFaultsError(Path("p.toml"), ["a: is none"]).message == "p.toml has 1 fault:\n  a: is none"


def test_a_value_that_is_set_is_a_fault_of_python_too() -> None:
    assert issubclass(ChangeError, AttributeError)
    assert issubclass(ChangeError, SketchError)


def test_a_place_is_kept_with_the_fault() -> None:
    place = Whereabouts(Path("moth.py"), 7, "sheet.circle(1, 2, -3)")
    assert SketchError("radius must be 0 or more", place=place).place == place
    assert str(pickle.loads(pickle.dumps(place))) == "moth.py, line 7"


@pytest.mark.parametrize(
    ("arguments", "first"),
    [
        (["proof", "spots.py", "--width", "wide"], '--width: "wide" is not a length'),
        (["edition", "spots.py", "--seeds", "1", "--width", "wide"], '--width: "wide" is not a length'),
        (["sweep", "spots.py", "--vary", "foo=1"], "--vary: there is nothing called foo"),
        (["replay", "spots.py", "--vary", "foo=1"], "--vary: there is nothing called foo"),
        (["compare", "spots.py", "--but", "foo=1"], "--but: there is nothing called foo"),
        (["compare", "spots.py", "--but", "count=1..900"], "--but: count: expected a whole number from 0 to 50, got 226"),
        (["proof", "spots.py", "--without", "glow"], "--without glow: the picture has no layer glow; it has no layers"),
        (["check", "spots.py", "--seeds", "9-1"], '--seeds: "9-1" runs backwards'),
        (["proof", "spots.py", "--reseed", "spot=1,2"], '--reseed spot: "1,2" is several seeds, and one is needed'),
        (["seek", "spots.py", "--where", "1 +"], "--where: 1 + is not understood"),
        (["replay", "spots.py", "--by", "layer"], "--by: the picture has no layers to build it up by"),
    ],
)
def test_a_command_calls_what_is_wrong_by_its_own_option(
    run: Run, write_sketch: WriteSketch, arguments: list[str], first: str
) -> None:
    write_sketch()
    answer = run(*arguments)
    assert answer.status == 2
    assert answer.err.startswith("mothseed: ")
    assert first in answer.err.splitlines()[0]


def test_a_plan_calls_what_is_wrong_by_its_own_key(run: Run, write_sketch: WriteSketch, tmp_path: Path) -> None:
    write_sketch()
    (tmp_path / "p.toml").write_text(
        'sketch = "spots.py"\nseeds = "3-1"\nwidth = "abc"\n[dials]\ncount = 99\n'
        '[[variant]]\nname = "a b"\nreseed = {spot = "x y"}\n'
    )
    answer = run("edition", "p.toml")
    assert answer.status == 2
    assert answer.err.splitlines()[:6] == [
        "mothseed: p.toml has 5 faults:",
        '  seeds: "3-1" runs backwards',
        '  width: "abc" is not a length',
        "  dials.count: expected a whole number from 0 to 50, got 99",
        '  variant 1.name: "a b" is neither a whole number nor a word',
        '  variant 1.reseed.spot: "x y" is neither a whole number nor a word',
    ]


def test_where_another_folder_would_do_the_option_for_it_is_named(run: Run, write_sketch: WriteSketch, tmp_path: Path) -> None:
    write_sketch()
    assert run("edition", "spots.py", "--seeds", "1", "--width", "60px", "-o", "moths").status == 0
    write_sketch(name="dots.py")
    answer = run("edition", "dots.py", "--seeds", "1", "--width", "60px", "-o", "moths")
    assert answer.status == 1
    assert answer.err == "mothseed: moths holds a series of spots.py, not of dots.py\n  choose another folder with -o\n"
    (tmp_path / "file").write_text("")
    answer = run("edition", "spots.py", "--seeds", "1", "-o", "file/moths")
    assert answer.status == 1
    assert answer.err.endswith("  choose another folder with -o\n")
