"""mothseed check: is a sketch reproducible, and does it make a known mistake."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.cli.recipe import add_recipe, recipe_of
from mothseed.told import counted

if TYPE_CHECKING:
    from mothseed.check import Finding

EXAMPLE = "mothseed check specimen.py"


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "check",
        "Run a sketch with several seeds, also in processes with other hash seeds, and report likely mistakes: "
        "randomness that no seed controls, marks that can't be seen or printed, angles in radians, dials that "
        "change nothing, seeds that fail. Each finding has a code, explained in docs/checks.md. The exit status is "
        "1 if anything is found.",
        EXAMPLE,
    )
    options.add_sketch(parser)
    add_recipe(parser, seed=False, without=False)
    parser.add_argument("--seeds", default="1-4", metavar="SEEDS", help="seeds to try (default 1-4)")
    parser.add_argument("--fix", action="store_true", help="show a diff with the fix, where there is no doubt")
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Check; returns the exit status."""
    from mothseed.check import findings
    from mothseed.check.fix import diff_of
    from mothseed.sketch import load_sketch
    from mothseed.sketch.seeds import parse_seeds

    console.announce_waits()
    seeds = parse_seeds(arguments.seeds)
    sketch = load_sketch(arguments.sketch)
    found = list(findings(sketch, seeds, recipe_of(arguments, sketch)))
    if arguments.json:
        console.say_json([_as_plain(each) for each in found])
        return 1 if found else 0
    if arguments.fix:
        fixes = [each.fix for each in found if each.fix]
        if fixes:
            console.say(diff_of(fixes).rstrip("\n"))
        rest = counted(len(found) - len(fixes), "more finding")
        console.note(f"{counted(len(fixes), 'change')}; {rest} to look at, without --fix" if found else "nothing found")
        return 1 if found else 0
    for each in found:
        where = f"{each.line}: " if each.line else ""
        console.say_finding(where, each.code, each.says)
        if each.line and each.line.text:
            console.say(f"    {each.line.text}")
        console.say(f"  {each.words}\n  {each.remedy}\n")
    count = counted(len(found), "finding") if found else "nothing found"
    console.say(f"{arguments.sketch}: {count} in {counted(len(seeds), 'seed')}")
    return 1 if found else 0


def _as_plain(found: Finding) -> dict[str, Any]:
    return {
        "code": found.code,
        "says": found.says,
        "file": found.line.file if found.line else None,
        "line": found.line.number if found.line else None,
        "text": found.line.text if found.line else None,
        "words": found.words,
        "remedy": found.remedy,
        "fix": found.fix.text if found.fix else None,
    }
