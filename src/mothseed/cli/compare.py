"""mothseed compare: two pictures held against each other."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.errors import UsageError

if TYPE_CHECKING:
    from mothseed.compare import Change, Pair
    from mothseed.sketch.history import History

EXAMPLE = "mothseed compare specimen-0007.png specimen-0008.png -o pair.png"


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = commands.add_parser(
        "compare",
        help="two pictures side by side, and what differs",
        description="Put two pictures of one size side by side with a map of where they differ to the eye, and tell what "
        "differs: seed, dials, outcomes, coverage, lightness.",
        epilog=f"example: {EXAMPLE}",
    )
    parser.add_argument("first", type=Path, metavar="A", help="a PNG file")
    parser.add_argument("second", type=Path, metavar="B", help="another PNG file of the same size")
    parser.add_argument("-o", dest="output", type=Path, default=Path("compare.png"), metavar="FILE",
                        help="where to write the figure (default compare.png)")  # fmt: skip
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Compare; returns the exit status, which is 0 whatever differs."""
    output = options.picture_path(arguments.output)
    if output.resolve() in (arguments.first.resolve(), arguments.second.resolve()):
        raise UsageError(f"{output} would be overwritten by the figure about it", hint="choose another file with -o")
    pair, changes = compare_files(arguments.first, arguments.second, output)
    if arguments.json:
        console.say_json(_as_plain(pair, changes, output))
        return 0
    say_comparison(pair, changes)
    console.say(f"figure: {output}")
    return 0


def compare_files(first: Path, second: Path, output: Path) -> tuple[Pair, list[Change] | None]:
    """Compare two pictures and write the figure; no list of changes where one of them carries no history."""
    from PIL import Image

    from mothseed.colour import Colour
    from mothseed.colour.picture import read_picture
    from mothseed.compare import history_changes, paired
    from mothseed.files import written_whole
    from mothseed.report.page import on_white
    from mothseed.report.side_by_side import side_by_side

    images = [read_picture(path) for path in (first, second)]
    histories = [_history(path) for path in (first, second)]
    papers = [Colour.parse(history.paper) if history else None for history in histories]
    pair = paired(images[0], images[1], (papers[0], papers[1]))
    before, after = histories
    changes = history_changes(before, after) if before and after else None
    titles = (_title(first, before), _title(second, after))
    shown = [on_white(Image.fromarray(image)) for image in images]
    figure = side_by_side(shown[0], shown[1], pair, titles, [*_change_lines(changes), _figures(pair)])
    with written_whole(output) as part:
        figure.save(part, format="PNG", compress_level=1)
    return pair, changes


def say_comparison(pair: Pair, changes: list[Change] | None) -> None:
    """What differs, in lines."""
    for line in _change_lines(changes):
        console.say(line)
    first, second = pair.first, pair.second
    console.say(f"coverage:   {first.coverage:.1%} -> {second.coverage:.1%}")
    console.say(f"lightness:  {first.lightness:.3f} -> {second.lightness:.3f}")
    console.say(f"difference: {pair.mean:.4f} on average, {pair.largest:.3f} at most; {pair.noticeable:.1%} differs to the eye")


def _change_lines(changes: list[Change] | None) -> list[str]:
    if changes is None:
        return ["no history in both pictures to compare"]
    if not changes:
        return ["made from the same sketch, seed and dials"]
    hidden = {"sketch_hash": "sketch: its code was changed"}
    return [hidden.get(change.name, f"{change.name}: {_shown(change.first)} -> {_shown(change.second)}") for change in changes]


def _figures(pair: Pair) -> str:
    return (
        f"coverage {pair.first.coverage:.1%} -> {pair.second.coverage:.1%}  ·  "
        f"lightness {pair.first.lightness:.3f} -> {pair.second.lightness:.3f}  ·  "
        f"mean difference {pair.mean:.4f}  ·  {pair.noticeable:.1%} differs to the eye"
    )


def _shown(value: Any) -> str:
    match value:
        case None:
            return "none"
        case bool():
            return "on" if value else "off"
        case list():
            return ", ".join(map(_shown, value))
    return str(value)


def _history(path: Path) -> History | None:
    from mothseed.render import read_history
    from mothseed.sketch.history import History

    text = read_history(path)
    return History.from_json(text) if text else None


def _title(path: Path, history: History | None) -> str:
    return f"{path.name}, seed {history.seed}" if history else path.name


def _as_plain(pair: Pair, changes: list[Change] | None, output: Path) -> dict[str, Any]:
    return {
        "changes": None if changes is None else [{"name": c.name, "first": c.first, "second": c.second} for c in changes],
        "coverage": [pair.first.coverage, pair.second.coverage],
        "lightness": [pair.first.lightness, pair.second.lightness],
        "difference": {"mean": pair.mean, "largest": pair.largest, "noticeable": pair.noticeable},
        "figure": str(output),
    }
