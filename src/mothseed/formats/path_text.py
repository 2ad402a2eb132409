"""Outlines as the paths of vector files, their numbers written all at once."""

from __future__ import annotations

import re
from functools import lru_cache

from mothseed.formats.decimals import row_of, trimmed
from mothseed.geometry.outline import Outline
from mothseed.geometry.verbs import LINE, MOVE, POINTS_TAKEN


def svg_path(outline: Outline, places: int) -> str:
    """The `d` of an SVG path: absolute commands, with repeated letters left out, and spaces that are not needed."""
    bare, lettered = _rows("", places), _rows("MLCZ", places)
    parts: list[str] = []
    before = -1
    for verb in outline.verbs.tolist():
        # A pair that follows a move without a letter is a line.
        goes_on = verb == before != MOVE or (verb == LINE and before == MOVE)
        parts.append(bare[verb] if goes_on else lettered[verb])
        before = verb
    text = trimmed("".join(parts) % tuple(outline.points.ravel().tolist()), places)
    return _IDLE_SPACES.sub("", text)


_IDLE_SPACES = re.compile("(?<=[MLC]) | (?=[-MLCZ])")


def pdf_path(outline: Outline, places: int) -> str:
    """Path construction operators of PDF (ISO 32000-1, section 8.5.2)."""
    rows, operators = _rows("", places), (" m", " l", " c", " h")
    parts = [rows[verb] + operators[verb] for verb in outline.verbs.tolist()]
    return trimmed("".join(parts) % tuple(outline.points.ravel().tolist()), places)[1:]


@lru_cache(maxsize=64)
def _rows(letters: str, places: int) -> list[str]:
    """The format of what each verb takes, after its letter."""
    before = [f" {letter}" for letter in letters] or [""] * len(POINTS_TAKEN)
    return [own + row_of(2 * taken, places) for own, taken in zip(before, POINTS_TAKEN, strict=True)]
