"""Options that several commands share."""

from __future__ import annotations

import argparse
import os
import re
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.errors import UsageError
from mothseed.units import UNITS_PER_INCH

MARKS = ("keep", "drop", "maybe")

if TYPE_CHECKING:
    from mothseed.cli.lengths import OutputSize
    from mothseed.series import Variant
    from mothseed.sketch import Sketch


def add_sketch(parser: argparse.ArgumentParser, what: str = "the sketch, a .py file with one @artwork") -> None:
    """SKETCH, --set and --reseed: what is drawn."""
    parser.add_argument("sketch", type=Path, metavar="SKETCH", help=what)
    add_settings(parser)


def add_settings(parser: argparse.ArgumentParser) -> None:
    """--set and --reseed: dials and streams."""
    parser.add_argument(
        "--set",
        action="append",
        default=[],
        type=_assignment,
        metavar="DIAL=VALUE",
        help="set a dial; may be given several times",
    )
    parser.add_argument(
        "--reseed",
        action="append",
        default=[],
        type=_assignment,
        metavar="STREAM=SEED",
        help="draw one stream of chance from another seed and keep the rest",
    )


def add_without(parser: argparse.ArgumentParser) -> None:
    """--without: layers to leave out."""
    parser.add_argument(
        "--without", action="append", default=[], metavar="LAYER", help="leave a layer out; may be given several times"
    )


def add_guides(parser: argparse.ArgumentParser) -> None:
    """--guides: what lies over the picture."""
    parser.add_argument("--guides", action="store_true", help="lay guides over it: a grid in sheet units, frames, outlines")


def add_series(parser: argparse.ArgumentParser) -> None:
    """SERIES: a series that is there."""
    parser.add_argument("series", type=Path, metavar="SERIES", help="the folder of a series")


def add_selection(parser: argparse.ArgumentParser) -> None:
    """--where and --sort: which editions, in which order."""
    add_where(parser)
    parser.add_argument("--sort", default="", metavar="COLUMNS", help='columns to sort by: "form, spots desc"')


def add_where(parser: argparse.ArgumentParser) -> None:
    """--where: which editions."""
    parser.add_argument("--where", default="", metavar="CONDITION", help="an SQL expression on the columns: spots > 2")


def add_marked(parser: argparse.ArgumentParser) -> None:
    """--marked: only editions with a mark."""
    parser.add_argument("--marked", choices=MARKS, help="only editions with that mark")


def condition(arguments: argparse.Namespace) -> str:
    """What --where and --marked come to together."""
    conditions = [arguments.where, f"mark = '{arguments.marked}'" if arguments.marked else ""]
    return " and ".join(f"({each}\n)" for each in conditions if each.strip())


def names(text: str) -> list[str]:
    """Names with commas between."""
    return [name.strip() for name in text.split(",") if name.strip()]


def add_jobs(parser: argparse.ArgumentParser) -> None:
    """--jobs: how many processes work beside each other."""
    parser.add_argument("--jobs", type=positive_whole, metavar="N", help="processes at work (default one for each processor)")


def workers(jobs: int | None, most: int | None = None) -> int:
    """What --jobs comes to where there is work for at most so many."""
    count = jobs or os.cpu_count() or 1
    return count if most is None else min(count, most)


def add_size(parser: argparse.ArgumentParser) -> None:
    """--width and --dpi: how large it becomes."""
    parser.add_argument("--width", metavar="LENGTH", help="width of the picture: 2400px, 180mm, 18cm, 7in (default 1000px)")
    parser.add_argument(
        "--dpi", type=positive, metavar="N", help="pixels in an inch of print (default 300 for a width in mm, cm or in)"
    )


def add_common(parser: argparse.ArgumentParser) -> None:
    """--json and --debug."""
    parser.add_argument("--json", action="store_true", help="report as JSON")
    parser.add_argument("--debug", action="store_true", help="show Python's traceback with a fault")


def chosen_dials(arguments: argparse.Namespace, sketch: Sketch) -> dict[str, Any]:
    """The values of --set, as the sketch's dials take them."""
    from mothseed.sketch.perform import parsed_dials

    return parsed_dials(sketch.artwork.dials, dict(arguments.set))


def chosen_reseeds(arguments: argparse.Namespace) -> dict[str, int | str]:
    """The seeds of --reseed by stream."""
    from mothseed.sketch.seeds import parse_seed

    return {stream: parse_seed(seed) for stream, seed in arguments.reseed}


def chosen_variant(arguments: argparse.Namespace, sketch: Sketch) -> Variant:
    """What --set, --reseed and, where there is one, --without come to together."""
    from mothseed.series import Variant

    without = tuple(getattr(arguments, "without", ()))
    return Variant("", chosen_dials(arguments, sketch), chosen_reseeds(arguments), without)


def chosen_size(arguments: argparse.Namespace, sketch: Sketch) -> OutputSize:
    """What --width and --dpi come to for this sketch; raises UsageError where it cannot be made."""
    return size_for(sketch, arguments.width, arguments.dpi)


def size_for(sketch: Sketch, width: str | None, dpi: float | None) -> OutputSize:
    """What a width, as it is written, and a resolution come to for a sketch; raises UsageError where it cannot be made."""
    from mothseed.cli.lengths import output_size
    from mothseed.render.raster import picture_size

    artwork = sketch.artwork
    size = output_size(width, dpi, artwork.width / UNITS_PER_INCH[artwork.unit])
    picture_size(artwork.width, artwork.height, size.pixels)
    return size


def _assignment(text: str) -> tuple[str, str]:
    name, equals, value = text.partition("=")
    if not (name.strip() and equals):
        raise argparse.ArgumentTypeError(f"write name=value (got {text!r})")
    return name.strip(), value


def positive(text: str) -> float:
    """An argparse type."""
    try:
        number = float(text)
    except ValueError:
        number = 0.0
    if not 0 < number <= 10_000:
        raise argparse.ArgumentTypeError(f"a number above 0 is needed (got {text!r})")
    return number


def positive_whole(text: str) -> int:
    """An argparse type."""
    if not (text.isdecimal() and int(text) > 0):
        raise argparse.ArgumentTypeError(f"a whole number from 1 on is needed (got {text!r})")
    return int(text)


def memory(text: str) -> int:
    """An argparse type: 2GB, 500MB."""
    match = re.fullmatch(r"(\d+(?:\.\d+)?)\s*(KB|MB|GB|TB)", text.strip().upper())
    size = int(float(match[1]) * _BYTES[match[2]]) if match else 0
    if size <= 0:
        raise argparse.ArgumentTypeError(f"a size such as 2GB or 500MB is needed (got {text!r})")
    return size


_BYTES = {"KB": 10**3, "MB": 10**6, "GB": 10**9, "TB": 10**12}


def picture_path(path: Path, endings: Sequence[str] = (".png",)) -> Path:
    """The path of a picture to write; raises UsageError for one that has none of these endings."""
    what = "a PNG file" if len(endings) == 1 else "a picture that can be written"
    if path.is_dir():
        raise UsageError(f"{path} is a folder, not the name of {what}", hint=f"write -o {path / 'picture.png'}")
    if path.suffix.lower() not in endings:
        others = f"; endings are {', '.join(endings)}" if len(endings) > 1 else ""
        raise UsageError(f"{path} is not the name of {what}", hint=f"write -o {path.with_suffix('.png')}{others}")
    return path
