"""A comparison in words, for the terminal and below its figure."""

from __future__ import annotations

from collections.abc import Sequence

from mothseed.colour import Colour
from mothseed.compare.comparison import Comparison
from mothseed.compare.pair import Change, Pair
from mothseed.compare.shapes import ShapeChanges
from mothseed.told import counted, told

NOT_COMPARED = "shapes are not compared"
_SHOWN_LINES = 3
_SHOWN_COLOURS = 6
_TOLD = ("coverage", "lightness", "contrast", "colourfulness", "detail")


def change_lines(changes: list[Change] | None) -> list[str]:
    """What differs between two histories, if both exist."""
    if changes is None:
        return ["no history in both pictures to compare"]
    if not changes:
        return ["made from the same sketch, seed and dials"]
    return [_change_line(change) for change in changes]


def lines_of_shapes(comparison: Comparison) -> list[str]:
    """What happened to the shapes, as in `shape_lines`, or why that is unknown."""
    if comparison.shapes is None:
        return [f"{NOT_COMPARED}: {comparison.without_shapes}"]
    return shape_lines(comparison.shapes)


def shape_lines(shapes: ShapeChanges) -> list[str]:
    """How many shapes are unchanged, and what happened to the others, with the lines behind them."""
    lines = [counted(len(shapes.same), "shape unchanged", "shapes unchanged")]
    behind, symbols = shapes.lines(), shapes.uses()
    for name, count in shapes.counts.items():
        if name == "repainted" and count:
            lines.append(f"{count:,} repainted, colour by colour: {_palette_words(shapes.palette)}")
        elif count:
            own = [(str(line), some) for line, some in behind.get(name, [])]
            if of_paper := count - sum(some for _, some in own):
                own.append(("the paper", of_paper))  # a ramp, which no line of the sketch draws
            words = ", ".join(f"{line} ({some:,})" if len(own) > 1 else line for line, some in own[:_SHOWN_LINES])
            more = f" and {counted(len(own) - _SHOWN_LINES, 'more line')}" if len(own) > _SHOWN_LINES else ""
            used = "".join(f"; {counted(uses, 'use')} of {symbol}" for symbol, uses in symbols.get(name, {}).items())
            lines.append(f"{count:,} {name}: {words}{more}{used}")
    return lines


def _palette_words(palette: Sequence[tuple[Colour, Colour]]) -> str:
    words = ", ".join(f"{before.css} -> {after.css}" for before, after in palette[:_SHOWN_COLOURS])
    more = len(palette) - _SHOWN_COLOURS
    return f"{words} and {counted(more, 'more colour')}" if more > 0 else words


def figures(pair: Pair) -> list[str]:
    """Measures of both, and how much they differ."""
    measured = [(name, f"{pair.first[name]:.3g}", f"{pair.second[name]:.3g}") for name in _TOLD]
    return [
        *(f"{name} {before} -> {after}" for name, before, after in measured if before != after),
        f"structural similarity {pair.similarity:.4f}",
        f"difference {pair.mean:.4f} in OKLab on average, {pair.largest:.3f} at most; {pair.noticeable:.1%} differs to the eye",
    ]


def _change_line(change: Change) -> str:
    if change.name == "sketch_hash":
        return "sketch: its code was changed"
    return f"{change.name}: {told(change.first) or 'none'} -> {told(change.second) or 'none'}"
