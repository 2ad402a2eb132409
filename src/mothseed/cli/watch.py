"""mothseed watch: a new proof at each save."""

from __future__ import annotations

import argparse
import asyncio
import time
from collections.abc import Coroutine
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.cli.ending import until_interrupted
from mothseed.cli.parser import command
from mothseed.cli.recipe import add_recipe, proof_command, recipe_of_texts, take_back_command
from mothseed.faults import MissingFileError, MothSeedError
from mothseed.told import counted

if TYPE_CHECKING:
    from mothseed.watch import Watch, Wish

EXAMPLE = "mothseed watch specimen.py --seed 8 --page"


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "watch",
        "Make a new proof each time you save the sketch, or a module or picture it uses. Errors are shown and the "
        "last good picture stays. --page shows it in the browser, with dials to turn, layers to leave out, streams "
        "to redraw and the next few seeds. Ctrl-C stops it. Your sketch is never written to.",
        EXAMPLE,
    )
    options.add_sketch(parser)
    add_recipe(parser)
    options.add_guides(parser)
    parser.add_argument("--width", metavar="LENGTH", help="width of the picture (default 1000px)")
    where = parser.add_mutually_exclusive_group()
    where.add_argument("-o", dest="output", type=Path, metavar="FILE", help="output file (default SKETCH-watch.png)")
    where.add_argument("--page", action="store_true", help="show it in the browser, on this machine only")
    options.add_daybook(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Watch until Ctrl-C is pressed; returns the exit status."""
    from mothseed.files import begin_folder, end_folder
    from mothseed.sizes import output_size
    from mothseed.sketch.load import refuse_other_files
    from mothseed.watch import Watch, Wish

    sketch: Path = arguments.sketch
    refuse_other_files(sketch)
    if not sketch.is_file():
        raise MissingFileError(f"there is no sketch {sketch}", hint="check the path; mothseed new writes one to start from")
    wish = Wish(recipe_of_texts(arguments, sketch), arguments.guides)
    width = output_size(arguments.width, None, 0).pixels
    name, daybook = sketch.stem, not arguments.no_daybook
    folder = begin_folder("mothseed-watch-")
    try:
        if arguments.page:
            watch = Watch(sketch, wish, width, lambda number: folder / f"{number}.png", console.announce_waits, daybook=daybook)
            show = _page(watch, folder, arguments)
        else:
            output = options.picture_path(arguments.output or Path(f"{name}-watch.png"))
            watch = Watch(sketch, wish, width, lambda _number: output, console.announce_waits, daybook=daybook)
            show = watch.run()
        try:
            until_interrupted(_watched(show, watch, arguments))
        except BaseExceptionGroup as faults:
            raise faults.exceptions[0] from None
    finally:
        end_folder(folder)
    return 0


async def _watched(show: Coroutine[Any, Any, None], watch: Watch, arguments: argparse.Namespace) -> None:
    async with asyncio.TaskGroup() as group:
        telling = group.create_task(_tell(watch, arguments))
        await show
        telling.cancel()


async def _page(watch: Watch, folder: Path, arguments: argparse.Namespace) -> None:
    """Show it on a page until Ctrl-C is pressed."""
    from mothseed.daybook import Daybook
    from mothseed.watch.past import Past
    from mothseed.watch.server import serve_page

    def again(wish: Wish) -> str:
        command = proof_command(arguments.sketch, wish.recipe)
        return f"{command} --guides" if wish.guides else command

    def told(address: str) -> None:
        console.tell_page(address, as_json=arguments.json)

    book = None if arguments.no_daybook else Daybook.of(arguments.sketch)
    past = None if book is None else Past(book, lambda entry: take_back_command(arguments.sketch, entry.entry))
    await serve_page(watch, arguments.sketch.name, folder, again, told, past)


async def _tell(watch: Watch, arguments: argparse.Namespace) -> None:
    """Say what comes of each save."""
    from mothseed.watch import Kept, Shown

    left_out: tuple[str, ...] = ()
    untold = ""
    async for shown in watch.events():
        if isinstance(shown, Kept) and shown.problem and shown.problem.message != untold:
            untold = shown.problem.message
            console.tell_not_kept(untold)
        if not isinstance(shown, Shown):
            continue
        if arguments.json:
            console.say_json_line(shown.as_plain())
            continue
        if shown.problem:
            problem = shown.problem
            console.tell_fault(MothSeedError(problem.message, hint=problem.hint, place=problem.place))
        if shown.left_out != left_out:
            left_out = shown.left_out
            console.note("\n".join(f"mothseed: {words}" for words in left_out))
        if shown.proof:
            proof, clock = shown.proof, time.strftime("%H:%M:%S")
            where = "" if arguments.page else f"{proof.file}  "
            console.say(f"{clock}  {where}seed {shown.wish.recipe.seed}, {counted(proof.marks, 'mark')}, {shown.seconds:.2f} s")
