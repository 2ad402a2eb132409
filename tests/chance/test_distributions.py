"""Each distribution against what it promises. Seeds are fixed: a level of 1 in 10,000 is met or not, always alike."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from mothseed import Trail
from mothseed.bits import stream_of, words
from mothseed.chance import Chance
from mothseed.chance.normal import standard_normal

COUNT = 40_000
LEAST = 1e-4


@pytest.fixture(params=[1, 2, "lamp"])
def chance(request: pytest.FixtureRequest) -> Chance:
    return Chance(request.param)("statistics")


def test_between_is_even(chance: Chance) -> None:
    assert stats.kstest(chance.between(-3, 5, size=COUNT), stats.uniform(-3, 8).cdf).pvalue > LEAST


def test_whole_is_even(chance: Chance) -> None:
    counts = np.bincount(chance.whole(0, 12, size=COUNT), minlength=13)
    assert stats.chisquare(counts).pvalue > LEAST


@pytest.mark.parametrize("probability", [0.01, 0.3, 0.9])
def test_odds_are_what_they_say(chance: Chance, probability: float) -> None:
    hits = int(chance.odds(probability, size=COUNT).sum())
    assert stats.binomtest(hits, COUNT, probability).pvalue > LEAST


def test_picks_follow_their_weights(chance: Chance) -> None:
    weights = np.array([5, 3, 1, 0.5])
    picked = np.bincount(chance.pick(range(4), weights=weights.tolist(), size=COUNT), minlength=4)
    assert stats.chisquare(picked, weights / weights.sum() * COUNT).pvalue > LEAST


def test_bell_is_normal_in_its_middle_and_in_its_tails(chance: Chance) -> None:
    drawn = chance.bell(10, 2, size=COUNT)
    assert stats.kstest(drawn, stats.norm(10, 2).cdf).pvalue > LEAST
    beyond = int((np.abs(drawn - 10) > 6).sum())
    assert stats.binomtest(beyond, COUNT, 2 * stats.norm.sf(3)).pvalue > LEAST


def test_triangular_and_skewed_are_what_they_say(chance: Chance) -> None:
    assert stats.kstest(chance.triangular(2, 12, 4, size=COUNT), stats.triang(0.2, 2, 10).cdf).pvalue > LEAST
    assert stats.kstest(chance.triangular(2, 12, size=COUNT), stats.triang(0.5, 2, 10).cdf).pvalue > LEAST
    for power in (0.5, 2, 3.7):
        assert stats.kstest(chance.skewed(0, 1, power, size=COUNT), stats.beta(1 / power, 1).cdf).pvalue > LEAST


def test_points_fill_circles_and_outlines_evenly(chance: Chance) -> None:
    x, y = chance.point((3, -2, 4), size=COUNT).T
    assert stats.kstest(((x - 3) ** 2 + (y + 2) ** 2) / 16, stats.uniform(0, 1).cdf).pvalue > LEAST
    assert stats.kstest(np.arctan2(y + 2, x - 3), stats.uniform(-np.pi, 2 * np.pi).cdf).pvalue > LEAST
    corner = Trail(0, 0).walk(4).veer(90).walk(2).veer(90).walk(2).veer(-90).walk(2).veer(90).walk(2).close().outline
    squares = chance.point(corner, size=COUNT) // 2
    counts = [int((squares == square).all(axis=1).sum()) for square in ((0, 0), (1, 0), (0, 1))]
    assert sum(counts) == COUNT
    assert stats.chisquare(counts).pvalue > LEAST


def test_several_by_weight_draw_the_heavier_sooner(chance: Chance) -> None:
    weights = {"a": 5.0, "b": 3.0, "c": 2.0}
    drawn = [chance.several(weights, 2) for _ in range(6000)]
    firsts = [sum(pair[0] == item for pair in drawn) for item in weights]
    assert stats.chisquare(firsts, np.array([0.5, 0.3, 0.2]) * 6000).pvalue > LEAST
    after_a = [sum(pair == ["a", item] for pair in drawn) for item in ("b", "c")]
    assert stats.binomtest(after_a[0], sum(after_a), 0.6).pvalue > LEAST


def test_normal_deviates_are_the_quantiles() -> None:
    fractions = np.concatenate([np.linspace(0.001, 0.999, 5001), np.geomspace(1e-12, 1e-3, 500)])
    middles = fractions + 2**-54  # a unit number stands for the middle of its step
    assert np.allclose(standard_normal(fractions), stats.norm.ppf(middles), rtol=1e-9, atol=1e-9)
    assert [standard_normal(float(fraction)) for fraction in fractions[::97]] == standard_normal(fractions[::97]).tolist()
    assert -8.3 < standard_normal(0.0) < -8.2
    assert 8.2 < standard_normal(1 - 2**-53) < 8.3


def test_turns_are_even_and_so_are_their_steps(chance: Chance) -> None:
    assert stats.kstest(chance.turn(size=COUNT), stats.uniform(0, 360).cdf).pvalue > LEAST
    counts = np.bincount((chance.turn(step=30, size=COUNT) / 30).astype(int), minlength=12)
    assert stats.chisquare(counts).pvalue > LEAST


def test_every_order_is_equally_likely(chance: Chance) -> None:
    orders: dict[str, int] = {}
    for _ in range(6000):
        order = "".join(chance.shuffled("abcd"))
        orders[order] = orders.get(order, 0) + 1
    assert len(orders) == 24
    assert stats.chisquare(list(orders.values())).pvalue > LEAST


def test_several_take_each_item_equally_often(chance: Chance) -> None:
    counts = np.bincount([item for _ in range(4000) for item in chance.several(range(10), 3)], minlength=10)
    assert stats.chisquare(counts).pvalue > LEAST


def test_neighbouring_branches_share_nothing() -> None:
    root = Chance(5)
    firsts = np.array([root("moth", index).between(0, 1) for index in range(20_000)])
    assert stats.kstest(firsts, stats.uniform(0, 1).cdf).pvalue > LEAST
    assert abs(np.corrcoef(firsts[:-1], firsts[1:])[0, 1]) < 4 / np.sqrt(len(firsts))


def test_every_bit_of_a_word_is_set_half_of_the_time() -> None:
    drawn = words(stream_of("bits"), 0, COUNT)
    share = np.array([((drawn >> np.uint64(bit)) & np.uint64(1)).mean() for bit in range(64)])
    assert np.abs(share - 0.5).max() < 4.5 * 0.5 / np.sqrt(COUNT)
