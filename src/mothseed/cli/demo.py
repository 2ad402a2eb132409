"""mothseed demo: the whole example in one go."""

from __future__ import annotations

import argparse
import time
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli import console, edition, options
from mothseed.cli.parser import command

if TYPE_CHECKING:
    from mothseed.making import Made

EXAMPLE = "mothseed demo night-register"

_SKETCHES = ("specimen", "drawer", "lamp", "lattice", "flights", "scales", "register", "moonrise")
_FILES = (*(f"{name}.py" for name in _SKETCHES), "moth.py", "dusk.png", "lichen.png")
_COOKBOOK = "cookbook"
_SEEDS = "1-24"
_WIDTH = 1000
_SEEDS_OF_PROOFS = {
    "specimen": 8,
    "drawer": 3,
    "lamp": 5,
    "lattice": 4,
    "flights": 1,
    "scales": 1,
    "register": 5,
    "moonrise": 7,
}


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "demo",
        "Write the Night Register to a folder: seven sketches and their source pictures, proofs of each, a series "
        "of 24 with its contact sheet, and a comparison. Thirty-four small cookbook sketches come with it. Files "
        "you have changed are left alone.",
        EXAMPLE,
    )
    parser.add_argument(
        "folder",
        type=Path,
        nargs="?",
        default=Path("night-register"),
        metavar="FOLDER",
        help="the folder (default night-register)",
    )
    options.add_jobs(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Make all of the example; returns the exit status."""
    from mothseed.compare import compared
    from mothseed.compare.side import Named, picture_side
    from mothseed.report.comparison_figure import write_comparison
    from mothseed.report.series_sheet import write_contact_sheet
    from mothseed.series import Request
    from mothseed.sketch import load_sketch
    from mothseed.sketch.seeds import parse_seeds

    started = time.perf_counter()
    folder: Path = arguments.folder
    console.announce_waits()
    for name in _write_example(folder):
        console.note(f"{folder / name} was changed by you and stays as it is")
    proofs = {name: _proof(folder, name, _SEEDS_OF_PROOFS[name]) for name in _SKETCHES}
    proofs["specimen-flat"] = _proof(folder, "specimen", _SEEDS_OF_PROOFS["specimen"], {"shadow": False}, "-flat")
    paths = {name: path for name, (path, _) in proofs.items()}
    figure = folder / "compare.png"
    own = Named((folder / "specimen.py",))
    write_comparison(compared(*(picture_side(paths[name], own) for name in ("specimen", "specimen-flat"))), figure)

    series = folder / "moths"
    request = Request.of(load_sketch(folder / "specimen.py"), tuple(parse_seeds(_SEEDS)), _WIDTH, series)
    series_started = time.perf_counter()
    summary = edition.make_with_progress(request, arguments.jobs)
    series_seconds = time.perf_counter() - series_started
    contact = write_contact_sheet(series, "specimen")
    seconds = time.perf_counter() - started

    if arguments.json:
        console.say_json(
            {
                "folder": str(folder),
                "proofs": {
                    name: {"file": str(path), "history": made.history.as_dict()} for name, (path, made) in proofs.items()
                },
                "series": {"folder": str(series), "made": summary.made, "kept": summary.kept, "failed": len(summary.failed)},
                "contact": str(contact),
                "compare": str(figure),
                "seconds": round(seconds, 3),
            }
        )
        return 1 if summary.failed else 0
    edition.say_summary(series, summary, series_seconds)
    console.say(
        f"""
The Night Register is in {folder}/, made in {seconds:.1f} s:
  {paths["specimen"]}   a plate of one moth
  {paths["drawer"]}     a drawer of many
  {paths["lamp"]}       moths around a lamp
  {paths["lattice"]}    a garden lattice
  {paths["flights"]}    flights through the dark, on a random wind
  {paths["scales"]}     a photograph in thousands of faint scales
  {paths["register"]}   a page of wings, each in one of several techniques
  {paths["moonrise"]}   an engraved moon, and the night mapped around it
  {contact}   24 editions of the plate
  {figure}         the plate with its shadow and without
  {folder / _COOKBOOK}/           thirty-four small sketches to begin from

Five things to try, in {folder}/
  mothseed watch specimen.py --page                       change a number, save, see it change
  mothseed proof specimen.py --seed lamp --set spots=4    another seed, a dial turned
  mothseed proof lamp.py --set moths=200 --without glow   one layer left out
  mothseed edition specimen.py --seeds 1-48 -o moths      forty-eight editions
  mothseed lightbox moths                                 look through them, mark, compare"""
    )
    return 1 if summary.failed else 0


def _write_example(folder: Path) -> list[str]:
    """Write the sketches and pictures; returns the names of those that are there already with other content."""
    from importlib.resources import files

    from mothseed.files import write_bytes

    example = files("mothseed") / "demo"
    small = sorted(f"{_COOKBOOK}/{each.name}" for each in (example / _COOKBOOK).iterdir() if each.is_file())
    changed = []
    for name in (*_FILES, *small):
        content = (example / name).read_bytes()
        path = folder / name
        if not path.exists():
            write_bytes(path, content)
        elif path.read_bytes() != content:
            changed.append(name)
    return changed


def _proof(folder: Path, name: str, seed: int, dials: dict[str, object] | None = None, suffix: str = "") -> tuple[Path, Made]:
    """Make one proof of the example; returns its path and what it is."""
    from mothseed.formats import Settings
    from mothseed.making import make
    from mothseed.sketch import Recipe, load_sketch
    from mothseed.sketch.seeds import edition_file

    made = make(load_sketch(folder / f"{name}.py"), Recipe(seed=seed, dials=dials or {}))
    path = folder / f"{name}-{Path(edition_file(seed)).stem}{suffix}.png"
    made.write(path, Settings(_WIDTH))
    return path, made
