"""What the ledger calls done is on the disk, and what is damaged there is found, told and mended."""

from __future__ import annotations

import json
import os
import shutil
import sqlite3
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from mothseed.files import PART_SUFFIX, begin_folder, end_folder, write_bytes
from mothseed.formats.png_writing import encoded
from mothseed.layout import LEDGER_NAME
from mothseed.render import pixel_hash
from mothseed.series import Edition, Request, Watcher, in_this_process, make_series, processes, series_editions
from mothseed.series.ledger import Ledger
from mothseed.series.snapshot import OwnCopy
from mothseed.sketch import load_sketch
from tests.conftest import Run, WriteSketch, made_series, pixels_of


def test_a_picture_is_on_the_disk_before_the_ledger_calls_it_done(
    write_sketch: WriteSketch, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    flushed: set[tuple[int, int]] = set()
    fsync, add = os.fsync, Ledger.add

    def noted_fsync(handle: int) -> None:
        fsync(handle)
        status = os.fstat(handle)
        flushed.add((status.st_ino, status.st_mtime_ns))

    def watched_add(ledger: Ledger, editions: Any) -> None:
        known = list(editions)
        folder = ledger.path.parent
        promised = [folder / edition.file for edition in known] + [folder / "source" / "spots.py", folder, folder / "source"]
        seen.extend((path.stat().st_ino, path.stat().st_mtime_ns) in flushed for path in promised)
        add(ledger, known)

    seen: list[bool] = []
    monkeypatch.setattr(os, "fsync", noted_fsync)
    monkeypatch.setattr(Ledger, "add", watched_add)
    sketch = load_sketch(write_sketch())
    make_series(Request.of(sketch, (1, 2, 3), 60, tmp_path / "s"), in_this_process(sketch))
    assert len(seen) == 12
    assert all(seen)


AGAIN = ("edition", "spots.py", "-o", "s", "--width", "60px", "--seeds")


def emptied(path: Path) -> None:
    path.write_bytes(b"")


def cut(path: Path) -> None:
    path.write_bytes(path.read_bytes()[:-300])


def of_another_seed(path: Path) -> None:
    shutil.copy(path.with_name("0002.png"), path)


def of_another_size(path: Path) -> None:
    path.write_bytes(encoded(pixels_of(path)[:20]))


def a_link(path: Path) -> None:
    path.unlink()
    path.symlink_to("0002.png")


def no_picture(path: Path) -> None:
    path.write_text("these are words")


DAMAGES = [emptied, cut, of_another_seed, of_another_size, a_link, no_picture, Path.unlink]


@pytest.mark.parametrize("damage", DAMAGES)
def test_a_damaged_picture_is_told_left_out_and_made_again(
    write_sketch: WriteSketch, run: Run, damage: Callable[[Path], None]
) -> None:
    made_series(write_sketch(), "1-4")
    before = pixel_hash(pixels_of("s/0003.png"))
    damage(Path("s/0003.png"))
    for words in (["contact", "s"], ["lightbox", "s"], ["variety", "s"]):
        answer = run(*words)
        assert answer.status == 0, answer.err
        assert ("left out: s/0003.png: its picture is" in answer.err) == (damage not in (of_another_seed, of_another_size))
    due = json.loads(run(*AGAIN, "1-4", "--dry-run", "--json").out)["due"]
    assert [each["file"] for each in due] == ["0003.png"]
    assert due[0]["reason"].startswith("its picture")
    answer = run(*AGAIN, "1-4")
    assert answer.out.startswith("s: 1 made, 3 there already")
    assert pixel_hash(pixels_of("s/0003.png")) == before
    assert not Path("s/0003.png").is_symlink()
    assert pixel_hash(pixels_of("s/0002.png")) != before


def test_pictures_that_were_only_copied_are_looked_into_once(write_sketch: WriteSketch, run: Run) -> None:
    made_series(write_sketch(), "1-3")
    os.utime("s/0002.png", (1, 1))
    assert series_editions(Path("s"))[1].file_time != 10**9
    assert run(*AGAIN, "1-3").out.startswith("s: 0 made, 3 there already")
    assert series_editions(Path("s"))[1].file_time == 10**9


def test_a_row_that_is_no_edition_is_named_and_the_rest_goes_on(write_sketch: WriteSketch, run: Run) -> None:
    made_series(write_sketch(), "1-4")
    with sqlite3.connect(Path("s") / LEDGER_NAME) as connection:
        connection.execute("UPDATE edition SET dials = 'no JSON' WHERE seed = '2'")
        connection.execute("UPDATE edition SET measures = '[1, 2]' WHERE seed = '3'")
    connection.close()
    wrong = ("left out: edition 2: it is not JSON", "left out: edition 3: Expected `object`, got `array` - at `$.measures`")
    for line in ("table s --columns all", "contact s", "lightbox s", "variety s"):
        answer = run(*line.split())
        assert answer.status == 0, answer.err
        assert all(words in answer.err for words in wrong)
    assert [words in run("table", "s").err for words in wrong] == [True, False], "what is not asked for is not read"
    answer = run(*AGAIN, "1-4")
    assert answer.out.startswith("s: 2 made, 2 there already")
    assert "left out" not in run("table", "s").err


EDITED = """
    from pathlib import Path
    from mothseed import artwork
    from other import colour

    @artwork(width=60, height=40)
    def edited(sheet, chance):
        from late import size
        sheet.rect(0, 0, 60, 40, fill=sheet.picture("wing.png"))
        sheet.circle(30, 20, size, fill=colour)
"""


@pytest.mark.parametrize("workers", [1, 2])
def test_a_run_is_made_of_what_the_files_were_when_it_began(write_sketch: WriteSketch, tmp_path: Path, workers: int) -> None:
    write_sketch('colour = "red"\n', "other.py")
    write_sketch("size = 3\n", "late.py")
    path = write_sketch(EDITED, "edited.py")
    picture = Path(__file__).parents[1] / "earlier" / "dusk.png"
    shutil.copy(picture, tmp_path / "wing.png")

    class Editing(Watcher):
        def done(self, editions: list[Edition]) -> None:
            write_sketch('colour = "blue"\n', "other.py")
            write_sketch("size = 9\n", "late.py")
            write_sketch("raise ValueError\n", "edited.py")
            (tmp_path / "wing.png").write_bytes(encoded(pixels_of(picture)[::-1]))

    sketch = load_sketch(path)
    seeds = tuple(range(1, 9))
    summary = make_series(Request.of(sketch, seeds, 60, tmp_path / "s"), processes(workers), Editing())
    assert (summary.made, summary.failed) == (8, ())
    assert summary.changed == ("edited.py", "late.py", "other.py", "wing.png")
    editions = series_editions(tmp_path / "s")
    assert len({edition.pixel_hash for edition in editions}) == 1, "all are of one state"
    assert len({tuple(edition.sources.items()) for edition in editions}) == 1
    assert (tmp_path / "s" / "source" / "late.py").read_text() == "size = 3\n"
    assert (tmp_path / "s" / "source" / "wing.png").read_bytes() == picture.read_bytes()


def test_the_copy_of_a_series_is_not_read_or_written_through_links(tmp_path: Path) -> None:
    sketch, copy, elsewhere = (tmp_path / name for name in ("sketch", "copy", "elsewhere"))
    for folder in (sketch / "sub", copy, elsewhere):
        folder.mkdir(parents=True)
    for name in ("a.txt", "b.txt", "sub/c.txt"):
        (sketch / name).write_text("own")
    (elsewhere / "b.txt").write_text("other")
    (copy / "b.txt").symlink_to(elsewhere / "b.txt")
    (copy / "sub").symlink_to(elsewhere)
    own = OwnCopy(sketch, copy)
    assert own.place_of(sketch / "a.txt") == copy / "a.txt"
    assert (copy / "a.txt").read_text() == "own"
    for name in ("b.txt", "sub/c.txt", "gone.txt", "../elsewhere/b.txt"):
        assert own.place_of(sketch / name) == sketch / name
    assert [path.name for path in elsewhere.iterdir()] == ["b.txt"]


def test_files_that_changed_meanwhile_are_told(write_sketch: WriteSketch, run: Run) -> None:
    write_sketch(
        """
        from pathlib import Path
        from mothseed import artwork

        @artwork(width=60, height=40)
        def own(sheet, chance):
            sheet.circle(5, 5, 5)
            file = Path(__file__)
            file.write_text(file.read_text() + "#")
        """,
        "own.py",
    )
    answer = run("edition", "own.py", "--seeds", "1", "-o", "s", "--width", "60px")
    assert answer.status == 0
    assert "own.py changed during the run, which used it as it was before" in answer.err


def test_a_ledger_is_built_again_with_the_marks_that_can_be_read(write_sketch: WriteSketch, run: Run) -> None:
    made_series(write_sketch(), "1-4")
    run("mark", "s", "2", "keep", "--note", "the best")
    assert run("table", "s", "--marked", "keep", "--columns", "seed", "--csv").out.split() == ["seed", "2"]
    with sqlite3.connect(Path("s") / LEDGER_NAME) as connection:
        connection.execute("UPDATE edition SET dials = '{' WHERE seed = '1'")
    connection.close()
    answer = run("recover", "s")
    assert answer.status == 0
    assert "marks and notes recovered from it: 1 edition" in answer.out
    assert [(each.seed, each.mark, each.note) for each in series_editions(Path("s"))][1] == (2, "keep", "the best")


def test_what_a_killed_process_left_half_written_is_taken_over(tmp_path: Path) -> None:
    left = tmp_path / f".picture.png{PART_SUFFIX}"
    left.write_text("half")
    write_bytes(tmp_path / "picture.png", b"whole")
    assert (tmp_path / "picture.png").read_bytes() == b"whole"
    assert [path.name for path in tmp_path.iterdir()] == ["picture.png"]


def test_a_part_that_is_no_file_of_ours_does_no_harm(tmp_path: Path) -> None:
    (tmp_path / "victim").write_text("mine")
    (tmp_path / f".a.png{PART_SUFFIX}").symlink_to(tmp_path / "victim")
    os.mkfifo(tmp_path / f".b.png{PART_SUFFIX}")
    (tmp_path / f".c.png{PART_SUFFIX}").hardlink_to(tmp_path / "victim")
    for name in ("a.png", "b.png", "c.png", "x" * 255):
        write_bytes(tmp_path / name, b"whole")
        assert (tmp_path / name).read_bytes() == b"whole"
    assert (tmp_path / "victim").read_text() == "mine"


def test_a_folder_that_was_left_is_taken_away_by_the_next_and_one_in_use_is_not(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("tempfile.tempdir", str(tmp_path))
    left = tmp_path / "mothseed-watch-left"
    left.mkdir()
    (left / ".in-use").touch()
    (left / "1.png").touch()
    first = begin_folder("mothseed-watch-")
    assert not left.exists()
    assert first.stat().st_mode & 0o77 == 0, "nobody else may look into it"
    second = begin_folder("mothseed-watch-")
    assert first.is_dir()
    for folder in (first, second):
        end_folder(folder)
    assert list(tmp_path.iterdir()) == []
