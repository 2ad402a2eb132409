from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.chance import Chance, Outcome
from mothseed.errors import SketchError
from mothseed.sheet import Sheet

SEEDS = st.one_of(st.integers(0, 10**9), st.text("abcdefg", min_size=1, max_size=6))
NUMBERS = st.floats(-1e6, 1e6)
EQUAL_KEYS: list[Any] = [1, 1.0, np.int64(1), np.float64(1), True]
DRAWS: dict[str, dict[str, Any]] = {
    "between": {"low": -2.5, "high": 7.25},
    "whole": {"low": 3, "high": 17},
    "odds": {"probability": 0.3},
    "bell": {"mean": 10, "spread": 3},
    "turn": {},
}


def test_known_answers_never_change() -> None:
    chance = Chance(7)
    assert [chance("a").between(0, 1) for _ in range(3)] == [0.9575914878956147, 0.13884137951730968, 0.05218851219429621]
    assert [chance("b").whole(1, 6) for _ in range(10)] == [4, 6, 6, 5, 1, 6, 5, 3, 2, 5]
    assert [chance("c", 3).bell(0, 1) for _ in range(3)] == [0.05065859171261515, -1.5818363853194086, 1.109199739420048]
    assert [chance("d").turn(step=45) for _ in range(6)] == [0.0, 135.0, 45.0, 45.0, 135.0, 0.0]
    assert chance("e").shuffled("moths") == ["t", "s", "o", "m", "h"]
    assert chance("f").several(range(50), 5) == [19, 37, 45, 20, 29]
    assert "".join(chance("g").pick("xyz", weights=[5, 3, 1]) for _ in range(9)) == "xxxxyxxxx"
    assert [chance("h").odds(0.25) for _ in range(8)] == [False, False, False, True, False, True, False, True]
    assert chance("i").colour(lightness=(0.6, 0.8), chroma=0.1, hue=(20, 90)).css == "#c2736f"
    assert Chance("lamp")("a").between(0, 1) == 0.236955573280223


@given(SEEDS, st.sampled_from(sorted(DRAWS)), st.integers(1, 60))
def test_an_array_holds_what_as_many_single_draws_give(seed: int | str, draw: str, count: int) -> None:
    one_by_one, at_once = Chance(seed)("x"), Chance(seed)("x")
    singles = [getattr(one_by_one, draw)(**DRAWS[draw]) for _ in range(count)]
    assert getattr(at_once, draw)(**DRAWS[draw], size=count).tolist() == singles
    assert at_once.between(0, 1) == one_by_one.between(0, 1), "both go on from the same place"


@given(SEEDS, st.lists(st.integers(1, 30), min_size=1, max_size=8))
def test_arrays_and_single_draws_can_be_mixed(seed: int | str, parts: list[int]) -> None:
    plain, mixed = Chance(seed), Chance(seed)
    expected = [plain.between(0, 1) for _ in range(sum(parts))]
    drawn: list[float] = []
    for place, part in enumerate(parts):
        drawn += mixed.between(0, 1, size=part).tolist() if place % 2 else [mixed.between(0, 1) for _ in range(part)]
    assert drawn == expected


@given(SEEDS, st.lists(st.sampled_from("abc"), max_size=40))
def test_a_new_draw_in_one_branch_moves_no_other(seed: int | str, meddling: list[str]) -> None:
    quiet, busy = Chance(seed), Chance(seed)
    for name in meddling:
        busy(name).between(0, 1)
        busy(name, 3)("deeper").whole(1, 6)
    assert busy("spot", 300).between(0, 1, size=20).tolist() == quiet("spot", 300).between(0, 1, size=20).tolist()


def test_the_same_branch_goes_on_where_it_was() -> None:
    chance = Chance(1)
    first = chance("wing")("spot", 3)
    assert first is chance("wing", "spot", 3)
    assert first.between(0, 1) != chance("wing", "spot", 3).between(0, 1)


@given(st.lists(st.one_of(st.integers(-5, 5), st.text("a/#:~1", max_size=3), st.floats(-2, 2)), min_size=2, max_size=6))
def test_different_keys_are_different_branches(keys: list[Any]) -> None:
    paths = {repr(Chance(1)("x", key)) for key in keys}
    assert len(paths) == len(set(keys))


def test_numbers_that_are_equal_are_the_same_key() -> None:
    paths = {repr(Chance(1)("x", key)) for key in EQUAL_KEYS}
    assert len(paths) == 1


def test_a_number_and_the_word_for_it_are_the_same_seed() -> None:
    assert Chance(7).between(0, 1) == Chance("7").between(0, 1) == Chance(np.int64(7)).between(0, 1)  # type: ignore[arg-type]


def test_reseeding_draws_one_stream_and_its_branches_anew_and_keeps_the_rest() -> None:
    kept, changed = Chance(1), Chance(1, {"tint": 9})
    other = Chance(9)
    assert changed("place", 4).between(0, 1) == kept("place", 4).between(0, 1)
    assert changed("tint").between(0, 1) == other("tint").between(0, 1)
    assert changed("tint", 4).between(0, 1) == other("tint", 4).between(0, 1) != kept("tint", 4).between(0, 1)
    deep = Chance(1, {"moth/2": 9})
    assert deep("moth", 2, "leg").between(0, 1) == other("moth", 2, "leg").between(0, 1)
    assert deep("moth", 3).between(0, 1) == kept("moth", 3).between(0, 1)


@given(SEEDS, NUMBERS, st.floats(0, 1e6))
def test_between_is_half_open(seed: int | str, low: float, span: float) -> None:
    high = low + span
    drawn = Chance(seed).between(low, high, size=50)
    assert drawn.min() >= low
    assert drawn.max() < high or low == high == drawn.max()


def test_between_is_half_open_even_where_hardly_a_number_lies_between() -> None:
    low, high = 1.0, math.nextafter(1.0, 2.0)
    assert set(Chance(1).between(low, high, size=200).tolist()) == {low}
    assert {Chance(n).between(low, high) for n in range(50)} == {low}


@given(SEEDS, st.integers(-(10**6), 10**6), st.integers(0, 10**6))
def test_whole_includes_both_ends_and_nothing_beyond(seed: int | str, low: int, span: int) -> None:
    drawn = Chance(seed).whole(low, low + span, size=50)
    assert low <= drawn.min() <= drawn.max() <= low + span


@given(SEEDS, st.lists(st.integers(), min_size=1, max_size=30), st.data())
def test_several_are_different_items_and_shuffled_are_all(seed: int | str, items: list[int], data: st.DataObject) -> None:
    count = data.draw(st.integers(0, len(items)))
    positions = Chance(seed).several(range(len(items)), count)
    assert len(set(positions)) == count
    assert sorted(Chance(seed).shuffled(items)) == sorted(items)


@given(SEEDS, st.floats(0.1, 360))
def test_turns_are_multiples_of_their_step_below_a_full_turn(seed: int | str, step: float) -> None:
    turns = Chance(seed).turn(step=step, size=40)
    assert turns.min() >= 0
    assert turns.max() < 360
    assert np.allclose(turns / step, np.round(turns / step))


@given(SEEDS)
def test_points_lie_in_the_area_and_pairs_are_drawn_across_first(seed: int | str) -> None:
    cell = next(Sheet(30, 20, "mm", (1, 1, 1, 1)).grid(2, 2))  # type: ignore[arg-type]
    points = Chance(seed).point(cell, size=30)
    assert np.abs(points).max(axis=0).tolist() <= [7.5, 5.0]
    single = Chance(seed)
    assert [single.point(cell) for _ in range(30)] == [tuple(point) for point in points.tolist()]


@given(SEEDS)
def test_colours_stay_in_their_ranges_and_on_the_screen(seed: int | str) -> None:
    by_parts = Chance(seed).colour(red=(0.2, 0.4), blue=0.5)
    assert 0.2 <= by_parts.red < 0.4
    assert by_parts.blue == 0.5
    vivid = Chance(seed).colour(lightness=(0.1, 0.95), chroma=0.37, hue=(0, 360))
    assert all(0 <= part <= 1 for part in vivid)


def test_labelled_decisions_are_kept_in_order_with_their_odds() -> None:
    chance = Chance(3)
    form = chance("form").pick(["hawk", "owlet"], weights=[3, 1], label="form")
    rare = chance("rare").odds(0.1, label="rare")
    size = chance("size").between(1, 2, label="size")
    several = chance("tints").several(["a", "b", "c"], 2, label="tints")
    assert chance.outcomes == (
        Outcome("form", form, 0.75 if form == "hawk" else 0.25),
        Outcome("rare", rare, 0.1 if rare else 0.9),
        Outcome("size", size, None),
        Outcome("tints", several, None),
    )


def test_an_outcome_is_kept_in_words_that_can_be_written_down() -> None:
    def owlet() -> None: ...

    chance = Chance(3)
    chance.pick([owlet], label="motif")
    chance.colour(hue=20, label="tint")
    chance.whole(1, 2, size=2, label="dice")
    motif, tint, dice = (outcome.value for outcome in chance.outcomes)
    assert motif == "owlet"
    assert tint.startswith("#")
    assert isinstance(dice, list)


@pytest.mark.parametrize(
    ("call", "words"),
    [
        (lambda c: c.between(5, 3), "between(5, 3): the first number must be at most the second"),
        (lambda c: c.between(0, math.nan), "and both finite"),
        (lambda c: c.between(0, math.inf), "and both finite"),
        (lambda c: c.whole(1.5, 3), "both ends must be whole numbers"),
        (lambda c: c.whole(3, 1), "the first must be at most the second"),
        (lambda c: c.whole(0, 2**60), "less than 2**53"),
        (lambda c: c.odds(25), "odds are a number from 0 (never) to 1 (always)"),
        (lambda c: c.odds(math.nan), "odds are a number"),
        (lambda c: c.pick([]), "nothing to pick from"),
        (lambda c: c.pick([1, 2], weights=[1]), "2 items but 1 weights"),
        (lambda c: c.pick([1, 2], weights=[0, 0]), "at least one weight must be above 0"),
        (lambda c: c.pick([1, 2], weights=[1, -1]), "weights must be finite and 0 or more"),
        (lambda c: c.several([1, 2], 3), "3 of 2 items"),
        (lambda c: c.bell(0, -1), "the spread 0 or more"),
        (lambda c: c.turn(step=0), "the step is in degrees"),
        (lambda c: c.colour(hue=20, red=1), "not of both"),
        (lambda c: c.colour(lightness=(0.8, 0.2)), "a range is written (low, high)"),
        (lambda c: c.between(0, 1, size=-1), "size= takes a whole number"),
        (lambda c: c(3), "named by a word first"),
        (lambda c: c("x", [1]), "a key of a branch is a number or a word"),
        (lambda c: c("x", math.nan), "a key of a branch is a number or a word"),
    ],
)
def test_a_draw_that_makes_no_sense_is_refused_in_words(call: Any, words: str) -> None:
    with pytest.raises(SketchError) as caught:
        call(Chance(1))
    assert words in caught.value.message


def test_an_item_of_weight_0_is_never_picked() -> None:
    picked = Chance(1).pick("abc", weights=[0, 1, 0], size=2000)
    assert set(picked) == {"b"}
