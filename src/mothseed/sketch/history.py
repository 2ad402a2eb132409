"""The history of a picture: its recipe, its outcomes, and the software; enough to make it again."""

from __future__ import annotations

import math
import os
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, fields
from pathlib import Path
from typing import Any, Self

from mothseed._version import VERSION
from mothseed.chance import Outcome
from mothseed.chance.outcome import as_plain
from mothseed.colour.value import Colour
from mothseed.faults import MothSeedError
from mothseed.formats import history_in
from mothseed.records import RecordError, as_json, as_plain_record, as_record, from_json
from mothseed.render import RENDERER_VERSION
from mothseed.sheet import fingerprint
from mothseed.sketch.load import Sketch
from mothseed.sketch.perform import Impression
from mothseed.sketch.recipe import Recipe
from mothseed.sketch.seeds import is_number, is_seed
from mothseed.told import quoted
from mothseed.units import UNITS_PER_INCH


@dataclass(frozen=True, slots=True, kw_only=True)
class Provenance(Recipe):
    """A recipe as it was performed: with which sketch, and with what outcomes. It has all dials of the sketch."""

    sketch: str = ""
    """name of the sketch's file"""
    variant: str = ""
    """for an edition of a series: its variant"""
    number: str = ""
    """of a numbered print, such as 3/12"""
    outcomes: tuple[Outcome, ...] = ()
    fingerprint: str = ""
    sources: dict[str, str] = field(default_factory=dict)
    """for an edition: content hash of each file it was made from, by path relative to the sketch's folder"""
    renderer: int = RENDERER_VERSION

    @classmethod
    def of(cls, followed: Provenance, **more: Any) -> Self:
        """The record of a picture with that history and further fields."""
        return cls(**{each.name: getattr(followed, each.name) for each in fields(Provenance)} | more)


@dataclass(frozen=True, slots=True, kw_only=True)
class History(Provenance):
    """How a picture was made, as plain values in its file."""

    sketch_hash: str = ""
    paper: str = "#ffffff"
    sheet: list[Any] = field(default_factory=list)
    """width, height and unit of the sheet"""
    version: str = VERSION

    def as_dict(self) -> dict[str, Any]:
        """The history as values for JSON."""
        plain: dict[str, Any] = as_plain_record(self)
        return plain

    def as_json(self) -> str:
        """The history as one line of JSON."""
        return as_json(self.as_dict(), sorted_names=True)


def history_of(
    sketch: Sketch,
    impression: Impression,
    *,
    variant: str = "",
    number: str = "",
    sources: dict[str, str] | None = None,
) -> History:
    """The history of a picture of an impression; for an edition of a series, with variant, number and sources."""
    drawing, recipe = impression.drawing, impression.recipe
    return History(
        seed=recipe.seed,
        dials=plain_dials(recipe),
        reseeds=recipe.reseeds,
        without=recipe.without,
        sketch=sketch.path.name,
        sketch_hash=sketch.source_hash,
        variant=variant,
        number=number,
        outcomes=impression.outcomes,
        fingerprint=fingerprint(drawing),
        sources=sources or {},
        paper=drawing.paper.css,
        sheet=[drawing.width, drawing.height, drawing.unit],
    )


def source_hashes(sketch: Sketch, pictures: Iterable[Path]) -> dict[str, str]:
    """Content hashes of the sketch, its modules and the given pictures as they were read, by path relative to its folder."""
    hashes = {sketch.path.name: sketch.source_hash}
    for file in [*sketch.module_files(), *sorted(pictures)]:
        hashes[os.path.relpath(file, sketch.folder)] = sketch.reading.hashes.get(file, "")
    return hashes


def plain_dials(recipe: Recipe) -> dict[str, Any]:
    """The dials of a recipe as values for JSON."""
    return {name: as_plain(value) for name, value in recipe.dials.items()}


def history_in_picture(path: Path) -> History | None:
    """The history in a picture file, or None if it has none that can be read. Raises PictureError if the picture is not
    whole.
    """
    text = history_in(path)
    if not text:
        return None
    try:
        plain = from_json(text)
        if not (isinstance(plain, dict) and plain.keys() >= _NEEDED):
            return None
        history = as_record(plain, History)
        check_names(history)
        _check_sheet(history)
    except RecordError:
        return None
    return history


def check_names(read: Provenance) -> None:
    """Raises RecordError if the seed, variant or number is invalid, or the sketch is not a file name."""
    for name in CHECKED:
        check_field(name, getattr(read, name))


def check_field(name: str, value: Any) -> None:
    """The same for one of the fields in CHECKED."""
    is_right, words = CHECKED[name]
    if not is_right(value):
        raise RecordError(f"{name}: {words.format(quoted(value))}")


CHECKED: dict[str, tuple[Callable[[Any], bool], str]] = {
    "seed": (is_seed, "{} is neither a whole number nor a word"),
    "variant": (lambda name: not name or (isinstance(name, str) and is_seed(name)), "{} is not a word"),
    "number": (lambda number: not number or is_number(number), "{} is not the number of a print"),
    "reseeds": (lambda streams: all(map(is_seed, streams.values())), "not all of them are seeds"),
    "sketch": (lambda file: Path(file).name == file and "\0" not in file, "{} is not the name of a file"),
}
"""Fields that need a check, with what is wrong if it fails."""


def _check_sheet(history: History) -> None:
    try:
        Colour.parse(history.paper)
        width, height, unit = history.sheet or [1, 1, "mm"]
        fits = 0 < width < math.inf and 0 < height < math.inf and unit in UNITS_PER_INCH
    except (MothSeedError, TypeError, ValueError):
        fits = False
    if not fits:
        raise RecordError("sheet: it has no size and paper")


_NEEDED = {"sketch", "sketch_hash", "seed", "dials", "fingerprint", "paper"}
"""Fields of every history; the others came with later versions."""
