"""A real scheduler with two workers, each a process of its own; one of them is killed."""

from __future__ import annotations

import json
import os
import platform
import re
import shlex
import signal
import socket
import subprocess
import sys
import time
from asyncio import CancelledError
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest
from PIL import Image

from mothseed.faults import SeriesError, UsageError
from mothseed.render import pixel_hash
from mothseed.series import Request, scheduler, series_editions
from mothseed.series.limits import NO_LIMITS
from mothseed.series.scheduler import cluster_crew
from mothseed.series.sent_work import Workplace, bundled, make_chunk_anywhere, sign_in
from mothseed.sketch import load_sketch
from tests.conftest import INSTALLED, Run, WriteSketch, pixels_of
from tests.places import ROOT

SKETCH = """
    import time
    from mothseed import Palette, artwork
    from sizes import SIZE
    @artwork(width=60, height=40)
    def picture(sheet, chance):
        time.sleep(0.05)
        sheet.circle(chance.between(0, 60), 20, SIZE, fill=Palette.from_picture("tint.png")[0])
"""


def begin_scheduler(file: Path, port: str = "0") -> subprocess.Popen[bytes]:
    line = [sys.executable, "-m", "dask", "scheduler", "--port", port, "--no-dashboard", "--scheduler-file", str(file)]
    return subprocess.Popen(line, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


def begin_worker(file: Path, name: str) -> subprocess.Popen[bytes]:
    """A worker that begins in a folder of its own."""
    own = file.with_name(name)
    own.mkdir()
    line = [sys.executable, "-m", "dask", "worker", "--scheduler-file", str(file), "--no-nanny", "--nthreads", "1"]
    return subprocess.Popen([*line, "--no-dashboard"], cwd=own, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


@dataclass
class Cluster:
    address: str
    scheduler: subprocess.Popen[bytes]
    workers: list[subprocess.Popen[bytes]]

    def begin_again(self, folder: Path) -> None:
        """Another scheduler at the same address, with workers of its own."""
        port = self.address.rpartition(":")[2]
        self.scheduler.wait()
        self.scheduler = begin_scheduler(folder / "again.json", port)
        self.workers += [begin_worker(folder / "again.json", name) for name in ("three", "four")]


@pytest.fixture
def cluster(tmp_path: Path) -> Iterator[Cluster]:
    """The address of a scheduler, and its workers, which begin in folders of their own."""
    file = tmp_path / "scheduler.json"
    first = begin_scheduler(file)
    cluster = Cluster("", first, [begin_worker(file, name) for name in ("one", "two")])
    try:
        deadline = time.monotonic() + 60
        while not file.exists() and time.monotonic() < deadline:
            time.sleep(0.1)
        cluster.address = json.loads(file.read_text())["address"]
        yield cluster
    finally:
        for process in [*cluster.workers, cluster.scheduler]:
            process.kill()
            process.wait()


@pytest.mark.endurance
def test_a_cluster_makes_the_same_editions_though_a_worker_is_lost(
    cluster: Cluster, write_sketch: WriteSketch, tmp_path: Path, installed: Run
) -> None:
    address, workers = cluster.address, cluster.workers
    write_sketch("SIZE = 7\n", "sizes.py")
    Image.new("RGB", (4, 4), "#c9663d").save(tmp_path / "tint.png")
    sketch = write_sketch(SKETCH)
    line = [str(INSTALLED), "edition", str(sketch), "--seeds", "1-120", "--width", "90px", "-o", str(tmp_path / "far")]
    process = subprocess.Popen([*line, "--cluster", address], stderr=subprocess.PIPE, text=True, env=os.environ.copy())
    deadline = time.monotonic() + 90
    while len(list((tmp_path / "far").glob("0*.png"))) < 8 and time.monotonic() < deadline and process.poll() is None:
        time.sleep(0.05)
    workers[0].send_signal(signal.SIGKILL)
    workers.append(begin_worker(tmp_path / "scheduler.json", "three"))
    _, told = process.communicate(timeout=120)
    assert process.returncode == 0, told
    assert installed("edition", sketch, "--seeds", "1-120", "--width", "90px", "-o", "near").status == 0
    far, near = (series_editions(tmp_path / name) for name in ("far", "near"))
    assert len(far) == 120
    assert [(e.seed, e.fingerprint, e.pixel_hash, e.sources) for e in far] == [
        (e.seed, e.fingerprint, e.pixel_hash, e.sources) for e in near
    ]
    for edition in far:
        assert pixel_hash(pixels_of(tmp_path / "far" / edition.file)) == edition.pixel_hash
    assert {path.name for path in (tmp_path / "far" / "source").iterdir()} == {"spots.py", "sizes.py", "tint.png"}


def test_a_scheduler_that_does_not_answer_is_told(write_sketch: WriteSketch, installed: Run) -> None:
    write_sketch()
    answer = installed("edition", "spots.py", "--seeds", "1-3", "--cluster", "tcp://127.0.0.1:9")
    assert answer.status == 2
    assert "no scheduler answers at tcp://127.0.0.1:9" in answer.err
    assert "Traceback" not in answer.err


@pytest.mark.endurance
def test_limits_hold_on_a_cluster_too(cluster: Cluster, write_sketch: WriteSketch, tmp_path: Path, installed: Run) -> None:
    sketch = write_sketch("""
        from mothseed import artwork

        @artwork(width=60, height=40)
        def picture(sheet, chance):
            stuck = chance.between(0, 1) > 0.6
            while stuck:
                pass
            sheet.circle(30, 20, 9)
    """)  # fmt: skip
    line = ["edition", sketch, "--seeds", "1-8", "--width", "60px", "-o", tmp_path / "s", "--time-limit", "2", "--json"]
    answer = installed(*line, "--cluster", cluster.address)
    assert answer.status == 1
    failed = json.loads(answer.out)["failed"]
    assert 1 <= len(failed) < 8
    assert all("it took longer than 2 s" in each["error"] for each in failed)
    assert not list((tmp_path / "s").glob(".*.here"))


@pytest.mark.endurance
def test_a_run_whose_scheduler_is_lost_waits_for_another_and_can_be_stopped(
    cluster: Cluster, write_sketch: WriteSketch, tmp_path: Path, installed: Run
) -> None:
    write_sketch("SIZE = 7\n", "sizes.py")
    Image.new("RGB", (4, 4), "#c9663d").save(tmp_path / "tint.png")
    sketch = write_sketch(SKETCH)
    line = [str(INSTALLED), "edition", str(sketch), "--seeds", "1-200", "--width", "60px", "-o", str(tmp_path / "s")]
    process = subprocess.Popen([*line, "--cluster", cluster.address], stderr=subprocess.PIPE, text=True)
    deadline = time.monotonic() + 90
    while len(list((tmp_path / "s").glob("0*.png"))) < 8 and time.monotonic() < deadline and process.poll() is None:
        time.sleep(0.05)
    cluster.scheduler.kill()
    lost = f"mothseed: the scheduler at {cluster.address} was lost; waiting up to 10 minutes for it"
    assert process.stderr
    assert any(words.startswith(lost) for words in iter(process.stderr.readline, ""))
    there = len(series_editions(tmp_path / "s"))
    assert 0 < there < 200
    cluster.begin_again(tmp_path)
    while len(series_editions(tmp_path / "s")) < there + 8 and time.monotonic() < deadline and process.poll() is None:
        time.sleep(0.05)
    cluster.scheduler.kill()
    assert any(words.startswith(lost) for words in iter(process.stderr.readline, "")), "a second time as well"
    process.send_signal(signal.SIGINT)
    _, told = process.communicate(timeout=60)
    assert process.returncode == 130, told
    assert "Traceback" not in told
    editions = series_editions(tmp_path / "s")
    assert there + 8 <= len(editions) < 200
    assert not any(edition.failed for edition in editions), "what was on its way has not failed"
    left = 200 - len(editions)
    assert f"Stopped with {left} left to make. Run the same command to continue." in told
    assert installed(*line[1:]).out.startswith(f"{tmp_path / 's'}: {left} made, {len(editions)} there already")


@pytest.mark.endurance
def test_a_scheduler_that_does_not_come_back_ends_the_run(
    cluster: Cluster, write_sketch: WriteSketch, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(scheduler, "_PATIENCE", 0.0)
    sketch = load_sketch(write_sketch())
    asked = Request.of(sketch, (1,), 60, tmp_path / "s")
    (tmp_path / "s").mkdir()
    told: list[str] = []
    with cluster_crew(cluster.address, asked, told.append) as crew:
        assert crew.is_there()
        cluster.scheduler.kill()
        cluster.scheduler.wait()
        assert not crew.is_there()
        with pytest.raises(SeriesError, match=f"the scheduler at {re.escape(cluster.address)} was lost"):
            crew.restore(lambda: False)
        crew.restore(lambda: True)
    assert len(told) == 2
    assert all(words.startswith(f"the scheduler at {cluster.address} was lost; waiting") for words in told)


@pytest.mark.parametrize("fault", [TypeError("'NoneType' is not iterable"), CancelledError("scatter"), RuntimeError()])
def test_a_scheduler_that_is_lost_while_it_is_connected_to_is_told(
    write_sketch: WriteSketch, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, fault: BaseException
) -> None:
    def lost(*_: object, **more: object) -> None:
        raise fault

    monkeypatch.setattr("distributed.Client", lost)
    asked = Request.of(load_sketch(write_sketch()), (1,), 60, tmp_path)
    with socket.create_server(("127.0.0.1", 0)) as listening:
        address = f"tcp://127.0.0.1:{listening.getsockname()[1]}"
        with pytest.raises(UsageError) as caught, cluster_crew(address, asked, print):
            pass
    assert caught.value.message == f"no scheduler answers at {address}: {str(fault) or 'RuntimeError'}"


def test_who_shares_the_folder_writes_into_it_and_from_others_the_pictures_come_back(
    write_sketch: WriteSketch, tmp_path: Path
) -> None:
    sketch = load_sketch(write_sketch())
    asked = Request.of(sketch, (1, 2), 60, tmp_path / "s")
    elsewhere = Workplace(tmp_path / "s" / ".nobody.here", NO_LIMITS)
    made = make_chunk_anywhere(bundled(sketch), elsewhere, list(asked.jobs))
    assert [[*contents] for _, contents in made] == [["0001.png"], ["0002.png"]]
    assert not list((tmp_path / "s").glob("*.png"))
    with sign_in(tmp_path / "s") as sign:
        here = make_chunk_anywhere(bundled(sketch), Workplace(sign, NO_LIMITS), list(asked.jobs))
        sign.write_text("of another series")
        assert not Workplace(sign, NO_LIMITS).is_seen
    assert [contents for _, contents in here] == [{}, {}]
    for (edition, contents), (same, _) in zip(made, here, strict=True):
        assert (tmp_path / "s" / edition.file).read_bytes() == contents[edition.file]
        assert edition.pixel_hash == same.pixel_hash
    assert not list((tmp_path / "s").glob(".*"))


FAULTS = """
import resource, sys
from pathlib import Path
import numpy as np
from mothseed.series import Request
from mothseed.series.limits import NO_LIMITS
from mothseed.series.sent_work import Workplace, bundled, make_chunk_anywhere
from mothseed.sketch import load_sketch

sketch = load_sketch(Path(sys.argv[1]))
jobs = list(Request.of(sketch, (1,), 60, Path("s")).jobs)
for has_worked in (False, True):
    if has_worked:
        make_chunk_anywhere(bundled(sketch), Workplace(Path("nobody"), NO_LIMITS), jobs)
    np.ones(1 << 19)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_minflt
    for _ in range(20):
        np.ones(1 << 19)
    print(resource.getrusage(resource.RUSAGE_SELF).ru_minflt - before)
"""


@pytest.mark.skipif(platform.libc_ver()[0] != "glibc", reason="memory is kept in another way")
def test_memory_that_an_edition_has_freed_is_kept_for_the_next(write_sketch: WriteSketch, tmp_path: Path) -> None:
    """As a nanny of Dask sets its worker up."""
    line = [sys.executable, "-c", FAULTS, str(write_sketch())]
    surroundings = {**os.environ, "MALLOC_TRIM_THRESHOLD_": "65536"}
    done = subprocess.run(line, cwd=tmp_path, env=surroundings, capture_output=True, text=True, check=True)
    before, after = map(int, done.stdout.split())
    assert before > 2000, "twenty arrays of 4 MB, in pieces"
    assert after * 10 < before


@pytest.mark.endurance
def test_three_machines_are_set_up_as_the_page_says(
    write_sketch: WriteSketch, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Every command of the page is run as it stands there, but for the address, and for fewer seeds."""
    blocks = re.findall(r"```sh\n(.*?)\n```", (ROOT / "docs" / "cluster.md").read_text("utf-8"), re.DOTALL)
    install, scheduler, worker, edition = (block.strip() for block in blocks)
    assert install == 'pip install "mothseed[cluster]"'
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = str(free.getsockname()[1])
    monkeypatch.setenv("PATH", f"{INSTALLED.parent}{os.pathsep}{os.environ['PATH']}")
    write_sketch(name="specimen.py")
    monkeypatch.chdir(tmp_path)

    def here(line: str) -> list[str]:
        return shlex.split(line.replace("10.0.0.5", "127.0.0.1").replace("8786", port).replace("1-2000", "1-30"))

    lines = [here(scheduler), here(worker.replace("auto", "1")), here(worker.replace("auto", "1"))]
    quiet = {"stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL, "start_new_session": True}
    machines = [subprocess.Popen(line, **quiet) for line in lines]  # type: ignore[call-overload]
    try:
        deadline = time.monotonic() + 60
        done = subprocess.run(here(edition), capture_output=True, text=True, check=False)
        while done.returncode == 2 and time.monotonic() < deadline:  # until there is a scheduler, and workers
            time.sleep(0.3)
            done = subprocess.run(here(edition), capture_output=True, text=True, check=False)
    finally:
        for machine in machines:
            os.killpg(machine.pid, signal.SIGKILL)
            machine.wait()
    assert done.returncode == 0, done.stderr
    assert done.stdout.startswith("moths: 30 made")
    assert len(series_editions(tmp_path / "moths")) == 30
