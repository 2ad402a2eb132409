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
    from mothseed.series.table import selected, table_of, usual_columns

    if arguments.csv and arguments.json:
        raise UsageError("--csv and --json cannot be combined", hint="leave one of them out")
    editions = options.editions_of(arguments.series)
    whole = table_of(editions)
    table = selected(whole, options.condition(arguments), options.names(arguments.sort))
    as_data = arguments.csv or arguments.json
    if arguments.columns.strip() == "all":
        table = table.chosen(whole.columns)
    elif arguments.columns:
        table = table.chosen(options.names(arguments.columns))
    elif not as_data:
        table = table.chosen(usual_columns(table, editions)).without_empty()
    if arguments.json:
        console.say_json(table.dicts())
    elif arguments.csv:
        console.say_csv(table.columns, table.rows)
    else:
        hidden = console.say_table(table.columns, table.rows, hiding=True)
        console.note(f"{len(table.rows)} of {len(whole.rows)} editions")
        if hidden:
            console.note(f"hidden to fit: {', '.join(hidden)}; choose with --columns, or write --csv")
    return 0
