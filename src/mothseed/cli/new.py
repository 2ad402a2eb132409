"""mothseed new: a starter sketch."""

from __future__ import annotations

import argparse
from pathlib import Path

from mothseed.cli import console
from mothseed.cli.parser import command

EXAMPLE = "mothseed new lamplight.py"

STARTER = '''"""A first sketch: wings around a light."""

from mothseed import Palette, artwork, dial


@artwork(width=200, height=200, unit="mm", paper="#131a2b")
def picture(sheet, chance, *, count=dial(21, 1, 60, help="wings around the light"), tilt=dial(28, -80, 80)):
    palette = Palette(["#e8b44f", "#d9715b", "#9c6fb0", "#4d7a9c"])
    light = sheet.centred()
    for layer in range(40):
        light.circle(0, 0, 10 + layer * 1.6, fill="#f7d488", opacity=0.02)
    for place in light.ring(count, radius=56):
        wing = place.frame(turn=tilt + chance("tilt", place.index).bell(0, 7))
        reach = chance("reach", place.index).between(24, 36)
        wing.ellipse(0, 0, 8, reach, fill=palette.pick(chance("tint", place.index)), opacity=0.7)
        wing.ellipse(0, -reach * 0.5, 2.4, 3, fill="#131a2b", stroke="#fdf3cf", stroke_width=0.6)
    light.circle(0, 0, 9, fill="#fdf3cf")
'''


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(commands, "new", "Write a starter sketch that runs as it is.", EXAMPLE)
    parser.add_argument("path", type=Path, metavar="PATH", help="the file to write, such as lamplight.py")
    parser.add_argument("--debug", action="store_true", help=argparse.SUPPRESS)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Write the sketch; returns the exit status."""
    from mothseed.faults import UsageError
    from mothseed.files import renamed, write_bytes

    path = arguments.path if arguments.path.suffix else renamed(arguments.path, ".py")
    if path.exists():
        raise UsageError(f"{path} already exists", hint="choose another name; nothing was changed")
    write_bytes(path, STARTER.encode())
    console.say(f"{path}\nto see it: mothseed proof {path}\nto see it change as you work on it: mothseed watch {path} --page")
    return 0
