"""mothseed book: a series bound as one PDF."""

from __future__ import annotations

import argparse
from pathlib import Path

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.cli.progress import Progress
from mothseed.faults import UsageError
from mothseed.told import counted

EXAMPLE = 'mothseed book moths --marked keep --title "Moths of the register" -o moths.pdf'

_MOST = 1000
"""Most editions in one book; more would take more memory than most machines have."""


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "book",
        "Bind a series as one PDF: a title page, a page for each edition with its caption, contact pages, and a "
        "colophon with seeds, sources and hashes. Editions that were also written as PDF are bound as shapes.",
        EXAMPLE,
    )
    options.add_series(parser)
    options.add_selection(parser)
    options.add_marked(parser)
    parser.add_argument("--title", metavar="TEXT", help="title (default: the folder's name)")
    parser.add_argument("--subtitle", default="", metavar="TEXT", help="line below the title (default: how many of what)")
    options.add_paper(parser, "paper size (default A4)")
    parser.add_argument("-o", dest="output", type=Path, metavar="FILE", help="output file, .pdf (default SERIES-book.pdf)")
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Bind it; returns the exit status."""
    from mothseed.files import write_bytes
    from mothseed.report.binding import Book, book_of

    folder: Path = arguments.series
    name = folder.resolve().name
    output = options.output_path(arguments.output or Path(f"{name}-book.pdf"), (".pdf",), "a .pdf file")
    editions = options.chosen_to_show(arguments)
    if len(editions) > _MOST:
        words = f"{counted(len(editions), 'edition')} are too many for one book"
        raise UsageError(words, hint=f"choose {_MOST:,} or fewer with --where or --marked")
    width, height = options.PAPERS[arguments.paper]
    title = arguments.title if arguments.title is not None else name
    with Progress.shown("pages") as progress:
        progress.start(len(editions))
        content = book_of(folder, editions, Book(title, arguments.subtitle, width, height), progress.advance)
    write_bytes(output, content)
    console.tell_written(output, len(editions), len(content), as_json=arguments.json)
    return 0
