"""mothseed proof: one picture."""

from __future__ import annotations

import argparse
import time
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli import console, options
from mothseed.cli.parser import command

if TYPE_CHECKING:
    from mothseed.sheet import Drawing

_SHAPES = {".svg": "an SVG", ".pdf": "a PDF"}
"""Endings of files of shapes, and what they are called."""

EXAMPLE = "mothseed proof specimen.py --seed 7 --set spots=3 --width 1600px"


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(commands, "proof", "Make one picture of a sketch.", EXAMPLE)
    options.add_sketch(parser)
    parser.add_argument("--seed", default="1", metavar="SEED", help="a whole number or a word (default 1)")
    parser.add_argument(
        "-o",
        dest="output",
        type=Path,
        metavar="FILE",
        help="where to write it: .png, .svg, .pdf, .webp, .tif or .jpg (default SKETCH-SEED.png)",
    )
    options.add_without(parser)
    options.add_guides(parser)
    parser.add_argument("--keep-text", action="store_true", help="in an SVG, text as text rather than as outlines")
    parser.add_argument("--depth", type=int, choices=(8, 16), default=8, help="bits of each channel of a PNG (default 8)")
    parser.add_argument("--grey", action="store_true", help="make a PNG of greys: the luma of each colour")
    parser.add_argument("--dither", action="store_true", help="round by a fine pattern, so that slow ramps have no bands")
    parser.add_argument("--small", action="store_true", help="make a PNG as small as it gets, which takes longer")
    options.add_size(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Make the picture; returns the exit status."""
    from mothseed.errors import FileError, MothSeedError, UsageError
    from mothseed.render import write_picture
    from mothseed.render.levels import Levels
    from mothseed.render.picture_file import ENDINGS
    from mothseed.render.png import Effort
    from mothseed.sketch import load_sketch, perform
    from mothseed.sketch.history import History
    from mothseed.sketch.perform import dial_values
    from mothseed.sketch.seeds import edition_file, parse_seed

    started = time.perf_counter()
    console.announce_compiling()
    seed = parse_seed(arguments.seed)
    reseeds = options.chosen_reseeds(arguments)
    sketch = load_sketch(arguments.sketch)
    dials = options.chosen_dials(arguments, sketch)
    output = options.picture_path(arguments.output or Path(f"{sketch.name}-{edition_file(seed)}"), (*ENDINGS, *_SHAPES))
    of_shapes = _SHAPES.get(output.suffix.lower())
    if of_shapes and (arguments.width or arguments.dpi):
        raise UsageError(
            f"{of_shapes} is as large as its sheet", hint="leave --width and --dpi out; it can be printed at any size"
        )
    if arguments.keep_text and output.suffix.lower() != ".svg":
        raise UsageError("--keep-text is for an SVG", hint=f"write -o {output.with_suffix('.svg').name}")
    given = [name for name in ("small", "grey", "dither") if getattr(arguments, name)] + ["depth"] * (arguments.depth != 8)
    if given and output.suffix.lower() != ".png":
        raise UsageError(f"--{given[0]} is for a PNG", hint=f"write -o {output.with_suffix('.png').name}")
    size = options.chosen_size(arguments, sketch)
    effort = Effort.SMALL if arguments.small else Effort.USUAL
    levels = Levels(arguments.depth, arguments.grey, arguments.dither)
    try:
        impression = perform(sketch, seed, dials, reseeds, arguments.without)
        history = History.of(sketch, impression)
        drawing = _guided(impression.drawing) if arguments.guides else impression.drawing
        if of_shapes:
            from mothseed.vector import write_pdf, write_svg

            if output.suffix.lower() == ".pdf":
                write_pdf(output, drawing, history.as_json())
            else:
                write_svg(output, drawing, history.as_json(), keep_text=arguments.keep_text)
            width, height, unit = drawing.width, drawing.height, drawing.unit
        else:
            told = history.as_json()
            width, height = write_picture(output, drawing, size.pixels, told, size.dpi, effort=effort, levels=levels)
            unit = "px"
    except (UsageError, FileError):
        raise
    except MothSeedError as fault:
        if arguments.debug:
            raise
        values = dial_values(sketch.artwork.dials, dials)
        again = console.proof_command(arguments.sketch, seed, dict(arguments.set), reseeds, arguments.without)
        console.tell_fault(fault, console.circumstances_of(seed, values), again)
        return fault.exit_status
    seconds = time.perf_counter() - started
    if arguments.json:
        console.say_json(
            {
                "file": str(output),
                "width": width,
                "height": height,
                "unit": unit,
                "marks": len(impression.drawing),
                "seconds": round(seconds, 3),
                "history": history.as_dict(),
            }
        )
        return 0
    console.say(f"{output}  {width:g} x {height:g} {unit}, {len(impression.drawing):,} marks, {seconds:.2f} s")
    console.say(f"seed {seed}, fingerprint {history.fingerprint}")
    if impression.outcomes:
        console.say(", ".join(f"{outcome.label} = {outcome.value}" for outcome in impression.outcomes))
    return 0


def _guided(drawing: Drawing) -> Drawing:
    from mothseed.sheet.guides import guided

    return guided(drawing)
