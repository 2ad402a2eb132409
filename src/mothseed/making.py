"""Making a picture from a recipe: the one way from a sketch to pixels and files."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from pathlib import Path

from mothseed.arrays import ByteArray, FloatArray
from mothseed.formats import Effort, Settings, Written, write_picture
from mothseed.formats.png_writing import write_png_bands
from mothseed.native.library import load
from mothseed.native.store import PARTS
from mothseed.render import rendered, rendered_bands
from mothseed.render.pixels import HashedBands
from mothseed.sheet import Drawing
from mothseed.sheet.guides import guided
from mothseed.sizes import picture_size
from mothseed.sketch import Impression, Sketch, perform
from mothseed.sketch.history import History, history_of
from mothseed.sketch.perform import leaving_out
from mothseed.sketch.recipe import AS_IT_IS, Recipe


@dataclass(frozen=True)
class Made:
    """A sketch performed by a recipe, ready to become pixels or a file."""

    sketch: Sketch
    impression: Impression
    variant: str = ""
    number: str = ""
    """of a numbered print, such as 3/12"""
    sources: Mapping[str, str] | None = None

    @property
    def drawing(self) -> Drawing:
        """What was drawn."""
        return self.impression.drawing

    @cached_property
    def history(self) -> History:
        """The history for its file."""
        sources = None if self.sources is None else dict(self.sources)
        return history_of(self.sketch, self.impression, variant=self.variant, number=self.number, sources=sources)

    def without(self, layers: tuple[str, ...]) -> Made:
        """The same without some of its layers; raises FieldError for a name that no layer has."""
        return replace(self, impression=leaving_out(self.impression, layers))

    def pixels(self, width: int, *, guides: bool = False, threads: int | None = None) -> ByteArray:
        """The picture, uint8 (height, width, 3 or 4), as from `rendered`, with guides over it if asked for."""
        return rendered(self._shown(guides), width, threads)

    def write(self, path: Path, settings: Settings, *, guides: bool = False) -> Written:
        """Write the picture with its history; raises the same errors as `write_picture`."""
        return write_picture(path, self._shown(guides), self.history.as_json(), settings)

    def write_measured(
        self, path: Path, width: int, dpi: float | None, *, guides: bool = False, effort: Effort
    ) -> tuple[str, FloatArray]:
        """Write the picture as PNG on one thread; returns the hash of its pixels and the reduced picture. Bands are hashed
        and reduced as they pass, so the whole picture is never in memory.
        """
        from mothseed.measure import ReducedBands

        drawing = self._shown(guides)
        width, height = picture_size(drawing.width, drawing.height, width)
        hashed = HashedBands(rendered_bands(drawing, width, threads=1), height)
        small = ReducedBands(hashed, width, height)
        write_png_bands(path, small, height, self.history.as_json(), dpi, effort, through_links=False)
        return hashed.digest, small.image

    def _shown(self, guides: bool) -> Drawing:
        return guided(self.drawing) if guides else self.drawing


def make(sketch: Sketch, recipe: Recipe = AS_IT_IS, *, tracing: bool = False) -> Made:
    """Perform a sketch by a recipe; raises the same errors as `perform`."""
    return Made(sketch, perform(sketch, recipe, tracing=tracing))


def make_again(sketch: Sketch, recipe: Recipe, *, tracing: bool = False) -> Made:
    """Perform a sketch again by a history or edition, ignoring dials that the sketch no longer has."""
    return make(sketch, recipe.fitting(sketch.artwork.dials), tracing=tracing)


def prepare_kernels() -> None:
    """Compile and load everything that any picture needs, before each worker would do so itself."""
    load(PARTS)
