"""Symbols that files can hold once and refer to: SVG as `symbol` and `use`, PDF as a form."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt

from mothseed.arrays import ByteArray, FloatArray, WholeArray
from mothseed.geometry.affine import are_similarities, enlargements
from mothseed.sheet.drawing import Drawing, Uses
from mothseed.sheet.group import chain
from mothseed.sheet.record import TAIL

_ROUND = 1e-9
_FEWEST = 2
"""Least uses that look alike for a symbol to be worthwhile."""


class Repeated(NamedTuple):
    """A symbol as some of its uses paint it."""

    name: str
    drawing: Drawing
    """its marks in its own coordinates, on a sheet so large that numbers are as fine as the largest use needs them"""


class Repeat(NamedTuple):
    """Consecutive marks that are one use of a symbol."""

    symbol: int
    """index of the symbols"""
    matrix: FloatArray
    """float64 (6,): the map from its coordinates to the sheet"""
    end: int
    """the index of the mark after it"""
    groups: list[int]
    """the groups around the use, outermost first"""


def repeats(drawing: Drawing, apart: Mapping[int, int]) -> tuple[list[Repeated], dict[int, Repeat]]:
    """The symbols of a drawing, and its uses of them by the number of the mark at which each begins.

    Left out are uses that are not whole, that hold one of the marks that are painted `apart`, runs from the first of each to
    the mark after it, on skewed frames, whose strokes stay even, and with shadows, which fall one way however a symbol is
    turned.
    """
    symbols: list[Repeated] = []
    found: dict[int, Repeat] = {}
    kept_apart = np.array([number for first, end in sorted(apart.items()) for number in range(first, end)], np.int64)
    for uses in drawing.uses:
        size = len(uses.symbol)
        if not size or any(finish.shadow for finish in uses.symbol.finishes):
            continue
        begins = _begins(drawing, uses)
        which = np.flatnonzero(begins >= 0)
        which = which[are_similarities(uses.matrices[which], _ROUND)]
        begins = begins[which]
        free = np.searchsorted(kept_apart, begins) == np.searchsorted(kept_apart, begins + size)
        which, begins = which[free], begins[free]
        looks, look_of = _looks(drawing, uses, which, begins)
        for look in range(looks):
            alike = np.flatnonzero(look_of == look)
            if len(alike) < _FEWEST:
                continue
            largest = float(enlargements(uses.matrices[which[alike]]).max())
            symbols.append(Repeated(uses.name, _as_painted(drawing, uses, which[alike[0]], begins[alike[0]], largest)))
            for place in alike.tolist():
                begin = int(begins[place])
                around = chain(drawing.groups, int(drawing.marks["group"][begin]))
                inside = chain(uses.symbol.groups, int(uses.symbol.marks["group"][0]))
                matrix = uses.matrices[which[place]]
                found[begin] = Repeat(len(symbols) - 1, matrix, begin + size, around[: len(around) - len(inside)])
    return symbols, found


def _begins(drawing: Drawing, uses: Uses) -> WholeArray:
    """The number of the mark at which each use begins, all of whose marks are there one behind the other; -1 for any other."""
    size = len(uses.symbol)
    by_drawn = np.argsort(drawing.order, kind="stable")
    drawn = drawing.order[by_drawn]
    places = np.searchsorted(drawn, uses.firsts[:, None] + np.arange(size)).clip(0, max(len(drawn) - 1, 0))
    if not len(drawn):
        return np.full(len(uses.firsts), -1)
    there = (drawn[places] == uses.firsts[:, None] + np.arange(size)).all(axis=1)
    numbers = by_drawn[places]
    whole = there & (np.diff(numbers, axis=1) == 1).all(axis=1)
    return np.where(whole, numbers[:, 0], -1)


def _looks(drawing: Drawing, uses: Uses, which: WholeArray, begins: WholeArray) -> tuple[int, WholeArray]:
    """The number of distinct ways in which uses paint a symbol, and that of each use: int64 (u,)."""
    if not len(which):
        return 0, which
    rows = drawing.marks.take(begins[:, None] + np.arange(len(uses.symbol)))
    ratios = _stroke_ratios(drawing, uses, which, begins)
    words = np.concatenate([_bytes_of(rows[name]) for name in TAIL] + [_bytes_of(ratios.round(9))], axis=1)
    _, look_of = np.unique(words, axis=0, return_inverse=True)
    return int(look_of.max()) + 1, look_of.ravel()


def _bytes_of(values: npt.NDArray[Any]) -> ByteArray:
    """The bytes of each row of an array: uint8 (n, b)."""
    return np.ascontiguousarray(values).reshape(len(values), -1).view(np.uint8)


def _stroke_ratios(drawing: Drawing, uses: Uses, which: WholeArray, begins: WholeArray) -> FloatArray:
    """Stroke widths of uses relative to the scale of their maps: float64 (u,)."""
    own = uses.symbol.stroke_scales[uses.symbol.marks["view"][0]] * enlargements(uses.matrices[which])
    ratios: FloatArray = drawing.stroke_scales[drawing.marks["view"][begins]] / own
    return ratios


def _as_painted(drawing: Drawing, uses: Uses, use: int, begin: int, enlargement: float) -> Drawing:
    """A symbol with the paint of one of its uses."""
    symbol = uses.symbol
    marks = symbol.marks.copy()
    for name in TAIL:
        marks[name] = drawing.marks[name][begin : begin + len(marks)]
    ratio = _stroke_ratios(drawing, uses, np.array([use]), np.array([begin]))[0]
    return replace(
        symbol,
        width=drawing.width / enlargement,
        height=drawing.height / enlargement,
        marks=marks,
        stroke_scales=symbol.stroke_scales * ratio,
        finishes=drawing.finishes,
    )
