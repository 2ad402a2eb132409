"""Options that several commands share."""

from __future__ import annotations

import argparse
import os
import re
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli import console
from mothseed.faults import SeriesError, UsageError
from mothseed.files import renamed

if TYPE_CHECKING:
    from mothseed.report.theme import Theme
    from mothseed.series import Edition

_MOST_TOLD = 12
"""Most lines about what is wrong with a series."""
MARKS = ("keep", "drop", "maybe")


def add_sketch(parser: argparse.ArgumentParser, what: str = "the sketch, a .py file with one @artwork") -> None:
    """SKETCH: the sketch to draw."""
    parser.add_argument("sketch", type=Path, metavar="SKETCH", help=what)


def add_guides(parser: argparse.ArgumentParser) -> None:
    """--guides: what lies over the picture."""
    parser.add_argument("--guides", action="store_true", help="draw guides on top: a grid in sheet units, frames, outlines")


USUAL_DEPTH = 8


def add_rounding(parser: argparse.ArgumentParser) -> None:
    """--keep-text, --depth, --grey and --dither: what not every format can have."""
    parser.add_argument("--keep-text", action="store_true", help="in an SVG, keep text as text rather than outlines")
    parser.add_argument("--depth", type=int, choices=(8, 16), default=USUAL_DEPTH, help="bits per channel of a PNG (default 8)")
    parser.add_argument("--grey", action="store_true", help="make the PNG greyscale (luma)")
    parser.add_argument("--dither", action="store_true", help="dither, so that gentle gradients show no bands")


def add_series(parser: argparse.ArgumentParser) -> None:
    """SERIES: an existing series."""
    parser.add_argument("series", type=Path, metavar="SERIES", help="the folder of a series")


def add_selection(parser: argparse.ArgumentParser) -> None:
    """--where and --sort: which editions, and in which order."""
    add_where(parser)
    parser.add_argument("--sort", default="", metavar="COLUMNS", help='columns to sort by: "form, spots desc"')


def add_where(parser: argparse.ArgumentParser) -> None:
    """--where: which editions."""
    parser.add_argument("--where", default="", metavar="CONDITION", help="an SQL condition on the columns: spots > 2")


def add_made_by(parser: argparse.ArgumentParser) -> None:
    """--sketch: the sketches that may be run to learn the shapes of a picture."""
    parser.add_argument(
        "--sketch", dest="made_by", type=Path, action="append", default=[], metavar="FILE",
        help="the sketch that made a picture, run to get its shapes; an edition SERIES:SEED brings its own",
    )  # fmt: skip


def picture_or_edition(given: Path) -> tuple[Path, Path | None]:
    """A path as it is; for SERIES:SEED or SERIES:SEED.VARIANT, the path of that picture and the folder of the series."""
    folder, colon, name = str(given).rpartition(":")
    if given.exists() or not (colon and Path(folder).is_dir()):
        return given, None
    from mothseed.sketch.seeds import edition_file, parse_seed

    seed, _, variant = name.partition(".")
    return Path(folder) / edition_file(parse_seed(seed), variant), Path(folder)


def add_marked(parser: argparse.ArgumentParser) -> None:
    """--marked: only editions with a mark."""
    parser.add_argument("--marked", choices=MARKS, help="only editions with that mark")


def editions_of(folder: Path, where: str = "", sort: Sequence[str] = (), names: Sequence[str] | None = None) -> list[Edition]:
    """The editions of a series that meet a condition, sorted, with all their fields or the named ones. Damaged ones are
    reported and left out.
    """
    from mothseed.series import series_editions
    from mothseed.series.rows import ALL_FIELDS
    from mothseed.series.table import series_keys

    damaged: list[str] = []
    keys = series_keys(folder, where, sort, damaged) if where.strip() or sort else None
    editions = series_editions(folder, damaged, keys, ALL_FIELDS if names is None else names)
    tell_damaged(folder, list(dict.fromkeys(damaged)))
    return editions


def editions_with_pictures(folder: Path, where: str = "", sort: Sequence[str] = ()) -> list[Edition]:
    """Those of them whose pictures can be shown; missing and damaged ones are reported and left out."""
    from mothseed.series.pictures import readable

    editions, troubles = readable(folder, editions_of(folder, where, sort))
    tell_left_out(troubles)
    return editions


def tell_left_out(troubles: Sequence[str]) -> None:
    """Print which pictures are left out, and why."""
    for line in troubles[:_MOST_TOLD]:
        console.note(f"left out: {line}")
    if len(troubles) > _MOST_TOLD:
        console.note(f"left out: {len(troubles) - _MOST_TOLD:,} more")
    if troubles:
        console.note("mothseed edition makes them again")


def tell_damaged(folder: Path, damaged: Sequence[str]) -> None:
    """Print what is damaged in the ledger of a folder."""
    for words in damaged[:_MOST_TOLD]:
        console.note(f"left out: {words}")
    if len(damaged) > _MOST_TOLD:
        console.note(f"left out: {len(damaged) - _MOST_TOLD:,} more")
    if damaged:
        console.note(f"the ledger of {folder} is damaged there; mothseed edition makes those editions again")


def condition(arguments: argparse.Namespace) -> str:
    """The condition that --where and --marked make together."""
    if not arguments.marked:
        return str(arguments.where)
    marked = f"mark = '{arguments.marked}'"
    # On lines of their own, the brackets hold even if the condition ends in a comment.
    return f"{marked} and (\n{arguments.where}\n)" if arguments.where.strip() else marked


def names(text: str) -> list[str]:
    """Names separated by commas."""
    return [name.strip() for name in text.split(",") if name.strip()]


PAPERS = {"A4": (210.0, 297.0), "A3": (297.0, 420.0), "letter": (215.9, 279.4)}
"""Width and height in millimetres; ISO 216, and ANSI A."""


def add_paper(parser: argparse.ArgumentParser, words: str) -> None:
    """--paper: the size of pages."""
    parser.add_argument("--paper", choices=tuple(PAPERS), default="A4", help=words)


def add_jobs(parser: argparse.ArgumentParser) -> None:
    """--jobs: how many processes work in parallel."""
    parser.add_argument(
        "--jobs", type=positive_whole, metavar="N", help="number of worker processes (default: one per processor)"
    )


def workers(jobs: int | None, most: int | None = None) -> int:
    """The number of processes for --jobs, when there is work for at most so many."""
    count = jobs or os.cpu_count() or 1
    return count if most is None else min(count, most)


def add_size(parser: argparse.ArgumentParser) -> None:
    """--width and --dpi: the size of the picture."""
    parser.add_argument("--width", metavar="LENGTH", help="width of the picture: 2400px, 180mm, 18cm, 7in (default 1000px)")
    parser.add_argument(
        "--dpi", type=positive, metavar="N", help="pixels per inch in print (default 300 for a width in mm, cm or in)"
    )


def add_daybook(parser: argparse.ArgumentParser) -> None:
    """--no-daybook: keep nothing of what is drawn."""
    parser.add_argument(
        "--no-daybook", action="store_true", help="don't record it in the daybook, SKETCH-daybook beside the sketch"
    )


def add_common(parser: argparse.ArgumentParser) -> None:
    """--json and --debug."""
    parser.add_argument("--json", action="store_true", help="write the report as JSON")
    parser.add_argument("--debug", action="store_true", help="show Python's traceback with an error")


def add_theme(parser: argparse.ArgumentParser) -> None:
    """--dark."""
    parser.add_argument("--dark", action="store_true", help="draw sheets and figures on dark paper")


def theme(arguments: argparse.Namespace) -> Theme:
    """The colours of sheets and figures that are asked for."""
    from mothseed.report.theme import DARK, LIGHT

    return DARK if arguments.dark else LIGHT


def positive(text: str) -> float:
    """An argparse type."""
    try:
        number = float(text)
    except ValueError:
        number = 0.0
    if not 0 < number <= 10_000:
        raise argparse.ArgumentTypeError(f"expected a number above 0 (got {text!r})")
    return number


def positive_whole(text: str) -> int:
    """An argparse type."""
    if not (text.isdecimal() and int(text) > 0):
        raise argparse.ArgumentTypeError(f"expected a whole number, 1 or more (got {text!r})")
    return int(text)


def memory(text: str) -> int:
    """An argparse type: 2GB, 500MB."""
    match = re.fullmatch(r"(\d+(?:\.\d+)?)\s*(KB|MB|GB|TB)", text.strip().upper())
    size = int(float(match[1]) * _BYTES[match[2]]) if match else 0
    if size <= 0:
        raise argparse.ArgumentTypeError(f"expected a size such as 2GB or 500MB (got {text!r})")
    return size


_BYTES = {"KB": 10**3, "MB": 10**6, "GB": 10**9, "TB": 10**12}


def output_path(path: Path, endings: Sequence[str], what: str) -> Path:
    """The path of a file to write; raises UsageError if it has none of these suffixes, and proposes the first."""
    if path.suffix.lower() not in endings or path.is_dir():
        raise UsageError(f"{path} is not {what}", hint=f"write -o {renamed(path, endings[0]).name}")
    return path


def chosen_to_show(arguments: argparse.Namespace) -> list[Edition]:
    """The chosen editions of a series whose pictures can be shown; raises SeriesError if there are none."""
    chosen = editions_with_pictures(arguments.series, condition(arguments), names(arguments.sort))
    if not chosen:
        raise SeriesError(f"no edition of {arguments.series} matches")
    return chosen


def picture_path(path: Path, endings: Sequence[str] = (".png",)) -> Path:
    """The path of a picture to write; raises UsageError if it has none of these suffixes."""
    what = "a PNG file" if len(endings) == 1 else "a picture that can be written"
    if path.is_dir():
        raise UsageError(f"{path} is a folder, not the name of {what}", hint=f"write -o {path / 'picture.png'}")
    if path.suffix.lower() not in endings:
        others = f"; endings are {', '.join(endings)}" if len(endings) > 1 else ""
        raise UsageError(f"{path} is not the name of {what}", hint=f"write -o {renamed(path, '.png')}{others}")
    return path
