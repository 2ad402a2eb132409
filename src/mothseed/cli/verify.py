"""mothseed verify: a series held against itself."""

from __future__ import annotations

import argparse
from dataclasses import asdict

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.cli.progress import Progress
from mothseed.told import counted

EXAMPLE = "mothseed verify moths --sample 12"


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "verify",
        "Hold the pictures of a series against its ledger, then make its editions once more, from the series' own "
        "copy of the source, in fresh processes and in another order, and hold those against both. "
        "Nothing is changed; exit status 1 where something is not as it was.",
        EXAMPLE,
    )
    options.add_series(parser)
    parser.add_argument(
        "--sample", type=options.positive_whole, metavar="N", help="make only so many again, evenly chosen (default all)"
    )
    options.add_jobs(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Verify; returns the exit status."""
    from mothseed.making import prepare_kernels
    from mothseed.repeat.verify import Deviation, again_from_source, files_against_ledger, made_again, sampled

    editions = options.editions_of(arguments.series)
    findings = list(files_against_ledger(arguments.series, editions))
    sources = [again_from_source(arguments.series, edition) for edition in sampled(editions, arguments.sample)]
    findings += [each for each in sources if isinstance(each, Deviation)]
    again = [each for each in sources if not isinstance(each, Deviation)]
    console.announce_waits()
    prepare_kernels()
    with Progress.shown("editions") as progress:
        progress.start(len(again))
        if again:
            findings += made_again(again, options.workers(arguments.jobs, len(again)), progress.advance)
    stale = sum(each.is_stale for each in again)
    findings.sort(key=lambda finding: (finding.file, finding.kind))
    if arguments.json:
        console.say_json({"made_again": len(again), "stale": stale, "findings": [asdict(finding) for finding in findings]})
        return 1 if findings else 0
    for finding in findings:
        console.say(f"{finding.file}  {finding.kind}: {finding.words}")
    failed = sum(edition.failed for edition in editions)
    more = f", {failed} failed" if failed else ""
    pictures = counted(len(editions) - failed, "picture")
    console.say(f"{arguments.series}: {pictures}{more}; {len(again)} made again; {counted(len(findings), 'finding')}")
    if stale:
        whose = "it; its drawing was" if stale == 1 else "them; their drawings were"
        console.say(f"stale: {counted(stale, 'picture')}, as an older renderer painted {whose} held against what is drawn now")
    return 1 if findings else 0
