"""How work is handed out, with executors that do as they are told."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import BrokenExecutor, Executor, Future
from contextlib import nullcontext
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.faults import SeriesError
from mothseed.series import Crew, Edition, Job
from mothseed.series import crew as crew_module
from mothseed.series.crew import Stop, made
from tests.recipes import known_edition, recipe

Task = Callable[..., Any]


def job(seed: int) -> Job:
    return Job(Path("sketch.py"), recipe(seed), 60, None, Path("series"))


def edition(job: Job, milliseconds: float = 1.0, error: str = "") -> Edition:
    return known_edition(job.recipe.seed, width=job.width, milliseconds=milliseconds, error=error)


def failed(job: Job, words: str) -> Edition:
    return known_edition(job.recipe.seed, error=words)


class Slow(Executor):
    """Answers only once asked for, the last that it was given first; keeps count of what it was given."""

    def __init__(self, breaks_at: set[int] | None = None) -> None:
        self.breaks_at = breaks_at or set()
        self.chunks: list[list[int]] = []
        self.most_waiting = 0
        self._waiting: list[tuple[Future[Any], Task, list[Job]]] = []
        self._broken = False

    def submit(self, task: Task, /, *arguments: Any, **more: Any) -> Future[Any]:
        if self._broken:
            raise BrokenExecutor("it was broken before")
        (jobs,) = arguments
        self.chunks.append([int(each.recipe.seed) for each in jobs])
        future: Future[Any] = Future()
        self._waiting.append((future, task, jobs))
        self.most_waiting = max(self.most_waiting, len(self._waiting))
        if len(self._waiting) == 4 or len(self.chunks[-1]) == 0 or self.last_was_given(jobs):
            self._answer()
        return future

    def last_was_given(self, jobs: list[Job]) -> bool:
        return jobs[-1].recipe.seed == self.last

    last: int | str = -1

    def _answer(self) -> None:
        for future, task, jobs in reversed(self._waiting):
            if self._broken or self.breaks_at & {int(each.recipe.seed) for each in jobs}:
                self._broken = True
                future.set_exception(BrokenExecutor("a worker is gone"))
            else:
                future.set_result(task(jobs))
        self._waiting.clear()


def crew_of(executor: Slow, last: int, milliseconds: float = 1.0) -> Crew:
    executor.last = last
    return Crew(lambda: 2, lambda _workers: nullcontext(executor), lambda jobs: [edition(each, milliseconds) for each in jobs])


@given(st.integers(1, 300), st.floats(0.1, 2000))
def test_every_job_is_done_once_whatever_the_chunks(count: int, milliseconds: float) -> None:
    executor = Slow()
    crew = crew_of(executor, count - 1, milliseconds)
    done = [each for some in made(map(job, range(count)), crew, failed, lambda: False) for each in some]
    assert sorted(int(each.seed) for each in done) == list(range(count))
    assert [seed for chunk in executor.chunks for seed in chunk] == list(range(count)), "they are handed out in order"
    assert executor.most_waiting <= 4, "two for each worker at most"


def test_chunks_grow_while_editions_are_quick_and_shrink_towards_the_end() -> None:
    quick = Slow()
    list(made(map(job, range(2000)), crew_of(quick, 1999, milliseconds=2.0), failed, lambda: False))
    sizes = [len(chunk) for chunk in quick.chunks]
    assert sizes[:4] == [1, 1, 1, 1], "nothing is known at first"
    assert max(sizes) == 64
    assert sizes[-1] == 1
    slow = Slow()
    list(made(map(job, range(40)), crew_of(slow, 39, milliseconds=900.0), failed, lambda: False))
    assert {len(chunk) for chunk in slow.chunks} == {1}


def test_what_was_lost_with_a_worker_is_made_again_alone() -> None:
    opened: list[int] = []

    class Fresh(Slow):
        """Each that is opened breaks on edition 7."""

    def open_one(workers: int) -> Any:
        executor = Fresh(breaks_at={7})
        executor.last = 11 if len(opened) == 0 or workers > 1 else -1
        if workers == 1:
            executor.last_was_given = lambda jobs: True  # type: ignore[method-assign]
        opened.append(workers)
        return nullcontext(executor)

    crew = Crew(lambda: 2, open_one, lambda jobs: [edition(each) for each in jobs])
    done = [each for some in made(map(job, range(12)), crew, failed, lambda: False) for each in some]
    assert sorted(int(each.seed) for each in done) == list(range(12))
    assert [each.seed for each in done if each.failed] == [7]
    assert opened[0] == 2
    assert set(opened[1:]) <= {1, 2}
    assert 1 in opened


class Apart:
    """A crew whose work is handed out by somebody who goes away after some editions, and may come back."""

    def __init__(self, answers: int, *, breaks: bool, comes_back: bool = True) -> None:
        self.answers, self.breaks, self.comes_back = answers, breaks, comes_back
        self.waited = 0

    @property
    def is_there(self) -> bool:
        return self.answers > 0

    def restore(self, stop: Stop) -> None:
        self.waited += 1
        if not self.comes_back and not stop():
            raise SeriesError("it was lost")
        self.answers = 1000

    def submit(self, task: Task, jobs: list[Job]) -> Future[Any]:
        future: Future[Any] = Future()
        if self.is_there:
            self.answers -= 1
            future.set_result(task(jobs))
        elif self.breaks:
            future.set_exception(BrokenExecutor("nobody is there"))
        return future

    @property
    def crew(self) -> Crew:
        open_it: Any = lambda _workers: nullcontext(self)  # noqa: E731
        task = lambda jobs: [edition(each) for each in jobs]  # noqa: E731
        return Crew(lambda: 2, open_it, task, is_there=lambda: self.is_there, restore=self.restore)


def collect(crew: Crew, into: list[Edition], most: int = 300) -> None:
    def enough() -> bool:
        return len(into) >= most

    for some in made(map(job, range(300)), crew, failed, enough):
        into += some


@pytest.mark.parametrize("breaks", [True, False], ids=["says so", "falls silent"])
@pytest.mark.parametrize("answers", [1, 5, 11])
def test_where_nobody_hands_out_work_for_a_while_nothing_fails(
    answers: int, breaks: bool, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(crew_module, "_QUIET_SECONDS", 0.01)
    apart = Apart(answers, breaks=breaks)
    done: list[Edition] = []
    collect(apart.crew, done)
    assert sorted(int(each.seed) for each in done) == list(range(300))
    assert not any(each.failed for each in done)
    assert apart.waited == 1


def test_where_nobody_comes_back_the_run_ends_with_what_was_made(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(crew_module, "_QUIET_SECONDS", 0.01)
    for breaks in (True, False):
        done: list[Edition] = []
        with pytest.raises(SeriesError, match="it was lost"):
            collect(Apart(5, breaks=breaks, comes_back=False).crew, done)
        assert 5 <= len(done) < 300


def test_nobody_is_waited_for_once_the_run_is_stopped() -> None:
    apart = Apart(5, breaks=True, comes_back=False)
    seen: list[Edition] = []
    collect(apart.crew, seen, most=5)
    assert len(seen) >= 5
    assert not apart.waited


def test_a_run_that_is_stopped_hands_out_no_more() -> None:
    executor = Slow()
    seen: list[int] = []

    def enough() -> bool:
        return len(seen) >= 3

    for some in made(map(job, range(100)), crew_of(executor, 99), failed, enough):
        seen += [int(each.seed) for each in some]
    assert 3 <= len(seen) <= 8
    assert sorted(seen) == sorted(seed for chunk in executor.chunks for seed in chunk)


def test_a_fault_that_is_none_of_the_worker_is_raised() -> None:
    def fails(jobs: list[Job]) -> list[Edition]:
        raise OSError("the folder is gone")

    class Now(Executor):
        def submit(self, task: Task, /, *arguments: Any, **more: Any) -> Future[Any]:
            future: Future[Any] = Future()
            try:
                future.set_result(task(*arguments))
            except OSError as fault:
                future.set_exception(fault)
            return future

    with pytest.raises(OSError, match="the folder is gone"):
        list(made([job(1)], Crew(lambda: 1, lambda _workers: nullcontext(Now()), fails), failed, lambda: False))
