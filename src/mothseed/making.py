"""Making a picture of a recipe: the one way from a sketch to pixels and files, for whoever wants a picture."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from pathlib import Path

from mothseed.arrays import ByteArray, FloatArray
from mothseed.formats import Effort, Settings, Written, write_picture
from mothseed.formats.png import write_png_bands
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
    """A sketch that was performed by a recipe, ready to become pixels or a file."""

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
        """What a file of it carries."""
        sources = None if self.sources is None else dict(self.sources)
        return history_of(self.sketch, self.impression, variant=self.variant, number=self.number, sources=sources)

    def without(self, layers: tuple[str, ...]) -> Made:
        """The same less some of its layers; raises FieldError for a name that no layer has."""
        return replace(self, impression=leaving_out(self.impression, layers))

    def pixels(self, width: int, *, guides: bool = False, threads: int | None = None) -> ByteArray:
        """The picture, uint8 (height, width, 3 or 4), as `rendered` gives it; with guides laid over it, if asked for."""
        return rendered(self._shown(guides), width, threads)

    def write(self, path: Path, settings: Settings, *, guides: bool = False) -> Written:
        """Write the picture with its history; raises as `write_picture` does."""
        return write_picture(path, self._shown(guides), self.history.as_json(), settings)

    def write_measured(
        self, path: Path, width: int, dpi: float | None, *, guides: bool = False, effort: Effort
    ) -> tuple[str, FloatArray]:
        """Write the picture as PNG on one thread; returns the hash of its pixels, and it reduced.

        Each band is hashed and measured as it passes by, so that the whole picture is never kept.
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
    """Perform a sketch by a recipe; raises as `perform` does."""
    return Made(sketch, perform(sketch, recipe, tracing=tracing))


def make_again(sketch: Sketch, recipe: Recipe, *, tracing: bool = False) -> Made:
    """Perform a sketch once more as a history or edition says; dials that the sketch no longer has do not count."""
    return make(sketch, recipe.fitting(sketch.artwork.dials), tracing=tracing)


def prepare_kernels() -> None:
    """Have all that any picture takes compiled and at hand, before worker processes would each see to it."""
    load(PARTS)
