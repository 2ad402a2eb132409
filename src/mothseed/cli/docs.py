"""mothseed docs: the documentation in a browser."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path
from urllib.parse import urlencode

from mothseed.cli import console, options
from mothseed.cli.parser import command

EXAMPLE = "mothseed docs soft shadow"

_SITE = Path(__file__).resolve().parents[1] / "site"
"""Where scripts/make_docs.py builds it, and a wheel has it."""


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "docs",
        "Open the documentation in your browser: tutorials, a cookbook, every call with its picture. It comes with Moth "
        "Seed and needs no network. With words, search it for them.",
        EXAMPLE,
    )
    parser.add_argument("words", nargs="*", metavar="WORD", help="words to search for")
    parser.add_argument("--no-open", action="store_true", help="print the address and open nothing")
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Open it; returns the exit status."""
    from mothseed.faults import MissingFileError

    page = _SITE / ("search.html" if arguments.words else "index.html")
    if not page.is_file():
        raise MissingFileError(
            "the documentation is not part of this installation",
            hint="read docs/README.md in the source, or build it there: python scripts/make_docs.py",
        )
    address = page.as_uri() + (f"?{urlencode({'q': ' '.join(arguments.words)})}" if arguments.words else "")
    if arguments.json:
        console.say_json({"page": address})
    else:
        console.say(address)
    if not arguments.no_open and _has_screen():
        import webbrowser

        webbrowser.open(address)
    return 0


def _has_screen() -> bool:
    """Whether a browser could open a window; without a screen, a text browser might take over the terminal."""
    if sys.platform in {"win32", "darwin"}:
        return True
    return bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))
