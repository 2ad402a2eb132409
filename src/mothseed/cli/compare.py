"""mothseed compare: two pictures, or one sketch under two settings, held against each other."""

from __future__ import annotations

import argparse
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.errors import UsageError

if TYPE_CHECKING:
    from mothseed.compare import Change, Pair, ShapeChanges
    from mothseed.compare.side import Side

EXAMPLE = "mothseed compare specimen.py --seed 8 --but shadow=off -o pair.png"

_ANIMATIONS = (".gif", ".webp")
_SHOWN_LINES = 3
_USUAL_WIDTH = 1000
_TOLD = ("coverage", "lightness", "contrast", "colourfulness", "detail")


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "compare",
        "Hold two pictures against each other: side by side with a map of where they differ to the eye, what was "
        "changed (seed, dials, outcomes), and, where the sketch is at hand, which shapes were added, removed, moved, turned, "
        "resized, recoloured or restyled, with the lines behind them. Each of A and B is a picture, an edition written "
        "SERIES:SEED, or a sketch; a sketch alone is compared with itself --but for one thing.",
        EXAMPLE,
    )
    parser.add_argument("first", type=Path, metavar="A", help="a picture, SERIES:SEED, or a sketch")
    parser.add_argument("second", type=Path, nargs="?", metavar="B", help="another; may be left out after a sketch")
    parser.add_argument("--seed", default="1", metavar="SEED", help="the seed of sketches (default 1)")
    options.add_settings(parser)
    options.add_without(parser)
    parser.add_argument(
        "--but", action="append", default=[], metavar="NAME=VALUE",
        help="what the second has otherwise: shadow=off for a dial, seed=9, reseed:tint=4, without=glow",
    )  # fmt: skip
    parser.add_argument("--overlay", action="store_true", help="lay them over each other instead of mapping the difference")
    parser.add_argument("-o", dest="output", type=Path, default=Path("compare.png"), metavar="FILE",
                        help="where to write the figure (default compare.png); .gif or .webp: they take turns")  # fmt: skip
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Compare; returns the exit status, which is 0 whatever differs."""
    output: Path = arguments.output
    if output.suffix.lower() not in _ANIMATIONS:
        output = options.picture_path(output)
    console.announce_compiling()
    first, second = _sides(arguments, output)
    comparison = compared(first, second, output, overlay=arguments.overlay)
    if arguments.json:
        console.say_json(_as_plain(comparison))
        return 0
    say_comparison(comparison)
    console.say(f"figure: {output}")
    return 0


@dataclass(frozen=True, slots=True, eq=False)
class Comparison:
    """What came of holding two sides against each other."""

    sides: tuple[Side, Side]
    pair: Pair
    changes: list[Change] | None
    """None where one of them carries no history"""
    shapes: ShapeChanges | None
    without_shapes: str
    """why there are no shapes to compare"""
    output: Path


def compare_files(first: Path, second: Path, output: Path) -> Comparison:
    """Compare two picture files and write the figure."""
    from mothseed.compare.side import picture_side

    return compared(picture_side(first), picture_side(second), output)


def compared(first: Side, second: Side, output: Path, *, overlay: bool = False) -> Comparison:
    """Compare two sides and write the figure, or the animation where the file's name asks for one."""
    from mothseed.compare import history_changes, paired, shape_changes
    from mothseed.compare.scale import at_one_scale
    from mothseed.render.animation import write_animation
    from mothseed.report.overlay import TURN, taking_turns
    from mothseed.report.page import write_page
    from mothseed.report.side_by_side import side_by_side

    images = at_one_scale((first.pixels, second.pixels), (first.sheet, second.sheet))
    pair = paired(*images, (first.paper, second.paper))
    changes = history_changes(first.history, second.history) if first.history and second.history else None
    reason = first.without_shapes or second.without_shapes
    shapes = None
    if first.impression and second.impression:
        if first.impression.drawing.unit == second.impression.drawing.unit:
            shapes = shape_changes(first.impression, second.impression)
        else:
            reason = "their sheets are in unlike units"
    comparison = Comparison((first, second), pair, changes, shapes, reason, output)
    titles = first.title, second.title
    if output.suffix.lower() in _ANIMATIONS:
        write_animation(output, taking_turns(*images, titles), [TURN, TURN])
        return comparison
    lines = [*_change_lines(changes), *_shape_lines(comparison), "  ·  ".join(_figures(pair))]
    figure = side_by_side(images, pair, titles, lines, shapes, overlay=overlay)
    write_page(figure, output)
    return comparison


def say_comparison(comparison: Comparison) -> None:
    """What differs, in lines."""
    for line in [*_change_lines(comparison.changes), *_shape_lines(comparison), *_figures(comparison.pair)]:
        console.say(line)


def _sides(arguments: argparse.Namespace, output: Path) -> tuple[Side, Side]:
    from mothseed.compare.side import picture_side, sketch_side
    from mothseed.series.vary import parse_axis
    from mothseed.sketch import load_sketch
    from mothseed.sketch.seeds import parse_seed

    paths = [_path(each) for each in (arguments.first, arguments.second) if each is not None]
    if output.resolve() in [path.resolve() for path in paths]:
        raise UsageError(f"{output} would be overwritten by the figure about it", hint="choose another file with -o")
    sketches = {path: load_sketch(path) for path in paths if path.suffix == ".py"}
    if len(paths) == 1 and not (sketches and arguments.but):
        raise UsageError(
            "compare it with what?", hint="name another picture, or write mothseed compare SKETCH --but DIAL=VALUE"
        )
    settings = arguments.but or arguments.set or arguments.reseed or arguments.without
    if settings and not sketches:
        raise UsageError("--set, --reseed, --without and --but are for sketches", hint="pictures are compared as they are")
    sides = []
    for number, path in enumerate(paths if len(paths) == 2 else paths * 2):
        sketch = sketches.get(path)
        if sketch is None:
            sides.append(picture_side(path))
            continue
        base = options.chosen_variant(arguments, sketch)
        seed, words = parse_seed(arguments.seed), [path.name, f"seed {arguments.seed}"]
        for text in arguments.but if number else ():
            settings = parse_axis(text, sketch.artwork.dials).settings
            if len(settings) != 1:
                raise UsageError(f"--but {text}: the second has one value", hint="mothseed sweep shows many")
            base = settings[0].after(base)
            seed = settings[0].seed_or(seed)
            words.append(settings[0].label)
        sides.append(sketch_side(sketch, seed, base, _USUAL_WIDTH, ", ".join(words)))
    return sides[0], sides[1]


def _path(given: Path) -> Path:
    """A path as it is, or that of the picture of SERIES:SEED, or SERIES:SEED.VARIANT."""
    folder, colon, name = str(given).rpartition(":")
    if given.exists() or not (colon and Path(folder).is_dir()):
        return given
    from mothseed.sketch.seeds import edition_file, parse_seed

    seed, _, variant = name.partition(".")
    return Path(folder) / edition_file(parse_seed(seed), variant)


def _change_lines(changes: list[Change] | None) -> list[str]:
    if changes is None:
        return ["no history in both pictures to compare"]
    if not changes:
        return ["made from the same sketch, seed and dials"]
    hidden = {"sketch_hash": "sketch: its code was changed"}
    return [hidden.get(change.name, f"{change.name}: {_shown(change.first)} -> {_shown(change.second)}") for change in changes]


def _shape_lines(comparison: Comparison) -> list[str]:
    shapes = comparison.shapes
    if shapes is None:
        return [f"shapes are not compared: {comparison.without_shapes}"]
    lines = [f"{len(shapes.same):,} shapes are as they were"]
    behind = shapes.lines()
    for name, count in shapes.counts.items():
        if count:
            own = behind.get(name, [])
            words = ", ".join(f"{line} ({some:,})" if len(own) > 1 else str(line) for line, some in own[:_SHOWN_LINES])
            more = f" and {len(own) - _SHOWN_LINES} lines more" if len(own) > _SHOWN_LINES else ""
            lines.append(f"{count:,} {name}: {words}{more}")
    return lines


def _figures(pair: Pair) -> list[str]:
    told = [
        f"{name} {pair.first[name]:.3g} -> {pair.second[name]:.3g}" for name in _TOLD if pair.first[name] != pair.second[name]
    ]
    return [
        *told,
        f"structural similarity {pair.similarity:.4f}",
        f"difference {pair.mean:.4f} in OKLab on average, {pair.largest:.3f} at most; {pair.noticeable:.1%} differs to the eye",
    ]


def _shown(value: Any) -> str:
    match value:
        case None:
            return "none"
        case bool():
            return "on" if value else "off"
        case list():
            return ", ".join(map(_shown, value)) or "none"
    return str(value)


def _as_plain(comparison: Comparison) -> dict[str, Any]:
    pair, changes, shapes = comparison.pair, comparison.changes, comparison.shapes
    behind = shapes.lines() if shapes else {}
    return {
        "titles": [side.title for side in comparison.sides],
        "changes": None if changes is None else [{"name": c.name, "first": c.first, "second": c.second} for c in changes],
        "measures": [pair.first, pair.second],
        "difference": {"mean": pair.mean, "largest": pair.largest, "noticeable": pair.noticeable},
        "structural_similarity": pair.similarity,
        "shapes": None if shapes is None else {
            "same": len(shapes.same),
            **{
                name: {
                    "count": count,
                    "lines": [{"file": line.file, "line": line.number, "count": some} for line, some in behind.get(name, [])],
                }
                for name, count in shapes.counts.items()
            },
        },
        "without_shapes": comparison.without_shapes,
        "figure": str(comparison.output),
    }  # fmt: skip
