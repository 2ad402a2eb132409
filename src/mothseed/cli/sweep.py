"""mothseed sweep: one labelled sheet over values of dials, seeds, streams or layers."""

from __future__ import annotations

import argparse
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli import console, options
from mothseed.cli.batch import made_in_order, refuse_failed
from mothseed.cli.parser import command
from mothseed.cli.recipe import add_recipe, recipe_of
from mothseed.faults import UsageError
from mothseed.told import counted

if TYPE_CHECKING:
    from PIL.Image import Image

    from mothseed.series import Job
    from mothseed.sketch import Sketch
    from mothseed.sketch.vary import Axis

EXAMPLE = "mothseed sweep specimen.py --vary spots=0..4 --vary reseed:tint=1-5 --seed 8 -o sweep.png"

_MOST_CELLS = 400


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "sweep",
        "Make one labelled sheet that varies one or two things: a dial, the seed, a redrawn stream, a layer left out.",
        EXAMPLE,
    )
    options.add_sketch(parser)
    parser.add_argument(
        "--vary",
        action="append",
        required=True,
        metavar="NAME=VALUES",
        help="count=10,50,250 or spread=0..40/5 for a dial, seed=1-8, reseed:tint=1-5, without=none,glow; give it "
        "twice to vary a second thing down the sheet",
    )
    add_recipe(parser)
    options.add_guides(parser)
    parser.add_argument("-o", dest="output", type=Path, metavar="FILE", help="output file (default SKETCH-sweep.png)")
    options.add_jobs(parser)
    options.add_theme(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Make the sheet; returns the exit status."""
    from mothseed.report.page import write_page
    from mothseed.sketch import load_sketch
    from mothseed.sketch.vary import parse_axis

    started = time.perf_counter()
    if len(arguments.vary) > 2:
        raise UsageError("a sheet can vary two things at most", hint="make several sheets")
    sketch = load_sketch(arguments.sketch)
    axes = [parse_axis(text, sketch.artwork.dials) for text in arguments.vary]
    if len({axis.name for axis in axes}) < len(axes):
        raise UsageError(f"{axes[0].name} is varied twice", hint="vary two different things")
    cells = len(axes[0].settings) * (len(axes[1].settings) if len(axes) > 1 else 1)
    if cells > _MOST_CELLS:
        raise UsageError(f"a sheet of {cells} pictures is too large", hint=f"keep it to {_MOST_CELLS} pictures")
    output = options.picture_path(arguments.output or Path(f"{sketch.name}-sweep.png"))
    with tempfile.TemporaryDirectory() as folder:
        jobs = list(_jobs(arguments, sketch, axes, Path(folder)))
        editions = made_in_order(jobs, sketch, arguments.jobs)
        refuse_failed(editions, arguments.sketch)
        sheet = _sheet(sketch, axes, arguments, jobs)
    write_page(sheet, output)
    seconds = time.perf_counter() - started
    if arguments.json:
        rows = [{"variant": edition.variant, "seed": edition.seed, "dials": edition.dials, "fingerprint": edition.fingerprint}
                for edition in editions]  # fmt: skip
        console.say_json({"file": str(output), "pictures": rows, "seconds": round(seconds, 3)})
        return 0
    console.say(f"{output}  {counted(len(jobs), 'picture')}, {' by '.join(axis.name for axis in axes)}; {seconds:.1f} s")
    return 0


def _jobs(arguments: argparse.Namespace, sketch: Sketch, axes: list[Axis], folder: Path) -> Iterator[Job]:
    """A job for each picture, row by row."""
    from mothseed.series import Job

    base, width = recipe_of(arguments, sketch), _shown_width(sketch, axes)
    across, down = axes[0].settings, axes[1].settings if len(axes) > 1 else (None,)
    for row, lower in enumerate(down):
        for col, upper in enumerate(across):
            recipe = upper.after(base)
            if lower is not None:
                recipe = lower.after(recipe)
            yield Job(sketch.path, recipe, width, None, folder, f"r{row}c{col}", guides=arguments.guides, measured=False)


def _shown_width(sketch: Sketch, axes: list[Axis]) -> int:
    """How wide the pictures are on the sheet."""
    from mothseed.report.contact import shown_width
    from mothseed.report.grid import cell_width

    count = len(axes[0].settings)
    return cell_width(count) if len(axes) > 1 else shown_width(count, sketch.artwork.height / sketch.artwork.width)


def _sheet(sketch: Sketch, axes: list[Axis], arguments: argparse.Namespace, jobs: list[Job]) -> Image:
    from mothseed.report.contact import Frame, contact_sheet
    from mothseed.report.grid import labelled_grid

    columns = [setting.label for setting in axes[0].settings]
    kept = [f"{name} {value}" for name, value in arguments.set]
    if all(axis.name != "seed" for axis in axes):
        kept.insert(0, f"seed {arguments.seed}")
    if len(axes) == 1:
        frames = [Frame(job.file, label) for job, label in zip(jobs, columns, strict=True)]
        return contact_sheet(frames, f"{sketch.name} by {axes[0].name}", ", ".join(kept), options.theme(arguments))
    rows = [setting.label for setting in axes[1].settings]
    files = [[job.file for job in jobs[row * len(columns) :][: len(columns)]] for row in range(len(rows))]
    title = f"{sketch.name} by {axes[0].name} and {axes[1].name}"
    return labelled_grid(files, columns, rows, title, ", ".join(kept), options.theme(arguments))
