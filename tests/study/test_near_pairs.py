"""Pairs that lie close together, held against a look at all of them, and a variety that is told from some of very many."""

from __future__ import annotations

import numpy as np
import pytest

from mothseed.study.near_pairs import near_pairs
from mothseed.study.neighbours import SingleArray, connected, looked_at, nearest

COUNT = 900


def scattered(random: np.random.Generator) -> SingleArray:
    return random.normal(0, 0.01, (COUNT, 96)).astype(np.float32)


def in_a_plane(random: np.random.Generator) -> SingleArray:
    flat = random.normal(0, 0.1, (COUNT, 2)) @ random.normal(0, 0.2, (2, 96))
    return (flat + random.normal(0, 0.0005, flat.shape)).astype(np.float32)


def in_crowds(random: np.random.Generator) -> SingleArray:
    middles = random.normal(0, 0.1, (12, 96))
    return (middles[random.integers(0, 12, COUNT)] + random.normal(0, 0.004, (COUNT, 96))).astype(np.float32)


@pytest.mark.parametrize("count", [1, 5])
@pytest.mark.parametrize("size", [2, 6, 63, 65, 500, 2311])
def test_the_nearest_are_those_that_a_plain_search_finds(size: int, count: int) -> None:
    random = np.random.default_rng(size)
    # On a coarse lattice about 0, where every sum is exact and many are equally far.
    half = random.integers(-9, 10, (size - size // 2, 3)).astype(np.float32) / 8
    places = np.concatenate([half, -half])[:size]
    rows = random.permutation(size)[:70]
    apart = ((places[rows, None].astype(np.float64) - places[None]) ** 2).sum(axis=2)
    apart[np.arange(len(rows)), rows] = np.inf
    expected = np.sqrt(np.sort(apart, axis=1)[:, : min(count, size - 1)])
    assert nearest(places, rows, count) == pytest.approx(expected, rel=1e-6)


@pytest.mark.parametrize("lie", [scattered, in_a_plane, in_crowds])
@pytest.mark.parametrize("few", [100, 4000])
def test_pairs_are_those_that_a_plain_search_finds(lie: object, few: int, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("mothseed.study.near_pairs._FEW", few)
    random = np.random.default_rng(6)
    places: SingleArray = lie(random)  # type: ignore[operator]  # one of the three above
    planted = [(3, 400), (17, 18), (250, 899)]
    for one, other in planted:
        places[other] = places[one] + np.float32(0.0002)
    places -= places.mean(axis=0)
    apart = np.sqrt(((places[:, None].astype(np.float64) - places[None]) ** 2).sum(axis=2))
    apart[np.tri(COUNT, dtype=bool)] = np.inf
    reach = (np.sort(apart, axis=None)[40] + np.sort(apart, axis=None)[41]) / 2
    pairs, distances = near_pairs(places, float(reach))
    expected = np.argwhere(apart < reach)
    assert pairs.tolist() == expected.tolist()
    assert len(pairs) == 41
    assert {*planted} <= {*map(tuple, pairs.tolist())}
    assert distances == pytest.approx(apart[tuple(expected.T)], abs=1e-6)


def test_of_a_crowd_as_many_are_told_as_connect_it() -> None:
    places = np.zeros((300, 8), np.float32)
    places[299] = 1
    pairs, _ = near_pairs(places, 0.1)
    assert len(pairs) < 300 * 40
    assert {*pairs.ravel().tolist()} == {*range(299)}
    assert len(near_pairs(places[:1], 0.1)[0]) == 0


def test_what_is_linked_however_far_round_is_one_group() -> None:
    links = np.array([(8, 3), (3, 5), (1, 9), (7, 7), (9, 8), (2, 4)])
    first, groups = connected(11, links)
    assert groups == [(1, 3, 5, 8, 9), (2, 4)]
    assert first.tolist() == [0, 1, 2, 1, 2, 1, 6, 7, 1, 1, 10]
    chain = np.random.default_rng(2).permutation(5000)
    assert len(connected(5000, np.stack([chain[:-1], chain[1:]], axis=1))[1][0]) == 5000
    assert connected(3, links[:0])[1] == []


def test_what_is_looked_at_of_very_many_is_some_of_all_and_always_the_same() -> None:
    assert looked_at(2000).tolist() == [*range(2000)]
    drawn = looked_at(100_000)
    assert len({*drawn.tolist()}) == len(drawn) == 2000
    assert np.array_equal(drawn, looked_at(100_000))
    assert drawn.mean() == pytest.approx(50_000, rel=0.05)
    assert len(looked_at(2001)) > 1500
