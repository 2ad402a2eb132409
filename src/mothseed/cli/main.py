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
from mothseed.cli.completion import complete
from mothseed.cli.parser import Parser
from mothseed.errors import MothSeedError, UsageError

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
_OWN_MISTAKE = 70
"""EX_SOFTWARE of sysexits.h."""


def parser() -> argparse.ArgumentParser:
    """The whole command line. Building it imports nothing that draws, so that help is instant."""
    top = Parser(
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
    """Run a command line and return its exit status: 0 done, 1 a finding or a failed edition, 2 wrong usage.

    A mistake of Moth Seed's own, which nobody expects, is 70.
    """
    words = sys.argv[1:] if arguments is None else list(arguments)
    reader = parser()
    complete(reader)
    if not words:
        reader.print_help(sys.stderr)
        return UsageError.exit_status
    try:
        chosen = reader.parse_args(words)
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
    except Exception as fault:
        if chosen.debug:
            raise
        console.tell_own_mistake(fault)
        return _OWN_MISTAKE
