"""Where a dial works that does nothing by itself, and where it does not."""

from __future__ import annotations

import json

import pytest

from mothseed.check import findings
from mothseed.sheet.record import Records
from mothseed.sketch import load_sketch, perform
from mothseed.study import trying
from mothseed.study.turning import Turning, Works
from tests.conftest import Run, WriteSketch
from tests.recipes import recipe

HEAD = """
    from mothseed import artwork, dial

    @artwork(width=60, height=40)
    def plate(sheet, chance, *, {dials}):
        sheet.circle(30, 20, 5, fill="teal")
"""

WORKING = [
    ("one=dial(0.0, 0, 1), two=dial(0.0, 0, 1)", "sheet.circle(9, 9, 40 * one * two)", {"two": 1.0}),
    ("one=dial(3, 1, 9), shown=dial(False)", "if shown: sheet.circle(9, 9, one)", {"shown": True}),
    ("one=dial(3, 1, 9), form=dial('disc', choices=['disc', 'bar'])", "sheet.rect(9, 9, one if form == 'bar' else 1, 3)",
     {"form": "bar"}),
    ("one=dial(3, 1, 9), count=dial(0, 0, 9)", "for i in range(count): sheet.circle(5 * i, 9, one / 3)", {"count": 9}),
    ("one=dial(3, 1, 9), on=dial(False), more=dial(0, 0, 5)",
     "if on and more > 2: sheet.circle(9, 9, one)", {"on": True, "more": 5}),
    ("one=dial(3, 1, 9)", "if one > 5: sheet.circle(9, 9, 1)", {}),
    ("one=dial(True)", "sheet.circle(9, 9, -1) if not one else None", {}),
]  # fmt: skip


def turning(write_sketch: WriteSketch, dials: str, lines: str, *seeds: int) -> Turning:
    sketch = load_sketch(write_sketch(HEAD.format(dials=dials) + f"        {lines}\n", "plate.py"))
    return Turning(sketch, perform(sketch, recipe(1)).recipe, seeds or (1, 2, 3))


@pytest.mark.parametrize(("dials", "lines", "needed"), WORKING)
def test_where_a_dial_works_is_found_and_it_is_not_called_idle(
    write_sketch: WriteSketch, dials: str, lines: str, needed: dict[str, object]
) -> None:
    turned = turning(write_sketch, dials, lines)
    works = turned.works("one")
    assert works is not None
    assert works.dials == needed
    assert [found.words for found in findings(turned.sketch, [1, 2]) if found.code == "idle-dial"] == []


def test_what_draws_more_is_not_drawn_to_its_end(write_sketch: WriteSketch, monkeypatch: pytest.MonkeyPatch) -> None:
    turned = turning(write_sketch, "one=dial(1, 1, 10**9)", "[sheet.circle(9, 9, 1) for _ in range(one)]")
    drawn: list[int] = []

    def counted(records: Records, more: bytes) -> Records:
        drawn.append(len(records))
        assert len(drawn) < 100
        bytearray.__iadd__(records, more)
        return records

    monkeypatch.setattr(Records, "__iadd__", counted)
    assert turned.works("one") == Works({})
    assert len(drawn) < 20, "one mark more is a change"


def test_a_dial_that_works_with_some_seeds_only_is_told_with_one(write_sketch: WriteSketch) -> None:
    lines = "if chance('rare').odds(0.2): sheet.circle(9, 9, one)"
    sketch = turning(write_sketch, "one=dial(3, 1, 9)", lines).sketch
    none = [seed for seed in range(1, 40) if len(perform(sketch, recipe(seed)).drawing) == 1][:3]
    works = turning(write_sketch, "one=dial(3, 1, 9)", lines, *none).works("one")
    assert works is not None
    assert works.words.startswith(f"only with seed {none[0]}-")


@pytest.mark.parametrize(
    ("lines", "remedy"),
    [("pass", "use one in the sketch, or drop it"), ("size = min(one, 0)", "see that what reads one is reached")],
)
def test_what_does_nothing_whatever_is_tried_is_idle_and_only_dropped_where_nothing_reads_it(
    write_sketch: WriteSketch, lines: str, remedy: str
) -> None:
    turned = turning(write_sketch, "one=dial(3, 1, 9), two=dial(2, 1, 9)", f"sheet.circle(9, 9, two); {lines}")
    assert turned.works("one") is None
    (found,) = [each for each in findings(turned.sketch, [1, 2]) if each.code == "idle-dial"]
    assert found.words == "one set to 1, 9, 2, 4, 5 draws the same, whatever the other dials are set to"
    assert found.remedy == remedy


@pytest.mark.parametrize(
    ("dials", "lines", "dead"),
    [
        ("one=dial(0.5, 0, 1)", "sheet.circle(9, 9, 3 * min(one, 0.5))", [(0.5, 1.0)]),
        ("one=dial(0.5, 0, 1)", "sheet.circle(9, 9, 3 * one)", []),
        ("one=dial(6, 0, 12)", "sheet.circle(9, 9, 1 + min(max(one, 3), 9))", [(0, 3), (9, 12)]),
        ("one=dial(6, 0, 12)", "sheet.circle(9, 9, 1 + one // 2 * 2)", [(0, 1), (2, 3), (4, 5), (6, 7), (8, 9), (10, 11)]),
        ("one=dial(3)", "sheet.circle(9, 9, 3)", []),
    ],
)
def test_dead_parts_of_a_range_are_told(
    write_sketch: WriteSketch, dials: str, lines: str, dead: list[tuple[float, float]]
) -> None:
    assert turning(write_sketch, dials, lines).dead_parts("one") == dead


def test_several_processes_tell_the_same(write_sketch: WriteSketch, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(trying, "_WORTH_PROCESSES", 0.0)
    turned = turning(write_sketch, "one=dial(1.0, 0, 12), two=dial(1, 0, 3)", "sheet.circle(9, 9, min(one, 5) + two)", 1)
    told: list[int] = []
    turned.draw_ahead(["one", "two"], 2, told.append)
    assert sum(told) == 13 + 4
    monkeypatch.setattr("mothseed.study.turning.performed_with", None)
    assert turned.dead_parts("one") == [(5.0, 12.0)], "without performing anything again"
    assert turned.dead_parts("two") == []


def test_influence_tells_it_beside_what_each_dial_does(run: Run, write_sketch: WriteSketch) -> None:
    dials = "one=dial(3, 1, 9), shown=dial(False), wide=dial(5.0, 0, 10)"
    lines = "sheet.rect(0, 30, min(wide, 5), 9)\n        if shown: sheet.circle(9, 9, one)"
    write_sketch(HEAD.format(dials=dials) + f"        {lines}\n", "plate.py")
    answer = run("influence", "plate.py", "--seeds", "1", "-o", "i.png")
    assert "works only with shown on" in answer.out
    assert "nothing changes from 5 to 10" in answer.out
    found = {
        each["name"]: each
        for each in json.loads(run("influence", "plate.py", "--seeds", "1", "--json", "-o", "i.png").out)["influences"]
    }
    assert found["one"]["works_with"] == {"dials": {"shown": True}, "seed": None}
    assert found["wide"]["dead"] == [[5.0, 10.0]]
