"""mothseed trace: every draw of chance and every mark with its line; what lies at a point."""

from __future__ import annotations

import argparse
import re
from collections.abc import Sequence
from itertools import groupby
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.cli.recipe import add_recipe, recipe_of
from mothseed.faults import UsageError
from mothseed.told import counted, told

if TYPE_CHECKING:
    from mothseed.sketch import Impression

EXAMPLE = "mothseed trace specimen.py --seed 8 --at 90,70"

_SPOT = 1 / 1000
"""Of the sheet's width: the pixel of a usual proof."""
_MOST_SHOWN = 12
_PICTURE_WIDTH = 1000


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "trace",
        "Tell which lines of a sketch drew what, and which streams of chance they drew from: in all, as tables of "
        "every mark or every draw, for one point of the picture from top to bottom, or for one line, marked on the picture.",
        EXAMPLE,
    )
    parser.add_argument(
        "what", type=Path, metavar="SKETCH", help="the sketch, a picture that it made, or an edition SERIES:SEED"
    )
    parser.add_argument("--seed", metavar="SEED", help="a whole number or a word (default 1, or that of the picture)")
    add_recipe(parser, seed=False)
    options.add_made_by(parser)
    which = parser.add_mutually_exclusive_group()
    which.add_argument("--marks", action="store_true", help="a row for each mark")
    which.add_argument("--draws", action="store_true", help="a row for each draw")
    which.add_argument("--at", metavar="X,Y", help="explain a point of the sheet, or of the picture: 90,70 or 400px,310px")
    which.add_argument("--around", metavar="LINE", help="mark on the picture what a line drew: 41, or moth.py:96")
    parser.add_argument("--csv", action="store_true", help="tables as CSV")
    parser.add_argument(
        "-o", dest="output", type=Path, metavar="FILE", help="the picture of --around (default SKETCH-line.png)"
    )
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Tell; returns the exit status."""
    from mothseed.study.trace_rows import draw_rows, line_rows, mark_rows, stream_rows

    console.announce_compiling()
    impression, width, name = _traced(arguments)
    drawing, origins = impression.drawing, impression.origins
    assert origins is not None
    if arguments.at:
        return _explain(arguments, impression, width)
    if arguments.around:
        return _mark_line(arguments, impression, width, name)
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


def _traced(arguments: argparse.Namespace) -> tuple[Impression, int, str]:
    """The sketch performed, how wide its picture is in pixels, and what it is called."""
    from mothseed.compare.side import Named, picture_side
    from mothseed.making import make
    from mothseed.sketch import load_sketch

    if arguments.what.suffix.lower() == ".py":
        sketch = load_sketch(arguments.what)
        return make(sketch, recipe_of(arguments, sketch), tracing=True).impression, _PICTURE_WIDTH, sketch.name
    if arguments.seed or arguments.set or arguments.reseed or arguments.without:
        raise UsageError("a picture has its own seed and dials", hint="name the sketch to try others")
    picture, series = options.picture_or_edition(arguments.what)
    side = picture_side(picture, Named(tuple(arguments.made_by), series))
    if side.impression is None:
        own = f"where {side.unnamed} is yours, add --sketch {side.unnamed}" if side.unnamed else ""
        raise UsageError(f"{arguments.what} cannot be traced: {side.without_shapes}", hint=own or "trace the sketch itself")
    return side.impression, side.pixels.shape[1], picture.stem


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


def _explain(arguments: argparse.Namespace, impression: Impression, width: int) -> int:
    """What lies at a point, from top to bottom."""
    from mothseed.render.at import colour_at, lying_at
    from mothseed.study.trace_rows import mark_rows

    drawing, origins = impression.drawing, impression.origins
    assert origins is not None
    x, y = _point(arguments.at, drawing.width / width)
    if not (0 <= x <= drawing.width and 0 <= y <= drawing.height):
        size = f"{drawing.width:g} x {drawing.height:g} {drawing.unit}"
        raise UsageError(
            f"--at {arguments.at}: that is not on the sheet, which is {size}", hint="write --at 90,70, or 400px,310px"
        )
    side = drawing.width * _SPOT
    colour, found = colour_at(drawing, x, y, side), lying_at(drawing, x, y, side)
    rows = mark_rows(drawing, origins)
    told = [
        {
            **rows[each.mark],
            "paints": each.colour.css,
            "hidden": each.hidden,
            "text": origins.calls[origins.of_marks[each.mark]][0].text if origins.calls[origins.of_marks[each.mark]] else "",
            "draws": [{"stream": draw.stream, "distribution": draw.distribution, "value": draw.value}
                      for draw in origins.behind(each.mark)[-_MOST_SHOWN:]],
        }
        for each in found
    ]  # fmt: skip
    if arguments.json:
        console.say_json({"x": x, "y": y, "colour": colour.css, "marks": told})
        return 0
    console.say(f"at {x:g}, {y:g}: {colour.css}" + ("" if found else ", bare paper"))
    for (_, _, hidden), some in groupby(told, key=lambda row: (row["line"], row["called_from"], row["hidden"])):
        rows_of_line = list(some)
        _say_mark(rows_of_line[0])
        if len(rows_of_line) > 1:
            more = f"{len(rows_of_line) - 1} more of the same line"
            console.say(f"  and {more} {'are covered too' if hidden else 'below it, to mark ' + str(rows_of_line[-1]['mark'])}")
    return 0


def _say_mark(row: dict[str, Any]) -> None:
    hidden = ", covered by what lies above" if row["hidden"] else ""
    layer = f" in layer {row['layer']}" if row["layer"] else ""
    article = "an" if row["kind"][0] in "aeiou" else "a"
    used = f", of use {row['use']} of symbol {row['symbol']}" if row["symbol"] else ""
    where = f"{row['x']:.2f}, {row['y']:.2f}{used}{layer}"
    console.say(f"\nmark {row['mark']}, {article} {row['kind']} about {where}: paints {row['paints']}{hidden}")
    paint = [f"{name} {row[name]}" for name in ("fill", "stroke") if row[name] != "none"]
    paint += [f"stroke_width {row['stroke_width']:g}"] * (row["stroke"] != "none")
    paint += [f"opacity {row['opacity']:g}"] * (row["opacity"] != 1) + [row["blend"]] * (row["blend"] != "normal")
    console.say("  " + ", ".join(paint + ["with a shadow"] * row["shadow"]))
    called = f", called from {row['called_from']}" if row["called_from"] else ""
    console.say(f"  {row['line']}{called}: {row['text']}")
    if row["turns"]:
        console.say(f"    in turn {row['turns']}")
    for draw in row["draws"]:
        console.say(f"    {draw['stream'] or 'chance'}: {draw['distribution']} gave {_shown(draw['value'])}")


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


def _mark_line(arguments: argparse.Namespace, impression: Impression, width: int, name: str) -> int:
    """Mark on the picture what a line drew."""
    from mothseed.render import rendered
    from mothseed.report.change_map import picture_around
    from mothseed.report.page import write_page

    drawing, origins = impression.drawing, impression.origins
    assert origins is not None
    wanted = arguments.around if ":" in arguments.around else f":{arguments.around}"
    chosen = {number for number, calls in enumerate(origins.calls) if any(str(line).endswith(wanted) for line in calls)}
    marks = [mark for mark, calls in enumerate(origins.of_marks.tolist()) if calls in chosen]
    if not marks:
        known = sorted({str(calls[0]) for number in set(origins.of_marks.tolist()) if (calls := origins.calls[number])})
        more = ", ..." if len(known) > _MOST_SHOWN else ""
        raise UsageError(
            f"line {arguments.around} drew nothing", hint=f"lines that drew are {', '.join(known[:_MOST_SHOWN])}{more}"
        )
    output = options.picture_path(arguments.output or Path(f"{name}-line.png"))
    pixels = rendered(drawing, min(width, 2 * _PICTURE_WIDTH))
    write_page(picture_around(drawing, marks, pixels), output)
    if arguments.json:
        console.say_json({"file": str(output), "line": arguments.around, "marks": [mark + 1 for mark in marks]})
        return 0
    console.say(f"{output}  {counted(len(marks), 'mark')} of line {arguments.around}")
    return 0
