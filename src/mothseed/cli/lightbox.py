"""mothseed lightbox: a series as one web page, to look through, mark and compare."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli import console, options
from mothseed.cli.ending import until_interrupted
from mothseed.cli.light_table import USUAL_WIDTH, arranged, light_table, pictures_folder, written_page
from mothseed.cli.parser import command
from mothseed.faults import UsageError

if TYPE_CHECKING:
    from mothseed.series import Edition

EXAMPLE = "mothseed lightbox moths -o moths.html"


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "lightbox",
        "Write a series as a single web page, the light table: a wall of editions to sort, filter, mark and "
        "compare. It opens from disk and needs no server; save your marks to a file for mothseed mark --from. With "
        "--serve, marks go straight to the series.",
        EXAMPLE,
    )
    options.add_series(parser)
    options.add_selection(parser)
    options.add_marked(parser)
    parser.add_argument("--picture-width", type=options.positive_whole, default=USUAL_WIDTH, metavar="PIXELS",
                        help="width of the pictures in the page (default 360); full-size pictures come from the "
                             "series")  # fmt: skip
    parser.add_argument(
        "--serve", action="store_true", help="show it in the browser, on this machine only; marks go straight to the series"
    )
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
    output = options.output_path(arguments.output or Path(f"{name}-lightbox.html"), (".html", ".htm"), "an .html file")
    if arguments.serve and arguments.output:
        raise UsageError("-o and --serve cannot be combined", hint="leave one of them out")
    editions = options.chosen_to_show(arguments)
    if arguments.serve:
        return _serve(folder, editions, arguments.picture_width, as_json=arguments.json)
    beside = pictures_folder(output)
    page = written_page(
        folder,
        editions,
        output,
        arguments.picture_width,
        lambda name: (beside / name).is_file(),
        lambda name, content: write_bytes(beside / name, content),
    )
    write_bytes(output, page)
    console.tell_written(output, len(editions), len(page), as_json=arguments.json)
    return 0


def _serve(folder: Path, editions: Sequence[Edition], width: int, *, as_json: bool) -> int:
    """Show the light table until Ctrl-C is pressed."""
    from mothseed.files import begin_folder, end_folder
    from mothseed.watch.light_table import served_light_table
    from mothseed.watch.loopback import serve

    laid_out = arranged(editions)
    places = range(len(editions))
    addresses, addresses_of_small = [f"pictures/{place}.png" for place in places], [f"small/{place}.webp" for place in places]

    def page(marked: Sequence[Edition]) -> str:
        return light_table(folder, marked, addresses, addresses_of_small, laid_out, served=True)

    small = begin_folder("mothseed-small-")
    try:
        until_interrupted(
            serve(
                lambda token: served_light_table(folder, editions, page, small, width, token),
                partial(console.tell_page, as_json=as_json),
            )
        )
    finally:
        end_folder(small)
    return 0
