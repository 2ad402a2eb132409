"""mothseed table: the editions of a series as rows."""

from __future__ import annotations

import argparse

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.faults import UsageError

EXAMPLE = 'mothseed table moths --where "form = \'hawk\' and spots > 1" --sort "milliseconds desc"'


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "table",
        "List the editions of a series: seeds, dials, outcomes, and everything else in the ledger.",
        EXAMPLE,
    )
    options.add_series(parser)
    options.add_selection(parser)
    options.add_marked(parser)
    parser.add_argument("--columns", default="", metavar="COLUMNS", help="columns to show, separated by commas, or all")
    parser.add_argument("--csv", action="store_true", help="write CSV (RFC 4180)")
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Show the table; returns the exit status."""
    from mothseed.series.table import selected_of_series

    if arguments.csv and arguments.json:
        raise UsageError("--csv and --json cannot be combined", hint="leave one of them out")
    columns = options.names(arguments.columns)
    as_data = arguments.csv or arguments.json
    all_columns = columns == ["all"] or (as_data and not columns)
    where, sort = options.condition(arguments), options.names(arguments.sort)
    damaged: list[str] = []
    table, total = selected_of_series(arguments.series, where, sort, None if all_columns else columns, damaged)
    options.tell_damaged(arguments.series, damaged)
    if arguments.json:
        console.say_json(table.dicts())
    elif arguments.csv:
        console.say_csv(table.columns, table.rows)
    else:
        hidden = console.say_table(table.columns, table.rows, hiding=True)
        console.note(f"{len(table):,} of {total:,} editions")
        if hidden:
            console.note(f"hidden to fit: {', '.join(hidden)}; choose with --columns, or write --csv")
    return 0
