"""Conditions on columns: what they find, and that they can do nothing but find."""

from __future__ import annotations

import pytest

from mothseed.faults import FieldError, UnknownNameError
from mothseed.series.condition import Row, places_where, quoted

COLUMNS = ["seed", "form", "spots", "Form name", 'odd "name"']
ROWS: list[Row] = [
    (1, "hawk", 2, "a", None),
    (2, "owlet", 5, "b", 1.5),
    ("lamp", "hawk", None, "c", 0.5),
    (3, "hawk", 7, "d", 2.5),
]
VALUES = list(zip(*ROWS, strict=True))


@pytest.mark.parametrize(
    ("where", "places"),
    [
        ("", [0, 1, 2, 3]),
        ("   ", [0, 1, 2, 3]),
        ("form = 'hawk'", [0, 2, 3]),
        ("form = 'hawk' and spots > 2", [3]),
        ("spots is null", [2]),
        ("FORM = 'owlet' -- the rest is a remark", [1]),
        ("seed = 'lamp'", [2]),
        ("\"Form name\" in ('a', 'd')", [0, 3]),
        ('"odd ""name""" > 1', [1, 3]),
        ("form like 'H%'", [0, 2, 3]),
        ("0", []),
        ("length(form) = 4", [0, 2, 3]),
    ],
)
def test_rows_that_meet_a_condition_are_found_in_their_order(where: str, places: list[int]) -> None:
    assert places_where(COLUMNS, VALUES, where, ()) == places


@pytest.mark.parametrize(
    "where",
    [
        "form = 'hawk'", "form like 'H%' and spots > 2", "spots is null", "not spots", "\"Form name\" in ('a', 'd')",
        "spots > (SELECT avg(spots) FROM edition)", "spots / 2 = 1", "mixed / 2 > 0.6", "seed % 2", "spots",
        "form = 'owlet' or spots = 2", "spots between 2 and 5 -- seed", "random() > 0 or 1",
    ],
)  # fmt: skip
def test_many_rows_are_looked_at_as_one_by_one(where: str, monkeypatch: pytest.MonkeyPatch) -> None:
    columns = ["seed", "form", "spots", "Form name", "mixed"]
    rows: list[Row] = [
        (seed, ("hawk", "owlet", None)[seed % 3], (2, 5, None, 7)[seed % 4], "abcd"[seed % 4], (1, 1.0, 2, 3.0)[seed % 4])
        for seed in range(240)
    ]
    values = list(zip(*rows, strict=True))
    found = places_where(columns, values, where, ())
    monkeypatch.setattr("mothseed.series.condition._PARAMETERS", 1)
    assert found == places_where(columns, values, where, ())


@pytest.mark.parametrize(
    ("order", "places"),
    [
        ([("spots", False)], [2, 0, 1, 3]),
        ([("spots", True)], [3, 1, 0, 2]),
        ([("form", False), ("spots", True)], [3, 0, 2, 1]),
        ([('odd "name"', True)], [3, 1, 2, 0]),
    ],
)
def test_they_are_sorted_by_several_columns(order: list[tuple[str, bool]], places: list[int]) -> None:
    assert places_where(COLUMNS, VALUES, "", order) == places


@pytest.mark.parametrize(
    ("where", "name", "hint"),
    [
        ("mottled > 3", "mottled", "columns are seed, form, spots"),
        ("spots > 1 and wing = 'x'", "wing", "columns are seed, form, spots"),
        ("lower(forn) = 'a'", "forn", "did you mean form?"),
        ("form = hawk", "hawk", "columns are seed, form, spots"),
    ],
)
def test_a_column_that_is_not_there_is_named_with_those_there_are(where: str, name: str, hint: str) -> None:
    with pytest.raises(UnknownNameError) as caught:
        places_where(COLUMNS, VALUES, where, ())
    assert caught.value.name == name
    assert "there is no such column" in caught.value.message
    assert hint in caught.value.hint


@pytest.mark.parametrize(
    "where",
    [
        "form =",
        "form = 'hawk",
        "(",
        "spots > 1; DROP TABLE edition",
        "count(*)",
        "no_such_function(spots)",
        "1 union select 2",
        "load_extension('evil')",
        "attach('x')",
        "1 in (select writefile('x', 'y'))",
        "exists (select 1 from pragma_database_list)",
    ],
)
def test_what_is_no_condition_or_would_do_more_than_read_is_refused(where: str) -> None:
    with pytest.raises(FieldError) as caught:
        places_where(COLUMNS, VALUES, where, ())
    assert caught.value.field == "where"
    assert caught.value.hint


def test_brackets_cannot_be_closed_to_begin_something_else() -> None:
    assert places_where(COLUMNS, VALUES, "spots > 5) OR (spots = 2", ()) == [0, 3]
    assert ROWS[0][0] == 1


def test_names_are_quoted_as_sql_takes_any() -> None:
    assert quoted('a "b"') == '"a ""b"""'
    assert quoted("a\0b") == '"a b"'
    assert places_where(["a\0b"], [(1, 2)], '"a b" = 2', ()) == [1]
