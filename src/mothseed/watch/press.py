"""The press: a separate process that stays warm and makes one proof after another.

Whatever a sketch does, even if it never ends or kills its process, does not affect the watching process.
"""

from __future__ import annotations

import asyncio
import contextlib
import linecache
import multiprocessing
import os
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from pathlib import Path

from mothseed.daybook import Daybook, Entry
from mothseed.faults import MothSeedError
from mothseed.formats import Effort, Settings
from mothseed.making import Made, make
from mothseed.series.crew import begin_worker
from mothseed.sketch import Sketch, load_sketch, loops
from mothseed.watch.question import Answer, Question, answered
from mothseed.watch.result import Problem, Proof, Shown, dials_of
from mothseed.watch.wish import Wish, fitted

_PATIENCE = 2.0
"""Seconds that an obsolete proof may still take: about what starting a new process takes."""
_BACKGROUND = 10
"""Niceness of a press of small pictures; see nice(1)."""


@dataclass(frozen=True, slots=True)
class Task:
    """A proof to make."""

    sketch: Path
    state: int
    """changes whenever a file of the sketch does; it is loaded anew then"""
    wish: Wish
    width: int
    output: Path


@dataclass(frozen=True, slots=True)
class Keep:
    """A request to keep the latest proof in the daybook."""

    sketch: Path
    state: int


@dataclass(frozen=True, slots=True)
class Kept:
    """What came of it."""

    entry: Entry | None = None
    """None if it is there already, or not kept"""
    problem: Problem | None = None


Wanted = Task | Question | Keep
Reply = Shown | Answer | Kept


class Press:
    """Makes proofs and answers questions in a separate process, started when first needed and after a loss."""

    def __init__(self, begin: Callable[[], None], *, background: bool = False) -> None:
        """`begin` is called in the process first; it must be a function of a module, to be sent there."""
        self._begin = begin
        self._background = background
        self._process: BaseProcess | None = None
        self._line: Connection | None = None
        self._closed = False
        # Held while a process starts or is ended, which happens in different threads.
        self._changing = threading.Lock()

    async def made(self, task: Wanted, superseded: asyncio.Event) -> Reply | None:
        """What came of a task; None where something else was wanted before it came to its end, and it took too long."""
        answer = asyncio.create_task(asyncio.to_thread(self._asked, task))
        change = asyncio.create_task(superseded.wait())
        try:
            await asyncio.wait({answer, change}, return_when=asyncio.FIRST_COMPLETED)
            if not answer.done():
                await asyncio.wait({answer}, timeout=_PATIENCE)
            if answer.done():
                return answer.result()
            self._end()
            await answer
            return None
        finally:
            change.cancel()
            if not answer.done():
                self.close()
                with contextlib.suppress(asyncio.CancelledError, EOFError):
                    await answer

    def close(self) -> None:
        """End the process, whatever it is doing, for good."""
        self._closed = True
        self._end()

    def _end(self) -> None:
        with self._changing:
            process, self._process = self._process, None
            if process is not None:
                process.kill()
                process.join()

    def _asked(self, task: Wanted) -> Reply:
        process, line = self._ready()
        try:
            line.send(task)
            answer: Reply = line.recv()
        except (EOFError, OSError):
            process.join()
            code = process.exitcode or 0
            end = f"by signal {-code}" if code < 0 else f"with status {code}"
            problem = Problem(f"the process that draws was ended {end}", "perhaps for want of memory; save again to go on")
            return _failed(task, problem, frozenset([task.sketch]))
        return answer

    def _ready(self) -> tuple[BaseProcess, Connection]:
        """The process and the connection to it; raises EOFError if the press was closed before this thread could start
        one.
        """
        with self._changing:
            if self._closed:
                raise EOFError
            if self._process is None or self._line is None or not self._process.is_alive():
                context = multiprocessing.get_context("spawn")
                self._line, there = context.Pipe()
                self._process = context.Process(target=_work, args=(there, self._begin, self._background), daemon=True)
                self._process.start()
                there.close()
            return self._process, self._line


def _work(line: Connection, begin: Callable[[], None], background: bool) -> None:
    """The loop of the process: answer one task after another."""
    begin_worker()
    if background and hasattr(os, "nice"):
        os.nice(_BACKGROUND)
    begin()
    loaded: tuple[Path, int, Sketch] | None = None
    last: Made | None = None
    while True:
        try:
            task: Wanted = line.recv()
        except EOFError:
            return
        started = time.perf_counter()
        try:
            if loaded is None or loaded[:2] != (task.sketch, task.state):
                loaded = None
                linecache.checkcache()
                loops.forget()
                loaded = (task.sketch, task.state, load_sketch(task.sketch))
            match task:
                case Question():
                    reply: Reply = answered(loaded[2], task)
                case Keep():
                    reply = _kept(last)
                case Task():
                    reply, last = _shown(loaded[2], task, 1 if background else None)
        except MothSeedError as fault:
            sketch = loaded[2] if loaded else None
            known = [*sketch.module_files(), *sketch.pictures] if sketch else []
            place = [fault.place.file] if fault.place else []
            reply = _failed(task, Problem.of(fault), frozenset([task.sketch, *known, *place]))
        line.send(replace(reply, seconds=time.perf_counter() - started) if isinstance(reply, Shown) else reply)


def _failed(task: Wanted, problem: Problem, files: frozenset[Path]) -> Reply:
    match task:
        case Question():
            return Answer(problem=problem)
        case Keep():
            return Kept(problem=problem)
        case Task():
            return Shown(task.wish, problem=problem, files=files)


def _kept(made: Made | None) -> Kept:
    book = Daybook.of(made.sketch.path) if made else None
    return Kept(book.keep(made)) if made and book else Kept()


def _shown(sketch: Sketch, task: Task, threads: int | None) -> tuple[Shown, Made]:
    """What comes of a task, and what was made for it."""
    wish, dials, left_out = fitted(task.wish, sketch.artwork.dials)
    whole = make(sketch, replace(wish.recipe, dials=dials, without=()))
    layers = whole.drawing.layers
    wanted = wish.recipe.without
    without = tuple(layer for layer in sorted(set(wanted)) if layer in layers)
    left_out += [f"there is no layer {layer} to leave out" for layer in wanted if layer not in layers]
    wish = replace(wish, recipe=replace(wish.recipe, without=without))
    made = whole.without(without)
    settings = Settings(task.width, effort=Effort.QUICK, threads=threads)
    written = made.write(task.output, settings, guides=wish.guides)
    proof = Proof(
        file=task.output,
        width=int(written.width),
        height=int(written.height),
        marks=len(made.drawing),
        fingerprint=made.history.fingerprint,
        outcomes=tuple((outcome.label, outcome.value) for outcome in made.history.outcomes),
        dials=dials_of(sketch, made.impression.recipe.dials),
        layers=layers,
        streams=made.impression.streams,
    )
    files = frozenset([sketch.path, *sketch.module_files(), *made.impression.pictures])
    return Shown(wish, proof=proof, left_out=tuple(left_out), files=files), made
