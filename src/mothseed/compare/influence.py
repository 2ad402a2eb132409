"""Which dial matters: how much each dial and each stream changes the picture."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from mothseed.series import Variant
from mothseed.series.around import reseedings, settings_around
from mothseed.series.vary import Setting
from mothseed.sketch import Sketch

DIAL, STREAM = "dial", "stream"


@dataclass(frozen=True, slots=True)
class Knob:
    """Something of a sketch that can be turned, and the settings to try."""

    kind: str
    name: str
    settings: tuple[Setting, ...]


@dataclass(frozen=True, slots=True)
class Trial:
    """What one setting did, on average over the seeds."""

    label: str
    difference: float
    """mean distance in OKLab from the picture as it is"""
    noticeable: float
    """share of the picture that differs to the eye"""
    failed: str = ""
    """why there is no picture, of the last seed that has none"""


@dataclass(frozen=True, slots=True)
class Influence:
    """What a knob does to the picture."""

    knob: Knob
    trials: tuple[Trial, ...]

    @property
    def effect(self) -> float:
        """Mean distance in OKLab over all trials that have a picture; 0 where none has."""
        known = [trial.difference for trial in self.trials if not trial.failed]
        return math.fsum(known) / len(known) if known else 0.0

    @property
    def noticeable(self) -> float:
        """Mean share of the picture that differs to the eye."""
        known = [trial.noticeable for trial in self.trials if not trial.failed]
        return math.fsum(known) / len(known) if known else 0.0


def knobs(sketch: Sketch, dials: Mapping[str, Any], streams: Sequence[str]) -> Iterator[Knob]:
    """Every dial that has another value than the one it has, and every stream."""
    for name, dial in sketch.artwork.dials.items():
        settings = settings_around(name, dial, dials[name])
        if settings:
            yield Knob(DIAL, name, settings)
    for stream in streams:
        yield Knob(STREAM, stream, reseedings(stream))


def turned(knob: Knob, base: Variant) -> Iterator[Variant]:
    """The variants to make of a knob, named so that each has a file of its own."""
    for number, setting in enumerate(knob.settings):
        changed = setting.after(base)
        yield Variant(f"{knob.kind}-{knob.name}-{number}", changed.dials, changed.reseeds, changed.without)


def ranked(influences: Sequence[Influence]) -> list[Influence]:
    """What changes the picture most first."""
    return sorted(influences, key=lambda influence: -influence.effect)
