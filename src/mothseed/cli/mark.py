"""mothseed mark: what the artist thinks of editions."""

from __future__ import annotations

import argparse
from collections import Counter
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.faults import UsageError

if TYPE_CHECKING:
    from mothseed.series.edition import Key

EXAMPLE = 'mothseed mark moths 3,7-9,lamp keep --note "for the wall"'

_MARKS = (*options.MARKS, "none")


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "mark",
        "Mark editions of a series to keep, drop or think about, with a note. Marks survive when editions are "
        "remade; mothseed table shows them.",
        EXAMPLE,
    )
    options.add_series(parser)
    parser.add_argument("seeds", nargs="?", metavar="SEEDS", help="seeds: 3,7-9,lamp")
    parser.add_argument("mark", nargs="?", choices=_MARKS, metavar="MARK", help="keep, drop, maybe, or none to clear the mark")
    parser.add_argument("--note", metavar="TEXT", help='a note; "" clears it')
    parser.add_argument("--variant", metavar="NAME", help="only this variant (default: all)")
    parser.add_argument(
        "--from", dest="file", type=Path, metavar="FILE", help="read the marks from a file saved by the light table"
    )
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Mark them; returns the exit status."""
    from mothseed.series.ledger import Ledger

    if arguments.file and (arguments.seeds or arguments.note is not None or arguments.variant is not None):
        raise UsageError("--from has seeds, marks and notes of its own", hint="leave the others out")
    with Ledger.of(arguments.series) as ledger:
        keys = ledger.keys()
        marks = _from_file(arguments, keys) if arguments.file else _from_options(arguments, keys)
        ledger.mark(marks)
    if arguments.json:
        console.say_json({"marked": [{"seed": seed, "variant": variant} for (variant, seed), _, _ in marks]})
        return 0
    words = {"keep": "kept", "drop": "dropped", "maybe": "set aside", "": "not marked", None: "given a note"}
    counts = Counter(words[mark] for _, mark, _ in marks)
    console.say(f"{arguments.series}: " + (", ".join(f"{count} {word}" for word, count in counts.items()) or "nothing to mark"))
    return 0


_Marks = list[tuple["Key", str | None, str | None]]


def _from_options(arguments: argparse.Namespace, keys: Sequence[Key]) -> _Marks:
    from mothseed.sketch.seeds import parse_seeds

    if not arguments.seeds:
        raise UsageError("the seeds to mark are missing", hint="write mothseed mark SERIES 3,7-9 keep, or --from FILE")
    if arguments.mark is None and arguments.note is None:
        raise UsageError("the mark is missing", hint=f"write {' or '.join(_MARKS)}, or --note")
    seeds = dict.fromkeys(parse_seeds(arguments.seeds))
    chosen = [(variant, seed) for variant, seed in keys if seed in seeds and arguments.variant in (None, variant)]
    found = {seed for _, seed in chosen}
    _refuse_missing(arguments, [seed for seed in seeds if seed not in found])
    mark = "" if arguments.mark == "none" else arguments.mark
    return [(key, mark, arguments.note) for key in chosen]


def _from_file(arguments: argparse.Namespace, keys: Sequence[Key]) -> _Marks:
    from mothseed.series.marking import read_marks

    marks = read_marks(arguments.file)
    known = set(keys)
    _refuse_missing(arguments, [f"{each.seed} {each.variant}".rstrip() for each in marks if each.key not in known])
    return [(each.key, each.mark, each.note) for each in marks]


def _refuse_missing(arguments: argparse.Namespace, missing: Sequence[object]) -> None:
    if missing:
        named = ", ".join(map(str, missing[:12])) + ", ..." * (len(missing) > 12)
        of = f" of variant {arguments.variant}" if arguments.variant is not None else ""
        raise UsageError(f"{arguments.series} has no edition {named}{of}", hint="nothing was changed")
