"""Editions as rows of the ledger: what is written is read back, whatever it holds, and what is damaged is named."""

from __future__ import annotations

import sqlite3
from dataclasses import fields
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mothseed.chance import Outcome, Promise
from mothseed.faults import DamagedLedgerError
from mothseed.layout import LEDGER_NAME
from mothseed.records import RecordError, as_json, as_plain_record, as_record, from_json
from mothseed.series import Edition
from mothseed.series.ledger import Ledger
from mothseed.series.rows import ARTISTS_COLUMNS, COLUMNS, DECISIONS, MADE_COLUMNS, decisions_of, row_of, values_of
from mothseed.sketch.history import History
from mothseed.sketch.provenance import Provenance
from mothseed.sketch.recipe import Recipe
from tests.recipes import known_edition

WORDS = st.from_regex(r"[a-z_][a-z0-9_-]{0,8}", fullmatch=True)
SEEDS = st.integers(0, 10**9) | WORDS
PLAIN = st.none() | st.booleans() | st.integers(-(2**53), 2**53) | st.floats(allow_nan=False, allow_infinity=False) | st.text()
PROMISES = st.lists(st.tuples(PLAIN, st.floats(0, 1)), max_size=3).map(Promise)
OUTCOMES = st.builds(Outcome, st.text(min_size=1), PLAIN | st.lists(PLAIN, max_size=3), PROMISES)
EDITIONS = st.builds(
    Edition,
    seed=SEEDS,
    dials=st.dictionaries(WORDS, PLAIN, max_size=3),
    reseeds=st.dictionaries(WORDS, SEEDS, max_size=2),
    without=st.lists(WORDS, max_size=2).map(tuple),
    sketch=st.just("spots.py"),
    variant=WORDS | st.just(""),
    number=st.sampled_from(["", "1/12"]),
    outcomes=st.lists(OUTCOMES, max_size=3).map(tuple),
    sources=st.dictionaries(WORDS, WORDS, max_size=2),
    width=st.integers(1, 20000),
    milliseconds=st.floats(0, 1e6),
    measures=st.dictionaries(WORDS, st.floats(-1e6, 1e6), max_size=3),
    palette=st.lists(st.tuples(st.just("#14213d"), st.floats(0, 1)), max_size=3).map(tuple),
    appearance=st.binary(max_size=9),
    forms=st.binary(max_size=9),
    error=st.text(),
)


@given(EDITIONS)
def test_an_edition_is_what_it_was_when_it_is_read_again(edition: Edition) -> None:
    row = row_of(edition)
    decisions = {str(number): decision for number, decision in enumerate(decisions_of(edition))}
    names, values = (*COLUMNS, DECISIONS), [*(row[name] for name in COLUMNS), " ".join(decisions)]
    found = values_of(names, [values], decisions)
    assert Edition(**{name: value for name, (value,) in found.items()}) == edition
    assert row["status"] == ("failed" if edition.error else "done")


MEASURES = st.dictionaries(st.text(max_size=6), st.floats(-1e300, 1e300) | st.integers(-(2**40), 2**40), max_size=6)


@given(MEASURES, st.sets(st.text(max_size=6), max_size=3), st.data())
def test_a_few_measures_are_read_as_they_are_among_all(
    measures: dict[str, float], others: set[str], data: st.DataObject
) -> None:
    wanted = others | {name for name in measures if data.draw(st.booleans(), label=name)}
    (few,) = values_of(["measures"], [[as_json(measures)]], measures=frozenset(wanted))["measures"]
    (whole,) = values_of(["measures"], [[as_json(measures)]])["measures"]
    assert {name: few.get(name) for name in wanted} == {name: whole.get(name) for name in wanted}
    assert {*map(type, few.values())} <= {float}


@pytest.mark.parametrize(
    "text", ['{"hue": "red"}', '{"hue": null}', "[]", "3", "", '{"hue": 1', '{"detail": tr, "hue": 1}', b"{\xff", None, 3]
)
def test_a_measure_that_is_asked_for_and_is_none_is_a_fault(text: Any) -> None:
    with pytest.raises(RecordError):
        values_of(["measures"], [[text]], measures=frozenset({"hue"}))


def test_what_is_damaged_and_was_not_asked_for_keeps_nobody_from_the_rest(tmp_path: Path) -> None:
    with Ledger(tmp_path) as ledger:
        ledger.add([known_edition(seed, measures={"hue": float(seed), "detail": 2.0}) for seed in range(1, 5)])
    with sqlite3.connect(tmp_path / LEDGER_NAME) as connection:
        connection.execute("""UPDATE edition SET measures = '{"hue": 3, "detail": "much"}' WHERE seed = '3'""")
    connection.close()
    for name, kept in (("hue", [1, 2, 3, 4]), ("detail", [1, 2, 4])):
        told: list[str] = []
        with Ledger.reading(tmp_path) as ledger:
            found = ledger.values(["measures"], told, measures=frozenset({name}))
        assert found["seed"] == kept
        assert len(told) == 4 - len(kept)


@settings(max_examples=40)
@given(st.lists(EDITIONS, max_size=4, unique_by=lambda edition: edition.key))
def test_a_ledger_keeps_what_it_is_given(tmp_path_factory: pytest.TempPathFactory, editions: list[Edition]) -> None:
    folder = tmp_path_factory.mktemp("ledger")
    with Ledger(folder) as ledger:
        ledger.add(editions)
        ledger.add(editions)
        assert {edition.key: edition for edition in ledger.editions()} == {edition.key: edition for edition in editions}


def test_the_columns_are_those_of_the_record() -> None:
    names = {each.name for each in fields(Edition)}
    assert set(COLUMNS) == names - {"outcomes", "troubles"}
    assert set(ARTISTS_COLUMNS) == {"mark", "note"}
    assert set(MADE_COLUMNS) == set(COLUMNS) - {"mark", "note"} | {"status"}
    assert {each.name for each in fields(Recipe)} == {"seed", "dials", "reseeds", "without"}
    assert {each.name for each in fields(Recipe)} < {each.name for each in fields(Provenance)} < names
    assert {each.name for each in fields(Provenance)} < {each.name for each in fields(History)}


@pytest.mark.parametrize(
    ("column", "value", "words"),
    [
        ("dials", "{", "it is not JSON"),
        ("dials", "[1]", "Expected `object`, got `array` - at `$.dials`"),
        ("measures", '{"coverage": "much"}', "Expected `float`, got `str` - at `$.measures[...]`"),
        ("without", '["glow", 3]', "Expected `str`, got `int` - at `$.without[1]`"),
        ("palette", '[["#fff"]]', "at `$.palette[0]`"),
        ("reseeds", '{"tint": 1.5}', "at `$.reseeds[...]`"),
    ],
)
def test_a_damaged_row_is_named_with_its_place(tmp_path: Path, column: str, value: str, words: str) -> None:
    with Ledger(tmp_path) as ledger:
        ledger.add([known_edition(7, {"spots": 3}, variant="flat")])
    connection = sqlite3.connect(tmp_path / LEDGER_NAME)
    connection.execute(f"UPDATE edition SET {column} = ?", (value,))
    connection.commit()
    connection.close()
    with Ledger(tmp_path) as ledger, pytest.raises(DamagedLedgerError) as caught:
        ledger.editions()
    assert "is damaged: edition 7 flat: " in caught.value.message
    assert words in caught.value.message
    assert f"mothseed recover {tmp_path}" in caught.value.hint


def test_a_damaged_outcome_is_named_too(tmp_path: Path) -> None:
    with Ledger(tmp_path) as ledger:
        ledger.add([known_edition(7, outcomes=(Outcome("form", "hawk"),))])
    connection = sqlite3.connect(tmp_path / LEDGER_NAME)
    for statement, words in (
        ("UPDATE edition SET decisions = '1 2'", "edition 7: outcomes: there is no decision 2"),
        ("UPDATE edition SET decisions = 'x'", "edition 7: outcomes: there is no decision x"),
        (
            "UPDATE edition SET decisions = '1'; UPDATE decision SET promised = '[[1]]'",
            "edition 7: a promise is a list of pairs",
        ),
    ):
        connection.executescript(statement)
        with Ledger(tmp_path) as ledger, pytest.raises(DamagedLedgerError, match=words):
            ledger.editions()
    connection.close()


@given(st.recursive(PLAIN, lambda inner: st.lists(inner) | st.dictionaries(st.text(), inner), max_leaves=6))
def test_plain_values_are_the_same_in_json(value: Any) -> None:
    assert from_json(as_json(value)) == value


@pytest.mark.parametrize("text", ["", "{", "[1,]", '{"a"}', "\0", "[" * 100_000, b"\xff\xfe{"])
def test_what_is_no_json_is_a_fault_of_records(text: str | bytes) -> None:
    with pytest.raises(RecordError, match="it is not JSON"):
        from_json(text)


def test_names_that_a_record_has_not_are_passed_over_and_wrong_ones_are_placed() -> None:
    assert as_record({"seed": "lamp", "later": [1, 2]}, Recipe) == Recipe(seed="lamp")
    with pytest.raises(RecordError, match=r"Expected `int \| str`, got `array` - at `\$.seed`"):
        as_record({"seed": []}, Recipe)
    assert as_plain_record(Recipe(seed=3, without=("glow",))) == {"seed": 3, "dials": {}, "reseeds": {}, "without": ("glow",)}
