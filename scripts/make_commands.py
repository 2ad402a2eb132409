"""Write docs/reference/commands.md and docs/man/mothseed.1 from the command line itself.

    python scripts/make_commands.py

For the man page the package argparse-manpage is needed: pip install ".[docs]".
"""

from __future__ import annotations

import argparse
import os
from pathlib import Path

from mothseed.cli.main import parser

ROOT = Path(__file__).parents[1]
PAGE = ROOT / "docs" / "reference" / "commands.md"
MAN = ROOT / "docs" / "man" / "mothseed.1"
HEAD = """# Commands

Written by `scripts/make_commands.py` from the command line itself. Results go to standard output, everything else to standard
error. The exit status is 0 for success, 1 for a finding or a failed edition, 2 for wrong usage, and 70 for a mistake of Moth
Seed's own.

The shell completes commands, options and the dials of your sketch once you enable it:

```sh
eval "$(register-python-argcomplete mothseed)"    # in ~/.bashrc or ~/.zshrc
```

`man mothseed` shows the same if `share/man` of the environment is on your manual path.
"""


def commands() -> dict[str, argparse.ArgumentParser]:
    """The commands by name, in the order in which help lists them."""
    found = next(action for action in parser()._actions if isinstance(action, argparse._SubParsersAction))
    return dict(found.choices)


def page() -> str:
    """The whole page as Markdown."""
    return "\n".join([HEAD, *(_section(name, command) for name, command in commands().items())])


def _section(name: str, command: argparse.ArgumentParser) -> str:
    shown = [action for action in command._actions if action.help != argparse.SUPPRESS and action.dest != "help"]
    rows = [f"| {_written(action)} | {_plain(action.help or '')} |" for action in shown]
    example = (command.epilog or "").removeprefix("example: ")
    lines = [f"## mothseed {name}", "", command.description or "", "", "```sh", example, "```", ""]
    return "\n".join([*lines, "| argument | |", "|---|---|", *rows, ""])


def _written(action: argparse.Action) -> str:
    """An argument as it is written."""
    value = action.metavar or ("" if action.nargs == 0 else "|".join(map(str, action.choices or [])))
    value = " ".join(value) if isinstance(value, tuple) else value
    names = ", ".join(action.option_strings)
    return "`" + _plain(f"{names} {value}".strip()) + "`"


def _plain(text: str) -> str:
    return text.replace("%%", "%").replace("|", "\\|")


def man_page() -> str:
    """The manual page as troff; dated to nothing, so that it changes only with the commands."""
    from argparse_manpage.manpage import Manpage

    os.environ["SOURCE_DATE_EPOCH"] = "0"
    os.environ["COLUMNS"] = "80"
    manual = Manpage(parser())
    manual.manual = "Moth Seed"
    manual.description = "make, repeat and compare generative pictures"
    return str(manual).replace('"1970\\-01\\-01" ', '"" ')


def main() -> None:
    """Write both."""
    PAGE.write_text(page(), encoding="utf-8")
    MAN.parent.mkdir(exist_ok=True)
    MAN.write_text(man_page(), encoding="utf-8")


if __name__ == "__main__":
    main()
