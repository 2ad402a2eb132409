"""mothseed proof: one picture."""

from __future__ import annotations

import argparse
import time
from collections import Counter
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.cli.recipe import add_recipe, parsed, proof_command, recipe_of_texts
from mothseed.told import assignments, counted, listed, spread, told

if TYPE_CHECKING:
    from mothseed.chance.outcome import Outcome
    from mothseed.making import Made

_MOST_VALUES = 8
"""Most values shown for one label, the most frequent first."""

EXAMPLE = "mothseed proof specimen.py --seed 7 --set spots=3 --width 1600px"


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(commands, "proof", "Make one picture of a sketch.", EXAMPLE)
    options.add_sketch(parser)
    add_recipe(parser)
    parser.add_argument(
        "-o",
        dest="output",
        type=Path,
        metavar="FILE",
        help="output file: .png, .svg, .pdf, .webp, .tif or .jpg (default SKETCH-SEED.png)",
    )
    parser.add_argument(
        "--keep-settings", metavar="NAME", help="save the dials you set under this name in SKETCH.settings.toml, for --settings"
    )
    options.add_guides(parser)
    options.add_rounding(parser)
    parser.add_argument("--small", action="store_true", help="compress the PNG as far as possible; takes longer")
    options.add_size(parser)
    options.add_daybook(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Make the picture; returns the exit status."""
    from mothseed.faults import FileError, MothSeedError, UsageError
    from mothseed.formats import Effort, Settings
    from mothseed.formats.registry import refuse_settings
    from mothseed.making import make
    from mothseed.render.rounding import Rounding
    from mothseed.sketch import load_sketch
    from mothseed.sketch.artwork import size_for
    from mothseed.sketch.perform import dial_values
    from mothseed.sketch.seeds import edition_file

    started = time.perf_counter()
    console.announce_waits()
    texts = recipe_of_texts(arguments, arguments.sketch)
    sketch = load_sketch(arguments.sketch)
    recipe = parsed(texts, arguments, sketch)
    output: Path = arguments.output or Path(f"{sketch.name}-{edition_file(recipe.seed)}")
    if output.is_dir():
        raise UsageError(f"{output} is a folder, not the name of a picture", hint=f"write -o {output / 'picture.png'}")
    refuse_settings(output, _given(arguments))
    name, kept = arguments.keep_settings, None
    if name is not None:
        from mothseed.sketch.named_dials import check_name, keep_settings

        check_name(name)
    size = size_for(sketch.artwork, arguments.width, arguments.dpi)
    effort = Effort.SMALL if arguments.small else Effort.QUICK
    rounding = Rounding(arguments.depth, arguments.grey, arguments.dither)
    settings = Settings(size.pixels, size.dpi, effort, rounding, arguments.keep_text)
    try:
        made = make(sketch, recipe)
        written = made.write(output, settings, guides=arguments.guides)
    except (UsageError, FileError):
        raise
    except MothSeedError as fault:
        if arguments.debug:
            raise
        shown = recipe.but(dials=dial_values(sketch.artwork.dials, recipe.dials))
        console.tell_fault(fault, console.circumstances_of(shown), proof_command(arguments.sketch, texts))
        return fault.exit_status
    if name is not None:
        kept = keep_settings(arguments.sketch, name, recipe.dials)
    if not arguments.no_daybook:
        _keep_in_daybook(made)
    seconds = time.perf_counter() - started
    marks, history = len(made.drawing), made.history
    if arguments.json:
        console.say_json(
            {
                "file": str(output),
                "width": written.width,
                "height": written.height,
                "unit": written.unit,
                "marks": marks,
                "seconds": round(seconds, 3),
                "history": history.as_dict(),
                **({"settings": str(kept)} if kept else {}),
            }
        )
        return 0
    console.say(f"{output}  {written.width:g} x {written.height:g} {written.unit}, {counted(marks, 'mark')}, {seconds:.2f} s")
    console.say(f"seed {recipe.seed}, fingerprint {history.fingerprint}")
    if kept:
        console.say(f"settings {name} kept in {kept}")
    for line in _outcome_lines(history.outcomes):
        console.say(line)
    return 0


def _outcome_lines(outcomes: Sequence[Outcome]) -> Iterator[str]:
    """The outcomes: those that came up once on one line, and a line for each label that came up several times."""
    from mothseed.chance.outcome import all_by_label

    values = all_by_label(outcomes)
    single = [(label, came[0]) for label, came in values.items() if len(came) == 1]
    if single:
        yield assignments(single)
    for label, came in values.items():
        if len(came) == 1:
            continue
        numbers = [value for value in came if isinstance(value, int | float) and not isinstance(value, bool)]
        if len(numbers) == len(came) and len(set(numbers)) > _MOST_VALUES:
            yield f"{label}  {spread(len(came), min(numbers), max(numbers), sum(numbers) / len(numbers))}"
            continue
        counts = Counter(told(value) for value in came).most_common()
        shown = [f"{value} {count}" for value, count in counts[:_MOST_VALUES]]
        yield f"{label}  {listed([*shown, *counts[_MOST_VALUES:]], _MOST_VALUES)}"


def _keep_in_daybook(made: Made) -> None:
    """Add the picture to the daybook of its sketch; if that is impossible, say so and go on."""
    from mothseed.daybook import Daybook
    from mothseed.faults import FileError

    book = Daybook.of(made.sketch.path)
    try:
        if book is not None:
            book.keep(made)
    except FileError as fault:
        console.tell_not_kept(fault.message)


_SETTINGS = {
    "width": "width",
    "dpi": "dpi",
    "keep_text": "keep_text",
    "small": "effort",
    "depth": "rounding",
    "grey": "rounding",
    "dither": "rounding",
}
"""Options that not every format supports, with the settings of a picture file that they set."""


def _given(arguments: argparse.Namespace) -> dict[str, str]:
    """The settings given on the command line."""
    return {
        name: setting
        for name, setting in _SETTINGS.items()
        if getattr(arguments, name) not in (None, False, options.USUAL_DEPTH)
    }
