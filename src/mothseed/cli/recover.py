"""mothseed recover: a ledger rebuilt from the pictures."""

from __future__ import annotations

import argparse

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.told import counted

EXAMPLE = "mothseed recover moths"


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "recover",
        "Rebuild a lost or damaged ledger from the history stored in the pictures. A damaged ledger is set aside, "
        "and any marks and notes that can still be read are kept. Timings, form signatures, mark counts and "
        "failures exist only in the ledger and are lost.",
        EXAMPLE,
    )
    options.add_series(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Build it; returns the exit status."""
    from mothseed.series.recover import recover_ledger

    found = recover_ledger(arguments.series)
    if arguments.json:
        console.say_json(
            {
                "editions": len(found.editions),
                "skipped": found.skipped,
                "marked": found.marked,
                "damaged": str(found.kept_old) if found.kept_old else None,
            }
        )
        return 0
    for line in found.skipped:
        console.note(f"left out: {line}")
    console.say(f"{arguments.series}: {counted(len(found.editions), 'edition', 'editions')} recovered")
    if found.kept_old:
        console.say(f"the damaged ledger was moved to {found.kept_old}")
        console.say(f"marks and notes recovered from it: {counted(found.marked, 'edition')}")
    console.say("not recovered, as pictures do not store it: timings, form signatures, mark counts, failed editions")
    return 0
