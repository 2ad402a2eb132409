"""mothseed influence: which dial matters."""

from __future__ import annotations

import argparse
import math
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.cli.making import made_in_order
from mothseed.cli.parser import command
from mothseed.errors import SketchError, UsageError

if TYPE_CHECKING:
    from PIL.Image import Image

    from mothseed.compare.influence import Influence, Knob, Trial
    from mothseed.series import Seed, Variant
    from mothseed.sketch import Sketch

EXAMPLE = "mothseed influence specimen.py --seeds 8,2,10 -o influence.png"

_WIDTH = 240
_MOST_PICTURES = 2000


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "influence",
        "Turn each dial of a sketch a little and a good deal to either side of where it is set, draw each stream "
        "of chance anew, and rank them by how much the picture changes, on average over some seeds; with a small picture for "
        "each value that was tried.",
        EXAMPLE,
    )
    options.add_sketch(parser)
    parser.add_argument("--seeds", default="1-3", metavar="SEEDS", help="which seeds (default 1-3); the first is shown")
    options.add_without(parser)
    parser.add_argument("-o", dest="output", type=Path, metavar="FILE", help="the sheet (default SKETCH-influence.png)")
    options.add_jobs(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Try them all; returns the exit status."""
    from mothseed.compare.influence import knobs, ranked
    from mothseed.report.page import write_page
    from mothseed.series import parse_seeds
    from mothseed.sketch import load_sketch, perform
    from mothseed.sketch.perform import dial_values

    started = time.perf_counter()
    seeds = parse_seeds(arguments.seeds)
    sketch = load_sketch(arguments.sketch)
    output = options.picture_path(arguments.output or Path(f"{sketch.name}-influence.png"))
    base = options.chosen_variant(arguments, sketch)
    streams = perform(sketch, seeds[0], base.dials, base.reseeds, base.without).streams
    every = list(knobs(sketch, dial_values(sketch.artwork.dials, base.dials), streams))
    if not every:
        raise UsageError(f"{sketch.path.name} has nothing to turn: no dial, no stream of chance",
                         hint="write a dial: def plate(sheet, chance, *, count=dial(5, 1, 50))")  # fmt: skip
    count = len(seeds) * (1 + sum(len(knob.settings) for knob in every))
    if count > _MOST_PICTURES:
        raise UsageError(f"that would be {count:,} pictures", hint="try fewer seeds: --seeds 1-3")
    with tempfile.TemporaryDirectory() as folder:
        influences = ranked(_tried(arguments, sketch, every, base, seeds, Path(folder)))
        sheet = _sheet(influences, sketch, seeds, Path(folder))
    write_page(sheet, output)
    seconds = time.perf_counter() - started
    if arguments.json:
        rows = [_as_plain(influence) for influence in influences]
        console.say_json({"file": str(output), "influences": rows, "seconds": round(seconds, 3)})
        return 0
    _say(influences)
    console.say(f"{output}  {count} pictures, {len(seeds)} seed{'s' * (len(seeds) > 1)}; {seconds:.1f} s")
    return 0


def _tried(
    arguments: argparse.Namespace, sketch: Sketch, every: Sequence[Knob], base: Variant, seeds: Sequence[Seed], folder: Path
) -> list[Influence]:
    """Make all pictures and hold each against the one as it is."""
    from mothseed.compare.influence import Influence, turned

    variants = [(knob, list(turned(knob, base))) for knob in every]
    jobs = [base.job(sketch.path, seed, _WIDTH, folder) for seed in seeds]
    jobs += [variant.job(sketch.path, seed, _WIDTH, folder) for _, some in variants for variant in some for seed in seeds]
    made = {edition.key: edition for edition in made_in_order(jobs, sketch, arguments.jobs)}
    for seed in seeds:
        if made["", seed].failed:
            again = console.proof_command(arguments.sketch, seed, dict(arguments.set), base.reseeds, base.without)
            raise SketchError(made["", seed].error, hint=f"to see it: {again}")
    influences = []
    for knob, some in variants:
        trials = []
        for setting, variant in zip(knob.settings, some, strict=True):
            failed = [made[variant.name, seed].error for seed in seeds if made[variant.name, seed].failed]
            trials.append(_trial(setting.label, folder, seeds, variant.name, failed[-1] if failed else ""))
        influences.append(Influence(knob, tuple(trials)))
    return influences


def _trial(label: str, folder: Path, seeds: Sequence[Seed], variant: str, failed: str) -> Trial:
    from mothseed.compare import paired
    from mothseed.compare.influence import Trial
    from mothseed.measure.reduced import on_white
    from mothseed.render.png import read_pixels
    from mothseed.sketch.seeds import edition_file

    if failed:
        return Trial(label, 0.0, 0.0, failed)
    pairs = []
    for seed in seeds:
        before, after = (on_white(read_pixels(folder / edition_file(seed, name))) for name in ("", variant))
        pairs.append(paired(before, after))
    means, noticeable = ([getattr(pair, name) for pair in pairs] for name in ("mean", "noticeable"))
    return Trial(label, math.fsum(means) / len(means), math.fsum(noticeable) / len(noticeable))


def _sheet(influences: Sequence[Influence], sketch: Sketch, seeds: Sequence[Seed], folder: Path) -> Image:
    from mothseed.report.influence_sheet import Row, influence_sheet
    from mothseed.sketch.seeds import edition_file

    rows = []
    for influence in influences:
        knob = influence.knob
        names = [edition_file(seeds[0], f"{knob.kind}-{knob.name}-{number}") for number in range(len(knob.settings))]
        tiles = [(setting.label.removeprefix(f"{knob.name} "), None if trial.failed else folder / name)
                 for setting, trial, name in zip(knob.settings, influence.trials, names, strict=True)]  # fmt: skip
        words = f"{influence.effect:.3f}; {influence.noticeable:.0%} seen to differ" if influence.effect else "changes nothing"
        rows.append(Row(knob.name, knob.kind, influence.effect, words, tuple(tiles)))
    subtitle = f"seed {seeds[0]}; bars: mean change over {len(seeds)} seed{'s' * (len(seeds) > 1)}"
    return influence_sheet(rows, folder / edition_file(seeds[0]), f"what matters in {sketch.name}", subtitle)


def _say(influences: Sequence[Influence]) -> None:
    rows = []
    for influence in influences:
        known = [trial for trial in influence.trials if not trial.failed]
        most = max(known, key=lambda trial: trial.difference, default=None)
        label = f"{most.label}: {most.difference:.3f}" if most and most.difference else ""
        failed = f"{len(influence.trials) - len(known)} failed" if len(known) < len(influence.trials) else ""
        effect = f"{influence.effect:.4f}" if influence.effect else "nothing"
        rows.append((influence.knob.name, influence.knob.kind, effect, f"{influence.noticeable:.1%}", label, failed))
    console.say_table(("", "", "change in OKLab", "seen to differ", "most by", ""), rows)


def _as_plain(influence: Influence) -> dict[str, Any]:
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
    }
