"""mothseed mark: what the artist thinks of editions."""

from __future__ import annotations

import argparse

from mothseed.cli import console, options
from mothseed.errors import UsageError

EXAMPLE = 'mothseed mark moths 3,7-9,lamp keep --note "for the wall"'

_MARKS = ("keep", "drop", "maybe", "none")


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = commands.add_parser(
        "mark",
        help="keep, drop or set aside editions, with a note",
        description="Mark editions of a series as kept, dropped or undecided, with a note. Marks stay when editions are made "
        "again; mothseed table shows them.",
        epilog=f"example: {EXAMPLE}",
    )
    options.add_series(parser)
    parser.add_argument("seeds", metavar="SEEDS", help="which seeds: 3,7-9,lamp")
    parser.add_argument("mark", nargs="?", choices=_MARKS, metavar="MARK", help="keep, drop, maybe, or none to take it off")
    parser.add_argument("--note", metavar="TEXT", help='a note; "" takes it off')
    parser.add_argument("--variant", metavar="NAME", help="of that variant alone (default all)")
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Mark them; returns the exit status."""
    from mothseed.series import parse_seeds
    from mothseed.series.ledger import Ledger

    if arguments.mark is None and arguments.note is None:
        raise UsageError("mark them as what?", hint=f"write {' or '.join(_MARKS)}, or --note")
    seeds = parse_seeds(arguments.seeds)
    mark = "" if arguments.mark == "none" else arguments.mark
    with Ledger.of(arguments.series) as ledger:
        chosen = [
            edition for edition in ledger.editions() if edition.seed in seeds and arguments.variant in (None, edition.variant)
        ]
        missing = [seed for seed in seeds if seed not in {edition.seed for edition in chosen}]
        if missing:
            named = ", ".join(map(str, missing[:12])) + ", ..." * (len(missing) > 12)
            of = f" of variant {arguments.variant}" if arguments.variant is not None else ""
            raise UsageError(f"{arguments.series} has no edition {named}{of}", hint="nothing was changed")
        ledger.mark([edition.key for edition in chosen], mark, arguments.note)
    if arguments.json:
        console.say_json({"marked": [{"seed": edition.seed, "variant": edition.variant} for edition in chosen]})
        return 0
    word = {"keep": "kept", "drop": "dropped", "maybe": "set aside", "none": "no longer marked", None: "given a note"}
    console.say(f"{arguments.series}: {len(chosen)} {word[arguments.mark]}")
    return 0
