"""The entry of the command line."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Sequence

from mothseed._version import VERSION
from mothseed.cli import (
    check,
    compare,
    console,
    contact,
    demo,
    edition,
    influence,
    lightbox,
    mark,
    new,
    palette,
    proof,
    recover,
    replay,
    seek,
    sweep,
    table,
    tally,
    trace,
    variety,
    verify,
    watch,
)
from mothseed.errors import MothSeedError

_COMMANDS = (
    new,
    proof,
    watch,
    check,
    edition,
    sweep,
    influence,
    seek,
    compare,
    contact,
    table,
    tally,
    variety,
    lightbox,
    mark,
    verify,
    recover,
    palette,
    trace,
    replay,
    demo,
)
_INTERRUPTED = 130


def parser() -> argparse.ArgumentParser:
    """The whole command line. Building it imports nothing that draws, so that help is instant."""
    top = argparse.ArgumentParser(
        prog="mothseed",
        description="Make, repeat and compare generative pictures from seeded sketches in Python.",
        epilog="mothseed COMMAND --help tells about a command. New here? Run: mothseed demo",
    )
    top.add_argument("--version", action="version", version=f"mothseed {VERSION}")
    commands = top.add_subparsers(title="commands", metavar="COMMAND", required=True)
    for module in _COMMANDS:
        module.add_parser(commands)
    return top


def main(arguments: Sequence[str] | None = None) -> int:
    """Run a command line and return its exit status: 0 done, 1 a finding or a failed edition, 2 wrong usage."""
    try:
        chosen = parser().parse_args(arguments)
    except SystemExit as stop:
        return int(stop.code or 0)
    try:
        return int(chosen.run(chosen))
    except MothSeedError as fault:
        if chosen.debug:
            raise
        console.tell_fault(fault)
        return fault.exit_status
    except KeyboardInterrupt:
        console.note("Stopped. What was done is kept; the same command goes on from there.")
        return _INTERRUPTED
    except BrokenPipeError:
        sys.stderr.close()
        return 0
