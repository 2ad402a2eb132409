"""The history of a picture: its recipe, its outcomes, and the software; enough to make it again."""

from __future__ import annotations

import math
import os
from collections.abc import Iterable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from mothseed._version import VERSION
from mothseed.chance.outcome import as_plain
from mothseed.colour.value import Colour
from mothseed.faults import MothSeedError
from mothseed.formats import history_in
from mothseed.records import RecordError, as_json, as_plain_record, as_record, from_json
from mothseed.sheet import fingerprint
from mothseed.sketch.load import Sketch
from mothseed.sketch.perform import Impression
from mothseed.sketch.provenance import Provenance, check_names
from mothseed.sketch.recipe import Recipe
from mothseed.units import UNITS_PER_INCH


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
