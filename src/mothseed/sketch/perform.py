"""Performing a sketch: one seed, one drawing."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from mothseed.chance import Chance, Outcome
from mothseed.chance.traced import TracedChance
from mothseed.colour.picture import watching_pictures
from mothseed.errors import UsageError, did_you_mean
from mothseed.sheet import Drawing, Sheet
from mothseed.sketch.dials import Dial
from mothseed.sketch.fault import explained
from mothseed.sketch.load import Sketch, running_code_of
from mothseed.sketch.seeds import Seed
from mothseed.sketch.trace import Origins, Tracer


@dataclass(frozen=True, slots=True)
class Impression:
    """A drawing with what made it."""

    drawing: Drawing
    seed: Seed
    dials: dict[str, Any]
    """every dial of the sketch with the value it had"""
    reseeds: dict[str, Seed]
    outcomes: tuple[Outcome, ...]
    without: tuple[str, ...]
    """layers that were left out"""
    pictures: frozenset[Path]
    """the pictures it was coloured from"""
    streams: tuple[str, ...] = ()
    """the streams of chance that it opened"""
    origins: Origins | None = None
    """which lines drew each mark, where that was asked for"""


def perform(
    sketch: Sketch,
    seed: Seed,
    dials: Mapping[str, object] | None = None,
    reseeds: Mapping[str, Seed] | None = None,
    without: Iterable[str] = (),
    *,
    tracing: bool = False,
) -> Impression:
    """Draw a sketch for a seed, with some dials set, some streams drawn anew and some layers left out.

    With `tracing` the lines behind each mark and each draw are kept; recording then takes longer.

    Raises UsageError for a dial or a layer that the sketch lacks, or a value that a dial does not take; SketchError, with the
    line of the sketch, where drawing fails.
    """
    artwork = sketch.artwork
    values = dial_values(artwork.dials, dials or {})
    tracer = Tracer(sketch.is_own) if tracing else None
    marks = tracer.marks if tracer else None
    sheet = Sheet(artwork.width, artwork.height, artwork.unit, artwork.paper, artwork.light, marks)
    chance = TracedChance(seed, reseeds, tracer.told) if tracer else Chance(seed, reseeds)
    with running_code_of(sketch.folder, sketch.modules), watching_pictures() as pictures:
        try:
            artwork.function(sheet, chance, **values)
        except (Exception, SystemExit) as fault:
            raise explained(fault, sketch.is_own) from fault
    pictures |= sketch.pictures
    left_out = tuple(sorted(set(without)))
    drawing = sheet.drawing().without(left_out)
    return Impression(
        drawing=drawing,
        seed=seed,
        dials=values,
        reseeds=dict(reseeds or {}),
        outcomes=(*chance.outcomes, *sheet.notes),
        without=left_out,
        pictures=frozenset(pictures),
        streams=chance.streams,
        origins=tracer.origins(drawing) if tracer else None,
    )


def dial_values(dials: Mapping[str, Dial], given: Mapping[str, object]) -> dict[str, Any]:
    """A value for every dial: the given ones, checked, and for the others their defaults."""
    _refuse_unknown(dials, given)
    return {name: dial.checked(name, given[name]) if name in given else dial.default for name, dial in dials.items()}


def parsed_dials(dials: Mapping[str, Dial], texts: Mapping[str, str]) -> dict[str, Any]:
    """Dial values from texts such as a command line has; raises UsageError as `perform` does."""
    _refuse_unknown(dials, texts)
    return {name: dials[name].parsed(name, text) for name, text in texts.items()}


def _refuse_unknown(dials: Mapping[str, Dial], given: Mapping[str, object]) -> None:
    for name in given:
        if name not in dials:
            known = f"its dials are {', '.join(dials)}" if dials else "it has no dials"
            raise UsageError(f"the sketch has no dial {name}; {known}", hint=did_you_mean(name, dials))
