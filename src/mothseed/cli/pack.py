"""mothseed pack: a series in one file, for sharing."""

from __future__ import annotations

import argparse
from pathlib import Path

from mothseed.cli import console, options
from mothseed.cli.light_table import USUAL_WIDTH, pictures_folder, written_page
from mothseed.cli.parser import command
from mothseed.faults import SeriesError, UsageError
from mothseed.told import counted

EXAMPLE = "mothseed pack moths -o moths.zip"


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "pack",
        "Put a series in one ZIP file: pictures, source, ledger, a light table, software versions and file hashes. "
        "All it takes to look through it is a browser, and mothseed verify checks it.",
        EXAMPLE,
    )
    options.add_series(parser)
    parser.add_argument("-o", dest="output", type=Path, metavar="FILE", help="output file, .zip (default SERIES.zip)")
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Write the pack; returns the exit status."""
    from mothseed.layout import LIGHTBOX_NAME
    from mothseed.series.pack import write_pack

    folder: Path = arguments.series
    output = options.output_path(arguments.output or Path(f"{folder.resolve().name}.zip"), (".zip",), "a .zip file")
    if output.resolve().is_relative_to(folder.resolve()):
        raise UsageError(f"{output} lies in the series that it is to hold", hint=f"write -o {folder.resolve().name}.zip")
    editions = options.editions_of(folder)
    shown = options.editions_with_pictures(folder)
    if not shown:
        raise SeriesError(f"there is no picture in {folder} to pack", hint="make some with mothseed edition")
    more: dict[str, bytes] = {}
    beside = pictures_folder(Path(LIGHTBOX_NAME))

    def keep(name: str, content: bytes) -> None:
        more[(beside / name).as_posix()] = content

    more[LIGHTBOX_NAME] = written_page(folder, shown, folder / LIGHTBOX_NAME, USUAL_WIDTH, lambda _name: False, keep)
    files = write_pack(folder, editions, output, more)
    size = output.stat().st_size
    if arguments.json:
        console.say_json({"file": str(output), "files": files, "editions": len(shown), "bytes": size})
        return 0
    console.say(f"{output}  {counted(len(shown), 'edition')}, {counted(files, 'file')}, {size / 1e6:.1f} MB")
    return 0
