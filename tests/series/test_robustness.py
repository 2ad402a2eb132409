"""What goes wrong while a series is made, done for real: kills, limits, full disks, other runs, hostile words."""

from __future__ import annotations

import contextlib
import csv
import io
import json
import os
import random
import resource
import shutil
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mothseed.faults import FileError
from mothseed.files import PART_SUFFIX
from mothseed.render import pixel_hash
from mothseed.series import (
    Limits,
    Request,
    Watcher,
    borrowed,
    in_this_process,
    make_series,
    processes,
    series_editions,
)
from mothseed.sketch import load_sketch
from tests.conftest import INSTALLED, Run, WriteSketch, pixels_of

KILLS = int(os.environ.get("MOTHSEED_KILLS", "8"))
"""How often a run is killed; more often by hand."""


def request(sketch: Path, folder: Path, count: int, width: int = 60) -> Request:
    return Request.of(load_sketch(sketch), tuple(range(1, count + 1)), width, folder)


def assert_sound(folder: Path, count: int) -> None:
    """Every edition is there, each picture whole and the one that the ledger knows, and nothing half written lies about."""
    editions = series_editions(folder)
    assert [edition.seed for edition in editions] == list(range(1, count + 1))
    for edition in editions:
        assert not edition.failed, edition.error
        assert pixel_hash(pixels_of(folder / edition.file)) == edition.pixel_hash
    assert not list(folder.glob(f".*{PART_SUFFIX}"))


def session_of(process: Path) -> int:
    try:
        fields = (process / "stat").read_text().rpartition(")")[2].split()
    except OSError:
        return -1
    return -1 if fields[0] == "Z" else int(fields[3])


def wait_for_workers(session: int) -> None:
    """The workers of a killed run leave by themselves; a run must not meet those of the one before."""
    deadline = time.monotonic() + 30
    while time.monotonic() < deadline:
        if not any(session_of(entry) == session for entry in Path("/proc").glob("[0-9]*")):
            return
        time.sleep(0.05)
    pytest.fail("workers outlived the run that was killed")


@pytest.mark.endurance
def test_a_series_killed_again_and_again_is_finished_whole(write_sketch: WriteSketch, tmp_path: Path, installed: Run) -> None:
    sketch, folder, count = write_sketch(), tmp_path / "series", 240
    asked = ["edition", str(sketch), "--seeds", f"1-{count}", "-o", str(folder), "--width", "900px", "--jobs", "2"]
    line = [str(INSTALLED), *asked]
    moments = random.Random(1)
    found: list[int] = []
    for kill in range(KILLS):
        there = len(list(folder.glob("0*.png")))
        process = subprocess.Popen(line, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True)
        # One in five is killed before it has begun, the others while they are at work.
        while kill % 5 and process.poll() is None and len(list(folder.glob("0*.png"))) == there:
            time.sleep(0.01)
        time.sleep(moments.uniform(0, 0.4))
        process.send_signal(signal.SIGKILL)
        process.wait()
        wait_for_workers(process.pid)
        if (folder / "ledger.sqlite").exists():
            found.append(len(series_editions(folder)))
    assert found == sorted(found), "what the ledger knew it never forgets"
    assert 0 < found[-1] < count, "it was killed while it was at work"
    for path in folder.glob("0*.png"):
        assert pixels_of(path).size, "no picture is half written"
    assert installed(*asked, "--json").status == 0
    assert_sound(folder, count)


def test_an_interrupted_run_finishes_what_it_is_making_and_says_how_to_go_on(
    write_sketch: WriteSketch, tmp_path: Path, installed: Run
) -> None:
    sketch, folder = write_sketch(), tmp_path / "series"
    line = [str(INSTALLED), "edition", str(sketch), "--seeds", "1-2000", "-o", str(folder), "--width", "240px", "--jobs", "2"]
    process = subprocess.Popen(line, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, start_new_session=True)
    deadline = time.monotonic() + 60
    while len(list(folder.glob("0*.png"))) < 5 and time.monotonic() < deadline:
        time.sleep(0.05)
    os.killpg(process.pid, signal.SIGINT)
    out, err = process.communicate(timeout=60)
    assert process.returncode == 130
    assert "Finishing what was begun" in err
    assert "left to make. Run the same command to continue." in err
    made = series_editions(folder)
    assert 5 <= len(made) < 2000
    assert {edition.file for edition in made} == {path.name for path in folder.glob("0*.png")}, "all that was made is known"
    assert f"{len(made)} made" in out


ENDLESS = """
    import numpy
    from mothseed import artwork
    @artwork(width=60, height=40)
    def picture(sheet, chance):
        number = chance.whole(0, 3)
        try:
            while number == 0:
                pass
        except Exception:
            pass
        if number == 1:
            numpy.ones(2_000_000_000)
        sheet.circle(30, 20, 5 + number)
"""


def test_an_edition_that_never_ends_or_eats_the_machine_fails_alone(write_sketch: WriteSketch, tmp_path: Path) -> None:
    limits = Limits(seconds=2, memory=1_500_000_000)
    summary = make_series(request(write_sketch(ENDLESS), tmp_path / "series", 12), processes(2, limits))
    errors = {edition.seed: edition.error for edition in summary.failed}
    late = [seed for seed, error in errors.items() if "it took longer than 2 s" in error]
    large = [seed for seed, error in errors.items() if "it needed more memory than it may have" in error]
    assert late
    assert large
    assert len(late) + len(large) == len(errors)
    assert "spots.py, line 12: numpy.ones(2_000_000_000)" in errors[large[0]]
    assert summary.made == 12 - len(errors)


def test_a_calculation_that_heeds_no_alarm_is_ended_with_its_process() -> None:
    program = """
        import mothseed.series.limits as limits
        limits._GRACE = 0.2
        with limits.ending_the_process_after(0.2):
            sum(range(10**12))
    """
    done = subprocess.run([sys.executable, "-c", "\n".join(line.strip() if "sum" not in line else "    " + line.strip()
                                                           for line in program.strip().splitlines())],
                          check=False, timeout=60, capture_output=True)  # fmt: skip
    assert done.returncode == 1


class StopAfter(Watcher):
    """Stops a run once so many editions are done."""

    def __init__(self, count: int) -> None:
        self.count, self.seen = count, 0

    def done(self, editions: list[Any]) -> None:
        self.seen += len(editions)

    def stop(self) -> bool:
        return self.seen >= self.count


def test_a_run_that_is_stopped_tells_how_many_are_left(write_sketch: WriteSketch, tmp_path: Path) -> None:
    asked = request(write_sketch(), tmp_path / "series", 30)
    summary = make_series(asked, in_this_process(asked.sketch), StopAfter(5))
    assert summary.made == len(series_editions(tmp_path / "series"))
    assert summary.made + summary.left == 30
    assert summary.left > 0
    assert make_series(asked, in_this_process(asked.sketch)).made == summary.left
    assert_sound(tmp_path / "series", 30)


def test_any_executor_makes_the_same_editions(write_sketch: WriteSketch, tmp_path: Path) -> None:
    sketch = write_sketch()
    with ThreadPoolExecutor(1) as executor:
        make_series(request(sketch, tmp_path / "a", 6), borrowed(executor, 1))
    alone = request(sketch, tmp_path / "b", 6)
    make_series(alone, in_this_process(alone.sketch))
    assert [e.pixel_hash for e in series_editions(tmp_path / "a")] == [e.pixel_hash for e in series_editions(tmp_path / "b")]


@contextlib.contextmanager
def small_disk(place: Path) -> Iterator[bool]:
    """A folder on a disk with hardly any room, where this user may mount one; whether it is one."""
    place.mkdir()
    mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=600k", "tmpfs", str(place)], check=False, capture_output=True)
    try:
        yield mounted.returncode == 0
    finally:
        if mounted.returncode == 0:
            subprocess.run(["umount", "-l", str(place)], check=True)


def test_a_full_disk_is_told_and_the_series_goes_on_once_there_is_room(
    write_sketch: WriteSketch, tmp_path: Path, installed: Run
) -> None:
    sketch = write_sketch()
    with small_disk(tmp_path / "disk") as is_small:
        folder = tmp_path / "disk" / "series"
        line = [str(INSTALLED), "edition", str(sketch), "--seeds", "1-60", "-o", str(folder), "--width", "900px", "--jobs", "2"]

        def no_room() -> None:
            if not is_small:  # a limit on the size of files is the nearest that any user can have
                resource.setrlimit(resource.RLIMIT_FSIZE, (20_000, 20_000))

        done = subprocess.run(line, capture_output=True, text=True, check=False, timeout=120, preexec_fn=no_room)
        assert done.returncode == 1
        assert "could not be written" in done.stderr or "cannot be written" in done.stderr
        assert "Traceback" not in done.stderr
        for path in folder.glob("0*.png"):
            assert pixels_of(path).size
        room = tmp_path / "room"
        shutil.copytree(folder, room)
    assert installed("edition", sketch, "--seeds", "1-60", "-o", room, "--width", "900px", "--jobs", 2).status == 0
    assert_sound(room, 60)


def test_a_disk_that_is_full_for_the_picture_leaves_no_trace_of_it(
    write_sketch: WriteSketch, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: object) -> Any:
        raise OSError(28, "No space left on device")

    asked = request(write_sketch(), tmp_path / "series", 3)
    make_series(asked, in_this_process(asked.sketch), StopAfter(0))
    monkeypatch.setattr(Path, "replace", full)
    with pytest.raises(FileError, match=r"000\d\.png could not be written: No space left"):
        make_series(asked, in_this_process(asked.sketch))
    assert not list((tmp_path / "series").glob("*.png*"))
    monkeypatch.undo()
    make_series(asked, in_this_process(asked.sketch))
    assert_sound(tmp_path / "series", 3)


def test_a_folder_that_may_not_be_written_is_told(write_sketch: WriteSketch, run: Run, tmp_path: Path) -> None:
    write_sketch()
    (tmp_path / "file").write_text("a file where the folder should be")
    answer = run("edition", "spots.py", "--seeds", "1-3", "-o", "file")
    assert answer.status == 1
    assert "file cannot be made a series folder" in answer.err
    if os.geteuid() != 0:
        (tmp_path / "closed").mkdir(mode=0o500)
        assert run("edition", "spots.py", "--seeds", "1-3", "-o", "closed").status == 1


def test_a_clock_that_goes_backwards_changes_nothing(
    write_sketch: WriteSketch, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    moments = iter(range(10**9, 0, -1000))
    monkeypatch.setattr(time, "time", lambda: float(next(moments)))
    asked = request(write_sketch(), tmp_path / "series", 4)
    make_series(asked, in_this_process(asked.sketch))
    assert_sound(tmp_path / "series", 4)
    assert all(edition.milliseconds >= 0 for edition in series_editions(tmp_path / "series"))


HOSTILE = """
    from mothseed import artwork, dial
    WORDS = ["plain", "quote ' and \\"", "line\\nbreak", "<b onload=alert(1)>bold</b>", "a, b; c:", "x" * 5000, "\\u2028é"]
    @artwork(width=60, height=40)
    def picture(sheet, chance, *, word=dial("plain", choices=WORDS)):
        for index, word in enumerate(WORDS):
            chance("word", index).pick(WORDS, label=word[:60])
            sheet.note("note " + word[:40], word)
        sheet.layer(WORDS[1]).circle(30, 20, 5)
"""


def test_hostile_names_and_outcomes_do_no_harm(write_sketch: WriteSketch, run: Run, tmp_path: Path) -> None:
    name = "odd 'name' & <b>.py"
    write_sketch(HOSTILE, name)
    assert run("edition", name, "--seeds", "1-3", "-o", "a 'folder'", "--jobs", "1", "--set", "word=quote ' and \"").status == 0
    editions = series_editions(Path("a 'folder'"))
    assert {outcome.label for outcome in editions[0].outcomes} >= {"line\nbreak", "note <b onload=alert(1)>bold</b>"}
    rows = list(csv.DictReader(io.StringIO(run("table", "a 'folder'", "--csv").out, newline="")))
    assert len(rows) == 3
    assert rows[0]["note line\nbreak"] == "line\nbreak"
    assert rows[0]["note " + "x" * 40] == "x" * 5000
    assert json.loads(run("table", "a 'folder'", "--json").out)[2]["word"] == "quote ' and \""
    assert run("table", "a 'folder'", "--where", '"quote \' and """ is not null').status == 0
    assert run("verify", "a 'folder'", "--jobs", "1").status == 0
    assert run("proof", name, "--without", "quote ' and \"").status == 0
    assert run("table", "a 'folder'").status == 0


def test_a_picture_in_bands_is_the_whole_picture(write_sketch: WriteSketch, run: Run, monkeypatch: pytest.MonkeyPatch) -> None:
    write_sketch()
    hashes = []
    for name, pixels in (("whole.png", 1 << 23), ("bands.png", 64 * 450)):
        monkeypatch.setattr("mothseed.render.raster._BAND_PIXELS", pixels)
        assert run("proof", "spots.py", "-o", name, "--width", "450px").status == 0
        hashes.append(pixel_hash(np.asarray(pixels_of(name))))
    assert hashes[0] == hashes[1]
