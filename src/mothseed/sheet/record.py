"""The record of a mark: its layout, stated once as a dtype, what packs and finds its parts, and what gathers records."""

from __future__ import annotations

import math
from collections.abc import Sequence
from struct import Struct
from typing import Self

import numpy as np

MARK = np.dtype([
    ("place", "<f8", (4,)),  # as the artist gave it: x y r, x y rx ry, x y width height, or x1 y1 x2 y2
    ("view", "<u4"),  # row of `views`
    ("outline", "<u4"),  # index of `outlines`, for a polyline, polygon or path
    ("group", "<u4"),  # index of `groups`
    ("kind", "u1"),  # index of KINDS
    ("linecap", "u1"),
    ("linejoin", "u1"),
    ("painted", "u1"),  # FILLED, STROKED, EVEN_ODD
    ("fill", "<f4", (4,)),  # sRGB and alpha, 0 to 1
    ("stroke", "<f4", (4,)),
    ("stroke_width", "<f8"),  # in the units of the view
    ("opacity", "<f8"),
    ("finish", "<u4"),  # index of `finishes`
])  # fmt: skip
"""One recorded shape: first where it lies, its head, and from `linecap` on how it is painted, its tail."""

_FIELDS = MARK.fields
assert _FIELDS is not None
_NAMES = tuple(_FIELDS)
HEAD = _NAMES[: _NAMES.index("linecap")]
TAIL = _NAMES[len(HEAD) :]
TAIL_BEGINS: int = _FIELDS[TAIL[0]][1]
"""Bytes before the tail."""


def packer(names: Sequence[str]) -> Struct:
    """What packs neighbouring fields of a record."""
    codes = []
    for name in names:
        kind = MARK[name]
        codes.append(f"{math.prod(kind.shape)}{kind.base.char}" if kind.shape else kind.char)
    made = Struct("<" + "".join(codes))
    assert made.size == sum(MARK[name].itemsize for name in names)
    return made


def tail_place(name: str) -> int:
    """Where a field of the tail begins in it."""
    assert _FIELDS is not None
    return int(_FIELDS[name][1]) - TAIL_BEGINS


class Records(bytearray):
    """Records one behind the other, added as bytes: the cheapest way for Python to hand over a row of numbers."""

    def apart(self) -> Self:
        """Records of their own, for a symbol."""
        return type(self)()

    def add_uses(self, marks: bytes, _symbol: Records, _count: int) -> None:
        """Add the marks of a symbol, once for so many uses; `_symbol` is what they were recorded in."""
        self.__iadd__(marks)
