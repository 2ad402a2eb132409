"""One way in which a value is written for a reader."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed import Colour
from mothseed.told import assignments, counted, listed, quoted, told
from tests.conftest import Run, WriteSketch


@pytest.mark.parametrize(
    ("value", "words"),
    [
        (True, "on"),
        (False, "off"),
        (None, ""),
        (3, "3"),
        (3.0, "3"),
        (0.1 + 0.2, "0.3"),
        (1 / 3, "0.333333"),
        (float("nan"), "nan"),
        (float("inf"), "inf"),
        ("two\n  lines", "two lines"),
        ([], "none"),
        ([True, None, "a"], "on, none, a"),
        ((1, 2.5), "1, 2.5"),
        (np.float64(2.5), "2.5"),
        (np.array([1, 2]), "1, 2"),
        (Colour.parse("teal"), "#008080"),
        ([Colour.parse("teal"), Colour.parse("#fff8")], "#008080, #ffffff88"),
    ],
)
def test_a_value_is_told(value: Any, words: str) -> None:
    assert told(value) == words


@given(st.recursive(st.none() | st.booleans() | st.integers() | st.floats() | st.text(), st.lists, max_leaves=8))
def test_any_value_is_told_on_one_line(value: Any) -> None:
    assert len(told(value).splitlines()) <= 1


def test_what_cannot_be_taken_is_told_as_it_was_written() -> None:
    assert [quoted(value) for value in ("many", 3, 2.5, True, None, [1, 2])] == [
        '"many"',
        "3",
        "2.5",
        "true",
        "nothing",
        "1, 2",
    ]


def test_numbers_of_things_and_lists_of_words() -> None:
    assert [counted(number, "edition") for number in (0, 1, 2, 1200)] == [
        "0 editions",
        "1 edition",
        "2 editions",
        "1,200 editions",
    ]
    assert listed(["a", "b", "c"], 2) == "a, b and 1 more"
    assert listed(["a", "b"], 2) == "a, b"
    assert assignments([("form", "hawk"), ("rare", True)]) == "form = hawk, rare = on"


def test_a_switch_is_on_in_every_command(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch("""
        from mothseed import artwork, dial

        @artwork(width=60, height=40)
        def plate(sheet, chance, *, big=dial(True)):
            chance("rare").odds(0.999999, label="rare")
            sheet.circle(30, 20, 9 if big else 3)
    """)
    assert "rare = on" in run("proof", "spots.py", "--width", "60px").out
    assert run("edition", "spots.py", "--seeds", "1-2", "--width", "60px", "--jobs", "1", "-o", "s").status == 0
    table = run("table", "s").out
    assert [line.split() for line in table.splitlines() if line.strip()[:1].isdigit()] == [
        ["1", "done", "on", "on"],
        ["2", "done", "on", "on"],
    ]
    assert "on" in run("tally", "s").out
    assert "True" not in run("tally", "s").out + table
    assert "dial big: on -> off" in run("compare", "spots.py", "--but", "big=off").out
    assert "    size: dial big (on)\n" in run("trace", "spots.py", "--at", "30,20").out
    assert run("seek", "spots.py", "--where", "rare = 1", "--jobs", "1").out == "1  rare = on\n"
    assert json.loads(run("table", "s", "--json").out)[0]["rare"] is True, "for programs it is what JSON has"
