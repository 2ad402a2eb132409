"""A trace as rows: every draw of chance, every mark, every line that drew."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any

from mothseed.colour.value import Colour
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.extents import mark_centres, mark_matrices, stroke_widths
from mothseed.sheet.group import chain
from mothseed.sheet.kinds import KINDS
from mothseed.sheet.mark import mark_at
from mothseed.sheet.style import FILLED, STROKED
from mothseed.sketch.loops import in_words
from mothseed.sketch.trace import Origins

Row = dict[str, Any]


def draw_rows(origins: Origins) -> list[Row]:
    """A row for each draw, in order: number, stream, distribution, value, line, and the lines that called it."""
    return [
        {
            "draw": number,
            "stream": draw.stream,
            "distribution": draw.distribution,
            "value": draw.value,
            **_lines(origins, draw.calls),
        }
        for number, draw in enumerate(origins.draws, 1)
    ]


def mark_rows(drawing: Drawing, origins: Origins, which: Sequence[int] | None = None) -> list[Row]:
    """A row for each mark in painting order, or for those with some indices: number, kind, symbol and its use, place on the
    sheet, paint, layer, line, calling lines, iterations of its loops, and the number of draws before it.
    """
    centres = mark_centres(drawing, mark_matrices(drawing)).round(4).tolist()
    widths = stroke_widths(drawing).round(4).tolist()
    layers = [_layer(drawing, number) for number in range(len(drawing.groups))]
    symbols, uses = (numbers.tolist() for numbers in drawing.use_of_each())
    rows = []
    for number in range(len(drawing)) if which is None else which:
        mark = mark_at(drawing.marks, number)
        finish = drawing.finishes[mark.finish]
        rows.append({
            "mark": number + 1,
            "kind": KINDS[mark.kind].name,
            "symbol": drawing.uses[symbols[number]].name if symbols[number] >= 0 else "",
            "use": uses[number] + 1 or None,
            "x": centres[number][0],
            "y": centres[number][1],
            "fill": _paint(mark.painted & FILLED, mark.fill, finish.fill),
            "stroke": _paint(mark.painted & STROKED, mark.stroke, finish.stroke),
            "stroke_width": widths[number],
            "opacity": round(mark.opacity, 4),
            "blend": finish.blend,
            "shadow": finish.shadow is not None,
            "layer": layers[mark.group],
            **_lines(origins, int(origins.of_marks[number])),
            "turns": in_words(origins.turns[number]),
            "draws": int(origins.draws_before[number]),
        })  # fmt: skip
    return rows


def line_rows(drawing: Drawing, origins: Origins) -> list[Row]:
    """A row for each line that drew, in order of first mark: the line, what it drew, and its source."""
    kinds: dict[Any, Counter[str]] = {}
    for calls, kind in zip(origins.of_marks.tolist(), drawing.marks["kind"].tolist(), strict=True):
        if origins.calls[calls]:
            kinds.setdefault(origins.calls[calls][0], Counter())[KINDS[kind].name] += 1
    return [
        {"line": str(line), "marks": counts.total(), "kinds": _counted(counts), "text": line.text}
        for line, counts in kinds.items()
    ]


def stream_rows(origins: Origins) -> list[Row]:
    """A row for each stream by its first name: how many of its branches drew, how often, and where."""
    found: dict[str, tuple[set[str], Counter[str], Counter[str]]] = {}
    for draw in origins.draws:
        branches, distributions, lines = found.setdefault(draw.stream.split("/")[0], (set(), Counter(), Counter()))
        branches.add(draw.stream)
        distributions[draw.distribution] += 1
        if origins.calls[draw.calls]:
            lines[str(origins.calls[draw.calls][0])] += 1
    return [
        {"stream": name or "(the first)", "branches": len(branches), "draws": distributions.total(),
         "distributions": _counted(distributions), "lines": ", ".join(lines)}
        for name, (branches, distributions, lines) in found.items()
    ]  # fmt: skip


def _counted(counts: Counter[str]) -> str:
    return ", ".join(f"{count} {name}" for name, count in counts.most_common())


def _lines(origins: Origins, number: int) -> Row:
    first, *others = origins.calls[number] or (None,)
    return {"line": "" if first is None else str(first), "called_from": ", ".join(map(str, others))}


def _layer(drawing: Drawing, number: int) -> str:
    return " / ".join(drawing.groups[each].name for each in chain(drawing.groups, number) if drawing.groups[each].is_layer)


def _paint(painted: int, parts: Sequence[float], shade: object) -> str:
    if not painted:
        return "none"
    return Colour(*parts).css if shade is None else f"a {type(shade).__name__.lower()}"
