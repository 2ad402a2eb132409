"""What earlier versions made, kept as they made it: it is read, verified, gone on with and recovered today.

The folder `earlier` was made before recipes, records and formats had the homes that they have now: a series of two variants of
four seeds with marks on some and two that failed, a run of prints, and proofs. Nothing in it is ever made anew.
"""

from __future__ import annotations

import json
import re
import shutil
import sqlite3
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mothseed.arrays import WholeArray
from mothseed.formats.picture_reading import read_history
from mothseed.render import RENDERER_VERSION
from mothseed.series import series_editions
from mothseed.sketch.history import History, history_in_picture
from tests.conftest import Run, pixels_of
from tests.places import EARLIER


@pytest.fixture
def earlier(tmp_path: Path) -> Path:
    """A copy of it in the temporary folder, which is where commands run."""
    shutil.copytree(EARLIER, tmp_path, dirs_exist_ok=True)
    return tmp_path


def told_by(path: Path) -> History:
    """The history that a picture carries."""
    history = history_in_picture(path)
    assert history is not None
    return history


def test_its_editions_are_read(earlier: Path) -> None:
    editions = {(edition.seed, edition.variant): edition for edition in series_editions(earlier / "wings")}
    assert len(editions) == 8
    assert [key for key, edition in editions.items() if edition.failed] == [(1, "many"), ("lamp", "many")]
    assert "an owlet has no room for so many eyes" in editions[1, "many"].error
    kept = editions[1, "plain"]
    assert (kept.mark, kept.note) == ("keep", "für die Wand")
    assert [key for key, edition in editions.items() if edition.mark == "drop"] == [
        (2, "many"),
        (2, "plain"),
        ("lamp", "many"),
        ("lamp", "plain"),
    ]
    many = editions[2, "many"]
    assert many.dials == {"spots": 5, "spread": 24.0, "shadow": False, "ink": "#7a3b2e", "edge": "ragged"}
    assert many.reseeds == {"tint": 5}
    assert many.without == ("glow",)
    outcomes = {outcome.label: outcome for outcome in kept.outcomes}
    assert outcomes["form"].value == "owlet"
    assert outcomes["form"].promised == (("hawk", 0.5), ("owlet", 0.5))
    assert outcomes["spots"].value == 2
    assert set(kept.sources) == {"wings.py", "eyes.py", "dusk.png"}


def test_the_pictures_still_hold_what_they_were_made_from(earlier: Path) -> None:
    for name, seed in (("proof.svg", 2), ("proof.webp", 2), ("wings/0003.many.png", 3), ("prints/1-of-1-0001.plain.png", 1)):
        assert told_by(earlier / name).seed == seed, name
    assert told_by(earlier / "proof.webp").without == ("glow",)
    assert told_by(earlier / "proof.svg").dials["spots"] == 3
    assert told_by(earlier / "prints" / "1-of-1-0001.plain.png").number == "1/1"


def test_every_picture_is_made_again_alike(run: Run, earlier: Path) -> None:
    answer = run("verify", "wings")
    assert answer.status == 0, answer.out + answer.err
    first, second = answer.out.splitlines()
    assert first == "wings: 6 pictures, 2 failed; 6 made again; 0 findings"
    assert second.startswith("stale: 6 pictures painted by an older renderer")
    assert run("verify", "prints").out.startswith("prints: 1 picture; 1 made again; 0 findings\nstale: 1 picture")


def test_what_is_stale_is_still_held_against_its_drawing(run: Run, earlier: Path) -> None:
    with sqlite3.connect(earlier / "wings" / "ledger.sqlite") as connection:
        connection.execute("UPDATE edition SET fingerprint = ? WHERE seed = '3' AND variant = 'plain'", ["0" * 32])
        connection.execute("UPDATE outcome SET value = '\"hawk\"' WHERE seed = '1' AND label = 'form'")
        connection.execute("UPDATE edition SET renderer = 99 WHERE seed = '2' AND variant = 'plain'")
    answer = run("verify", "wings", "--json")
    kinds = {(finding["file"], finding["kind"]) for finding in json.loads(answer.out)["findings"]}
    assert answer.status == 1
    assert ("0003.plain.png", "not reproducible") in kinds
    assert ("0001.plain.png", "altered") in kinds
    assert ("0002.plain.png", "unverifiable") in kinds


def test_its_plan_finds_everything_there_and_goes_on(run: Run, earlier: Path) -> None:
    before = contents(earlier / "wings")
    answer = run("edition", "wings.toml", "--dry-run")
    lines = answer.out.splitlines()
    assert {"0001.many.png  failed before", "lamp.many.png  failed before"} < set(lines)
    assert sum(line.endswith("the renderer is a newer version") for line in lines) == 6
    assert lines[-1] == "wings: 8 of 8 would be made"
    plan = earlier / "wings.toml"
    plan.write_text(plan.read_text().replace('"1-3,lamp"', '"1-4,lamp"'))
    answer = run("edition", "wings.toml", "--jobs", "1")
    assert answer.status == 1, "two of its seeds fail, today as then"
    after = contents(earlier / "wings")
    assert_alike(before, after)
    assert "0004.plain.png" in after
    editions = series_editions(earlier / "wings")
    assert len(editions) == 10
    assert [edition.note for edition in editions if edition.note] == ["für die Wand"]


def test_the_same_plan_makes_the_same_pictures_in_an_empty_folder(run: Run, earlier: Path) -> None:
    """With the same history, but for the renderer, and with pixels as near as two renderers are."""
    before = contents(earlier / "wings")
    shutil.rmtree(earlier / "wings")
    assert run("edition", "wings.toml", "--jobs", "1").status == 1
    assert_alike(before, contents(earlier / "wings"))


def contents(folder: Path) -> dict[str, tuple[dict[str, Any], WholeArray]]:
    """The history and the pixels of each picture of a folder, but for sheets of them."""
    files = sorted(path for path in folder.glob("*.png") if path.name != "contact.png")
    return {path.name: (json.loads(read_history(path) or "{}"), pixels_of(path).astype(np.int64)) for path in files}


def assert_alike(
    before: dict[str, tuple[dict[str, Any], WholeArray]], after: dict[str, tuple[dict[str, Any], WholeArray]]
) -> None:
    for name, (history, pixels) in before.items():
        again, painted = after[name]
        assert {**again, "renderer": history["renderer"]} == history
        assert again["renderer"] == RENDERER_VERSION
        apart = np.abs(painted - pixels)
        assert apart.mean() < 0.05
        assert (apart > 16).mean() < 0.002


def test_a_ledger_that_is_lost_is_built_again_from_its_pictures(run: Run, earlier: Path) -> None:
    known = {edition.key: edition for edition in series_editions(earlier / "wings") if not edition.failed}
    (earlier / "wings" / "ledger.sqlite").unlink()
    answer = run("recover", "wings")
    assert answer.status == 0, answer.err
    assert "6 editions recovered" in answer.out
    again = {edition.key: edition for edition in series_editions(earlier / "wings")}
    assert set(again) == set(known)
    for key, edition in again.items():
        assert edition.dials == known[key].dials
        assert edition.outcomes == known[key].outcomes
        assert edition.pixel_hash == known[key].pixel_hash
    assert run("verify", "wings").status == 0


def test_its_tables_and_marks_are_what_they_were(run: Run, earlier: Path) -> None:
    rows = json.loads(run("table", "wings", "--where", "mark = 'keep'", "--json").out)
    assert [(row["seed"], row["variant"], row["note"]) for row in rows] == [(1, "plain", "für die Wand")]
    assert run("mark", "wings", "3", "keep").status == 0
    kept = json.loads(run("table", "wings", "--where", "mark = 'keep'", "--json").out)
    assert [(row["seed"], row["variant"]) for row in kept] == [(1, "plain"), (3, "many"), (3, "plain")]


def test_a_picture_of_then_is_held_against_one_of_today(run: Run, earlier: Path) -> None:
    answer = run("proof", "wings.py", "--seed", "2", "--set", "spots=3", "-o", "now.svg")
    assert answer.status == 0, answer.err
    answer = run("compare", "proof.svg", "now.svg", "--sketch", "wings.py", "--json")
    assert answer.status == 0, answer.err
    found = json.loads(answer.out)
    assert found["changes"] == []
    then, now = ((earlier / name).read_text(encoding="utf-8") for name in ("proof.svg", "now.svg"))
    assert drawn(then) == drawn(now)


def drawn(svg: str) -> str:
    """The shapes of an SVG, without the history, which names the time, and the stops of ramps, which were fewer then."""
    return re.sub("<stop [^>]*>", "", svg[svg.index("</metadata>") :] if "</metadata>" in svg else svg)


def test_a_ledger_of_a_later_version_is_let_be(run: Run, earlier: Path) -> None:
    path = earlier / "wings" / "ledger.sqlite"
    with sqlite3.connect(path) as connection:
        connection.execute("PRAGMA user_version = 99")
    before = path.read_bytes()
    answer = run("mark", "wings", "3", "keep")
    assert answer.status == 1
    assert "was written by a later version of Moth Seed" in answer.err
    assert path.read_bytes() == before
