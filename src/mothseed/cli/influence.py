"""mothseed influence: which dial matters."""

from __future__ import annotations

import argparse
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.cli.batch import made_in_order, refuse_failed
from mothseed.cli.parser import command
from mothseed.cli.progress import Progress
from mothseed.cli.recipe import add_recipe, recipe_of
from mothseed.faults import UsageError
from mothseed.told import counted, told

if TYPE_CHECKING:
    from mothseed.study.influence import Influence

EXAMPLE = "mothseed influence specimen.py --seeds 8,2,10 -o influence.png"

_WIDTH = 240
_MOST_PICTURES = 2000


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "influence",
        "Find out which dials and streams of chance matter. Each dial is turned a little and a lot both ways, each "
        "stream is redrawn, and they are ranked by how much the picture changes on average over several seeds. A "
        "small picture shows each value tried.",
        EXAMPLE,
    )
    options.add_sketch(parser)
    parser.add_argument(
        "--seeds", default="1-3", metavar="SEEDS", help="seeds to average over (default 1-3); the first is shown"
    )
    add_recipe(parser, seed=False)
    parser.add_argument("-o", dest="output", type=Path, metavar="FILE", help="output file (default SKETCH-influence.png)")
    options.add_jobs(parser)
    options.add_theme(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Try every dial and stream; returns the exit status."""
    from mothseed.report.influence_sheet import influence_sheet
    from mothseed.report.page import write_page
    from mothseed.sketch import load_sketch
    from mothseed.sketch.seeds import parse_seeds
    from mothseed.study.influence import Experiment

    started = time.perf_counter()
    seeds = parse_seeds(arguments.seeds)
    sketch = load_sketch(arguments.sketch)
    output = options.picture_path(arguments.output or Path(f"{sketch.name}-influence.png"))
    with tempfile.TemporaryDirectory() as folder:
        experiment = Experiment.of(sketch, recipe_of(arguments, sketch), seeds, Path(folder), _WIDTH)
        jobs = experiment.jobs
        if len(jobs) > _MOST_PICTURES:
            raise UsageError(f"that would be {len(jobs):,} pictures", hint="try fewer seeds: --seeds 1-3")
        editions = made_in_order(jobs, sketch, arguments.jobs)
        refuse_failed(editions[: len(seeds)], arguments.sketch)
        with Progress.shown("attempts") as progress:
            influences = experiment.judged(editions, workers=options.workers(arguments.jobs), told=progress.advance)
        write_page(influence_sheet(influences, experiment, options.theme(arguments)), output)
    seconds = time.perf_counter() - started
    if arguments.json:
        rows = [_as_plain(influence) for influence in influences]
        console.say_json({"file": str(output), "influences": rows, "seconds": round(seconds, 3)})
        return 0
    _say(influences, len(seeds))
    console.say(f"{output}  {counted(len(jobs), 'picture')}, {counted(len(seeds), 'seed')}; {seconds:.1f} s")
    return 0


def _say(influences: Sequence[Influence], seeds: int) -> None:
    rows = []
    for influence in influences:
        known = [trial for trial in influence.trials if not trial.failed]
        most = max(known, key=lambda trial: trial.difference, default=None)
        label = f"{most.label}: {most.difference:.3f}" if most and most.difference else ""
        failed = f"{len(influence.trials) - len(known)} failed" if len(known) < len(influence.trials) else ""
        effect = f"{influence.effect:.4f}" if influence.effect else "nothing"
        remarks = "; ".join([failed] * bool(failed) + _remarks(influence, seeds))
        rows.append((influence.knob.name, influence.knob.kind, effect, f"{influence.noticeable:.1%}", label, remarks))
    console.say_table(("", "", "change in OKLab", "seen to differ", "most by", ""), rows)


def _remarks(influence: Influence, seeds: int) -> list[str]:
    """Remarks: where a dial has any effect, for how many seeds, and which parts of its range have none."""
    remarks = []
    if influence.works and (influence.works.dials or influence.works.seed is not None):
        remarks.append(f"works {influence.works.words}")
    if 0 < influence.seeds < seeds:
        remarks.append(f"changes {influence.seeds} of {seeds} seeds")
    remarks += [f"nothing changes from {told(low)} to {told(high)}" for low, high in influence.dead]
    return remarks


def _as_plain(influence: Influence) -> dict[str, Any]:
    from mothseed.chance.outcome import as_plain

    trials = [
        {"setting": trial.label, "difference": trial.difference, "noticeable": trial.noticeable, "error": trial.failed}
        for trial in influence.trials
    ]
    return {
        "name": influence.knob.name,
        "kind": influence.knob.kind,
        "effect": influence.effect,
        "noticeable": influence.noticeable,
        "trials": trials,
        "seeds": influence.seeds,
        "works_with": None
        if influence.works is None
        else {
            "dials": {name: as_plain(value) for name, value in influence.works.dials.items()},
            "seed": influence.works.seed,
        },
        "dead": [list(part) for part in influence.dead],
    }
