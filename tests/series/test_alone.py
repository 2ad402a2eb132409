"""A fault of one edition stays its own, whatever a sketch does."""

from __future__ import annotations

import textwrap
from pathlib import Path

import pytest

from mothseed.faults import SketchError
from mothseed.series import Limits, Request, in_this_process, make_series, processes, series_editions
from mothseed.sketch import load_sketch, perform
from tests.conftest import Run, WriteSketch
from tests.recipes import recipe

HEAD = """
import asyncio, json, os, signal, sys, threading, time
from mothseed import artwork


class Wordless(Exception):
    def __str__(self):
        raise ValueError

    def __dir__(self):
        raise ValueError


@artwork(width=60, height=40)
def odd(sheet, chance):
    sheet.circle(5, 5, 5)
    if chance.whole(0, 1) == 0:
"""

FAILING = {
    "raise asyncio.CancelledError('never mind')": "CancelledError: never mind",
    "raise GeneratorExit": "GeneratorExit",
    "raise KeyboardInterrupt": "KeyboardInterrupt",
    "raise BaseException('all')": "BaseException: all",
    "raise BaseExceptionGroup('two', [KeyboardInterrupt(), ValueError()])": "BaseExceptionGroup: two (2 sub-exceptions)",
    "raise Wordless": "Wordless",
    "raise SystemExit": "the sketch stopped the program",
    "raise StopIteration": "StopIteration",
    "raise ValueError('half: \\ud800')": "ValueError: half: \ufffd",
    "os.fork()": "a sketch cannot split its process",
    "threading.Thread(target=lambda: time.sleep(1000)).start()": "a thread goes on after all is drawn",
    "threading.Thread(target=lambda: time.sleep(1000), daemon=True).start()": "a thread goes on after all is drawn",
}
UNHARMED = [
    "sheet.note('half \\ud800', '\\udfff')",
    "time.perf_counter = time.time = time.monotonic = None",
    "json.dumps = json.loads = None",
    "os.chdir('/')",
    "signal.signal(signal.SIGALRM, signal.SIG_IGN)",
    "sys.stdout = None",
    "threading.Thread(target=lambda: time.sleep(0.05)).start()",
]


def sketch_with(write_sketch: WriteSketch, line: str) -> Path:
    return write_sketch(HEAD + textwrap.indent(line, " " * 8), "odd.py")


@pytest.mark.parametrize("line", FAILING)
def test_whatever_is_raised_is_one_failed_edition_with_its_line(write_sketch: WriteSketch, tmp_path: Path, line: str) -> None:
    sketch = load_sketch(sketch_with(write_sketch, line))
    failing = [seed for seed in range(1, 7) if seed in _zeros(write_sketch)]
    assert 0 < len(failing) < 6
    apart = "Thread" in line or "fork" in line or "KeyboardInterrupt" in line  # not in the process of the tests
    crew = processes(1, Limits(seconds=20)) if apart else in_this_process(sketch, Limits(seconds=20))
    summary = make_series(Request.of(sketch, range(1, 7), 40, tmp_path / "s"), crew)
    assert [edition.seed for edition in summary.failed] == failing
    for edition in series_editions(tmp_path / "s"):
        assert edition.error == (f"{FAILING[line]} (odd.py, line 17: {line})" if edition.seed in failing else "")


def _zeros(write_sketch: WriteSketch) -> set[int]:
    """The seeds for which chance has the line run."""
    plain = load_sketch(write_sketch(HEAD + " " * 8 + "sheet.circle(1, 1, 1)", "plain.py"))
    return {seed for seed in range(1, 7) if len(perform(plain, recipe(seed)).drawing) == 2}


@pytest.mark.parametrize("line", UNHARMED)
def test_what_a_sketch_does_to_its_process_does_not_reach_the_series(
    write_sketch: WriteSketch, tmp_path: Path, line: str
) -> None:
    sketch = load_sketch(sketch_with(write_sketch, line))
    summary = make_series(Request.of(sketch, range(1, 7), 40, tmp_path / "s"), processes(1, Limits(seconds=20)))
    assert (summary.made, summary.failed) == (6, ())
    assert len(series_editions(tmp_path / "s")) == 6


def test_one_that_catches_whatever_there_is_is_ended_in_time(write_sketch: WriteSketch, tmp_path: Path) -> None:
    endless = """
        from mothseed import artwork

        @artwork(width=60, height=40)
        def odd(sheet, chance):
            for _ in range(3):
                try:
                    while True:
                        pass
                except BaseException:
                    pass
            while True:
                pass
    """
    sketch = load_sketch(write_sketch(endless, "odd.py"))
    summary = make_series(Request.of(sketch, (1,), 40, tmp_path / "s"), processes(1, Limits(seconds=0.5)))
    assert [edition.error for edition in summary.failed] == [
        "it took longer than 0.5 s; make it do less, or allow it more time"
    ]


def test_ctrl_c_while_a_sketch_draws_is_ctrl_c(write_sketch: WriteSketch, run: Run) -> None:
    write_sketch(HEAD + "        os.kill(os.getpid(), signal.SIGINT)\n    os.kill(os.getpid(), signal.SIGINT)", "odd.py")
    answer = run("proof", "odd.py")
    assert answer.status == 130
    assert "Stopped." in answer.err


def test_a_thread_that_is_left_is_told_where_it_is(write_sketch: WriteSketch) -> None:
    sketch = load_sketch(
        write_sketch(
            """
            import threading
            from mothseed import artwork

            def forever(stop):
                stop.wait(30)

            @artwork(width=60, height=40)
            def odd(sheet, chance):
                stop = threading.Event()
                threading.Thread(target=forever, args=(stop,), daemon=True).start()
            """,
            "odd.py",
        )
    )
    with pytest.raises(SketchError) as fault:
        perform(sketch, recipe(1))
    assert fault.value.place is not None
    assert fault.value.place.text == "stop.wait(30)"
