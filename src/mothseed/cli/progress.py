"""Progress of a long run, and stopping it."""

from __future__ import annotations

import signal
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from types import FrameType

from mothseed.cli import console


@contextmanager
def stopping_on_interrupt() -> Iterator[list[int]]:
    """A list that is no longer empty once Ctrl-C was pressed; a second Ctrl-C interrupts as usual."""
    pressed: list[int] = []

    def note(number: int, frame: FrameType | None) -> None:
        if pressed:
            signal.default_int_handler(number, frame)
        pressed.append(number)
        console.note("Finishing what was begun; press Ctrl-C again to stop at once.")

    try:
        before = signal.signal(signal.SIGINT, note)
    except ValueError:  # not in the main thread, the only one that is interrupted
        yield pressed
        return
    try:
        yield pressed
    finally:
        signal.signal(signal.SIGINT, before)


class Progress:
    """A bar with done, failed, rate and time left on a terminal; elsewhere, a line every ten seconds."""

    def __init__(self) -> None:
        self._total = self._done = self._failed = 0
        self._started = self._last_line = time.monotonic()

    @classmethod
    @contextmanager
    def shown(cls, what: str) -> Iterator[Progress]:
        """Progress on standard error, in the form that suits it; `what` names the things counted."""
        if not sys.stderr.isatty():
            yield cls()
            return
        from rich.console import Console
        from rich.progress import BarColumn, MofNCompleteColumn, Progress, TextColumn, TimeRemainingColumn

        columns = (
            TextColumn("{task.description}"),
            BarColumn(complete_style="gold3", finished_style="gold3"),
            MofNCompleteColumn(),
            TextColumn("{task.fields[rate]:.1f}/s"),
            TextColumn("{task.fields[failed]}", style="red"),
            TimeRemainingColumn(),
        )
        with Progress(*columns, console=Console(stderr=True), transient=True) as bar:
            yield _Bar(bar, what)

    def start(self, total: int) -> None:
        """The total is known."""
        self._total = total
        self._started = self._last_line = time.monotonic()

    def advance(self, count: int, failed: int = 0) -> None:
        """So many more are done, of which so many failed."""
        self._done += count
        self._failed += failed
        self._show()

    @property
    def _rate(self) -> float:
        return self._done / max(time.monotonic() - self._started, 1e-9)

    @property
    def words(self) -> str:
        """How far it is: "116 of 200, 2 failed, 11.5 a second, about 7 s left", or "116 so far, 11.5 a second"."""
        failed = f", {self._failed} failed" if self._failed else ""
        if not self._total:  # the total is unknown
            return f"{self._done:,} so far{failed}, {self._rate:.1f} a second"
        left = (self._total - self._done) / max(self._rate, 1e-9)
        return f"{self._done:,} of {self._total:,}{failed}, {self._rate:.1f} a second, about {_duration(left)} left"

    def _show(self) -> None:
        now = time.monotonic()
        if now - self._last_line >= console.SECONDS_BETWEEN_LINES:
            self._last_line = now
            console.note(self.words)


def _duration(seconds: float) -> str:
    """A duration for people: 40 s, 12 min, 3.5 h."""
    if seconds < 90:
        return f"{seconds:.0f} s"
    return f"{seconds / 60:.0f} min" if seconds < 5400 else f"{seconds / 3600:.1f} h"


class _Bar(Progress):
    def __init__(self, bar: object, what: str) -> None:
        super().__init__()
        from rich.progress import Progress

        assert isinstance(bar, Progress)
        self._bar = bar
        self._task = bar.add_task(what, total=None, rate=0.0, failed="")

    def start(self, total: int) -> None:
        super().start(total)
        self._bar.update(self._task, total=total)

    def _show(self) -> None:
        failed = f"{self._failed} failed" if self._failed else ""
        self._bar.update(self._task, completed=self._done, rate=self._rate, failed=failed)
