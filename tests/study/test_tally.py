from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from mothseed.chance import Chance, Outcome, Promise
from mothseed.faults import UsageError
from mothseed.series import series_editions
from mothseed.study.tally import (
    Spread,
    Tally,
    combination,
    probability_of_so_far_off,
    rarest,
    tallies,
    wilson_interval,
)
from mothseed.told import told
from tests.conftest import Run, WriteSketch, pixels_of


def drawn(seeds: int, odds: float = 0.25) -> list[list[Outcome]]:
    rows = []
    for seed in range(seeds):
        chance = Chance(seed)
        chance("form").pick({"hawk": 3, "owlet": 1}, label="form")
        chance("rare").odds(odds, label="rare")
        chance("size").between(1, 9, label="size")
        rows.append(list(chance.outcomes))
    return rows


@given(st.integers(0, 400), st.integers(1, 400))
def test_intervals_are_those_of_the_library(count: int, total: int) -> None:
    count = min(count, total)
    expected = stats.binomtest(count, total).proportion_ci(0.95, method="wilson")
    assert wilson_interval(count, total) == pytest.approx((expected.low, expected.high), abs=1e-9)
    assert wilson_interval(0, 0) == (0, 1)


@given(st.integers(1, 300), st.floats(0.01, 0.99), st.data())
def test_probabilities_are_those_of_the_binomial_distribution(total: int, probability: float, data: st.DataObject) -> None:
    count = data.draw(st.integers(0, total))
    one_side = min(stats.binom.cdf(count, total, probability), stats.binom.sf(count - 1, total, probability))
    found = probability_of_so_far_off(count, np.full(total, probability))
    assert found == pytest.approx(min(2 * one_side, 1), rel=1e-6, abs=1e-12)


def test_of_very_many_the_normal_distribution_tells_as_much() -> None:
    for count in (2900, 3000, 3120):
        exact = 2 * min(stats.binom.cdf(count, 10_000, 0.3), stats.binom.sf(count - 1, 10_000, 0.3))
        assert probability_of_so_far_off(count, np.full(10_000, 0.3)) == pytest.approx(min(exact, 1), abs=0.02)
    assert probability_of_so_far_off(4000, np.ones(4000)) == 1
    assert probability_of_so_far_off(3999, np.ones(4000)) == 0


def test_what_came_by_its_odds_is_within_them() -> None:
    form, rare, size = tallies(drawn(400))
    assert isinstance(form, Tally)
    assert isinstance(rare, Tally)
    assert isinstance(size, Spread)
    assert [(count.value, count.expected) for count in form.counts] == [("hawk", 0.75), ("owlet", 0.25)]
    assert sum(count.count for count in form.counts) == form.total == 400
    assert not any(count.deviates for tally in (form, rare) for count in tally.counts)
    assert all(count.low < count.share < count.high for count in rare.counts)
    assert 1 <= size.least < size.mean < size.most < 9


def test_what_came_too_often_or_never_is_told() -> None:
    promise = Promise([("common", 0.5), ("rare", 0.5)])
    (tally,) = tallies([[Outcome("kind", "common", promise)]] * 30)
    assert isinstance(tally, Tally)
    assert [(c.value, c.count, c.expected, c.deviates) for c in tally.counts] == [
        ("common", 30, 0.5, True),
        ("rare", 0, 0.5, True),
    ]
    few = tallies([[Outcome("kind", "common", promise)]] * 4)[0]
    assert isinstance(few, Tally)
    assert not any(count.deviates for count in few.counts), "four heads are no wonder"


def test_odds_that_changed_on_the_way_count_as_they_were() -> None:
    rows = [[Outcome("rare", True, Promise([(True, odds), (False, 1 - odds)]))] for odds in (0.9, 0.5)]
    tally = tallies(rows)[0]
    assert isinstance(tally, Tally)
    assert tally.counts[0].expected == pytest.approx(0.7)


def test_outcomes_are_counted_together() -> None:
    tally = combination(drawn(300), ["form", "rare"])
    assert tally.label == "form + rare"
    assert {count.value for count in tally.counts} == {"hawk + off", "hawk + on", "owlet + off", "owlet + on"}
    expected = {count.value: count.expected for count in tally.counts}
    assert expected["hawk + on"] == pytest.approx(0.75 * 0.25)
    assert not any(count.deviates for count in tally.counts)
    with pytest.raises(UsageError, match="there is no outcome nix"):
        combination(drawn(3), ["form", "nix"])


def dependent(series: int, seeds: int, *, cheating: bool = False) -> list[list[Outcome]]:
    """Editions whose tint hangs on their form."""
    rows = []
    for seed in range(seeds):
        chance = Chance(f"{series}-{seed}")
        form = chance("form").pick({"hawk": 1, "owlet": 1}, label="form")
        odds = {"red": 9, "blue": 1} if form == "hawk" else {"red": 1, "blue": 9}
        tint = chance("tint").pick(odds, label="tint")
        promise = Promise((name, weight / 10) for name, weight in odds.items())
        if cheating and seed % 4 == 0:
            tint = "blue" if form == "hawk" else "red"
        rows.append([chance.outcomes[0], Outcome("tint", tint, promise)])
    return rows


def test_odds_that_hang_on_what_came_before_are_expected_so() -> None:
    counts = {each.value: each for each in combination(dependent(1, 2000), ["tint", "form"]).counts}
    expected = {"red + hawk": 0.45, "blue + owlet": 0.45, "blue + hawk": 0.05, "red + owlet": 0.05}
    assert {value: each.expected for value, each in counts.items()} == pytest.approx(expected)
    wrong = sum(any(each.deviates for each in combination(dependent(k, 200), ["form", "tint"]).counts) for k in range(120))
    assert wrong <= 4, "one in a hundred honest series, and luck"
    assert any(each.deviates for each in combination(dependent(1, 200, cheating=True), ["form", "tint"]).counts)


def test_numbers_that_hardly_repeat_are_counted_together_with_others() -> None:
    rows = [[Outcome("form", "hawk"), Outcome("size", number / 7)] for number in range(3000)]
    tally = combination([*rows, *rows[:5]], ["form", "size"])
    assert (tally.total, len(tally.counts)) == (3005, 40)
    assert [(each.value, each.count, each.expected) for each in tally.counts[:6]] == [
        *((f"hawk + {told(number / 7)}", 2, None) for number in range(5)),
        ("hawk + 0.714286", 1, None),
    ]


def test_the_rarest_editions_are_those_of_the_least_likely_outcomes() -> None:
    series = drawn(200, odds=0.02)
    found = rarest(series, 3)
    assert all({outcome.label: outcome.value for outcome in series[place]}["rare"] is True for place, _ in found)
    assert found[0][1] == pytest.approx(0.25 * 0.02), "the least likely form, and what is rare"
    assert rarest([[Outcome("note", 3)]], 3) == []


def test_more_decisions_make_no_edition_rarer() -> None:
    weights = {f"wing {number}": 1.0 + number for number in range(24)}
    many = 0
    for series in range(14):
        rows = []
        for seed in range(120):
            chance = Chance(f"{series}-{seed}")
            for number in range(3 if seed % 2 else 12):
                chance("wing", number).pick(weights, label=f"wing {number}")
            rows.append(list(chance.outcomes))
        found = rarest(rows, 5)
        assert all(0 < probability <= 1 for _, probability in found)
        many += sum(len(rows[place]) == 12 for place, _ in found)
    assert 0.3 <= many / 70 <= 0.7


def test_values_are_said_on_one_line() -> None:
    assert [told(value) for value in (True, False, 3, "a\n  b", None)] == ["on", "off", "3", "a b", ""]


def test_a_tally_is_shown_and_drawn(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    run("edition", "spots.py", "--seeds", "1-12", "--width", "60px", "--jobs", "1", "-o", "s")
    answer = run("tally", "s", "-o", "tally.png")
    assert answer.status == 0, answer.err
    assert "95% interval" in answer.out
    assert "rarest: " in answer.out
    assert answer.out.endswith("figure: tally.png\n")
    assert (pixels_of("tally.png")[..., :3] != pixels_of("tally.png")[0, 0, :3]).any()
    report = json.loads(run("tally", "s", "--json").out)
    assert report["editions"] == 12
    assert sum(count["count"] for count in report["outcomes"][0]["counts"]) == report["outcomes"][0]["total"] == 60
    assert "tint + tint" in run("tally", "s", "--by", "tint,tint").out
    assert run("tally", "s", "--by", "nix").status == 2
    assert run("tally", "s", "-o", "tally.gif").status == 2
    write_sketch("from mothseed import artwork\n@artwork()\ndef plain(sheet, chance):\n    sheet.circle(5, 5, 2)\n", "plain.py")
    run("edition", "plain.py", "--seeds", "1-2", "--width", "60px", "-o", "p", "--jobs", "1")
    assert "has no outcomes to count" in run("tally", "p").err


def test_marks_and_notes_stay_when_an_edition_is_made_again(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    make = ("edition", "spots.py", "--seeds", "1-4", "--jobs", "1", "-o", "s", "--width")
    run(*make, "60px")
    assert run("mark", "s", "1,3", "keep", "--note", "for the wall").out == "s: 2 kept\n"
    assert run("mark", "s", "4", "maybe").out == "s: 1 set aside\n"
    assert run("mark", "s", "3", "--note", "").out == "s: 1 given a note\n"
    run(*make, "90px")
    assert [(e.seed, e.mark, e.note, e.width) for e in series_editions(Path("s"))] == [
        (1, "keep", "for the wall", 90),
        (2, "", "", 90),
        (3, "keep", "", 90),
        (4, "maybe", "", 90),
    ]
    assert run("table", "s", "--where", "mark = 'keep'", "--columns", "seed", "--csv").out.split() == ["seed", "1", "3"]
    assert run("mark", "s", "1-4", "none").status == 0
    assert {edition.mark for edition in series_editions(Path("s"))} == {""}


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["1-9", "keep"], "s has no edition 5, 6, 7, 8, 9"),
        (["1", "love"], "invalid choice"),
        (["1"], "the mark is missing"),
        (["1", "keep", "--variant", "flat"], "no edition 1 of variant flat"),
        (["1-", "keep"], "is neither a whole number nor a word"),
    ],
)
def test_what_cannot_be_marked_is_told_and_changes_nothing(
    run: Run, write_sketch: WriteSketch, arguments: list[str], words: str
) -> None:
    write_sketch()
    run("edition", "spots.py", "--seeds", "1-4", "--width", "60px", "--jobs", "1", "-o", "s")
    answer = run("mark", "s", *arguments)
    assert (answer.status, words in answer.err) == (2, True), answer.err
    assert {edition.mark for edition in series_editions(Path("s"))} == {""}
