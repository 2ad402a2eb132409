"""Performing a sketch: one recipe, one drawing."""

from __future__ import annotations

import contextlib
from collections.abc import Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.chance import Chance, Outcome
from mothseed.chance.telling import TracedChance
from mothseed.faults import Ended, UnknownNameError
from mothseed.reading import reading_by
from mothseed.sheet import Drawing, Sheet
from mothseed.sketch.dials import Dial
from mothseed.sketch.explain import explaining
from mothseed.sketch.load import Sketch, running_code_of
from mothseed.sketch.recipe import AS_IT_IS, Recipe

if TYPE_CHECKING:
    from mothseed.sheet.record import Records
    from mothseed.sketch.trace import Origins, Tracer


class Enough(Ended):
    """Enough has been drawn."""


class TooManyMarks(Ended):
    """More was drawn than is worth drawing: the performance is given up."""


@dataclass(frozen=True, slots=True)
class Impression:
    """A drawing, and how it came about."""

    drawing: Drawing
    recipe: Recipe
    """with every dial of the sketch and its value"""
    outcomes: tuple[Outcome, ...]
    pictures: frozenset[Path]
    """the pictures it used"""
    streams: tuple[str, ...] = ()
    """the streams of chance it opened"""
    origins: Origins | None = None
    """which lines drew each mark, if that was asked for"""


def perform(sketch: Sketch, recipe: Recipe = AS_IT_IS, *, tracing: bool = False) -> Impression:
    """Draw a sketch by a recipe.

    With `tracing` the lines behind each mark and each draw are recorded, which takes longer.

    Raises FieldError for a dial or a layer that the sketch lacks, or a value that a dial does not take; SketchError, with the
    line of the sketch, where drawing fails.
    """
    if not tracing:
        return performed_with(sketch, recipe, Chance(recipe.seed, recipe.reseeds))
    tracer = _tracer(sketch)
    impression = performed_with(sketch, recipe, TracedChance(recipe.seed, recipe.reseeds, tracer.told), tracer.marks)
    return replace(impression, origins=tracer.origins(impression.drawing))


def performed_with(sketch: Sketch, recipe: Recipe, chance: Chance, marks: Records | None = None) -> Impression:
    """Draw a sketch by a recipe, with the given chance instead of that of its seed, adding marks to the given records. If
    these raise Enough, it ends with what was drawn so far. Raises the same errors as `perform`.
    """
    artwork = sketch.artwork
    values = dial_values(artwork.dials, recipe.dials)
    sheet = Sheet(artwork.width, artwork.height, artwork.unit, artwork.paper, artwork.light, marks)
    with (
        running_code_of(sketch.folder, sketch.modules, sketch.reading),
        reading_by(sketch.reading) as pictures,
        explaining(sketch.is_own),
        contextlib.suppress(Enough),
    ):
        artwork.function(sheet, chance, **values)
    pictures |= sketch.pictures
    without = tuple(sorted(set(recipe.without)))
    drawing = sheet.drawing().without(without)
    return Impression(
        drawing=drawing,
        recipe=Recipe(seed=recipe.seed, dials=values, reseeds=dict(recipe.reseeds), without=without),
        outcomes=(*chance.outcomes, *sheet.notes),
        pictures=frozenset(pictures),
        streams=chance.streams,
    )


def _tracer(sketch: Sketch) -> Tracer:
    # Imported on demand, as most pictures are made without it.
    from mothseed.sketch.trace import Tracer

    return Tracer(sketch.is_own)


def leaving_out(impression: Impression, layers: tuple[str, ...]) -> Impression:
    """A complete impression without some of its layers; raises FieldError for a name that no layer has."""
    without = tuple(sorted(set(layers)))
    recipe = replace(impression.recipe, without=without)
    return replace(impression, drawing=impression.drawing.without(without), recipe=recipe)


def dial_values(dials: Mapping[str, Dial], given: Mapping[str, object]) -> dict[str, Any]:
    """A value for every dial: given ones, checked, and defaults for the others."""
    _refuse_unknown(dials, given)
    return {name: dial.checked(name, given[name]) if name in given else dial.default for name, dial in dials.items()}


def parsed_dials(dials: Mapping[str, Dial], texts: Mapping[str, str]) -> dict[str, Any]:
    """Dial values from texts, as on a command line; raises FieldError like `perform`."""
    _refuse_unknown(dials, texts)
    return {name: dials[name].parsed(name, text) for name, text in texts.items()}


def _refuse_unknown(dials: Mapping[str, Dial], given: Mapping[str, object]) -> None:
    for name in given:
        if name not in dials:
            known = f"its dials are {', '.join(dials)}" if dials else "it has no dials"
            raise UnknownNameError(f"dial {name}", f"the sketch has no dial {name}; {known}", name=name, known=dials)
