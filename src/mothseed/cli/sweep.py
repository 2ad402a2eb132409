"""mothseed sweep: one labelled sheet over values of dials, seeds, streams or layers."""

from __future__ import annotations

import argparse
import tempfile
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli import console, options
from mothseed.cli.making import made_in_order
from mothseed.cli.parser import command
from mothseed.errors import SketchError, UsageError

if TYPE_CHECKING:
    from PIL.Image import Image

    from mothseed.series import Edition, Job, Seed, Variant
    from mothseed.series.vary import Axis
    from mothseed.sketch import Sketch

EXAMPLE = "mothseed sweep specimen.py --vary spots=0..4 --vary reseed:tint=1-5 --seed 8 -o sweep.png"

_CELL_WIDTH = 420
_MOST_CELLS = 400


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "sweep",
        "Make one labelled sheet on which one or two things vary: a dial, the seed, a stream that is drawn anew, "
        "a layer that is left out.",
        EXAMPLE,
    )
    options.add_sketch(parser)
    parser.add_argument(
        "--vary",
        action="append",
        required=True,
        metavar="NAME=VALUES",
        help="count=10,50,250 or spread=0..40/5 for a dial, seed=1-8, reseed:tint=1-5, without=none,glow; "
        "given twice, the second goes down the sheet",
    )
    parser.add_argument("--seed", default="1", metavar="SEED", help="the seed of all pictures (default 1)")
    options.add_without(parser)
    options.add_guides(parser)
    parser.add_argument("-o", dest="output", type=Path, metavar="FILE", help="where to write it (default SKETCH-sweep.png)")
    options.add_jobs(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Make the sheet; returns the exit status."""
    from mothseed.report.page import write_page
    from mothseed.series.vary import parse_axis
    from mothseed.sketch import load_sketch
    from mothseed.sketch.seeds import parse_seed

    started = time.perf_counter()
    if len(arguments.vary) > 2:
        raise UsageError("a sheet has two directions, so that at most two things can vary", hint="make several sheets")
    seed = parse_seed(arguments.seed)
    sketch = load_sketch(arguments.sketch)
    axes = [parse_axis(text, sketch.artwork.dials) for text in arguments.vary]
    if len({axis.name for axis in axes}) < len(axes):
        raise UsageError(f"{axes[0].name} is varied twice", hint="vary two different things")
    cells = len(axes[0].settings) * (len(axes[1].settings) if len(axes) > 1 else 1)
    if cells > _MOST_CELLS:
        raise UsageError(f"a sheet of {cells} pictures cannot be looked at", hint=f"keep it to {_MOST_CELLS} pictures")
    output = options.picture_path(arguments.output or Path(f"{sketch.name}-sweep.png"))
    with tempfile.TemporaryDirectory() as folder:
        jobs = list(_jobs(arguments, sketch, axes, seed, Path(folder)))
        editions = _made(jobs, sketch, arguments.jobs)
        sheet = _sheet(sketch, axes, arguments, jobs)
    write_page(sheet, output)
    seconds = time.perf_counter() - started
    if arguments.json:
        rows = [{"variant": edition.variant, "seed": edition.seed, "dials": edition.dials, "fingerprint": edition.fingerprint}
                for edition in editions]  # fmt: skip
        console.say_json({"file": str(output), "pictures": rows, "seconds": round(seconds, 3)})
        return 0
    console.say(f"{output}  {len(jobs)} pictures, {' by '.join(axis.name for axis in axes)}; {seconds:.1f} s")
    return 0


def _jobs(arguments: argparse.Namespace, sketch: Sketch, axes: list[Axis], seed: Seed, folder: Path) -> Iterator[Job]:
    """A job for each picture, row by row."""
    base = options.chosen_variant(arguments, sketch)
    across, down = axes[0].settings, axes[1].settings if len(axes) > 1 else (None,)
    for row, lower in enumerate(down):
        for col, upper in enumerate(across):
            variant: Variant = upper.after(base)
            own = upper.seed_or(seed)
            if lower is not None:
                variant = lower.after(variant)
                own = lower.seed_or(own)
            job = replace(variant, name=f"r{row}c{col}").job(sketch.path, own, _CELL_WIDTH, folder)
            yield replace(job, guides=arguments.guides)


def _made(jobs: list[Job], sketch: Sketch, workers: int | None) -> list[Edition]:
    """The editions, all done; raises SketchError for the first that failed."""
    editions = made_in_order(jobs, sketch, workers)
    for edition in editions:
        if edition.failed:
            again = console.proof_command(sketch.path, edition.seed, edition.dials, edition.reseeds, edition.without)
            raise SketchError(edition.error, hint=f"to see it: {again}")
    return editions


def _sheet(sketch: Sketch, axes: list[Axis], arguments: argparse.Namespace, jobs: list[Job]) -> Image:
    from mothseed.report.contact import Frame, contact_sheet
    from mothseed.report.grid import labelled_grid

    columns = [setting.label for setting in axes[0].settings]
    kept = [f"{name} {value}" for name, value in arguments.set]
    if all(axis.name != "seed" for axis in axes):
        kept.insert(0, f"seed {arguments.seed}")
    if len(axes) == 1:
        frames = [Frame(job.file, label) for job, label in zip(jobs, columns, strict=True)]
        return contact_sheet(frames, f"{sketch.name} by {axes[0].name}", ", ".join(kept))
    rows = [setting.label for setting in axes[1].settings]
    files = [[job.file for job in jobs[row * len(columns) :][: len(columns)]] for row in range(len(rows))]
    return labelled_grid(files, columns, rows, f"{sketch.name} by {axes[0].name} and {axes[1].name}", ", ".join(kept))
