"""mothseed daybook: what was drawn of a sketch while it was worked on."""

from __future__ import annotations

import argparse
from collections.abc import Collection
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.cli.progress import Progress
from mothseed.cli.recipe import proof_command, take_back_command
from mothseed.faults import MissingFileError, SeriesError

if TYPE_CHECKING:
    from mothseed.daybook import Daybook, Entry
    from mothseed.daybook.since import Since

EXAMPLE = "mothseed daybook specimen.py --compare 3 7"

_TOLD = 12
"""Entries that are told on the terminal."""
_FIGURE_WIDTH = 1000


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "daybook",
        "Look back at what you drew while working on a sketch. proof and watch keep the recipe, the source at the "
        "time and a small picture in a folder beside the sketch. The page in that folder shows them all, with the "
        "lines you edited in between; -o writes a contact sheet. Compare any two, or take one back as a new file.",
        EXAMPLE,
    )
    options.add_sketch(parser, "the sketch whose daybook to show")
    parser.add_argument("--last", type=options.positive_whole, metavar="N", help="show only the last N")
    parser.add_argument(
        "--shapes", action="store_true",
        help="run each entry again from its source at the time and list the shapes that changed since the one before",
    )  # fmt: skip
    what = parser.add_mutually_exclusive_group()
    what.add_argument("--compare", type=options.positive_whole, nargs=2, metavar=("A", "B"),
                      help="compare two entries, as mothseed compare does")  # fmt: skip
    what.add_argument("--take-back", type=options.positive_whole, metavar="N", help="write entry N out as a new sketch")
    parser.add_argument("-o", dest="output", type=Path, metavar="FILE",
                        help="the contact sheet, the figure of --compare (default compare.png), or the new sketch "
                        "(default SKETCH-N.py)")  # fmt: skip
    options.add_theme(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Show the daybook, compare two entries or take one back; returns the exit status."""
    from mothseed.daybook import Daybook

    sketch: Path = arguments.sketch
    book = Daybook.of(sketch) if sketch.suffix == ".py" else None
    if book is None or not (book.folder.is_dir() or sketch.is_file()):
        raise MissingFileError(f"there is no sketch {sketch} with a daybook", hint="mothseed proof and watch begin one")
    if arguments.compare:
        return _compare(book, arguments)
    if arguments.take_back:
        return _take_back(book, arguments)
    return _show(book, arguments)


def _show(book: Daybook, arguments: argparse.Namespace) -> int:
    from mothseed.daybook.since import story
    from mothseed.daybook.taking_back import still_drawn
    from mothseed.files import write_bytes
    from mothseed.report.daybook_page import daybook_page
    from mothseed.report.daybook_sheet import daybook_sheet
    from mothseed.report.page import write_page

    output = None if arguments.output is None else options.picture_path(arguments.output)
    damaged: list[str] = []
    entries = book.entries(damaged)
    for words in damaged[:_TOLD]:
        console.note(f"left out: {words}")
    if not entries:
        raise SeriesError(
            f"the daybook of {arguments.sketch} is empty", hint=f"mothseed watch {arguments.sketch} keeps what is drawn"
        )
    first = max(len(entries) - (arguments.last or len(entries)), 0)
    stories = list(story(book, entries[first:], entries[first - 1] if first else None))
    if arguments.shapes:
        stories = _with_shapes(book, stories)
    page = book.folder / "index.html"
    still = still_drawn(book, entries[first:])
    html = daybook_page(book, stories, lambda entry: _again(still, entry, arguments.sketch))
    write_bytes(page, html.encode("utf-8", "replace"), through_links=False)
    if output is not None:
        shown = f"{len(stories):,} of {len(entries):,} entries" if first else f"{len(entries):,} entries"
        write_page(daybook_sheet(book, stories, f"{book.sketch.name}, daybook", shown, options.theme(arguments)), output)
    if arguments.json:
        written = {"page": str(page), "sheet": None if output is None else str(output)}
        console.say_json({"entries": [_as_plain(book, still, each, arguments.sketch) for each in stories], **written})
        return 0
    rows = [
        (
            each.entry.entry,
            f"{each.entry.moment:%Y-%m-%d %H:%M}",
            each.entry.seed,
            "; ".join([*each.words, *filter(None, [each.became])]),
        )
        for each in stories[-_TOLD:]
    ]
    console.say_table(("entry", "drawn", "seed", "what was changed"), rows)
    console.say(f"page: {page}")
    if output is not None:
        console.say(f"sheet: {output}")
    return 0


def _with_shapes(book: Daybook, stories: list[Since]) -> list[Since]:
    """The same with what became of the shapes; a sketch that never ends, or ends its process, spoils no other entry."""
    from concurrent.futures import BrokenExecutor

    from mothseed.compare.in_words import NOT_COMPARED
    from mothseed.daybook.since import changed_shapes
    from mothseed.series.crew import processes

    console.announce_waits()
    workers = options.workers(None, len(stories))
    told = []
    with processes(workers).open(workers) as pool, Progress.shown("entries") as progress:
        progress.start(len(stories))
        work = [each.before and pool.submit(changed_shapes, book, each.before, each.entry) for each in stories]
        for future in work:
            try:
                told.append(future.result() if future else ())
            except BrokenExecutor:
                told.append((f"{NOT_COMPARED}: the process that drew was ended",))
            progress.advance(1)
    return [replace(each, shapes=shapes) for each, shapes in zip(stories, told, strict=True)]


def _compare(book: Daybook, arguments: argparse.Namespace) -> int:
    from mothseed.cli.compare import comparison_as_plain, say_comparison
    from mothseed.compare import compared
    from mothseed.compare.side import Side
    from mothseed.daybook.since import made_again, since
    from mothseed.report.comparison_figure import write_comparison

    output = options.picture_path(arguments.output or Path("compare.png"))
    before, after = (book.entry(number) for number in arguments.compare)
    console.announce_waits()
    with made_again(book, before) as first, made_again(book, after) as second:
        sides = [
            Side(f"{entry.entry}: seed {entry.seed}, {entry.moment:%H:%M}", made.pixels(_FIGURE_WIDTH), made.history,
                 made.impression, sketch=made.sketch)
            for entry, made in ((before, first), (after, second))
        ]  # fmt: skip
        comparison = compared(sides[0], sides[1])
        write_comparison(comparison, output, options.theme(arguments))
        edits = since(book, before, after).edits
        if arguments.json:
            told = [edit.as_plain() for edit in edits]
            console.say_json({**comparison_as_plain(comparison), "edits": told, "figure": str(output)})
            return 0
        for edit in edits:
            console.say(edit.words)
            for sign, text in edit.lines:
                console.say(f"  {text}:" if sign == "@" else f"    {sign} {text}")
        say_comparison(comparison)
    console.say(f"figure: {output}")
    return 0


def _take_back(book: Daybook, arguments: argparse.Namespace) -> int:
    from mothseed.daybook.taking_back import take_back

    entry = book.entry(arguments.take_back)
    taken = take_back(book, entry, arguments.output)
    place = _from_here(taken.sketch)
    again = proof_command(place, entry)
    if arguments.json:
        console.say_json({"sketch": str(place), "changed": list(taken.changed), "command": again})
        return 0
    console.say(f"{place}  entry {entry.entry} as it was")
    if taken.changed:
        console.say(f"it has a folder of its own, since {', '.join(taken.changed)} changed since")
    console.say(f"draw it: {again}")
    return 0


def _from_here(path: Path) -> Path:
    """A path as it is written from the folder that one is in, where that is shorter."""
    here = Path.cwd()
    return path.relative_to(here) if path.is_relative_to(here) else path


def _again(still: Collection[int], entry: Entry, sketch: Path) -> tuple[str, str]:
    """The command that draws an entry again, or, where it is not `still` drawn, gets back what does; and what it is for."""
    if entry.entry in still:
        return proof_command(sketch, entry), "draw it"
    return take_back_command(sketch, entry.entry), "take it back"


def _as_plain(book: Daybook, still: Collection[int], story: Since, sketch: Path) -> dict[str, Any]:
    picture = book.readable_picture(story.entry)
    return {
        **story.entry.as_plain(),
        "picture": None if picture is None else str(picture),
        "changes": [change.as_plain() for change in story.changes],
        "edits": [edit.as_plain() for edit in story.edits],
        "shapes": list(story.shapes),
        "command": _again(still, story.entry, sketch)[0],
    }
