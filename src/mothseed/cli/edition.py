"""mothseed edition: a series of editions in a folder."""

from __future__ import annotations

import argparse
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.cli.progress import Progress, stopping_on_interrupt
from mothseed.cli.recipe import add_recipe, proof_command, recipe_of
from mothseed.faults import SeriesError, UsageError

if TYPE_CHECKING:
    from mothseed.series import Crew, Edition, Limits, Request, Summary
    from mothseed.series.form import Form
    from mothseed.watch.filling import Filling

EXAMPLE = "mothseed edition specimen.py --seeds 1-24,40,lamp -o moths"

INTERRUPTED = 130
_TIME_LIMIT = 600.0


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "edition",
        "Make a series of editions in a folder, with a ledger, a copy of the source and a contact sheet. Run it "
        "again to make only what is missing or out of date. A plan, a TOML file, describes a whole series. Given "
        "the folder of a series, it makes prints of the editions you choose.",
        EXAMPLE,
    )
    options.add_sketch(parser, "a sketch (.py), a plan (.toml), or the folder of a series to print from")
    parser.add_argument("--seeds", metavar="SEEDS", help="seeds: 1-24,40,lamp")
    add_recipe(parser, seed=False)
    parser.add_argument("-o", dest="folder", type=Path, metavar="FOLDER", help="the series folder (default SKETCH-series)")
    options.add_selection(parser)
    options.add_marked(parser)
    parser.add_argument("--number", action="store_true", help="number the prints, as in 3/12")
    parser.add_argument("--dry-run", action="store_true", help="list what would be made, and why, without making it")
    parser.add_argument(
        "--format",
        action="append",
        default=[],
        metavar="FORMAT",
        help="also write each edition as svg, pdf, tiff, webp or jpg, in a folder of that name, or as a second png "
        "with --depth, --grey or --dither; repeatable",
    )
    options.add_rounding(parser)
    options.add_jobs(parser)
    parser.add_argument("--page", action="store_true", help="show the wall as it fills in the browser, on this machine only")
    parser.add_argument(
        "--time-limit",
        type=options.positive,
        default=_TIME_LIMIT,
        metavar="SECONDS",
        help="time allowed for one edition before it counts as failed (default 600)",
    )
    parser.add_argument(
        "--memory-limit",
        type=options.memory,
        metavar="SIZE",
        help="memory allowed for one edition: 2GB, 500MB (default: a fair share of the machine)",
    )
    parser.add_argument(
        "--cluster", metavar="ADDRESS", help="make them on the workers of a Dask scheduler, such as tcp://10.0.0.5:8786"
    )
    options.add_size(parser)
    options.add_theme(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


@dataclass(frozen=True, slots=True)
class _Asked:
    """What the command line, or its plan, asks for."""

    request: Request
    title: str
    caption: str
    shown: Path
    """the sketch, as its path was written"""


def run(arguments: argparse.Namespace) -> int:
    """Make the series; returns the exit status."""
    from mothseed.report.series_sheet import write_contact_sheet

    asked = _asked(arguments)
    request = asked.request
    if arguments.dry_run:
        of_series = arguments.sketch.is_dir()
        what = f"prints of {arguments.sketch} in {request.folder}" if of_series else str(request.folder)
        return _say_due(request, what, as_json=arguments.json)
    started = time.perf_counter()
    with _page(request, asked=arguments.page, as_json=arguments.json) as filling:
        summary = make_with_progress(request, arguments.jobs, _limits(arguments), arguments.cluster, filling)
        if filling:
            filling.words = _summary_words(summary)
    seconds = time.perf_counter() - started
    sheet = None
    if not summary.left:
        sheet = write_contact_sheet(request.folder, asked.title, asked.caption, options.theme(arguments))
    status = INTERRUPTED if summary.left else 1 if summary.failed else 0
    if arguments.json:
        console.say_json(
            {
                "folder": str(request.folder),
                "made": summary.made,
                "kept": summary.kept,
                "left": summary.left,
                "changed": list(summary.changed),
                "failed": [_failure(edition) for edition in summary.failed],
                "contact": str(sheet) if sheet else None,
                "seconds": round(seconds, 3),
            }
        )
        return status
    say_summary(request.folder, summary, seconds)
    if sheet:
        console.say(f"contact sheet: {sheet}")
    for edition in summary.failed:
        again = proof_command(asked.shown, edition)
        console.note(f"seed {edition.title} failed: {edition.error}\n  to see it: {again}")
    if summary.changed:
        names = ", ".join(summary.changed)
        console.note(
            f"{names} changed during the run, which used it as it was before; run the same command to update the editions"
        )
    if summary.left:
        console.note(f"Stopped with {summary.left} left to make. Run the same command to continue.")
    return status


def _failure(edition: Edition) -> dict[str, Any]:
    return {"seed": edition.seed, "variant": edition.variant, "error": edition.error}


def _asked(arguments: argparse.Namespace) -> _Asked:
    if arguments.sketch.is_dir():
        return _from_series(arguments)
    given = _given(arguments, ("--marked", "--where", "--sort", "--number"))
    if given:
        raise UsageError(f"{given} choose editions of a series", hint="name its folder: mothseed edition moths --marked keep")
    return _from_plan(arguments) if arguments.sketch.suffix.lower() == ".toml" else _from_options(arguments)


def _from_series(arguments: argparse.Namespace) -> _Asked:
    """A request for prints of chosen editions of a series."""
    from mothseed.series.prints import prints, sketch_of_prints
    from mothseed.sketch.artwork import size_for

    _refuse_beside(
        arguments, "a series", ("--seeds", "--settings", "--set", "--reseed", "--without"), "its editions are made as they were"
    )
    source: Path = arguments.sketch
    folder = arguments.folder or Path(f"{source.resolve().name}-prints")
    if folder.resolve() == source.resolve():
        raise UsageError(f"the prints of {source} need a folder of their own", hint=f"write -o {source.name}-prints")
    found = options.editions_of(source, options.condition(arguments), options.names(arguments.sort))
    chosen = [edition for edition in found if not edition.failed]
    if not chosen:
        raise SeriesError(f"no edition of {source} matches")
    sketch = sketch_of_prints(source, chosen)
    size = size_for(sketch.artwork, arguments.width, arguments.dpi)
    request = prints(sketch, chosen, size.pixels, folder, size.dpi, numbered=arguments.number, forms=_forms(arguments))
    return _Asked(request, folder.name, "", sketch.path)


def _refuse_beside(arguments: argparse.Namespace, what: str, names: Sequence[str], hint: str) -> None:
    given = _given(arguments, names)
    if given:
        raise UsageError(f"{given} cannot be given beside {what}", hint=hint)


def _given(arguments: argparse.Namespace, names: Sequence[str]) -> str:
    """Those of some options that were given, separated by commas."""
    values = {name: getattr(arguments, name.removeprefix("--").replace("-", "_")) for name in names}
    return ", ".join(name for name, value in values.items() if value and value != options.USUAL_DEPTH)


def _from_options(arguments: argparse.Namespace) -> _Asked:
    from mothseed.series import Request, Variant
    from mothseed.sketch import load_sketch
    from mothseed.sketch.artwork import size_for
    from mothseed.sketch.seeds import parse_seeds

    sketch = load_sketch(arguments.sketch)
    if not arguments.seeds:
        raise UsageError("--seeds is missing", hint="write --seeds 1-24")
    seeds = parse_seeds(arguments.seeds)
    size = size_for(sketch.artwork, arguments.width, arguments.dpi)
    variant = Variant(recipe=recipe_of(arguments, sketch))
    folder = arguments.folder or Path(f"{sketch.name}-series")
    request = Request.of(sketch, seeds, size.pixels, folder, size.dpi, (variant,), _forms(arguments))
    return _Asked(request, sketch.name, "", arguments.sketch)


def _forms(arguments: argparse.Namespace) -> tuple[Form, ...]:
    from mothseed.render.rounding import Rounding
    from mothseed.series.other_forms import forms_named

    rounding = Rounding(arguments.depth, arguments.grey, arguments.dither)
    return forms_named(arguments.format or ["png"], rounding, keep_text=arguments.keep_text)


def _from_plan(arguments: argparse.Namespace) -> _Asked:
    from mothseed.series import Request
    from mothseed.series.plan import read_plan

    told = ("--seeds", "--settings", "--set", "--reseed", "--without", "--width", "--dpi", "--format")
    forms = ("--depth", "--grey", "--dither", "--keep-text")
    _refuse_beside(arguments, "a plan", (*told, *forms), "write it into the plan")
    plan = read_plan(arguments.sketch)
    folder = arguments.folder or plan.folder
    request = Request.of(plan.sketch, plan.seeds, plan.size.pixels, folder, plan.size.dpi, plan.variants, plan.forms)
    return _Asked(request, arguments.sketch.stem, plan.caption, plan.sketch.path)


def _limits(arguments: argparse.Namespace) -> Limits:
    from mothseed.series.limits import Limits, fair_share_of_memory

    memory = arguments.memory_limit
    if memory is None and not arguments.cluster:  # whose machines have their own memory
        memory = fair_share_of_memory(options.workers(arguments.jobs))
    return Limits(arguments.time_limit, memory)


def _say_due(request: Request, what: str, *, as_json: bool) -> int:
    """Print which editions would be made, and why, without making them."""
    from mothseed.layout import LEDGER_NAME
    from mothseed.series import due

    known = options.editions_of(request.folder) if (request.folder / LEDGER_NAME).is_file() else []
    waiting = due(request, known)
    rows = [{"file": each.job.file.name, "seed": each.job.recipe.seed, "variant": each.job.variant, "reason": each.reason}
            for each in waiting]  # fmt: skip
    if as_json:
        console.say_json({"folder": str(request.folder), "due": rows})
        return 0
    for row in rows:
        console.say(f"{row['file']}  {row['reason']}")
    total = len(request.jobs)
    console.say(f"{what}: {len(rows)} of {total} would be made")
    return 0


def say_summary(folder: Path, summary: Summary, seconds: float) -> None:
    """Print what a run did, and how fast."""
    done = summary.made + len(summary.failed)
    rate = f", {done / seconds:.1f} a second" if done else ""
    console.say(f"{folder}: {_summary_words(summary)}; {seconds:.1f} s{rate}")


def _summary_words(summary: Summary) -> str:
    parts = [f"{summary.made} made"]
    if summary.kept:
        parts.append(f"{summary.kept} there already")
    if summary.failed:
        parts.append(f"{len(summary.failed)} failed")
    if summary.left:
        parts.append(f"{summary.left} left to make")
    return ", ".join(parts)


@contextmanager
def _page(request: Request, *, asked: bool, as_json: bool) -> Iterator[Filling | None]:
    """The page that shows the series as it fills, if asked for."""
    if not asked:
        yield None
        return
    from mothseed.watch.filling import Filling, shown_while_made

    filling = Filling(request.folder, f"mothseed lightbox {request.folder} --serve")
    artwork = request.sketch.artwork
    with shown_while_made(filling, artwork.height / artwork.width, partial(console.tell_page, as_json=as_json)):
        yield filling


def make_with_progress(
    request: Request,
    jobs: int | None,
    limits: Limits | None = None,
    cluster: str | None = None,
    filling: Filling | None = None,
) -> Summary:
    """Make a series, showing progress; on Ctrl-C, editions in progress are finished."""
    from mothseed.making import prepare_kernels
    from mothseed.series import Watcher, make_series
    from mothseed.series.limits import NO_LIMITS

    console.announce_waits()
    with Progress.shown("editions") as progress, stopping_on_interrupt() as interrupted:
        told: set[str] = set()

        class Shown(Watcher):
            def begin(self, total: int) -> None:
                if total:
                    prepare_kernels()
                progress.start(total)
                if filling:
                    filling.total = total

            def damaged(self, words: list[str]) -> None:
                options.tell_damaged(request.folder, words)

            def done(self, editions: list[Edition]) -> None:
                progress.advance(len(editions), sum(edition.failed for edition in editions))
                if filling:
                    filling.add(editions, progress.words)
                for trouble in dict.fromkeys(trouble for edition in editions for trouble in edition.troubles):
                    if trouble not in told:
                        told.add(trouble)
                        console.note(f"mothseed: {trouble}")

            def stop(self) -> bool:
                return bool(interrupted)

        with _crew(request, jobs, limits or NO_LIMITS, cluster) as crew:
            return make_series(request, crew, Shown())


@contextmanager
def _crew(request: Request, jobs: int | None, limits: Limits, cluster: str | None) -> Iterator[Crew]:
    from mothseed.series import in_this_process, processes

    editions = len(request.jobs)
    if cluster is not None:
        from mothseed.series.scheduler import cluster_crew

        with cluster_crew(cluster, request, lambda words: console.note(f"mothseed: {words}"), limits) as crew:
            yield crew
    elif editions == 1:
        yield in_this_process(request.sketch, limits)
    else:
        yield processes(options.workers(jobs, editions), limits)
