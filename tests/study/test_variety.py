"""How varied a series is, on editions whose likeness is known."""

from __future__ import annotations

import json
import sqlite3
import textwrap
from collections.abc import Callable, Iterable
from dataclasses import replace
from itertools import combinations
from pathlib import Path

import numpy as np
import pytest

from mothseed.chance import Chance, Outcome
from mothseed.layout import LEDGER_NAME
from mothseed.measure import appearances, signatures
from mothseed.series import Edition, series_editions
from mothseed.series.job import Job, make_edition
from mothseed.sketch import Recipe, load_sketch
from mothseed.study.aspects import aspects_of
from mothseed.study.choice import most_like, most_varied, varied_first
from mothseed.study.families import Recoloured, same_forms
from mothseed.study.neighbours import fewer_within, likeness, looked_at, nearest
from mothseed.study.variety import variety
from tests.conftest import Run, WriteSketch, made_series, pixels_of
from tests.recipes import known_edition

CELLS = np.dtype([("lightness", "u1"), ("a", "i1"), ("b", "i1")])


def edition(seed: int, lightness: float, a: int = 0, shape: str = "", **more: object) -> Edition:
    """One whose picture is of one lightness all over, its left half tinted by `a`, drawn with forms that `shape` stands for."""
    cells = np.zeros((16, 16), CELLS)
    cells["lightness"] = round(255 * lightness)
    cells["a"][:, :8] = a
    forms = np.random.default_rng([*map(ord, shape or str(seed))]).integers(1, 65536, 128).astype("<u2").tobytes()
    kept = known_edition(seed, fingerprint=f"f{seed}", appearance=cells.tobytes(), forms=forms)
    return replace(kept, measures={"lightness": lightness, "marks": 5.0}, **more)  # type: ignore[arg-type]


def scattered(count: int) -> list[Edition]:
    chance = Chance("variety")
    return [edition(seed, chance.between(0, 1), chance.whole(-120, 120)) for seed in range(1, count + 1)]


@pytest.mark.parametrize("count", [2, 9, 40, 1100])
def test_neighbours_are_those_that_a_plain_search_finds(count: int) -> None:
    places = 30 * appearances([each.appearance for each in scattered(count)])
    places -= places.mean(axis=0)
    rows = looked_at(count)
    apart = np.sqrt(((places[:60, None].astype(float) - places[None]) ** 2).sum(axis=2))
    apart[np.arange(len(apart)), np.arange(len(apart))] = np.inf
    expected = np.sort(apart, axis=1)[:, : min(3, count - 1)]
    assert nearest(places, rows, 3)[:60] == pytest.approx(expected, abs=6e-2)
    alike = sum(np.exp2(-(apart[place, place + 1 :] ** 2)).sum() for place in range(len(apart)))
    pairs = sum(count - 1 - place for place in range(len(apart)))
    assert likeness(places, rows[:60]) == pytest.approx((alike, pairs), rel=2e-3, abs=6e-2)
    lonely = np.flatnonzero((apart <= 1).sum(axis=1) < 2)
    assert [place for place in fewer_within(places, rows, 1.0, 2).tolist() if place < 60] == lonely.tolist()


def test_those_of_the_same_forms_are_found_together() -> None:
    random = np.random.default_rng(3)
    kept = random.integers(1, 65536, (700, 128)).astype(np.uint16)
    kept[[650, 660]] = kept[20]
    kept[650, :25] = random.integers(1, 65536, 25)
    kept[660, 30:60] = random.integers(1, 65536, 30)
    kept[30, 40:] = kept[31, 40:] = 0
    kept[31, :39] = kept[30, :39]
    (first, shared), (second, most) = same_forms(kept, 0.75)
    assert (first, second) == ((20, 650, 660), (30, 31))
    assert shared == pytest.approx(98 / 128)
    assert most == pytest.approx(39 / 40)
    assert [family for family, _ in same_forms(kept, 0.9)] == [(30, 31)]
    assert same_forms(np.zeros((3, 128), np.uint16), 0.75) == []
    few = np.zeros((2, 128), np.uint16)
    few[:, 7] = 5
    assert same_forms(few, 0.75) == [((0, 1), 1.0)], "a drawing of one mark"


def test_the_score_is_how_many_kinds_there_are_however_many_editions() -> None:
    assert variety([edition(seed, 0.5) for seed in range(9)]).score == pytest.approx(1)
    assert variety([edition(1, 0.5)]).score == pytest.approx(1)
    for count in (40, 400):
        chance = Chance(f"kinds-{count}")
        found = variety([edition(seed, chance.whole(0, 8) / 8) for seed in range(count)])
        assert found.score == pytest.approx(9, rel=0.15)
        assert not found.no_two_alike


def test_where_hardly_two_are_of_a_kind_no_number_is_told() -> None:
    unlike = variety([edition(seed, seed / 8) for seed in range(9)])
    assert unlike.no_two_alike
    assert 5 <= unlike.score <= 9
    assert variety(scattered(8)).no_two_alike
    assert variety([edition(1, 0.1), edition(2, 0.9)]).no_two_alike
    assert not variety([edition(1, 0.5)]).no_two_alike


def test_twins_are_found_by_their_looks_and_by_their_drawing() -> None:
    editions = [edition(seed, seed / 12) for seed in range(12)]
    editions += [edition(20, 3 / 12 + 0.004), edition(21, 0.02, 90, fingerprint="f7"), edition(22, 0.9, -90)]
    editions[7] = replace(editions[7], appearance=editions[13].appearance)
    found = variety(editions)
    assert [(twins.members, twins.same_drawing) for twins in found.twins] == [((7, 13), True), ((3, 12), False)]
    assert found.twins[0].distance == 0
    assert found.twins[1].distance == pytest.approx(0.004, abs=0.003)


def test_the_same_forms_in_other_colours_are_told() -> None:
    editions = [*scattered(30), edition(50, 0.2, shape="moth"), edition(51, 0.9, 100, shape="moth")]
    assert variety(editions).recoloured == (Recoloured(((30,), (31,)), 1.0),)
    assert variety([replace(each, forms=b"") for each in editions]).recoloured == ()
    eleven = [edition(seed, 0.2 + seed % 4 / 5, shape="moth") for seed in range(11)]
    (family,) = variety(eleven).recoloured
    assert family.colourings == ((0, 4, 8), (1, 5, 9), (2, 6, 10), (3, 7))
    (among,) = variety([*scattered(30), *eleven]).recoloured
    assert among.colourings == tuple(tuple(30 + index for index in looks) for looks in family.colourings)
    assert variety([edition(seed, 0.5, shape="moth") for seed in range(9)]).recoloured == ()


def test_one_that_is_far_from_all_stands_out() -> None:
    editions = [edition(seed, 0.3 + seed / 100) for seed in range(20)]
    assert variety(editions).outliers == ()
    assert [outlier.index for outlier in variety([*editions, edition(99, 0.9, 120)]).outliers] == [20]


def formed(seed: int, lightness: float, a: int, form: str) -> Edition:
    return edition(seed, lightness, a, outcomes=(Outcome("form", form),))


def test_groups_and_axes_are_told_by_what_goes_with_them() -> None:
    dark = [formed(seed, 0.2 + seed / 400, 0, "hawk") for seed in range(20)]
    light = [formed(seed, 0.8 + seed / 400, 0, "owlet") for seed in range(20, 32)]
    found = variety([*dark, *light])
    assert [sorted(group.members) for group in found.groups] == [list(range(20)), list(range(20, 32))]
    assert found.groups[1].distinctions[0] == "form owlet (100% of them, 38% of all)"
    assert any(words.startswith("more lightness (0.8") for words in found.groups[1].distinctions)
    assert found.axes[0].share > 0.99
    assert set(found.axes[0].words) == {"more lightness", "form: from hawk to owlet"}
    assert found.axes[1].words == ()
    assert variety(scattered(40)).places.shape == (40, 2)


def test_a_series_without_groups_has_none() -> None:
    random = np.random.default_rng(1)
    editions = []
    for seed in range(60):
        cells = np.zeros((16, 16), CELLS)
        cells["lightness"] = random.integers(0, 256, (16, 16))
        editions.append(replace(edition(seed, 0.5), appearance=cells.tobytes()))
    assert variety(editions).groups == ()


def test_the_most_varied_are_as_far_apart_as_can_be() -> None:
    editions = [edition(seed, lightness) for seed, lightness in enumerate((0.5, 0.51, 0.0, 1.0, 0.25, 0.52, 0.74))]
    assert most_varied(editions, 5) == [0, 2, 3, 4, 6]
    assert sorted(most_varied(editions, 99)) == list(range(7))
    assert [index for index, _ in most_like(editions, 0, 2)] == [1, 5]
    assert most_like(editions, 0, 1)[0][1] == pytest.approx(0.2, abs=0.1), "a fifth of what makes two half alike"
    assert most_varied([edition(1, 0.5), edition(2, 0.5)], 2) == [0, 1]
    assert len(signatures([each.forms for each in editions])) == 7


def test_the_choice_is_nearly_the_best_there_is() -> None:
    ratios = []
    for series in range(12):
        chance = Chance(f"choice-{series}")
        editions = [edition(seed, chance.between(0, 1), chance.whole(-120, 120)) for seed in range(1, 17)]
        places = aspects_of(editions).places.astype(float)
        apart = np.linalg.norm(places[:, None] - places[None], axis=2)
        best = max(min(apart[one, other] for one, other in combinations(some, 2)) for some in combinations(range(16), 5))
        ratios.append(min(apart[one, other] for one, other in combinations(most_varied(editions, 5), 2)) / best)
    assert min(ratios) >= 0.97


def test_of_very_many_the_same_is_told_from_some_of_them(monkeypatch: pytest.MonkeyPatch) -> None:
    chance = Chance("many")
    kinds = [edition(seed, chance.whole(0, 8) / 8) for seed in range(240)]
    unlike = [*scattered(240), edition(600, 0.3, 120, shape="moth"), edition(601, 0.3, 120, shape="hawk")]
    alone = [edition(seed, 0.4 + chance.between(0, 0.2), chance.whole(-20, 20)) for seed in range(240)]
    alone.append(edition(600, 0.9, 120))
    whole = [variety(editions) for editions in (kinds, unlike, alone)]
    monkeypatch.setattr("mothseed.study.neighbours._MOST_DRAWN", 90)
    monkeypatch.setattr("mothseed.study.near_pairs._FEW", 90)
    monkeypatch.setattr("mothseed.study.aspects._TOGETHER", 64)
    some = [variety(editions) for editions in (kinds, unlike, alone)]
    assert some[0].score == pytest.approx(whole[0].score, rel=0.1)
    for few, every in zip(some[1:], whole[1:], strict=True):
        assert few.usual_distance == pytest.approx(every.usual_distance, rel=0.2)
        assert few.aspects.places == pytest.approx(every.aspects.places, abs=1e-5)
    assert (240, 241) in [twins.members for twins in whole[1].twins]
    assert {twins.members for twins in some[1].twins} >= {twins.members for twins in whole[1].twins if twins.distance < 0.003}
    assert [outlier.index for outlier in some[2].outliers] == [outlier.index for outlier in whole[2].outliers] == [240]


def dotted(seed: int, *cells: tuple[int, int]) -> Edition:
    """Bare paper but for a small dark thing in some parts."""
    made = np.zeros((16, 16), CELLS)
    made["lightness"] = 250
    for row, column in cells:
        made["lightness"][row, column] = 215
    return known_edition(seed, fingerprint=f"d{seed}", appearance=made.tobytes(), measures={"marks": 1.0})


def test_small_things_on_bare_paper_are_no_twins_unless_they_are_the_same_thing() -> None:
    editions = [dotted(1, (3, 3)), dotted(2, (8, 8)), dotted(3, (12, 4), (12, 5)), dotted(4, (8, 8))]
    assert [twins.members for twins in variety(editions).twins] == [(1, 3)]


# Planted in drawings, which are measured as those of a series are

SCATTER = """
    from mothseed import artwork, dial

    INKS = (["#1b2a41", "#3f6f8f", "#9fc3c9"], ["#c9663d", "#e8b44f", "#7a2e1d"], ["#2f6a3a", "#16301c", "#b7c48a"],
            ["#8a2f7f", "#e070b0", "#3a1038"])

    @artwork(width=60, height=40, paper="#f4efe4")
    def scatter(sheet, chance, *, kind=dial("dots", choices=("dots", "half", "stripes", "inks", "word", "grid", "dense")),
                inks=dial(0, -1, 3), dashes=dial(0, -1, 1), count=dial(240, 0, 500)):
        own = INKS[1 if kind == "inks" else inks if inks >= 0 else chance("inks").whole(0, 2)]
        dashed = chance("dashed").odds(0.5) if dashes < 0 else dashes
        count = count or chance("count").pick([60, 240])
        if kind == "half":
            sheet.rect(0, 0, 30, 40, fill="#4060c0")
        if kind == "stripes":
            for index in range(20):
                sheet.rect(3 * index, 0, 1.2, 40, fill=own[index % 3])
            return
        for index in range(2 * count if kind == "dense" else count):
            mark = chance("mark", index)
            x, y = mark.between(0, 60), mark.between(0, 40)
            if kind == "grid":
                x, y = 1.5 + 3 * (index % 20), 1.7 + 3.3 * (index // 20)
            if dashed:
                sheet.frame(x, y, turn=mark.between(0, 180)).rect(-2, -0.3, 4, 0.6, fill=mark.pick(own))
            else:
                sheet.circle(x, y, 0.7, fill=mark.pick(own))
        if kind == "word":
            sheet.text(30, 20, "moth", size=4, fill="#111111")
"""


@pytest.fixture(scope="module")
def measured(tmp_path_factory: pytest.TempPathFactory) -> Callable[..., list[Edition]]:
    """Editions of the sketch by some seeds, as they are measured."""
    folder = tmp_path_factory.mktemp("planted")
    (folder / "scatter.py").write_text(textwrap.dedent(SCATTER))
    sketch = load_sketch(folder / "scatter.py")

    def make(seeds: Iterable[int], **dials: object) -> list[Edition]:
        return [make_edition(sketch, Job(sketch.path, Recipe(seed=seed, dials=dials), 192, None, folder)) for seed in seeds]

    return make


def test_scattered_marks_are_of_as_many_kinds_as_there_are(measured: Callable[..., list[Edition]]) -> None:
    assert variety(measured(range(12))).score < 2, "one kind, wherever the dots fall"
    dozen = measured(range(100), inks=-1, dashes=-1, count=0)
    scores = [variety(dozen[:count]).score for count in (50, 100)]
    assert min(scores) > 9
    assert max(scores) < 15
    kinds = [(each.measures.get("circles"), each.measures.get("rects"), each.palette[1][0][:2]) for each in dozen]
    chosen = most_varied(dozen, 12)
    assert len({kinds[index][:2] for index in chosen}) == 4


def test_what_is_of_another_kind_stands_out_and_in_what(measured: Callable[..., list[Edition]]) -> None:
    usual = measured(range(40))
    assert variety(usual).outliers == ()
    for kind, aspect in (
        ("half", "density"), ("stripes", "shapes"), ("inks", "colours"), ("word", "shapes"), ("grid", "density"),
        ("dense", "density"),
    ):  # fmt: skip
        (outlier,) = variety([*usual, *measured([90], kind=kind)]).outliers
        assert (outlier.index, outlier.aspects[0]) == (40, aspect), kind


def test_four_sets_of_inks_are_four_groups_and_one_is_none(measured: Callable[..., list[Edition]]) -> None:
    editions = [each for inks in range(4) for each in measured(range(10 * inks, 10 * inks + 10), inks=inks)]
    groups = variety(editions).groups
    assert sorted(sorted(group.members) for group in groups) == [list(range(start, start + 10)) for start in (0, 10, 20, 30)]
    assert variety(measured(range(30))).groups == ()


# The command


@pytest.fixture
def series(run: Run, write_sketch: WriteSketch) -> Path:
    return made_series(write_sketch(), "1-9,moth", 120)


def test_variety_is_told_and_drawn(run: Run, series: Path) -> None:
    answer = run("variety", "s", "-o", "map.png")
    assert answer.status == 0
    assert answer.out.startswith("10 editions, as varied as ")
    assert "map: map.png" in answer.out
    assert pixels_of("map.png").shape == (1049, 1536, 4)
    assert run("variety", "s", "--where", "seed = 3").out == "1 edition, and nothing to compare it with\nmap: s-variety.png\n"
    assert "more than 1 kind, and" in run("variety", "s", "--where", "seed < 3").out
    report = json.loads(run("variety", "s", "--json", "--where", "seed < 4").out)
    assert report["editions"] == len(report["places"]) == 3
    assert report["map"] == "s-variety.png"
    assert 1 <= report["score"] <= 3


def test_of_very_many_the_choice_is_as_good_with_less_care(monkeypatch: pytest.MonkeyPatch) -> None:
    chance = np.random.default_rng(4)
    editions = [edition(seed, float(value)) for seed, value in enumerate(chance.uniform(0.1, 0.9, 300))]
    apart = aspects_of(editions).places

    def least(chosen: list[int]) -> float:
        return min(float(np.linalg.norm(apart[one] - apart[other])) for one, other in combinations(chosen, 2))

    careful, first = most_varied(editions, 6), varied_first(apart, 6)
    assert least(first) >= 0.5 * least(careful), "the bound of choices that are made one after the other"
    monkeypatch.setattr("mothseed.study.choice._MANY", 100)
    assert least(most_varied(editions, 6)) >= 0.95 * least(careful)
    assert varied_first(apart, 6) == first


def test_the_most_varied_and_the_most_like_are_chosen(run: Run, series: Path) -> None:
    chosen = run("variety", "s", "--varied", "4", "-o", "four.png")
    seeds = chosen.out.split("\n")[:4]
    assert len(set(seeds)) == 4
    assert f"to keep them: mothseed mark s {','.join(seeds)} keep\n" in chosen.err
    assert pixels_of("four.png").shape[1] > 300
    assert run("mark", "s", ",".join(seeds), "keep").out == "s: 4 kept\n"
    rows = json.loads(run("variety", "s", "--like", "moth", "--count", "3", "--json").out)["chosen"]
    assert rows[0]["seed"] == "moth"
    distances = [row["distance"] for row in rows[1:]]
    assert distances == sorted(distances)
    assert not Path("s-variety.png").exists()
    assert "no such edition 77" in run("variety", "s", "--like", "77").err
    assert run("variety", "s", "--where", "seed = 90").status == 1
    assert "not allowed with" in run("variety", "s", "--like", "1", "--varied", "3").err


def test_what_an_earlier_version_did_not_keep_is_taken_from_the_pictures(run: Run, series: Path) -> None:
    before = run("variety", "s").out
    connection = sqlite3.connect(series / LEDGER_NAME)
    connection.execute("UPDATE edition SET appearance = x'', palette = '[]' WHERE seed <> '3'")
    connection.execute("UPDATE edition SET appearance = x'0102', forms = x'03' WHERE seed = '4'")
    connection.commit()
    connection.close()
    run("mark", "s", "5", "keep")
    assert run("variety", "s").out == before
    assert all(each.appearance and each.palette for each in series_editions(series))
    assert [each.seed for each in series_editions(series) if each.mark] == [5]


def test_what_is_damaged_beside_is_left_as_it_is(run: Run, series: Path) -> None:
    with sqlite3.connect(series / LEDGER_NAME) as connection:
        connection.execute("UPDATE edition SET appearance = x'' WHERE seed IN ('2', '3')")
        connection.execute("UPDATE edition SET sources = 'torn' WHERE seed = '3'")
    assert run("variety", "s").out.startswith("10 editions, ")
    statement = "SELECT sources, length(appearance), width FROM edition WHERE seed IN ('2', '3') ORDER BY seed"
    (sources, size, width), damaged = connection.execute(statement).fetchall()
    connection.close()
    assert (sources[0], size > 0, width) == ("{", True, 120)
    assert damaged == ("torn", 0, 120)


def test_pictures_that_are_gone_are_no_trouble(run: Run, series: Path) -> None:
    (series / "0003.png").unlink()
    assert run("variety", "s").status == 0
    for picture in series.glob("0*.png"):
        picture.unlink()
    (series / "moth.png").unlink()
    answer = run("variety", "s")
    assert answer.status == 0
    assert "map:" not in answer.out
    assert "are gone" in run("variety", "s", "--varied", "3", "-o", "three.png").err
