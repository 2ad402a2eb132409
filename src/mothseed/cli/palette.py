"""mothseed palette: the colours of a picture."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.faults import UsageError

if TYPE_CHECKING:
    from mothseed.colour import Palette
    from mothseed.report.theme import Theme

EXAMPLE = "mothseed palette dusk.png --count 7 --sort share -o dusk.json -o dusk-palette.png"

_KINDS = {".png", ".json", ".txt"}
_METHODS = ("k-means", "closest-k-means", "median-cut")
_ORDERS = ("lightness", "chroma", "hue", "share")


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "palette",
        "Find the colours that best represent a picture, and their shares; or show and convert a palette file.",
        EXAMPLE,
    )
    parser.add_argument(
        "source", type=Path, metavar="PICTURE", help="a PNG, JPEG, WebP, TIFF or GIF file, or a palette as .json or .txt"
    )
    parser.add_argument(
        "--count", type=options.positive_whole, metavar="N", help="number of colours at most (default 6 for a picture)"
    )
    parser.add_argument(
        "--method",
        choices=_METHODS,
        default=_METHODS[0],
        help="k-means (default) finds the colours of most pixels, closest-k-means takes the best of ten runs, "
        "median-cut gives even shares",
    )
    parser.add_argument(
        "--merge",
        type=_distance,
        metavar="DISTANCE",
        help="merge colours closer than this in OKLab: 0.02 is just noticeable, 0.05 obvious",
    )
    parser.add_argument("--sort", choices=_ORDERS, help="order of the swatches (default for a picture: dark to light)")
    parser.add_argument(
        "--vision",
        action="store_true",
        help="name colours that colour-blind people confuse, and show in a .png how they see them",
    )
    parser.add_argument(
        "-o",
        dest="outputs",
        action="append",
        default=[],
        type=Path,
        metavar="FILE",
        help="output file, .png, .json or .txt; repeatable",
    )
    options.add_theme(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Show the palette and write the files; returns the exit status."""
    _check_outputs(arguments.source, arguments.outputs)
    palette = _found(arguments)
    for output in arguments.outputs:
        if output.suffix.lower() == ".png":
            _write_strip(palette, arguments.source, output, options.theme(arguments), vision=arguments.vision)
        else:
            palette.write(output)
    if arguments.json:
        told = {"source": str(arguments.source), "swatches": _rows(palette), "files": list(map(str, arguments.outputs))}
        console.say_json(told | ({"confusions": _confused(palette)} if arguments.vision else {}))
        return 0
    console.say_swatches([(swatch.css, share) for swatch, share in zip(palette, palette.shares, strict=True)])
    if arguments.vision:
        _say_confused(palette)
    for output in arguments.outputs:
        console.say(str(output))
    return 0


def _found(arguments: argparse.Namespace) -> Palette:
    from mothseed.colour import Palette

    source = arguments.source.resolve()
    if _is_palette(source):
        palette = Palette.read(source)
        if arguments.count:
            palette = palette.limited(arguments.count)
    else:
        palette = Palette.from_picture(source, arguments.count or 6, method=arguments.method)
    if arguments.merge is not None:
        palette = palette.merged(arguments.merge)
    if arguments.sort:
        palette = palette.sorted(arguments.sort, descending=arguments.sort == "share")
    return palette


def _is_palette(path: Path) -> bool:
    return path.suffix.lower() in (".json", ".txt")


def _check_outputs(source: Path, outputs: list[Path]) -> None:
    for output in outputs:
        if output.suffix.lower() not in _KINDS:
            raise UsageError(f"{output} is not the name of a PNG, JSON or text file", hint=f"write -o {output.stem}.json")
        if output.is_dir():
            raise UsageError(f"{output} is a folder, not the name of a file", hint=f"write -o {output / 'palette.json'}")
        if output.resolve() == source.resolve():
            raise UsageError(f"{output} is what the palette comes from", hint="choose another file with -o")


def _confused(palette: Palette) -> list[dict[str, Any]]:
    """The pairs of swatches that some readers cannot tell apart."""
    from mothseed.colour.vision import confusions

    return [
        {"vision": each.vision, "first": each.first.css, "second": each.second.css, "distance": round(each.distance, 4)}
        for each in confusions(palette.swatches)
    ]


def _say_confused(palette: Palette) -> None:
    found = _confused(palette)
    if not found:
        console.say("All readers can tell them apart.")
    for each in found:
        console.say(f"{each['first']} and {each['second']} look alike with {each['vision']}")


def _write_strip(palette: Palette, source: Path, output: Path, theme: Theme, *, vision: bool) -> None:
    from PIL import Image

    from mothseed.colour.texture import texture_of
    from mothseed.files import written_whole
    from mothseed.report.page import on_white
    from mothseed.report.swatches import palette_strip

    shown = None if _is_palette(source) else on_white(Image.fromarray(texture_of(source.resolve()).pixels))
    strip = palette_strip(palette, shown, theme, vision=vision)
    with written_whole(output) as part:
        strip.save(part, format="PNG", optimize=True)


def _rows(palette: Palette) -> list[dict[str, Any]]:
    from mothseed.colour.oklch import oklch_of

    rows = []
    for swatch, share in zip(palette, palette.shares, strict=True):
        lightness, chroma, hue = oklch_of(swatch)
        parts = {"lightness": round(lightness, 4), "chroma": round(chroma, 4), "hue": round(hue, 2)}
        rows.append({"colour": swatch.css, "share": round(share, 6), **parts})
    return rows


def _distance(text: str) -> float:
    try:
        number = float(text)
    except ValueError:
        number = -1.0
    if not 0 <= number <= 2:
        raise argparse.ArgumentTypeError(f"expected a distance from 0 to 2 (got {text!r})")
    return number
