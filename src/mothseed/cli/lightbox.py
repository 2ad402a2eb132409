"""mothseed lightbox: a series as one web page, to look through, mark and compare."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.cli.progress import Progress
from mothseed.cli.recipe import proof_command
from mothseed.faults import SeriesError, UsageError
from mothseed.files import renamed
from mothseed.told import counted

if TYPE_CHECKING:
    from mothseed.series import Edition

EXAMPLE = "mothseed lightbox moths -o moths.html"

_USUAL_WIDTH = 360


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "lightbox",
        "Write a series as a single web page, the light table: a wall of editions to sort, filter, mark and "
        "compare. It opens from disk and needs no server. Save your marks to a file for mothseed mark --from.",
        EXAMPLE,
    )
    options.add_series(parser)
    options.add_selection(parser)
    options.add_marked(parser)
    parser.add_argument("--picture-width", type=options.positive_whole, default=_USUAL_WIDTH, metavar="PIXELS",
                        help="width of the pictures in the page (default 360); full-size pictures come from the "
                             "series")  # fmt: skip
    parser.add_argument(
        "-o", dest="output", type=Path, metavar="FILE", help="output file, .html (default SERIES-lightbox.html)"
    )
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Write the page; returns the exit status."""
    from mothseed.files import write_bytes

    folder: Path = arguments.series
    name = folder.resolve().name
    output: Path = arguments.output or Path(f"{name}-lightbox.html")
    if output.suffix.lower() not in (".html", ".htm") or output.is_dir():
        raise UsageError(f"{output} is not an .html file", hint=f"write -o {renamed(output, '.html').name}")
    editions = options.editions_with_pictures(folder, options.condition(arguments), options.names(arguments.sort))
    if not editions:
        raise SeriesError(f"no edition of {folder} matches")
    page = page_of(folder, editions, output, arguments.picture_width)
    write_bytes(output, page)
    if arguments.json:
        console.say_json({"file": str(output), "editions": len(editions), "bytes": len(page)})
        return 0
    console.say(f"{output}  {counted(len(editions), 'edition')}, {len(page) / 1e6:.1f} MB")
    return 0


def page_of(folder: Path, editions: Sequence[Edition], output: Path, picture_width: int = _USUAL_WIDTH) -> bytes:
    """The light table of editions of a series, as it is to lie at `output`."""
    from mothseed.report.lightbox import card_of, lightbox

    with Progress.shown("pictures") as progress:
        progress.start(len(editions))
        cards = [card_of(folder, edition, output, _again(folder, edition)) for edition in editions]
        return lightbox(folder.resolve().name, cards, picture_width, progress.advance).encode("utf-8")


def _again(folder: Path, edition: Edition) -> str:
    """The command that makes an edition again, from the series' own copy of its sketch."""
    from mothseed.layout import SOURCE_FOLDER

    return proof_command(folder / SOURCE_FOLDER / edition.sketch, edition)
