"""The current iteration of the loops of a sketch: the names that they set, found in its source."""

from __future__ import annotations

import ast
from collections.abc import Iterable, Iterator, Mapping
from functools import lru_cache
from pathlib import Path
from types import FrameType
from typing import Any

import numpy as np

_LONGEST = 24


Turn = tuple[str, Any]
"""A name that a loop sets, and its value."""


def turns_of(frame: FrameType) -> list[Turn]:
    """Names set by the loops around a frame's line, outermost first, with their values."""
    names = _names_by_line(frame.f_code.co_filename).get(frame.f_lineno)
    if not names:
        return []
    values = frame.f_locals
    return [(name, values[name]) for name, _ in names if name in values]


def counters_of(frame: FrameType, values: Mapping[str, Any]) -> list[tuple[str, int]]:
    """Whole numbers that count the iterations of the loops around a frame's line, by `range`, `enumerate` or the index of a
    place. They identify an iteration even if everything drawn in it changes. `values` are the frame's local variables, which
    Python gathers anew each time it is asked for them.
    """
    found = []
    for name, is_counter in _names_by_line(frame.f_code.co_filename).get(frame.f_lineno, ()):
        if name in values:
            known = values[name] if is_counter else getattr(values[name], "index", None)
            if isinstance(known, int | np.integer):
                found.append((name, int(known)))
    return found


def in_words(turns: Iterable[Turn]) -> str:
    """Iterations in words: "row=3, col=1". A place of an arrangement is given by its index; values that cannot be put briefly
    are left out.
    """
    return ", ".join(f"{name}={words}" for name, value in turns if (words := _words(value)))


def forget() -> None:
    """Forget what was read, since files may have been saved since."""
    for known in (_names_by_line, _loops):
        known.cache_clear()


@lru_cache(maxsize=64)
def _names_by_line(file: str) -> dict[int, tuple[tuple[str, bool], ...]]:
    """For each line in a loop, the names that its loops set, and whether each counts iterations."""
    found: dict[int, tuple[str, ...]] = {}
    counting: set[tuple[int, str]] = set()
    for loops, lines in _loops(file):
        names = tuple(each.id for target, _ in loops for each in ast.walk(target) if isinstance(each, ast.Name))
        counters = {name for loop in loops for name in _counting(*loop)}
        for line in lines:
            found[line] = found.get(line, ()) + names
            counting |= {(line, name) for name in counters}
    return {line: tuple((name, (line, name) in counting) for name in names) for line, names in found.items()}


Loop = tuple[ast.expr, ast.expr]
"""The target and the iterable of a loop."""


@lru_cache(maxsize=64)
def _loops(file: str) -> tuple[tuple[tuple[Loop, ...], range], ...]:
    """The loops of a file with their lines; a comprehension may have several loops."""
    try:
        tree = ast.parse(Path(file).read_bytes())
    except (OSError, SyntaxError, ValueError):
        return ()
    found: list[tuple[tuple[Loop, ...], range]] = []
    for node in ast.walk(tree):
        match node:
            case ast.For(target, through, body):
                found.append((((target, through),), range(body[0].lineno, (body[-1].end_lineno or body[-1].lineno) + 1)))
            case ast.ListComp() | ast.SetComp() | ast.GeneratorExp() | ast.DictComp():
                loops = tuple((generator.target, generator.iter) for generator in node.generators)
                found.append((loops, range(node.lineno, (node.end_lineno or node.lineno) + 1)))
    return tuple(found)


def _counting(target: ast.expr, through: ast.expr) -> Iterator[str]:
    """The names by which a loop counts its iterations."""
    match target, through:
        case ast.Name(name), ast.Call(ast.Name("range")):
            yield name
        case ast.Tuple([ast.Name(name), inner]), ast.Call(ast.Name("enumerate"), [rest, *_]):
            yield name
            yield from _counting(inner, rest)
        case ast.Tuple(targets), ast.Call(ast.Name("zip" | "product") | ast.Attribute(attr="product"), parts):
            for each, part in zip(targets, parts, strict=False):
                yield from _counting(each, part)


def _words(value: Any) -> str:
    if isinstance(value, np.generic):
        value = value.item()
    if isinstance(value, float):
        return f"{value:.6g}"
    if isinstance(value, bool | int | str):
        return str(value)[:_LONGEST]
    css, place = getattr(value, "css", None), getattr(value, "index", None)
    return css if isinstance(css, str) else str(place) if isinstance(place, int) else ""
