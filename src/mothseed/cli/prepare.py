"""mothseed prepare: compile the renderer for this machine before it is needed."""

from __future__ import annotations

import argparse
import time

from mothseed.cli import console, options
from mothseed.cli.parser import command

EXAMPLE = "mothseed prepare"


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "prepare",
        "Compile the renderer for this machine now instead of with the first picture. Useful when you install Moth "
        "Seed for other people or build a machine image. MOTHSEED_CACHE_DIR sets where the result is kept.",
        EXAMPLE,
    )
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Compile the renderer unless it is there; returns the exit status."""
    from mothseed.making import prepare_kernels
    from mothseed.native.store import home

    console.announce_waits()
    folder = home()
    started = time.perf_counter()
    prepare_kernels()
    seconds = time.perf_counter() - started
    if arguments.json:
        console.say_json({"folder": str(folder) if folder else None, "seconds": round(seconds, 3)})
    elif folder is None:
        console.say(f"compiled in {seconds:.1f} s, but no folder for it can be written: set MOTHSEED_CACHE_DIR to one")
    else:
        console.say(f"{folder}  ready in {seconds:.1f} s")
    return 0 if folder else 1
