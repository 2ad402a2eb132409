"""Two series held against each other: what an edited rule does to all editions."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mothseed.chance import Outcome
from mothseed.study.two_series import held_together
from tests.conftest import Run, WriteSketch, pixels_of
from tests.recipes import known_edition

PLATE = """
    from mothseed import artwork, dial

    @artwork(width=60, height=40, paper="#f4efe4")
    def plate(sheet, chance, *, reach=dial(4.0, 1.0, 20.0), tall=dial(2.0)):
        form = chance("form").pick(["disc", "bar"], weights=[1, 1], label="form")
        tint = "#2a2036"
        x = chance("place").between(10, 50)
        if form == "disc":
            sheet.circle(x, 20, reach, fill=tint)
        else:
            sheet.rect(x, 10, reach, 20, fill=tint)
        sheet.rect(0, 38, 60, tall, fill="#7d4f7f")
"""


def made(run: Run, write_sketch: WriteSketch, name: str, *edits: tuple[str, str], seeds: str = "1-40") -> Path:
    text = PLATE
    for old, new in edits:
        assert text.count(old) == 1
        text = text.replace(old, new)
    path = write_sketch(text, f"{name}/plate.py")
    assert run("edition", str(path), "--seeds", seeds, "--width", "120px", "--jobs", "1", "-o", f"{name}-series").status == 0
    return path


def held(run: Run, *words: str) -> Any:
    answer = run("compare", *words, "--json", "-o", "pairs.png")
    assert answer.status == 0, answer.err
    return json.loads(answer.out)


def changes(report: Any) -> dict[str, int]:
    kinds = [edition["change"] for edition in report["editions"]]
    return {kind: kinds.count(kind) for kind in kinds}


def test_what_is_the_same_is_as_it_was(run: Run, write_sketch: WriteSketch) -> None:
    made(run, write_sketch, "one")
    made(run, write_sketch, "two", ("from mothseed", "# a remark\n    from mothseed"))
    report = held(run, "one-series", "two-series")
    assert changes(report) == {"as it was": 40}
    assert report["measures"] == []
    assert [row["gained"] + row["lost"] for row in report["outcomes"]] == [0, 0]
    assert report["figure"] is None
    assert not Path("pairs.png").exists()


def test_paint_and_forms_are_told_apart_and_the_most_changed_come_first(run: Run, write_sketch: WriteSketch) -> None:
    made(run, write_sketch, "one")
    made(
        run,
        write_sketch,
        "two",
        ('tint = "#2a2036"', 'tint = "#d9715b" if form == "disc" else "#2a2036"'),
        ("reach, 20, f", "reach, 9, f"),
    )
    report = held(run, "one-series", "two-series")
    forms = {edition["seed"]: edition["change"] for edition in report["editions"]}
    discs = {row["value"]: row["before"] for row in report["outcomes"]}["disc"]
    assert changes(report) == {"in its paint alone": discs, "in its forms": 40 - discs}
    assert set(forms) == set(range(1, 41))
    far = [edition["distance"] for edition in report["editions"]]
    assert far == sorted(far, reverse=True)
    assert all(edition["seen"] == (edition["distance"] >= 0.02) for edition in report["editions"])
    fell = {row["name"]: row["fell"] for row in report["measures"]}
    assert fell["coverage"] >= 40 - discs, "the bars are lower"
    assert pixels_of("pairs.png").shape[1] >= 1200


def test_a_rule_that_gives_more_of_one_is_told_and_one_that_is_drawn_anew_is_not(run: Run, write_sketch: WriteSketch) -> None:
    made(run, write_sketch, "one")
    made(run, write_sketch, "more", ("weights=[1, 1]", "weights=[3, 1]"))
    made(run, write_sketch, "anew", ('chance("form")', 'chance("forms")'))
    told = {row["value"]: row for row in held(run, "one-series", "more-series")["outcomes"]}
    assert told["disc"]["lost"] == 0
    assert told["disc"]["gained"] == told["bar"]["lost"] > 5
    assert told["disc"]["shifted"]
    assert told["bar"]["shifted"]
    again = held(run, "one-series", "anew-series")["outcomes"]
    assert all(row["gained"] and row["lost"] and not row["shifted"] for row in again)


def test_a_series_is_held_against_its_sketch_as_it_is_now(run: Run, write_sketch: WriteSketch) -> None:
    path = made(run, write_sketch, "one", seeds="1-6")
    run("edition", str(path), "--seeds", "7-9", "--set", "reach=9", "--width", "120px", "--jobs", "1", "-o", "one-series")
    assert changes(held(run, "one-series", str(path))) == {"as it was": 9}
    path.write_text(path.read_text().replace("reach=dial(4.0", "reach=dial(6.0"))
    report = held(run, "one-series", str(path))
    assert {edition["seed"] for edition in report["editions"] if edition["change"] == "in its forms"} == {1, 2, 3, 4, 5, 6}, (
        "dials that were set stay as they were"
    )
    path.write_text(path.read_text().replace("sheet.circle(x, 20, reach", "sheet.circle(x, 20, -reach"))
    answer = run("compare", "one-series", str(path), "-o", "pairs.png")
    assert "not compared, as they failed: " in answer.out


def test_what_has_no_counterpart_is_named(run: Run, write_sketch: WriteSketch) -> None:
    made(run, write_sketch, "one", seeds="1-3")
    made(run, write_sketch, "two", seeds="3-5")
    report = held(run, "one-series", "two-series")
    assert (report["only_before"], report["only_after"]) == (["1", "2"], ["4", "5"])
    made(run, write_sketch, "none", seeds="8")
    assert "have no seed in common" in run("compare", "one-series", "none-series").err


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["one-series"], "there is nothing to compare it with"),
        (["one-series", "one/plate.txt"], "is neither"),
        (["one-series", "one-series", "--but", "reach=3"], "are for sketches"),
        (["one-series", "one-series", "-o", "pairs.gif"], "series are compared on a sheet"),
    ],
)
def test_wrong_ways_to_ask_are_told(run: Run, write_sketch: WriteSketch, words: list[str], message: str) -> None:
    made(run, write_sketch, "one", seeds="1")
    answer = run("compare", *words)
    assert answer.status == 2
    assert message in answer.err


def test_a_rule_that_stayed_is_hardly_ever_said_to_have_changed() -> None:
    """Three hundred pairs of series whose outcomes were drawn by the same odds, seed by seed."""
    wrong = 0
    for draws in np.random.default_rng(5).integers(0, 3, (300, 2, 100)):
        series = [
            [known_edition(index, outcomes=(Outcome("form", int(value)),)) for index, value in enumerate(column)]
            for column in draws
        ]
        told = held_together(*series).outcomes
        assert [change.before for change in sorted(told, key=lambda each: each.value)] == np.bincount(draws[0]).tolist()
        wrong += any(change.shifted for change in told)
    assert wrong <= 6
