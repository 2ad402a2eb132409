"""Searching seeds for what is wished for."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from mothseed import making
from mothseed.series import series_editions
from tests.conftest import Run, WriteSketch, made_series, pixels_of

SKETCH = """
    from mothseed import artwork, dial

    @artwork(width=60, height=40, paper="white")
    def plate(sheet, chance, *, size=dial(5, 1, 20)):
        form = chance("form").pick(["hawk", "owlet"], weights=[1, 9], label="form")
        if chance("rare").odds(0.02):
            sheet.note("gleam", chance("gleam").whole(1, 3))
        if chance("broken").odds(0.05):
            sheet.circle(1, 1, -1)
        sheet.circle(30, 20, size * chance("large").between(0.2, 1), fill="teal" if form == "hawk" else "black")
"""


@pytest.mark.parametrize("jobs", ["1", "2"])
def test_the_first_seeds_that_meet_a_condition_are_found(run: Run, write_sketch: WriteSketch, jobs: str) -> None:
    folder = made_series(write_sketch(SKETCH, "plate.py"), "1-60", 384)
    done = [edition for edition in series_editions(folder) if not edition.failed]
    hawks = [e.seed for e in done if e.outcomes[0].value == "hawk" and e.measures["coverage"] > 0.005]
    answer = run("seek", "plate.py", "--where", "form = 'hawk' and coverage > 0.005", "--count", "3", "--jobs", jobs, "--json")
    report = json.loads(answer.out)
    assert report["seeds"] == hawks[:3]
    assert report["tried"] == hawks[2]
    assert report["failed"] == sum(e.failed for e in series_editions(folder) if int(e.seed) <= int(hawks[2]))
    assert answer.status == 0
    assert report["editions"][0]["measures"]["coverage"] > 0.005


def test_what_comes_seldom_is_found_though_most_seeds_do_not_have_it(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(SKETCH, "plate.py")
    answer = run("seek", "plate.py", "--where", "gleam >= 1", "--most", "300", "--jobs", "1", "-o", "found.png")
    assert answer.status == 0
    seed, _, words = answer.out.splitlines()[0].partition("  ")
    assert "gleam = " in words
    assert f"to make them: mothseed edition plate.py --seeds {seed}\n" in answer.err
    assert pixels_of("found.png").shape[1] > 300


@pytest.mark.parametrize(
    ("where", "painted"),
    [
        ("form = 'hawk' and seed > 3", 2),
        ("form = 'hawk' and marks >= 1 and status = 'done' and size = 5", 2),
        ("form = 'hawk' and COVERAGE > 0", None),
        ("form = 'hawk' and pixel_hash <> ''", None),
        ("form = 'hawk' and \"measure.hue\" IS NULL", None),
    ],
)
def test_pictures_are_painted_only_where_something_is_measured_in_them(
    run: Run, write_sketch: WriteSketch, monkeypatch: pytest.MonkeyPatch, where: str, painted: int | None
) -> None:
    write_sketch(SKETCH, "plate.py")
    asked: list[int] = []
    real = vars(making)["rendered_bands"]

    def counted(*arguments: Any, **more: Any) -> Any:
        asked.append(1)
        return real(*arguments, **more)

    monkeypatch.setattr("mothseed.making.rendered_bands", counted)
    report = json.loads(
        run("seek", "plate.py", "--where", where, "--count", "2", "--most", "150", "--jobs", "1", "--json").out or "{}"
    )
    if painted is None:
        assert len(asked) > 2
    else:
        assert len(asked) == painted
        assert report["tried"] > 5
        assert all(0 < edition["measures"]["coverage"] < 1 for edition in report["editions"])


def test_a_search_ends_at_its_bound(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(SKETCH, "plate.py")
    answer = run(
        "seek", "plate.py", "--where", "coverage > 0.99", "--most", "12", "--start", "40", "--jobs", "1", "-o", "x.png"
    )
    assert answer.status == 1
    assert answer.out == ""
    assert "0 of 1 found among 12 seeds" in answer.err
    assert not Path("x.png").exists()


@pytest.mark.parametrize(
    ("words", "message"),
    [
        ([], "--where is missing"),
        (["--where", "form = "], "syntax error"),
        (["--where", "fromm = 'hawk'"], "asks for fromm, and there is no such column"),
        (["--where", "1 = 1); DROP TABLE edition; --"], "--where:"),
    ],
)
def test_a_condition_that_makes_no_sense_is_told(run: Run, write_sketch: WriteSketch, words: list[str], message: str) -> None:
    write_sketch(SKETCH, "plate.py")
    answer = run("seek", "plate.py", "--most", "9", "--jobs", "1", *words)
    assert answer.status == 2
    assert message in answer.err
