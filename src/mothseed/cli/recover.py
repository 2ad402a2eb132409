"""mothseed recover: a ledger built again from the pictures."""

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
        "Build the ledger of a series again from the history that its pictures carry, where it is damaged or gone. "
        "A damaged one is moved aside; its marks and notes are kept as far as they can be read. How long editions took, their "
        "forms, counts of marks and failures were in it alone.",
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
    console.say(f"{arguments.series}: {counted(len(found.editions), 'edition is', 'editions are')} in the ledger again")
    if found.kept_old:
        marked = counted(found.marked, "edition has its mark or note", "editions have their marks and notes")
        console.say(f"the damaged ledger is {found.kept_old}; {marked} from there")
    console.say(
        "not in the pictures, and so not recovered: how long each took, its forms, counts of its marks, failed editions"
    )
    return 0
