from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed import Colour, annulus, smooth
from mothseed.chance import Chance, Outcome, Promise
from mothseed.colour.oklch import oklch_of
from mothseed.faults import SketchError
from mothseed.geometry.region import region_of
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
    "triangular": {"low": -1, "high": 5, "mode": 0.5},
    "skewed": {"low": 2, "high": 9, "power": 2.6},
    "point": {"area": (3.0, 4.0, 5.0)},
}
WING = smooth([(0, 0), (38, -52), (70, -40), (44, 6)], closed=True)
AREAS: list[Any] = [Sheet(30, 20, "mm", Colour(1, 1, 1)), (3.0, 4.0, 25.0), WING, annulus(30, 20)]


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
    assert [chance("j").triangular(0, 9, 2), chance("j").skewed(1, 5, 2.5), chance("j").jittered(7, 0.5)] == [
        4.3716597592363335,
        2.8741006935205635,
        7.156821555781457,
    ]
    assert chance("k").several({"a": 8, "b": 1, "c": 1}, 2) == ["c", "a"]
    assert chance("l").point((0, 0, 10)) == (-5.698141954051636, -6.106150225427305)
    assert chance("m").point(WING) == (15.909401826226869, 0.6410487238681526)
    assert chance("n").walk(AREAS[0], 2, 3).tolist() == [
        [6.868766117026711, 4.136737159800898],
        [7.5327390073807585, 7.06233795295004],
        [8.526485055507464, 9.892968411316613],
    ]
    assert chance("o").colour_near("#7d4f7f").css == "#8c65a4"
    assert chance.chosen({"veins": 0.8, "frost": 0.1, "spots": 0.5}) == ["veins", "spots"]
    field = chance("p").field(20, detail=3)
    assert [field.at(3.0, 4.0), field.at(3.0, 4.0, 5.0), field.heading(3.0, 4.0)] == [
        -0.190002484446371,
        -0.24521988785556675,
        356.4771767322222,
    ]


@given(SEEDS, st.sampled_from(sorted(DRAWS)), st.integers(1, 60))
def test_an_array_holds_what_as_many_single_draws_give(seed: int | str, draw: str, count: int) -> None:
    one_by_one, at_once = Chance(seed)("x"), Chance(seed)("x")
    singles = np.array([getattr(one_by_one, draw)(**DRAWS[draw]) for _ in range(count)])
    assert getattr(at_once, draw)(**DRAWS[draw], size=count).tolist() == singles.tolist()
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


@given(SEEDS, st.sampled_from(range(len(AREAS))))
def test_points_lie_inside_and_one_by_one_they_are_the_same(seed: int | str, which: int) -> None:
    at_once, single = Chance(seed), Chance(seed)
    points = at_once.point(AREAS[which], size=25)
    assert region_of(AREAS[which], "test").contains(*points.T).all()
    assert [single.point(AREAS[which]) for _ in range(25)] == [tuple(point) for point in points.tolist()]
    assert at_once.between(0, 1) == single.between(0, 1), "both go on from the same place"


@given(SEEDS, st.sampled_from(range(len(AREAS))), st.floats(0.1, 12), st.floats(0, 90))
def test_a_walk_stays_inside_and_takes_steps_of_its_length(seed: int | str, which: int, length: float, veer: float) -> None:
    walked = Chance(seed).walk(AREAS[which], 60, length, veer=veer)
    assert walked.shape == (61, 2)
    assert region_of(AREAS[which], "test").contains(*walked.T).all()
    steps = np.hypot(*np.diff(walked, axis=0).T)
    assert (np.isclose(steps, length) | (steps == 0)).all()


@given(SEEDS, st.floats(-500, 500), st.floats(-500, 500), st.integers(1, 5))
def test_a_field_is_smooth_bounded_and_the_same_for_numbers_and_arrays(
    seed: int | str, x: float, y: float, detail: int
) -> None:
    field = Chance(seed).field(25, detail=detail)
    near = np.linspace(0, 0.01, 5)
    for deep in (None, 2.5):
        values = field.at(x + near, y + near, deep)
        assert np.abs(values).max() <= 1
        assert np.abs(np.diff(values)).max() < 0.01 * 2**detail / 25
        assert [field.at(x + step, y + step, deep) for step in near.tolist()] == values.tolist()
        flow = field.flow(x, y, deep)
        assert math.hypot(float(flow.dx), float(flow.dy)) == pytest.approx(1)
        ahead = field.at(x + float(flow.dx) * 1e-3, y + float(flow.dy) * 1e-3, deep)
        assert abs(ahead - field.at(x, y, deep)) < 1e-5, "the flow keeps its height"


def test_an_isotropic_field_favours_no_direction_and_no_place() -> None:
    random = np.random.default_rng(4)
    x, y = random.uniform(0, 3000, (2, 200_000))
    spread = {}
    for isotropic in (False, True):
        field = Chance(5)("hills").field(10, isotropic=isotropic)
        often = np.histogram(field.heading(x, y), 36, (0, 360))[0]
        spread[isotropic] = float(often.max() / often.min())
        heights = field.at(x, y)
        assert -1 <= heights.min() < -0.6 < 0.6 < heights.max() <= 1
        assert abs(heights.mean()) < 0.01
        assert 0.15 < np.abs(heights).mean() < 0.3
        corners = field.at(np.arange(0, 300, 10.0), np.arange(0, 300, 10.0))
        assert (np.abs(corners).mean() > 0.1) == isotropic
    assert spread[True] < 1.1
    assert spread[False] > 1.2


def test_the_answers_of_an_isotropic_field_never_change() -> None:
    field = Chance(7)("hills").field(20, detail=2, isotropic=True)
    assert [field.at(3.0, 4.0), field.at(3.0, 4.0, 5.0), field.heading(3.0, 4.0)] == [
        0.08205947109577628, 0.08431734188044655, 204.77002798355483,
    ]  # fmt: skip
    assert [field.at(each, 4.0) for each in (3.0, 9.5)] == field.at([3.0, 9.5], 4.0).tolist()
    slopes = [(field.at(3 + x, 4 + y) - field.at(3 - x, 4 - y)) / 2e-5 for x, y in ((1e-5, 0), (0, 1e-5))]
    assert field.uphill(3.0, 4.0) == pytest.approx(math.degrees(math.atan2(slopes[1], slopes[0])) % 360, abs=1e-3)


def test_two_fields_of_a_stream_differ_and_their_middle_is_0() -> None:
    chance = Chance(4)
    x, y = np.arange(0, 2000, 7.0), np.arange(0, 2000, 7.0)[:, None]
    first, second = chance("wind").field(20), chance("wind").field(20)
    assert abs(np.corrcoef(first.at(x, y).ravel(), second.at(x, y).ravel())[0, 1]) < 0.05
    for values in (first.at(x, y), second.at(x, y, 3.7)):
        assert abs(values.mean()) < 0.02
        assert 0.15 < values.std() < 0.4


@given(SEEDS)
def test_techniques_come_up_each_in_a_branch_of_its_own(seed: int | str) -> None:
    def hatching() -> None: ...

    few, many = Chance(seed), Chance(seed)
    came = few.chosen({hatching: 0.5, "frost": 0.5})
    with_more = many.chosen({"veins": 0.3, "frost": 0.5, hatching: 0.5, "never": 0, "always": 1})
    assert ("frost" in came, hatching in came) == ("frost" in with_more, hatching in with_more)
    assert "always" in with_more
    assert "never" not in with_more
    assert [outcome.label for outcome in few.outcomes] == ["hatching", "frost"]
    assert few.outcomes[0].promised == ((True, 0.5), (False, 0.5))


@given(SEEDS, st.floats(0, 20))
def test_jittered_moves_each_by_no_more_than_asked(seed: int | str, amount: float) -> None:
    points = np.arange(20.0).reshape(10, 2)
    moved = Chance(seed).jittered(points, amount)
    assert np.abs(moved - points).max() <= amount
    assert abs(Chance(seed).jittered(5, amount) - 5) <= amount


@given(SEEDS, st.sampled_from(["#7d4f7f", "teal", "#e8b44f", "black", "white"]))
def test_colours_near_another_are_near_it(seed: int | str, key: str) -> None:
    near = Chance(seed).colour_near(key, lightness=0.05, chroma=0.02, hue=10)
    (light, vivid, _), (other_light, other_vivid, _) = oklch_of(near), oklch_of(Colour.parse(key))
    assert abs(light - other_light) < 0.05 + 0.02  # and what clipping may hide
    assert vivid - other_vivid < 0.02 + 0.02
    assert Chance(seed).colour_near(key, lightness=0, chroma=0, hue=0).css == Colour.parse(key).css


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
        Outcome("form", form, Promise([("hawk", 0.75), ("owlet", 0.25)])),
        Outcome("rare", rare, Promise([(True, 0.1), (False, 0.9)])),
        Outcome("size", size),
        Outcome("tints", several),
    )
    assert [outcome.odds for outcome in chance.outcomes] == [0.75 if form == "hawk" else 0.25, 0.1 if rare else 0.9, None, None]


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
        (lambda c: c.several({"a": 1, "b": 0}, 2), "2 of 2 items"),
        (lambda c: c.pick({"a": 1}, weights=[1]), "weights beside them already"),
        (lambda c: c.triangular(0, 5, 7), "low, mode and high rise"),
        (lambda c: c.skewed(0, 1, 0), "the power above 0"),
        (lambda c: c.jittered(1, -2), "the amount must be 0 or more"),
        (lambda c: c.point("sheet"), "an area is a view, an outline, or a circle"),
        (lambda c: c.point((1, 2, 0)), "the radius above 0"),
        (lambda c: c.point(smooth([(0, 0), (4, 0)])), "the outline has no inside"),
        (lambda c: c.walk((0, 0, 5), 4, 0), "length must be above 0"),
        (lambda c: c.walk((0, 0, 5), 4, 1, start=(9, 9)), "it starts outside of its area"),
        (lambda c: c.field(0), "scale must be a length above 0"),
        (lambda c: c.field(5, detail=0), "detail must be a whole number from 1 to 12"),
        (lambda c: c.field(5).at(math.nan, 0.0), "not finite, or too far out"),
        (lambda c: c.field(5).at([1, 2], [1, 2, 3]), "arrays of one shape"),
        (lambda c: c.chosen({3: 0.5}), "a technique is a function or a word"),
        (lambda c: c.colour_near("red", hue=-1), "by how much it may differ"),
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


def test_what_may_come_of_a_label_is_kept_with_its_probabilities() -> None:
    chance = Chance(1)
    chance.pick(["a", "b", "a"], label="letter")
    chance.whole(1, 4, label="die")
    chance.turn(step=180, label="turn")
    chance.whole(1, 1000, label="wide")
    promised = [outcome.promised for outcome in chance.outcomes]
    assert [(value, round(odds, 9)) for value, odds in promised[0]] == [("a", 0.666666667), ("b", 0.333333333)]
    assert promised[1:] == [((1, 0.25), (2, 0.25), (3, 0.25), (4, 0.25)), ((0.0, 0.5), (180.0, 0.5)), ()]


def test_an_item_of_weight_0_is_never_picked() -> None:
    picked = Chance(1).pick("abc", weights=[0, 1, 0], size=2000)
    assert set(picked) == {"b"}
