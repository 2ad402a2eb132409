"""How values are written for readers, in the same way everywhere."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Sequence
from typing import Any


def told(value: Any, digits: int = 6) -> str:
    """A value on one line: a switch is on or off, a number has so many digits, a colour is its CSS string, nothing is empty.

    >>> told(True), told(0.1 + 0.2), told([1, None, "hawk"]), told(None)
    ('on', '0.3', '1, none, hawk', '')
    """
    return "" if value is None else _part(value, digits)


def _part(value: Any, digits: int) -> str:
    if value is None:
        return "none"
    if isinstance(value, bool):
        return "on" if value else "off"
    if isinstance(value, float):
        return f"{value:.{digits}g}" if math.isfinite(value) else str(value)
    if isinstance(value, int):
        return str(value)
    css = getattr(value, "css", None)
    if isinstance(css, str):
        return css
    if isinstance(value, list | tuple):
        return ", ".join(_part(item, digits) for item in value) or "none"
    if hasattr(value, "tolist"):
        return _part(value.tolist(), digits)
    return " ".join(str(value).split())


def visible(text: str) -> str:
    """A text as a terminal may be sent it: control characters, which could move its cursor or turn the line round, are shown.

    >>> visible("a" + chr(27) + "[31mb")
    'a␛[31mb'
    """
    return _CONTROLS.sub(_shown, text) if _CONTROLS.search(text) else text


_CONTROLS = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u061c\u200e\u200f\u2028-\u202e\u2066-\u2069\ud800-\udfff]")
"""Control characters except tabs and line ends, bidirectional controls, and lone surrogates."""


def _shown(found: re.Match[str]) -> str:
    code = ord(found[0])
    return chr(0x2400 + code) if code < 32 else "\u2421" if code == 127 else f"\\u{code:04x}"


def writable(text: str) -> str:
    """A text as any file can hold it: halves of characters, which have no letters of their own, show as such."""
    try:
        text.encode()
    except UnicodeEncodeError:
        return text.encode("utf-16", "surrogatepass").decode("utf-16", "replace")
    return text


def quoted(value: object) -> str:
    """A value that was given and cannot be taken: a text in quotation marks, so that it is seen where it begins and ends."""
    if isinstance(value, bool):
        return "true" if value else "false"
    return f'"{value}"' if isinstance(value, str) else told(value) or "nothing"


def counted(count: int, one: str, many: str = "") -> str:
    """A number of things.

    >>> counted(1, "edition"), counted(2400, "edition"), counted(2, "seed that failed", "seeds that failed")
    ('1 edition', '2,400 editions', '2 seeds that failed')
    """
    return f"{count:,} {one if count == 1 else many or one + 's'}"


def listed(words: Sequence[object], most: int) -> str:
    """So many of some words, separated by commas, and how many more there are."""
    more = f" and {len(words) - most:,} more" if len(words) > most else ""
    return ", ".join(map(str, words[:most])) + more


def spread(count: int, least: float, most: float, mean: float) -> str:
    """Many numbers in a few words.

    >>> spread(1200, 3, 12345, 7.25)
    '1,200 numbers from 3 to 12345, mean 7.25'
    """
    return f"{count:,} numbers from {told(least, 4)} to {told(most, 4)}, mean {told(mean, 4)}"


def assignments(values: Iterable[tuple[str, Any]]) -> str:
    """Names with their values: "seed = 7, spots = 3"."""
    return ", ".join(f"{name} = {told(value)}" for name, value in values)
