"""Which dial matters."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image

from mothseed.colour import Colour
from mothseed.report.influence_sheet import changed_part
from mothseed.sketch.around import reseedings, settings_around
from mothseed.sketch.dials import Dial, dial
from mothseed.sketch.recipe import AS_IT_IS
from tests.conftest import Run, WriteSketch, pixels_of


@pytest.mark.parametrize(
    ("turned", "value", "tried"),
    [
        (dial(True), True, [False]),
        (dial("b", choices=["a", "b", "c"]), "b", ["a", "c"]),
        (dial(4, 0, 40), 4, [0, 8, 14]),
        (dial(1, 0, 5), 1, [0, 2]),
        (dial(5.0, 0, 10), 5.0, [2.5, 4.0, 6.0, 7.5]),
        (dial(5.0, 0, 10), 10.0, [7.5, 9.0]),
        (dial(0.5, 0, 1, step=0.25), 0.5, [0.25, 0.75]),
        (dial(8.0), 8.0, [6.0, 7.2, 8.8, 10.0]),
        (dial(0.0), 0.0, [-0.25, -0.1, 0.1, 0.25]),
        (dial(0), 0, [-1, 1]),
        (dial(3, 3, 3), 3, []),
    ],
)
def test_values_around_the_current_one_are_tried(turned: Dial, value: Any, tried: list[Any]) -> None:
    settings = settings_around("size", turned, value)
    found = [setting.after(AS_IT_IS).dials["size"] for setting in settings]
    assert found == (tried if isinstance(value, str) else pytest.approx(tried))


def test_a_colour_is_made_lighter_and_turned() -> None:
    settings = settings_around("ink", dial("#c9663d"), Colour.parse("#c9663d"))
    assert len({setting.after(AS_IT_IS).dials["ink"] for setting in settings}) == 4
    assert [setting.after(AS_IT_IS).reseeds for setting in reseedings("tint", 2)] == [{"tint": 1}, {"tint": 2}]


SKETCH = """
    from mothseed import artwork, dial

    @artwork(width=60, height=40, paper="white")
    def plate(sheet, chance, *, large=dial(20.0, 1, 39), small=dial(2.0, 1, 8), idle=dial(3), broken=dial(False)):
        if broken:
            sheet.circle(1, 1, -1)
        sheet.rect(0, 0, 60, large, fill="teal")
        sheet.circle(30, 35, small, fill="red")
        sheet.circle(chance("place").between(0, 60), 35, 1, fill="black")
        chance("unused").odds(0.5)
"""


def test_what_changes_the_picture_most_comes_first(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(SKETCH, "plate.py")
    answer = run("influence", "plate.py", "--jobs", "1", "--seeds", "1,2", "--json")
    assert answer.status == 0
    report = json.loads(answer.out)
    ranks = [(row["kind"], row["name"]) for row in report["influences"]]
    assert ranks[:3] == [("dial", "large"), ("dial", "small"), ("stream", "place")]
    assert {name for _, name in ranks[3:]} == {"idle", "unused", "broken"}
    effects = {row["name"]: row["effect"] for row in report["influences"]}
    assert effects["idle"] == effects["unused"] == 0
    assert effects["large"] > 5 * effects["small"] > 0
    large = report["influences"][0]["trials"]
    assert [trial["setting"] for trial in large] == ["large 10.5", "large 16.2", "large 23.8", "large 29.5"]
    assert large[0]["noticeable"] == pytest.approx(9.5 / 40, abs=0.01), "a quarter of its range less is painted"
    (broken,) = next(row for row in report["influences"] if row["name"] == "broken")["trials"]
    assert "radius must be 0 or more" in broken["error"]
    assert pixels_of("plate-influence.png").shape[1] > 900


def test_it_is_told_in_rows(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(SKETCH, "plate.py")
    answer = run("influence", "plate.py", "--jobs", "1", "--seeds", "4", "--set", "large=39", "-o", "what.png")
    rows = [line.split() for line in answer.out.splitlines() if line.strip()]
    assert ["idle", "dial", "nothing", "0.0%"] in rows
    assert ["broken", "dial", "nothing", "0.0%", "1", "failed"] in rows
    assert Path("what.png").is_file()


def test_what_cannot_be_tried_is_told(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch("""
        from mothseed import artwork

        @artwork(width=9, height=9)
        def bare(sheet, chance):
            sheet.circle(4, 4, 2)
    """, "bare.py")  # fmt: skip
    assert "bare.py has nothing to turn" in run("influence", "bare.py").err
    write_sketch(SKETCH, "plate.py")
    assert "that would be" in run("influence", "plate.py", "--seeds", "1-999").err
    answer = run("influence", "plate.py", "--set", "broken=on", "--jobs", "1")
    assert answer.status == 1
    assert "plate.py, line 6" in answer.err


def test_what_changed_is_as_it_is_and_the_rest_is_faded(tmp_path: Path) -> None:
    base, other = np.full((80, 120, 3), 90, np.uint8), np.full((80, 120, 3), 90, np.uint8)
    other[20:30, 40:60] = (200, 60, 60)
    for name, pixels in (("base", base), ("other", other)):
        Image.fromarray(pixels).save(tmp_path / f"{name}.png")
    shown = np.asarray(changed_part(tmp_path / "other.png", tmp_path / "base.png")).astype(int)
    assert np.abs(shown[22:28, 42:58] - (200, 60, 60)).max() <= 1
    paler = round(90 + (246 - 90) * 0.72)
    assert np.abs(shown[60:, :, 0] - paler).max() <= 2
    assert np.abs(shown[:, 80:, 0] - paler).max() <= 2
    same = np.asarray(changed_part(tmp_path / "base.png", tmp_path / "base.png")).astype(int)
    assert np.abs(same[..., 0] - paler).max() <= 2, "where nothing changed all is faded"
