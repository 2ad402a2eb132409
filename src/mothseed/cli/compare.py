"""mothseed compare: two pictures, or one sketch under two settings, compared."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.cli.recipe import add_recipe, recipe_of
from mothseed.cli.series_pairs import compare_series, is_series
from mothseed.faults import UsageError

if TYPE_CHECKING:
    from mothseed.compare import Comparison
    from mothseed.compare.side import Side

EXAMPLE = "mothseed compare specimen.py --seed 8 --but shadow=off -o pair.png"

_USUAL_WIDTH = 1000


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "compare",
        "Compare two pictures: side by side with a map of the visible differences, what changed (seed, dials, "
        "outcomes), and, if you name the sketch or the series, which shapes were added, removed, moved, turned, "
        "resized, recoloured, restyled or reordered, and by which lines. A and B can each be a picture, an edition "
        "written SERIES:SEED, or a sketch; a sketch on its own is compared with itself --but for one thing. Two "
        "series, or a series and its sketch as it is now, are compared seed by seed: how much each edition changed,"
        " how outcomes and measures shifted, and a sheet of pairs, most changed first.",
        EXAMPLE,
    )
    parser.add_argument("first", type=Path, metavar="A", help="a picture, SERIES:SEED, a sketch, or a series")
    parser.add_argument("second", type=Path, nargs="?", metavar="B", help="the other one; optional after a sketch")
    add_recipe(parser)
    parser.add_argument(
        "--but", dest="vary", action="append", default=[], metavar="NAME=VALUE",
        help="what is different about the second: shadow=off for a dial, seed=9, reseed:tint=4, without=glow",
    )  # fmt: skip
    options.add_made_by(parser)
    parser.add_argument("--overlay", action="store_true", help="overlay them instead of mapping the differences")
    parser.add_argument("-o", dest="output", type=Path, default=Path("compare.png"), metavar="FILE",
                        help="output file (default compare.png); a .gif or .webp alternates between the two")  # fmt: skip
    options.add_theme(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Compare; returns the exit status, which is 0 whatever differs."""
    from mothseed.compare import compared
    from mothseed.report.comparison_figure import ANIMATIONS, write_comparison

    output: Path = arguments.output
    if output.suffix.lower() not in ANIMATIONS:
        output = options.picture_path(output)
    if is_series(arguments.first):
        if output.suffix.lower() in ANIMATIONS:
            raise UsageError(f"series are compared on a sheet, and {output} is not the name of a PNG file")
        _refuse_settings(arguments)
        return compare_series(arguments, output)
    console.announce_waits()
    comparison = compared(*_sides(arguments, output))
    write_comparison(comparison, output, options.theme(arguments), overlay=arguments.overlay)
    if arguments.json:
        console.say_json({**comparison_as_plain(comparison), "figure": str(output)})
        return 0
    say_comparison(comparison)
    console.say(f"figure: {output}")
    return 0


def _refuse_settings(arguments: argparse.Namespace) -> None:
    if arguments.vary or arguments.set or arguments.settings or arguments.reseed or arguments.without:
        raise UsageError(
            "--settings, --set, --reseed, --without and --but are for sketches", hint="pictures are compared as they are"
        )


def say_comparison(comparison: Comparison) -> None:
    """Print the differences."""
    from mothseed.compare.in_words import change_lines, figures, lines_of_shapes

    for line in [*change_lines(comparison.changes), *lines_of_shapes(comparison), *figures(comparison.pair)]:
        console.say(line)
    unnamed = [side.unnamed for side in comparison.sides if side.unnamed]
    if unnamed:
        console.note(f"to compare the shapes too, if you trust {unnamed[0]}, add --sketch {unnamed[0]}")


def _sides(arguments: argparse.Namespace, output: Path) -> tuple[Side, Side]:
    from mothseed.compare.side import Named, picture_side, sketch_side
    from mothseed.sketch import load_sketch
    from mothseed.sketch.vary import parse_axis

    given = [options.picture_or_edition(each) for each in (arguments.first, arguments.second) if each is not None]
    paths, series = [path for path, _ in given], [folder for _, folder in given]
    if output.resolve() in [path.resolve() for path in paths]:
        raise UsageError(f"the figure would overwrite {output}", hint="choose another file with -o")
    sketches = {path: load_sketch(path) for path in paths if path.suffix == ".py"}
    if len(paths) == 1 and not (sketches and arguments.vary):
        raise UsageError(
            "there is nothing to compare it with",
            hint="name another picture, or write mothseed compare SKETCH --but DIAL=VALUE",
        )
    if not sketches:
        _refuse_settings(arguments)
    sides = []
    for number, path in enumerate(paths if len(paths) == 2 else paths * 2):
        sketch = sketches.get(path)
        if sketch is None:
            sides.append(picture_side(path, Named((*sketches, *arguments.made_by), series[number])))
            continue
        recipe = recipe_of(arguments, sketch)
        words = [path.name, f"seed {arguments.seed}", *([arguments.settings] if arguments.settings else [])]
        for text in arguments.vary if number else ():
            settings = parse_axis(text, sketch.artwork.dials).settings
            if len(settings) != 1:
                raise UsageError(f"--but {text}: the second has one value", hint="mothseed sweep shows many")
            recipe = settings[0].after(recipe)
            words.append(settings[0].label)
        sides.append(sketch_side(sketch, recipe, _USUAL_WIDTH, ", ".join(words)))
    return sides[0], sides[1]


def comparison_as_plain(comparison: Comparison) -> dict[str, Any]:
    """The differences as plain values for JSON."""
    pair, changes, shapes = comparison.pair, comparison.changes, comparison.shapes
    behind, symbols = (shapes.lines(), shapes.uses()) if shapes else ({}, {})
    return {
        "titles": [side.title for side in comparison.sides],
        "changes": None if changes is None else [change.as_plain() for change in changes],
        "measures": [pair.first, pair.second],
        "difference": {"mean": pair.mean, "largest": pair.largest, "noticeable": pair.noticeable},
        "structural_similarity": pair.similarity,
        "shapes": None if shapes is None else {
            "same": len(shapes.same),
            "palette": [[before.css, after.css] for before, after in shapes.palette],
            **{
                name: {
                    "count": count,
                    "lines": [{"file": line.file, "line": line.number, "count": some} for line, some in behind.get(name, [])],
                    "uses": symbols.get(name, {}),
                }
                for name, count in shapes.counts.items()
            },
        },
        "without_shapes": comparison.without_shapes,
    }  # fmt: skip
