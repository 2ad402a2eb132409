"""How commands end: when nobody reads, nothing can be written, or somebody ends them; and what a terminal is sent."""

from __future__ import annotations

import asyncio
import os
import pty
import re
import signal
import subprocess
import time
from pathlib import Path

import pytest

from mothseed.cli import main as run_line
from mothseed.cli.ending import Terminated, ending_in_order, ending_task_in_order
from mothseed.files import PART_SUFFIX
from tests.conftest import INSTALLED, Run, WriteSketch, made_series


def test_a_reader_who_has_seen_enough_is_no_fault_and_any_other_broken_pipe_is(
    write_sketch: WriteSketch, run: Run, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    made_series(write_sketch(), "1-3")
    with subprocess.Popen([INSTALLED, "table", "s", "--json"], stdout=subprocess.PIPE, stderr=subprocess.PIPE) as process:
        assert process.stdout
        process.stdout.close()
        assert process.wait() == 0
        assert process.stderr
        assert process.stderr.read() == b""
    monkeypatch.setattr("mothseed.series.table.series_table", _breaks)
    assert run_line(["table", "s"]) == 70
    assert "BrokenPipeError" in capsys.readouterr().err


def _breaks(*_: object) -> None:
    raise BrokenPipeError


@pytest.mark.parametrize("line", ["table s", "table s --json", "table s --csv", "--help", "--version"])
def test_a_full_disk_below_the_results_is_told(write_sketch: WriteSketch, run: Run, line: str) -> None:
    made_series(write_sketch(), "1-3")
    with Path("/dev/full").open("w") as full:
        done = subprocess.run([INSTALLED, *line.split()], stdout=full, stderr=subprocess.PIPE, text=True, check=False)
    assert done.returncode == 1
    assert done.stderr.startswith("mothseed: the results cannot be written: No space left on device")


@pytest.mark.parametrize("closed", ["1>&-", "2>&-", "1>&- 2>&-", "0<&-"])
def test_streams_may_be_closed(write_sketch: WriteSketch, run: Run, closed: str) -> None:
    made_series(write_sketch(), "1-3")
    for words in ("table s", "table s --csv", "contact s", "--help", "nonsense"):
        done = subprocess.run(["sh", "-c", f"{INSTALLED} {words} {closed}"], capture_output=True, text=True, check=False)
        assert done.returncode == (2 if words == "nonsense" else 0)
        assert "Traceback" not in done.stderr


@pytest.mark.parametrize("words", [["table", "s", "--columns", "note"], ["table", "s", "--csv"], ["table", "s", "--json"]])
def test_no_note_reaches_a_terminal_as_a_command_to_it(write_sketch: WriteSketch, run: Run, words: list[str]) -> None:
    made_series(write_sketch(), "1-3")
    run("mark", "s", "2", "keep", "--note", "a\x1b[31mb\x9bc\u202ed\x07\x7f")
    ours, theirs = pty.openpty()
    done = subprocess.Popen(
        [INSTALLED, *words], stdout=theirs, stderr=theirs, env={**os.environ, "COLUMNS": "3000", "NO_COLOR": "1"}
    )
    os.close(theirs)
    sent = b""
    try:
        while piece := os.read(ours, 65536):
            sent += piece
    except OSError:  # the other end is closed
        pass
    done.wait()
    text = sent.decode()
    assert not {"\x9b", "\u202e", "\x07", "\x7f"} & set(text)
    assert "\x1b[31m" not in text
    assert re.search(r"a(␛|\\u001b)\[31mb\\u009bc\\u202ed", text), "it is shown"


def test_letters_that_an_encoding_lacks_end_nothing(write_sketch: WriteSketch, installed: Run) -> None:
    write_sketch(name="flügel_гнездо.py")
    for encoding in ("ascii", "latin-1", "utf-8"):
        answer = installed("proof", "flügel_гнездо.py", "-o", "ausgabe_ж.png", PYTHONIOENCODING=encoding)
        assert answer.status == 0, answer.err
        assert "5 marks" in answer.out


@pytest.mark.parametrize("number", [signal.SIGTERM, signal.SIGHUP, signal.SIGINT])
def test_an_end_from_outside_leaves_nothing_half_written(write_sketch: WriteSketch, tmp_path: Path, number: int) -> None:
    path = write_sketch(
        """
        from mothseed import artwork

        @artwork(width=1000, height=1000)
        def slow(sheet, chance):
            for step in range(9000):
                sheet.circle(500, 500, 100 + step % 400, opacity=0.5)
        """,
        "slow.py",
    )
    line = [str(INSTALLED), "proof", str(path), "-o", str(tmp_path / "slow.png"), "--width", "4000px"]
    with subprocess.Popen(line, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL) as process:
        part = tmp_path / f".slow.png{PART_SUFFIX}"
        deadline = time.monotonic() + 60
        while not part.exists() and time.monotonic() < deadline and process.poll() is None:
            time.sleep(0.01)
        time.sleep(0.2)  # it is being painted, which takes seconds
        process.send_signal(number)
        assert process.wait() == 128 + number
    assert not part.exists()
    assert not (tmp_path / "slow.png").exists()


@pytest.mark.parametrize("number", [signal.SIGTERM, signal.SIGHUP, signal.SIGKILL])
def test_the_page_of_a_watch_leaves_nothing_behind(write_sketch: WriteSketch, tmp_path: Path, number: int) -> None:
    place = tmp_path / "temporary"
    place.mkdir()
    environment = {**os.environ, "TMPDIR": str(place)}

    def watched(end: int) -> None:
        line = [str(INSTALLED), "watch", str(write_sketch()), "--page", "--json"]
        with subprocess.Popen(line, stdout=subprocess.PIPE, env=environment, text=True) as process:
            assert process.stdout
            assert "page" in process.stdout.readline()
            assert any(each.name.startswith("mothseed-watch-") for each in place.iterdir())
            process.send_signal(end)
            process.wait(timeout=60)

    watched(number)
    if number == signal.SIGKILL:
        watched(signal.SIGTERM)
    assert not [each for each in place.iterdir() if each.name.startswith("mothseed-watch-")]


def test_an_order_that_comes_between_two_tasks_is_heard() -> None:
    async def ended() -> None:
        with ending_task_in_order():
            asyncio.get_running_loop().call_soon(signal.raise_signal, signal.SIGTERM)
            await asyncio.sleep(60)

    with pytest.raises(Terminated) as end, ending_in_order():
        asyncio.run(ended())
    assert end.value.status == 128 + signal.SIGTERM
    assert signal.getsignal(signal.SIGTERM) == signal.SIG_DFL


def test_a_link_as_output_stays_one(write_sketch: WriteSketch, run: Run, tmp_path: Path) -> None:
    write_sketch()
    (tmp_path / "there").mkdir()
    for name, words in {"a.png": ["proof", "spots.py"], "b.svg": ["proof", "spots.py"], "c.json": ["palette", "a.png"]}.items():
        (tmp_path / name).symlink_to(tmp_path / "there" / name)
        assert run(*words, "-o", name).status == 0
        assert (tmp_path / name).is_symlink()
        assert (tmp_path / "there" / name).stat().st_size > 0
    (tmp_path / "round.png").symlink_to("round.png")
    answer = run("proof", "spots.py", "-o", "round.png")
    assert answer.status == 1
    assert "leads to itself" in answer.err
