"""mothseed verify: whether a series still gives the same pictures."""

from __future__ import annotations

import argparse
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.cli.progress import Progress
from mothseed.faults import UsageError
from mothseed.told import counted

if TYPE_CHECKING:
    from mothseed.repeat.verify import Again, Deviation

EXAMPLE = "mothseed verify moths --sample 12"


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "verify",
        "Check a series: compare its pictures with its ledger, then remake its editions from its own copy of the "
        "source, in fresh processes and in reverse order, and compare those too. For a single picture, remake it "
        "from its sketch. Nothing is changed. The exit status is 1 if anything differs.",
        EXAMPLE,
    )
    parser.add_argument("target", type=Path, metavar="SERIES", help="the folder of a series, or a picture")
    parser.add_argument("sketch", type=Path, nargs="?", metavar="SKETCH", help="for a picture: the sketch it was made from")
    parser.add_argument(
        "--sample", type=options.positive_whole, metavar="N", help="remake only N editions, evenly spaced (default: all)"
    )
    parser.add_argument(
        "--files", action="store_true", help="check the files only and run no code: for a series from someone else"
    )
    options.add_jobs(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Verify; returns the exit status."""
    from mothseed.repeat.verify import Deviation, again_from_source, files_against_ledger, files_against_manifest, sampled

    if arguments.target.is_file():
        return _check_picture(arguments)
    series: Path = arguments.target
    if arguments.sketch is not None:
        raise UsageError("a series has a copy of its sketch", hint=f"write mothseed verify {series}")
    if arguments.files and arguments.sample:
        raise UsageError("--files makes nothing again, so there is nothing to --sample")
    editions = options.editions_of(series)
    findings = [*files_against_manifest(series), *files_against_ledger(series, editions)]
    again: list[Again] = []
    if not arguments.files:
        sources = [again_from_source(series, edition) for edition in sampled(editions, arguments.sample)]
        findings += [each for each in sources if isinstance(each, Deviation)]
        again = [each for each in sources if not isinstance(each, Deviation)]
        findings += _made_again(again, arguments.jobs)
    stale = sum(each.is_stale for each in again)
    findings.sort(key=lambda finding: (finding.file, finding.kind))
    if arguments.json:
        console.say_json({"made_again": len(again), "stale": stale, "findings": [asdict(finding) for finding in findings]})
        return 1 if findings else 0
    for finding in findings:
        console.say_finding(f"{finding.file}  ", finding.kind, finding.words)
    failed = sum(edition.failed for edition in editions)
    more = f", {failed} failed" if failed else ""
    pictures = counted(len(editions) - failed, "picture")
    made = "nothing was run" if arguments.files else f"{len(again)} made again"
    console.say(f"{series}: {pictures}{more}; {made}; {counted(len(findings), 'finding')}")
    if stale:
        whose = "its drawing was" if stale == 1 else "their drawings were"
        console.say(f"stale: {counted(stale, 'picture')} painted by an older renderer; {whose} compared with today's")
    return 1 if findings else 0


def _made_again(again: list[Again], jobs: int | None) -> list[Deviation]:
    from mothseed.making import prepare_kernels
    from mothseed.repeat.verify import made_again

    console.announce_waits()
    prepare_kernels()
    with Progress.shown("editions") as progress:
        progress.start(len(again))
        return list(made_again(again, options.workers(jobs, len(again)), progress.advance)) if again else []


def _check_picture(arguments: argparse.Namespace) -> int:
    """Remake one picture from the sketch that was named."""
    from mothseed.repeat.one_picture import check_picture
    from mothseed.sketch import load_sketch

    picture: Path = arguments.target
    if arguments.sample or arguments.files:
        raise UsageError(f"{picture} is a picture, not a series, so there is nothing to choose from")
    if arguments.sketch is None:
        raise UsageError(f"which sketch is {picture} from?", hint=f"name it: mothseed verify {picture} specimen.py")
    console.announce_waits()
    checked = check_picture(picture, load_sketch(arguments.sketch))
    if arguments.json:
        told = {"fingerprint": checked.history.fingerprint, "compared": checked.compared, "findings": list(checked.findings)}
        console.say_json(told)
    elif checked.findings:
        for words in checked.findings:
            console.say(f"{picture}  {words}")
    else:
        console.say(f"{picture}  {checked.compared} {'are' if checked.with_pixels else 'is'} what {arguments.sketch} gives")
    return 1 if checked.findings else 0
