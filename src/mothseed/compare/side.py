"""One side of a comparison: its pixels, and whatever is known of its origin."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import NamedTuple

from mothseed.arrays import ByteArray
from mothseed.colour import Colour
from mothseed.colour.picture import read_picture
from mothseed.compare.scale import SheetSize
from mothseed.faults import MothSeedError, PictureError
from mothseed.making import Made, make, make_again
from mothseed.render import rendered
from mothseed.series.source import named_sketch
from mothseed.sheet import fingerprint
from mothseed.sketch import Impression, Recipe, Sketch, load_sketch
from mothseed.sketch.history import History, history_in_picture

_OF_SHAPES = (".svg", ".pdf")
_SHAPES_WIDTH = 1000
"""Width in pixels at which a vector file is compared."""


@dataclass(frozen=True, slots=True, eq=False)
class Side:
    """A picture with its history and drawing, as far as known."""

    title: str
    pixels: ByteArray
    """uint8 (height, width, 3 or 4)"""
    history: History | None
    impression: Impression | None
    """traced, with the lines behind each mark"""
    without_shapes: str = ""
    """why its drawing is unknown"""
    unnamed: str = ""
    """the sketch to name for its drawing to be known"""
    sketch: Sketch | None = None
    """the sketch that drew it, if the impression is known"""

    @property
    def paper(self) -> Colour | None:
        """The colour of its paper."""
        return Colour.parse(self.history.paper) if self.history else None

    @property
    def sheet(self) -> SheetSize | None:
        """The size of its sheet."""
        if self.impression is not None:
            drawing = self.impression.drawing
            return SheetSize(drawing.width, drawing.height, drawing.unit)
        return SheetSize.of(self.history.sheet) if self.history else None


class Named(NamedTuple):
    """The sketches that may be run to learn the shapes of pictures: named by the user, directly or by series."""

    sketches: tuple[Path, ...] = ()
    series: Path | None = None


def picture_side(path: Path, named: Named) -> Side:
    """A picture file; its sketch is performed again if it was named and is unchanged. Raises PictureError for anything but a
    picture.
    """
    if path.suffix.lower() in _OF_SHAPES:
        return _shapes_side(path, named)
    pixels = read_picture(path)
    history = history_in_picture(path)
    if history is None:
        return Side(path.name, pixels, None, None, f"{path.name} carries no history")
    made, reason = _made_again(path, history, named)
    unnamed = history.sketch if named == Named() else ""
    title = f"{path.name}, seed {history.seed}"
    if made is None:
        return Side(title, pixels, history, None, reason, unnamed)
    return Side(title, pixels, history, made.impression, sketch=made.sketch)


def _shapes_side(path: Path, named: Named) -> Side:
    """A vector file, whose pixels are rendered from its sketch."""
    history = history_in_picture(path)
    made, reason = _made_again(path, history, named) if history else (None, f"{path.name} carries no history")
    if made is None:
        raise PictureError(f"{path.name} has shapes and no pixels: {reason}", hint="name its sketch too, or write it as PNG")
    title = f"{path.name}, seed {made.history.seed}"
    return Side(title, rendered(made.drawing, _SHAPES_WIDTH), history, made.impression, sketch=made.sketch)


def sketch_side(sketch: Sketch, recipe: Recipe, width: int, title: str) -> Side:
    """A sketch performed by a recipe and rendered that many pixels wide; raises the same errors as `perform`."""
    made = make(sketch, recipe, tracing=True)
    return Side(title, made.pixels(width), made.history, made.impression, sketch=sketch)


def _made_again(path: Path, history: History, named: Named) -> tuple[Made | None, str]:
    if named == Named():
        return None, f"{history.sketch} is named by the picture alone, and so not run"
    place = named_sketch(history.sketch, history.sketch_hash, named.sketches, named.series)
    if place is None:
        return None, f"the {history.sketch} that made {path.name} is not here, or was changed since"
    try:
        made = make_again(load_sketch(place), history, tracing=True)
    except MothSeedError as fault:
        return None, f"{history.sketch} does not run again: {fault.message}"
    if fingerprint(made.drawing) != history.fingerprint:
        return None, f"{history.sketch} no longer draws {path.name}: a module or picture that it uses has changed"
    return made, ""
