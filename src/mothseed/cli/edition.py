"""mothseed edition: a series of editions in a folder."""

from __future__ import annotations

import argparse
import os
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli import console, options

if TYPE_CHECKING:
    from mothseed.series import Edition, Request, Summary

EXAMPLE = "mothseed edition specimen.py --seeds 1-24,40,lamp -o moths"


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = commands.add_parser(
        "edition",
        help="make or finish a series of editions in a folder",
        description="Make a series of editions in a folder, with a ledger, a copy of the source and a contact sheet. "
        "Run again, it makes only what is missing or no longer as it would be made now.",
        epilog=f"example: {EXAMPLE}",
    )
    options.add_sketch(parser)
    parser.add_argument("--seeds", required=True, metavar="SEEDS", help="which seeds: 1-24,40,lamp")
    parser.add_argument("-o", dest="folder", type=Path, metavar="FOLDER", help="the series folder (default SKETCH-series)")
    parser.add_argument(
        "--jobs", type=options.positive_whole, metavar="N", help="processes at work (default one for each processor)"
    )
    options.add_size(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Make the series; returns the exit status."""
    from mothseed.series import Request, parse_seeds
    from mothseed.sketch import load_sketch

    seeds = parse_seeds(arguments.seeds)
    reseeds = options.chosen_reseeds(arguments)
    sketch = load_sketch(arguments.sketch)
    size = options.chosen_size(arguments, sketch)
    request = Request(
        sketch=sketch,
        seeds=tuple(seeds),
        dials=options.chosen_dials(arguments, sketch),
        width=size.pixels,
        folder=arguments.folder or Path(f"{sketch.name}-series"),
        reseeds=reseeds,
        dpi=size.dpi,
    )
    started = time.perf_counter()
    summary = make_with_progress(request, arguments.jobs)
    seconds = time.perf_counter() - started
    contact = make_contact_sheet(request.folder, sketch.name)
    if arguments.json:
        console.say_json(
            {
                "folder": str(request.folder),
                "made": summary.made,
                "kept": summary.kept,
                "failed": [{"seed": edition.seed, "error": edition.error} for edition in summary.failed],
                "contact": str(contact) if contact else None,
                "seconds": round(seconds, 3),
            }
        )
        return 1 if summary.failed else 0
    say_summary(request.folder, summary, seconds)
    if contact:
        console.say(f"contact sheet: {contact}")
    for edition in summary.failed:
        again = console.proof_command(arguments.sketch, edition.seed, dict(arguments.set), reseeds)
        console.note(f"seed {edition.seed} failed: {edition.error}\n  to see it: {again}")
    return 1 if summary.failed else 0


def say_summary(folder: Path, summary: Summary, seconds: float) -> None:
    """One line on what a run did and how fast."""
    done = summary.made + len(summary.failed)
    parts = [f"{summary.made} made"]
    if summary.kept:
        parts.append(f"{summary.kept} there already")
    if summary.failed:
        parts.append(f"{len(summary.failed)} failed")
    rate = f", {done / seconds:.1f} a second" if done else ""
    console.say(f"{folder}: {', '.join(parts)}; {seconds:.1f} s{rate}")


def make_with_progress(request: Request, jobs: int | None) -> Summary:
    """Make a series, showing how far it is where somebody is watching."""
    from mothseed.render import prepare_renderer
    from mothseed.series import make_series

    workers = jobs or os.cpu_count() or 1
    console.announce_compiling()
    with _Progress.shown() as progress:

        def start(count: int) -> None:
            if count:
                prepare_renderer()
            progress.start(count)

        return make_series(request, workers, start, progress.advance)


class _Progress:
    """A bar with done, failed, rate and time left on a terminal; a line in ten seconds elsewhere."""

    _SECONDS_BETWEEN_LINES = 10.0

    def __init__(self) -> None:
        self._total = self._done = self._failed = 0
        self._started = self._last_line = time.monotonic()

    @classmethod
    @contextmanager
    def shown(cls) -> Iterator[_Progress]:
        """Progress on standard error, of the kind that suits it."""
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
            yield _Bar(bar)

    def start(self, total: int) -> None:
        """It is known how many there are."""
        self._total = total
        self._started = self._last_line = time.monotonic()

    def advance(self, edition: Edition) -> None:
        """One more is done."""
        self._done += 1
        self._failed += edition.failed
        self._show()

    @property
    def _rate(self) -> float:
        return self._done / max(time.monotonic() - self._started, 1e-9)

    def _show(self) -> None:
        now = time.monotonic()
        if now - self._last_line >= self._SECONDS_BETWEEN_LINES:
            self._last_line = now
            failed = f", {self._failed} failed" if self._failed else ""
            console.note(f"{self._done} of {self._total}{failed}, {self._rate:.1f} a second")


class _Bar(_Progress):
    def __init__(self, bar: object) -> None:
        super().__init__()
        from rich.progress import Progress

        assert isinstance(bar, Progress)
        self._bar = bar
        self._task = bar.add_task("editions", total=None, rate=0.0, failed="")

    def start(self, total: int) -> None:
        super().start(total)
        self._bar.update(self._task, total=total)

    def _show(self) -> None:
        failed = f"{self._failed} failed" if self._failed else ""
        self._bar.update(self._task, completed=self._done, rate=self._rate, failed=failed)


def make_contact_sheet(folder: Path, title: str) -> Path | None:
    """Write contact.png of all editions in a series folder that are done; None where there is none."""
    from mothseed.files import written_whole
    from mothseed.report.contact import Frame, contact_sheet
    from mothseed.series import series_editions

    frames = []
    for edition in series_editions(folder):
        if not edition.failed and (folder / edition.file).is_file():
            came = ", ".join(dict.fromkeys(str(outcome.value) for outcome in edition.outcomes))
            frames.append(Frame(folder / edition.file, str(edition.seed), came))
    if not frames:
        return None
    count = f"{len(frames)} edition{'s' * (len(frames) > 1)}"
    sheet = contact_sheet(frames, title, count)
    path = folder / "contact.png"
    with written_whole(path) as part:
        sheet.save(part, format="PNG", compress_level=1)
    return path
