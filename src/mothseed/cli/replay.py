"""mothseed replay: a picture building up, or changing as a dial is turned."""

from __future__ import annotations

import argparse
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.cli.progress import Progress
from mothseed.cli.recipe import add_recipe, recipe_of
from mothseed.faults import UsageError
from mothseed.files import renamed
from mothseed.told import counted

if TYPE_CHECKING:
    from mothseed.arrays import BoolArray, ByteArray
    from mothseed.sheet import Drawing
    from mothseed.sketch import Sketch

EXAMPLE = "mothseed replay specimen.py --seed 8 -o specimen.gif"

_WIDTH = 600
_FRAMES, _SECONDS, _HOLD = 60, 5.0, 1.5
_MOST_FRAMES = 1000


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "replay",
        "Animate a picture as it builds up in drawing order, mark by mark, at an even visual pace, or layer by "
        "layer; or animate a dial through its values.",
        EXAMPLE,
    )
    options.add_sketch(parser)
    add_recipe(parser)
    options.add_guides(parser)
    parser.add_argument(
        "--by",
        choices=("mark", "pace", "layer"),
        default="mark",
        help="an equal number of marks per step (default), an equal amount of change, or layers",
    )
    parser.add_argument("--vary", metavar="NAME=VALUES", help="animate a dial instead: spread=0..40/30, seed=1-12")
    parser.add_argument(
        "--frames", type=options.positive_whole, default=_FRAMES, metavar="N", help="number of steps at most (default 60)"
    )
    parser.add_argument(
        "--seconds",
        type=options.positive,
        default=_SECONDS,
        metavar="S",
        help="length, including the hold at the end (default 5)",
    )
    parser.add_argument("--width", metavar="LENGTH", default=f"{_WIDTH}px", help="width of the picture (default 600px)")
    parser.add_argument(
        "-o", dest="output", type=Path, metavar="FILE", help="output file, .gif, .png or .webp (default SKETCH-replay.gif)"
    )
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Write the animation; returns the exit status."""
    from PIL import Image

    from mothseed.formats.animation import KINDS, durations, write_animation
    from mothseed.sketch import load_sketch
    from mothseed.sketch.artwork import size_for

    if arguments.frames > _MOST_FRAMES:
        raise UsageError(f"--frames {arguments.frames}: there can be {_MOST_FRAMES} at most")
    sketch = load_sketch(arguments.sketch)
    output: Path = arguments.output or Path(f"{sketch.name}-replay.gif")
    if output.suffix.lower() not in KINDS or output.is_dir():
        raise UsageError(f"{output} is not an animation file", hint=f"write -o {renamed(output, '.gif').name}, .png or .webp")
    console.announce_waits()
    size = size_for(sketch.artwork, arguments.width, None)
    count, pictures = _pictures(arguments, sketch, size.pixels)
    images = []
    with Progress.shown("frames") as progress:
        progress.start(count)
        for picture in pictures:
            images.append(Image.fromarray(picture))
            progress.advance(1)
    times = durations(len(images), arguments.seconds, 0 if arguments.vary else _HOLD)
    length = write_animation(output, images, times)
    if arguments.json:
        console.say_json({"file": str(output), "frames": len(images), "bytes": length})
        return 0
    weight = f"{length / 1e6:.1f} MB" if length >= 1e6 else f"{length / 1e3:.1f} kB"
    console.say(f"{output}  {counted(len(images), 'frame')}, {weight}")
    return 0


def _pictures(arguments: argparse.Namespace, sketch: Sketch, width: int) -> tuple[int, Iterator[ByteArray]]:
    """How many pictures there are, and each."""
    import numpy as np

    from mothseed.making import make
    from mothseed.render import rendered
    from mothseed.render.painted import Painted
    from mothseed.sheet.guides import guided
    from mothseed.sketch.vary import parse_axis

    recipe = recipe_of(arguments, sketch)
    if arguments.vary:
        settings = parse_axis(arguments.vary, sketch.artwork.dials).settings
        each = (make(sketch, setting.after(recipe)) for setting in settings)
        return len(settings), (made.pixels(width, guides=arguments.guides) for made in each)
    drawing = make(sketch, recipe).drawing
    steps = list(_steps(drawing, arguments.by, arguments.frames))
    if arguments.guides:  # which are of the marks that are there
        return len(steps), (rendered(guided(drawing.part(stays)), width) for stays in steps)
    painted = Painted(drawing, width)
    return len(steps), (painted.without(np.flatnonzero(~stays)) for stays in steps)


def _steps(drawing: Drawing, by: str, frames: int) -> Iterator[BoolArray]:
    from mothseed.sheet.growth import at_an_even_pace, layer_by_layer, mark_by_mark

    if by == "layer":
        return layer_by_layer(drawing)
    return at_an_even_pace(drawing, frames) if by == "pace" else mark_by_mark(drawing, frames)
