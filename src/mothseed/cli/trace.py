"""mothseed trace: every draw of chance and every mark with its line, and what lies at a point."""

from __future__ import annotations

import argparse
import re
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.cli.progress import Progress
from mothseed.cli.recipe import add_recipe, recipe_of
from mothseed.faults import UsageError
from mothseed.told import counted, told

if TYPE_CHECKING:
    from mothseed.sketch import Impression, Sketch
    from mothseed.study.causes import Cause, Causes
    from mothseed.study.point import Lying

EXAMPLE = "mothseed trace specimen.py --seed 8 --at 90,70"

_MOST_SHOWN = 12
_PICTURE_WIDTH = 1000


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "trace",
        "Show which lines of a sketch drew what, and which streams of chance they used: a summary, a table of every"
        " mark or draw, everything at one point of the picture, or everything drawn by one line.",
        EXAMPLE,
    )
    parser.add_argument("what", type=Path, metavar="SKETCH", help="a sketch, a picture it made, or an edition SERIES:SEED")
    parser.add_argument("--seed", metavar="SEED", help="a whole number or a word (default 1, or that of the picture)")
    add_recipe(parser, seed=False)
    options.add_made_by(parser)
    which = parser.add_mutually_exclusive_group()
    which.add_argument("--marks", action="store_true", help="list every mark")
    which.add_argument("--draws", action="store_true", help="list every random draw")
    which.add_argument("--at", metavar="X,Y", help="explain a point of the sheet or the picture: 90,70 or 400px,310px")
    which.add_argument("--around", metavar="LINE", help="highlight what a line drew: 41, or moth.py:96")
    parser.add_argument("--csv", action="store_true", help="write tables as CSV")
    parser.add_argument(
        "-o", dest="output", type=Path, metavar="FILE", help="output file of --around (default SKETCH-line.png)"
    )
    options.add_theme(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Tell; returns the exit status."""
    from mothseed.study.trace_rows import draw_rows, line_rows, mark_rows, stream_rows

    console.announce_waits()
    traced = _traced(arguments)
    drawing, origins = traced.impression.drawing, traced.impression.origins
    assert origins is not None
    if arguments.at:
        return _explain(arguments, traced)
    if arguments.around:
        return _mark_line(arguments, traced)
    if arguments.marks or arguments.draws:
        return _say_rows(arguments, mark_rows(drawing, origins) if arguments.marks else draw_rows(origins))
    lines, streams = line_rows(drawing, origins), stream_rows(origins)
    if arguments.json:
        console.say_json({"marks": len(drawing), "draws": len(origins.draws), "lines": lines, "streams": streams})
        return 0
    if arguments.csv:
        return _say_rows(arguments, lines)
    _say_table(lines)
    _say_table(streams)
    console.say(f"{counted(len(drawing), 'mark')}, {counted(len(origins.draws), 'draw')}")
    return 0


class _Traced(NamedTuple):
    sketch: Sketch
    impression: Impression
    width: int
    """of its picture, in pixels"""
    name: str


def _traced(arguments: argparse.Namespace) -> _Traced:
    """A performance of the sketch."""
    from mothseed.compare.side import Named, picture_side
    from mothseed.making import make
    from mothseed.sketch import load_sketch

    if arguments.what.suffix.lower() == ".py":
        sketch = load_sketch(arguments.what)
        impression = make(sketch, recipe_of(arguments, sketch), tracing=True).impression
        return _Traced(sketch, impression, _PICTURE_WIDTH, sketch.name)
    if arguments.seed or arguments.set or arguments.reseed or arguments.without:
        raise UsageError("a picture has its own seed and dials", hint="name the sketch to try others")
    picture, series = options.picture_or_edition(arguments.what)
    side = picture_side(picture, Named(tuple(arguments.made_by), series))
    if side.impression is None or side.sketch is None:
        own = f"where {side.unnamed} is yours, add --sketch {side.unnamed}" if side.unnamed else ""
        raise UsageError(f"{arguments.what} cannot be traced: {side.without_shapes}", hint=own or "trace the sketch itself")
    return _Traced(side.sketch, side.impression, side.pixels.shape[1], picture.stem)


def _say_rows(arguments: argparse.Namespace, rows: Sequence[dict[str, Any]]) -> int:
    if arguments.json:
        console.say_json(rows)
    elif arguments.csv:
        if rows:
            console.say_csv(list(rows[0]), [list(row.values()) for row in rows])
    else:
        _say_table(rows)
    return 0


def _say_table(rows: Sequence[dict[str, Any]]) -> None:
    if rows:
        console.say_table(list(rows[0]), [list(row.values()) for row in rows])


def _explain(arguments: argparse.Namespace, traced: _Traced) -> int:
    """Print what lies at a point, from top to bottom."""
    from mothseed.study.point import as_plain_causes, explained

    impression, drawing = traced.impression, traced.impression.drawing
    x, y = _point(arguments.at, drawing.width / traced.width)
    if not (0 <= x <= drawing.width and 0 <= y <= drawing.height):
        size = f"{drawing.width:g} x {drawing.height:g} {drawing.unit}"
        raise UsageError(
            f"--at {arguments.at}: that is not on the sheet, which is {size}", hint="write --at 90,70, or 400px,310px"
        )
    with Progress.shown("attempts") as progress:
        point = explained(traced.sketch, impression, x, y, workers=options.workers(None), told=progress.advance)
    if arguments.json:
        marks = [
            {**row, "paints": painting.colour.css, "hidden": painting.hidden, "text": lying.text,
             **as_plain_causes(lying.causes, impression)}
            for lying in point.lying for painting, row in zip(lying.paintings, lying.rows, strict=True)
        ]  # fmt: skip
        console.say_json({"x": x, "y": y, "colour": point.colour.css, "marks": marks})
        return 0
    console.say(f"at {x:g}, {y:g}: {point.colour.css}" + ("" if point.lying else ", bare paper"))
    for lying in point.lying:
        _say_mark(lying, impression)
    return 0


def _say_mark(lying: Lying, impression: Impression) -> None:
    row, painting, others = lying.rows[0], lying.paintings[0], lying.rows[1:]
    hidden = ", covered by what lies above" if painting.hidden else ""
    layer = f" in layer {row['layer']}" if row["layer"] else ""
    article = "an" if row["kind"][0] in "aeiou" else "a"
    used = f", of use {row['use']} of symbol {row['symbol']}" if row["symbol"] else ""
    where = f"{row['x']:.2f}, {row['y']:.2f}{used}{layer}"
    what = f"{article} {row['kind']} about {where}" if row["line"] else "the paper"
    console.say(f"\nmark {row['mark']}, {what}: paints {painting.colour.css}{hidden}")
    paint = [f"{name} {row[name]}" for name in ("fill", "stroke") if row[name] != "none"]
    paint += [f"stroke_width {row['stroke_width']:g}"] * (row["stroke"] != "none")
    paint += [f"opacity {row['opacity']:g}"] * (row["opacity"] != 1) + [row["blend"]] * (row["blend"] != "normal")
    console.say("  " + ", ".join(paint + ["with a shadow"] * row["shadow"]))
    called = f", called from {row['called_from']}" if row["called_from"] else ""
    if row["line"]:
        console.say(f"  {row['line']}{called}: {lying.text}")
    if row["turns"]:
        console.say(f"    in turn {row['turns']}")
    _say_causes(lying.causes, impression)
    if others:
        rest = "are covered too" if painting.hidden else f"below it, to mark {others[-1]['mark']}"
        console.say(f"  and {len(others)} more of the same line {rest}")


def _say_causes(causes: Causes, impression: Impression) -> None:
    """Print what makes a mark as it is, aspect by aspect."""
    for aspects, found in causes.together():
        console.say(f"    {', '.join(aspects)}: {', '.join(_cause_words(cause, impression) for cause in found)}")
    if causes.untried:
        names = ", ".join(f"dial {cause.name}" if cause.is_dial else cause.name for cause in causes.untried)
        console.say(f"    not known of {names}: with another value, the sketch fails or draws many times as much")
    elif not causes.by_aspect:
        console.say("    the same whatever the seed and the dials")


def _cause_words(cause: Cause, impression: Impression) -> str:
    from mothseed.study.point import draws_of

    if cause.is_dial:
        return f"dial {cause.name} ({told(impression.recipe.dials[cause.name])})"
    values = ", ".join(_shown(draw.value) for draw in draws_of(cause, impression))
    return f"{cause.name} ({values})" if values else cause.name


def _shown(value: Any) -> str:
    return f"({told(value)})" if isinstance(value, list) else told(value)


def _point(text: str, unit_of_pixel: float) -> tuple[float, float]:
    """A point such as 90,70 in sheet units, or 400px,310px: the middle of that pixel."""
    match = re.fullmatch(r"\s*(-?[\d.]+)\s*(px)?\s*,\s*(-?[\d.]+)\s*(px)?\s*", text)
    try:
        assert match is not None
        numbers = float(match[1]), float(match[3])
    except (AssertionError, ValueError):
        raise UsageError(f"--at {text}: that is no point", hint="write --at 90,70 in sheet units, or 400px,310px") from None
    if bool(match[2]) != bool(match[4]):
        raise UsageError(f"--at {text}: one is in pixels and one is not", hint="write 400px,310px")
    if match[2]:
        return (numbers[0] + 0.5) * unit_of_pixel, (numbers[1] + 0.5) * unit_of_pixel
    return numbers


def _mark_line(arguments: argparse.Namespace, traced: _Traced) -> int:
    """Outline on the picture what a line drew, and print what caused it."""
    from mothseed.render import rendered
    from mothseed.report.change_map import picture_around
    from mothseed.report.page import write_page
    from mothseed.study.attempt import Inquiry
    from mothseed.study.causes import causes_of
    from mothseed.study.point import as_plain_causes

    impression = traced.impression
    drawing, origins = impression.drawing, impression.origins
    assert origins is not None
    wanted = arguments.around if ":" in arguments.around else f":{arguments.around}"
    lines = {line for calls in origins.calls for line in calls if str(line).endswith(wanted)}
    chosen = {number for number, calls in enumerate(origins.calls) if lines.intersection(calls)}
    marks = [mark for mark, calls in enumerate(origins.of_marks.tolist()) if calls in chosen]
    if not marks:
        known = sorted({str(calls[0]) for number in set(origins.of_marks.tolist()) if (calls := origins.calls[number])})
        more = ", ..." if len(known) > _MOST_SHOWN else ""
        raise UsageError(
            f"line {arguments.around} drew nothing", hint=f"lines that drew are {', '.join(known[:_MOST_SHOWN])}{more}"
        )
    output = options.picture_path(arguments.output or Path(f"{traced.name}-line.png"))
    pixels = rendered(drawing, min(traced.width, 2 * _PICTURE_WIDTH))
    write_page(picture_around(drawing, marks, pixels, options.theme(arguments)), output)
    target = Inquiry(tuple(marks), tuple((line.file, line.number) for line in lines))
    with Progress.shown("attempts") as progress:
        (causes,) = causes_of(traced.sketch, impression, [target], workers=options.workers(None), told=progress.advance)
    if arguments.json:
        plain = as_plain_causes(causes, impression)
        console.say_json({"file": str(output), "line": arguments.around, "marks": [mark + 1 for mark in marks], **plain})
        return 0
    console.say(f"{output}  {counted(len(marks), 'mark')} of line {arguments.around}")
    _say_causes(causes, impression)
    return 0
