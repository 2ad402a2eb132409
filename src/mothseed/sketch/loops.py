"""Which turn of its loops a sketch is in: the names that they set, found in its source."""

from __future__ import annotations

import ast
from collections.abc import Iterable
from functools import lru_cache
from pathlib import Path
from types import FrameType
from typing import Any

import numpy as np

_LONGEST = 24


Turn = tuple[str, Any]
"""A name that a loop sets, and its value."""


def turns_of(frame: FrameType) -> list[Turn]:
    """The names that the loops around a frame's line set, the outermost first, with their values."""
    names = _names_by_line(frame.f_code.co_filename).get(frame.f_lineno)
    if not names:
        return []
    values = frame.f_locals
    return [(name, values[name]) for name in names if name in values]


def in_words(turns: Iterable[Turn]) -> str:
    """Turns as they are told: "row=3, col=1". A place of an arrangement is told by its index; what has no short words is left
    out.
    """
    return ", ".join(f"{name}={words}" for name, value in turns if (words := _words(value)))


@lru_cache(maxsize=64)
def _names_by_line(file: str) -> dict[int, tuple[str, ...]]:
    """For each line that lies in loops, the names that they set."""
    try:
        tree = ast.parse(Path(file).read_bytes())
    except (OSError, SyntaxError, ValueError):
        return {}
    found: dict[int, tuple[str, ...]] = {}
    for node in ast.walk(tree):
        match node:
            case ast.For(target, _, body):
                targets, lines = [target], range(body[0].lineno, (body[-1].end_lineno or body[-1].lineno) + 1)
            case ast.ListComp() | ast.SetComp() | ast.GeneratorExp() | ast.DictComp():
                targets = [generator.target for generator in node.generators]
                lines = range(node.lineno, (node.end_lineno or node.lineno) + 1)
            case _:
                continue
        names = tuple(each.id for target in targets for each in ast.walk(target) if isinstance(each, ast.Name))
        for line in lines:
            found[line] = found.get(line, ()) + names
    return found


def _words(value: Any) -> str:
    if isinstance(value, np.generic):
        value = value.item()
    if isinstance(value, float):
        return f"{value:.6g}"
    if isinstance(value, bool | int | str):
        return str(value)[:_LONGEST]
    css, place = getattr(value, "css", None), getattr(value, "index", None)
    return css if isinstance(css, str) else str(place) if isinstance(place, int) else ""
