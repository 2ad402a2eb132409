"""mothseed contact: a contact sheet, sorted, filtered, captioned."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.faults import SeriesError
from mothseed.told import counted

if TYPE_CHECKING:
    from PIL.Image import Image

EXAMPLE = 'mothseed contact moths --where "form = \'hawk\'" --sort "coverage desc" --caption "{tint}" -o hawks.png'

_RESOLUTION = 200
_MARGIN_INCHES = 12 / 25.4
_USUAL_ON_PAPER = 20


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "contact",
        "Lay out a series as a contact sheet, or as PDF pages for print: filtered, sorted, grouped by a column, "
        "with captions of your choice. Dots show your marks.",
        EXAMPLE,
    )
    options.add_series(parser)
    options.add_selection(parser)
    parser.add_argument(
        "--group", default="", metavar="COLUMN", help="start a section for each value of a column, such as form"
    )
    options.add_marked(parser)
    parser.add_argument("--caption", default="", metavar="TEXT", help='caption, with columns in braces: "{form}, {tint}"')
    parser.add_argument("--title", metavar="TEXT", help="heading (default: the folder's name)")
    parser.add_argument(
        "--per-page", type=options.positive_whole, metavar="N", help="pictures per page (default 400, or 20 on paper)"
    )
    options.add_paper(parser, "paper size of a PDF (default A4)")
    parser.add_argument(
        "-o", dest="output", type=Path, metavar="FILE", help="output file, .png or .pdf (default SERIES-contact.png)"
    )
    options.add_theme(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Make the sheet; returns the exit status."""
    from mothseed.report.contact import Layout, contact_pages
    from mothseed.report.series_sheet import MOST_ON_A_PAGE, sections_of
    from mothseed.series.table import count_made

    output = arguments.output or Path(f"{arguments.series.resolve().name}-contact.png")
    output = options.output_path(output, (".pdf", ".png"), "the name of a PNG or PDF file")
    order = [arguments.group] * bool(arguments.group) + options.names(arguments.sort)
    chosen = options.editions_with_pictures(arguments.series, options.condition(arguments), order)
    sections = sections_of(arguments.series, chosen, arguments.group, arguments.caption)
    if not sections:
        raise SeriesError(f"no edition of {arguments.series} matches")
    count = sum(len(section.frames) for section in sections)
    title = arguments.title if arguments.title is not None else arguments.series.resolve().name
    total = count_made(arguments.series)
    of = f" of {total:,}" if count < total else ""
    subtitle = f"{count:,}{of} editions" if of else counted(count, "edition")
    if output.suffix.lower() == ".pdf":
        width, height = (round(side / 25.4 * _RESOLUTION) for side in options.PAPERS[arguments.paper])
        layout = Layout(width, height, round(_MARGIN_INCHES * _RESOLUTION))
        per_page = arguments.per_page or min(count, _USUAL_ON_PAPER)
        pages = list(contact_pages(sections, title, subtitle, layout, per_page, options.theme(arguments)))
        written = [_write_pdf(output, pages)]
    else:
        per_page = arguments.per_page or MOST_ON_A_PAGE
        pages = list(contact_pages(sections, title, subtitle, per_page=per_page, theme=options.theme(arguments)))
        written = _write_pngs(output, pages)
    if arguments.json:
        console.say_json({"files": [str(path) for path in written], "pages": len(pages), "editions": count})
        return 0
    for path in written:
        console.say(str(path))
    return 0


def _write_pdf(output: Path, pages: Sequence[Image]) -> Path:
    from mothseed.files import written_whole

    with written_whole(output) as part:
        pages[0].save(part, format="PDF", resolution=_RESOLUTION, save_all=True, append_images=pages[1:])
    return output


def _write_pngs(output: Path, pages: Sequence[Image]) -> list[Path]:
    from mothseed.report.page import write_page

    names = [output] if len(pages) == 1 else [output.with_stem(f"{output.stem}-{n}") for n in range(1, len(pages) + 1)]
    for name, page in zip(names, pages, strict=True):
        write_page(page, name)
    return names
