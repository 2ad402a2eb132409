"""mothseed new: a starter sketch."""

from __future__ import annotations

import argparse
from pathlib import Path

from mothseed.cli import console

EXAMPLE = "mothseed new lamplight.py"

_STARTER = '''"""A first sketch: moths that never were, around a light."""

from mothseed import Palette, artwork, dial


@artwork(width=200, height=200, unit="mm", paper="#131a2b")
def picture(sheet, chance, *, count=dial(9, 1, 40, help="wings around the light"), tilt=dial(24, -80, 80)):
    palette = Palette(["#e8b44f", "#d98a5b", "#9c8fb0", "#5d7a8c"])
    light = sheet.centred()
    light.circle(0, 0, 14, fill="#fdf3cf")
    for place in light.ring(count, radius=58):
        wing = place.frame(turn=tilt + chance("tilt", place.index).between(-12, 12))
        wing.ellipse(0, 0, 11, 30, fill=palette.pick(chance("tint", place.index)), opacity=0.85)
        wing.circle(0, -14, 3, fill="#131a2b")
'''


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = commands.add_parser(
        "new",
        help="write a starter sketch that runs as it is",
        description="Write a starter sketch that runs as it is.",
        epilog=f"example: {EXAMPLE}",
    )
    parser.add_argument("path", type=Path, metavar="PATH", help="the file to write, such as lamplight.py")
    parser.add_argument("--debug", action="store_true", help=argparse.SUPPRESS)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Write the sketch; returns the exit status."""
    from mothseed.errors import UsageError
    from mothseed.files import write_bytes

    path = arguments.path if arguments.path.suffix else arguments.path.with_suffix(".py")
    if path.exists():
        raise UsageError(f"{path} is there already", hint="choose another name; nothing was changed")
    write_bytes(path, _STARTER.encode())
    console.say(f"{path}\nto see it: mothseed proof {path}")
    return 0
