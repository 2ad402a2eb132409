"""Paths of streams: seeds, names and keys as text."""

from __future__ import annotations

import math
from operator import index

from mothseed.faults import SketchError


def seed_path(seed: int | str) -> str:
    """A seed as text; the number 7 and the text "7" are the same seed, as a command line cannot tell them apart."""
    if isinstance(seed, str):
        return f"seed:{seed}"
    try:
        return f"seed:{index(seed)}"
    except TypeError:
        raise SketchError(f"a seed must be a whole number or a word (got {seed!r})") from None


def path_part(key: object) -> str:
    """A name or key as a part of a path; different keys give different parts, equal numbers the same."""
    if type(key) is int:
        return f"#{key}"
    if isinstance(key, str):
        return f"/{len(key)}:{key}"
    try:
        return f"#{index(key)}"  # type: ignore[arg-type]  # whatever counts as whole: bool, NumPy's integers
    except TypeError:
        pass
    if isinstance(key, float) and math.isfinite(key):
        return f"#{int(key)}" if key.is_integer() else f"~{float(key).hex()}"
    raise SketchError(f"a key of a branch is a number or a word (got {key!r})", hint='write chance("spot", row, column)')


def path_of_names(stream: str) -> str:
    """The path of a branch written as names with slashes between; whole numbers are keys."""
    parts = stream.split("/")
    return "".join(path_part(int(part) if place and part.lstrip("-").isdecimal() else part) for place, part in enumerate(parts))
