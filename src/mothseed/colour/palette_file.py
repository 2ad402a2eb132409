"""Palette files: JSON, or text with a CSS colour on each line."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any, NamedTuple

from mothseed.colour.value import Colour, as_colour
from mothseed.faults import FileError, PictureError, SketchError
from mothseed.files import content_hash, read_ordinary, renamed, write_bytes
from mothseed.reading import asked_for, was

_LARGEST_FILE = 1_000_000


class Swatch(NamedTuple):
    """A colour of a palette, and the share of its source that it stands for."""

    colour: Colour
    share: float


def read_swatches(path: Path) -> list[Swatch]:
    """The swatches of a palette file; raises PictureError if it cannot be read, is empty, or contains anything but
    colours.
    """
    place = asked_for(path)
    try:
        if place.stat().st_size > _LARGEST_FILE:
            raise PictureError(f"{path} is too large for a palette", hint="for the colours of a picture use from_picture")
        content = read_ordinary(place)
        was(path, content_hash(content))
        text = content.decode("utf-8-sig")
    except OSError as fault:
        raise PictureError(
            f"{path} cannot be read: {fault.strerror}", hint="paths are relative to the sketch that names them"
        ) from None
    except UnicodeDecodeError:
        raise PictureError(
            f"{path} is neither JSON nor text", hint="for the colours of a picture use Palette.from_picture"
        ) from None
    swatches = _from_json(path, text) if path.suffix.lower() == ".json" else _from_lines(path, text)
    if not swatches:
        raise PictureError(f"{path} has no colours", hint='write a CSS colour on each line, such as "#14213d" or "teal"')
    return swatches


def write_swatches(path: Path, swatches: list[Swatch]) -> None:
    """Write a palette file, as JSON or text by its suffix; raises FileError for any other, and if it cannot be written."""
    match path.suffix.lower():
        case ".json":
            rows = [{"colour": swatch.colour.css, "share": round(swatch.share, 6)} for swatch in swatches]
            write_bytes(path, (json.dumps({"swatches": rows}, indent=2) + "\n").encode())
        case ".txt":
            write_bytes(path, "".join(swatch.colour.css + "\n" for swatch in swatches).encode())
        case _:
            raise FileError(f"{path} is not the name of a palette file", hint=f"write {renamed(path, '.json').name}")


def _from_lines(path: Path, text: str) -> list[Swatch]:
    lines = [(number, line.strip()) for number, line in enumerate(text.splitlines(), 1)]
    return [Swatch(_colour(f"{path}, line {number}", line), 1.0) for number, line in lines if line]


def _from_json(path: Path, text: str) -> list[Swatch]:
    try:
        content: Any = json.loads(text)
    except (ValueError, RecursionError) as fault:
        raise PictureError(f"{path} is not JSON: {fault}") from None
    rows = content.get("swatches") if isinstance(content, dict) else content
    if not isinstance(rows, list):
        raise PictureError(f"{path} has no list of swatches", hint='write {"swatches": [{"colour": "#14213d", "share": 1}]}')
    swatches = []
    for number, row in enumerate(rows, 1):
        where = f"{path}, swatch {number}"
        given = row if isinstance(row, dict) else {"colour": row}
        share = given.get("share", 1.0)
        if isinstance(share, bool) or not (isinstance(share, int | float) and 0 <= share < math.inf):
            raise PictureError(f"{where}: share is a number, 0 or more (got {share!r})")
        swatches.append(Swatch(_colour(where, given.get("colour")), float(share)))
    return swatches


def _colour(where: str, given: object) -> Colour:
    try:
        return as_colour(given)
    except SketchError as fault:
        raise PictureError(f"{where}: {fault.message}", hint=fault.hint) from None
