"""mothseed seek: seeds that meet a condition."""

from __future__ import annotations

import argparse
import tempfile
import time
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.cli.progress import Progress, stopping_on_interrupt
from mothseed.cli.recipe import add_recipe, recipe_of
from mothseed.faults import UsageError
from mothseed.told import assignments

if TYPE_CHECKING:
    from mothseed.report.theme import Theme
    from mothseed.series import Edition
    from mothseed.study.seek import Found, Search

EXAMPLE = "mothseed seek specimen.py --where \"form = 'hawk' and tint = 'amber' and symmetry > 0.95\" --count 4 -o four.png"

_WIDTH = 384
"""Measures are taken at 192 pixels; twice as many give the same results, and can be looked at."""


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "seek",
        "Search for seeds whose outcomes and measures meet a condition, one seed after another, until enough are "
        "found or the limit is reached. If the condition needs no measures, only the hits are painted. The exit "
        "status is 1 if too few are found.",
        EXAMPLE,
    )
    options.add_sketch(parser)
    add_recipe(parser, seed=False)
    options.add_where(parser)
    parser.add_argument("--count", type=options.positive_whole, default=1, metavar="N", help="how many to find (default 1)")
    parser.add_argument(
        "--most", type=options.positive_whole, default=1000, metavar="N", help="how many seeds to try at most (default 1000)"
    )
    parser.add_argument("--start", type=options.positive_whole, default=1, metavar="SEED", help="first seed to try (default 1)")
    parser.add_argument("-o", dest="output", type=Path, metavar="FILE", help="write a contact sheet of the hits as PNG")
    options.add_jobs(parser)
    options.add_theme(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Search; returns the exit status."""
    from mothseed.sketch import load_sketch
    from mothseed.study.seek import Search

    if not arguments.where.strip():
        raise UsageError(
            "--where is missing", hint="write --where \"form = 'hawk'\"; mothseed table shows the columns of a series"
        )
    output = options.picture_path(arguments.output) if arguments.output else None
    started = time.perf_counter()
    sketch = load_sketch(arguments.sketch)
    base = recipe_of(arguments, sketch)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        search = Search(sketch, base, arguments.where, arguments.count, arguments.start, arguments.most, _WIDTH, folder)
        found = _found(search, arguments.jobs)
        if output and found.editions:
            _write_sheet(search, found, output, options.theme(arguments))
    seconds = time.perf_counter() - started
    status = 0 if len(found.editions) == arguments.count else 1
    if arguments.json:
        console.say_json(
            {
                "seeds": [edition.seed for edition in found.editions],
                "editions": [_as_plain(edition) for edition in found.editions],
                "tried": found.tried,
                "failed": found.failed,
                "sheet": str(output) if output and found.editions else None,
                "seconds": round(seconds, 3),
            }
        )
        return status
    for edition in found.editions:
        came = assignments((outcome.label, outcome.value) for outcome in edition.outcomes)
        console.say(f"{edition.title}  {came}".rstrip())
    failed = f", {found.failed} of them failed" if found.failed else ""
    rate = f"{seconds:.1f} s, {found.tried / seconds:.0f} seeds a second"
    console.note(f"{len(found.editions)} of {arguments.count} found among {found.tried:,} seeds{failed}; {rate}")
    if found.editions:
        seeds = ",".join(str(edition.seed) for edition in found.editions)
        console.note(f"to make them: mothseed edition {arguments.sketch} --seeds {seeds}")
    if output and found.editions:
        console.say(f"sheet: {output}")
    return status


def _found(search: Search, jobs: int | None) -> Found:
    from mothseed.making import prepare_kernels
    from mothseed.series import in_this_process, processes
    from mothseed.study.seek import seek

    console.announce_waits()
    prepare_kernels()
    workers = options.workers(jobs, search.most)
    crew = processes(workers) if workers > 1 else in_this_process(search.sketch)
    with Progress.shown("seeds") as progress, stopping_on_interrupt() as interrupted:
        progress.start(search.most)
        return seek(search, crew, progress.advance, lambda: bool(interrupted))


def _write_sheet(search: Search, found: Found, output: Path, theme: Theme) -> None:
    from mothseed.report.contact import contact_sheet
    from mothseed.report.page import write_page
    from mothseed.report.series_sheet import frames_of

    frames = frames_of(search.folder, found.editions)
    title = f"{search.sketch.name}: {search.condition}"
    write_page(contact_sheet(frames, title, f"{len(frames)} of {found.tried:,} seeds", theme), output)


def _as_plain(edition: Edition) -> dict[str, Any]:
    from mothseed.records import as_plain_record

    return {
        "seed": edition.seed,
        "outcomes": as_plain_record(edition.outcomes),
        "measures": edition.measures,
        "palette": [list(swatch) for swatch in edition.palette],
    }
