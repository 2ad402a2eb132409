"""Which dial matters: how much each dial and each stream changes the picture."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from mothseed.compare import paired
from mothseed.faults import UsageError
from mothseed.formats.picture_reading import read_pixels
from mothseed.measure.reduced import on_white
from mothseed.series import Edition, Job, Variant
from mothseed.sketch import Recipe, Sketch, perform
from mothseed.sketch.around import reseedings, settings_around
from mothseed.sketch.seeds import Seed, edition_file
from mothseed.sketch.vary import Setting
from mothseed.study.trying import Told
from mothseed.study.turning import Turning, Works

DIAL, STREAM = "dial", "stream"


@dataclass(frozen=True, slots=True)
class Knob:
    """A dial or stream of a sketch, and the settings to try."""

    kind: str
    name: str
    settings: tuple[Setting, ...]


@dataclass(frozen=True, slots=True)
class Trial:
    """The effect of one setting, averaged over the seeds."""

    label: str
    difference: float = 0.0
    """mean distance in OKLab from the unchanged picture"""
    noticeable: float = 0.0
    """share of the picture that differs to the eye"""
    failed: str = ""
    """why the last seed without a picture failed"""
    seeds: int = 0
    """for how many seeds the picture changed at all"""


@dataclass(frozen=True, slots=True)
class Influence:
    """The effect of a knob on the picture."""

    knob: Knob
    trials: tuple[Trial, ...]
    works: Works | None = None
    """for a dial without effect at the current settings, where it has one"""
    dead: tuple[tuple[float, float], ...] = ()
    """parts of a dial's range in which nothing changes"""

    @property
    def seeds(self) -> int:
        """For how many seeds any trial changed the picture."""
        return max((trial.seeds for trial in self.trials if not trial.failed), default=0)

    @property
    def effect(self) -> float:
        """Mean distance in OKLab over all trials that have a picture; 0 if none has."""
        known = [trial.difference for trial in self.trials if not trial.failed]
        return math.fsum(known) / len(known) if known else 0.0

    @property
    def noticeable(self) -> float:
        """Mean share of the picture that visibly differs."""
        known = [trial.noticeable for trial in self.trials if not trial.failed]
        return math.fsum(known) / len(known) if known else 0.0


def knobs(sketch: Sketch, dials: Mapping[str, Any], streams: Sequence[str]) -> Iterator[Knob]:
    """Every dial that can take another value, and every stream."""
    for name, dial in sketch.artwork.dials.items():
        settings = settings_around(name, dial, dials[name])
        if settings:
            yield Knob(DIAL, name, settings)
    for stream in streams:
        yield Knob(STREAM, stream, reseedings(stream))


@dataclass(frozen=True, slots=True)
class Experiment:
    """Every setting of every knob, tried for some seeds, and the unchanged pictures."""

    sketch: Sketch
    base: Recipe
    """whose seed does not count"""
    seeds: tuple[Seed, ...]
    knobs: tuple[Knob, ...]
    folder: Path
    """where the pictures are made"""
    width: int
    turning: Turning
    """which tells what pictures alone do not"""

    @classmethod
    def of(cls, sketch: Sketch, base: Recipe, seeds: Sequence[Seed], folder: Path, width: int) -> Experiment:
        """An experiment with everything a sketch has to turn; raises the same errors as `perform`, and UsageError if there is
        nothing.
        """
        impression = perform(sketch, base.with_seed(seeds[0]))
        every = tuple(knobs(sketch, impression.recipe.dials, impression.streams))
        if not every:
            raise UsageError(
                f"{sketch.path.name} has nothing to turn: no dial, no stream of chance",
                hint="write a dial: def plate(sheet, chance, *, count=dial(5, 1, 50))",
            )
        turning = Turning(sketch, impression.recipe, tuple(seeds))
        return cls(sketch, base, tuple(seeds), every, folder, width, turning)

    @property
    def jobs(self) -> list[Job]:
        """Jobs for all pictures, the unchanged ones first."""
        jobs = [self._job(Variant(recipe=self.base), seed) for seed in self.seeds]
        for knob in self.knobs:
            for number, setting in enumerate(knob.settings):
                variant = Variant(_variant_name(knob, number), setting.after(self.base))
                jobs += [self._job(variant, seed) for seed in self.seeds]
        return jobs

    def _job(self, variant: Variant, seed: Seed) -> Job:
        return replace(variant.job(self.sketch.path, seed, self.width, self.folder), measured=False)

    def base_picture(self, seed: Seed) -> Path:
        """The unchanged picture of a seed."""
        return self.folder / edition_file(seed)

    def picture(self, knob: Knob, number: int, seed: Seed) -> Path:
        """The picture of a seed with one setting of a knob."""
        return self.folder / edition_file(seed, _variant_name(knob, number))

    def judged(self, editions: Sequence[Edition], *, workers: int = 1, told: Told = lambda _count: None) -> list[Influence]:
        """The effect of each knob, largest first, from the editions of all jobs compared with the unchanged ones. Dials are
        turned further with that many `workers`, including this process.
        """
        made = {edition.key: edition for edition in editions}
        influences = []
        for knob in self.knobs:
            trials = []
            for number, setting in enumerate(knob.settings):
                name = _variant_name(knob, number)
                failed = [made[name, seed].error for seed in self.seeds if made[name, seed].failed]
                trials.append(Trial(setting.label, failed=failed[-1]) if failed else self._trial(knob, number, setting.label))
            influences.append(Influence(knob, tuple(trials)))
        working = [each.knob.name for each in influences if each.knob.kind == DIAL and each.effect != 0]
        self.turning.draw_ahead(working, workers, told)
        return sorted(map(self._explained, influences), key=lambda influence: -influence.effect)

    def _explained(self, influence: Influence) -> Influence:
        """Further findings on a dial: where it works, and which parts of its range are dead."""
        name = influence.knob.name
        if influence.knob.kind != DIAL:
            return influence
        if influence.effect == 0:
            return replace(influence, works=self.turning.works(name))
        return replace(influence, dead=tuple(self.turning.dead_parts(name)))

    def _trial(self, knob: Knob, number: int, label: str) -> Trial:
        pairs = []
        for seed in self.seeds:
            before, after = self.base_picture(seed), self.picture(knob, number, seed)
            pairs.append(paired(on_white(read_pixels(before)), on_white(read_pixels(after))))
        means, noticeable = ([getattr(pair, name) for pair in pairs] for name in ("mean", "noticeable"))
        changed = sum(mean > 0 for mean in means)
        return Trial(label, math.fsum(means) / len(means), math.fsum(noticeable) / len(noticeable), seeds=changed)


def _variant_name(knob: Knob, number: int) -> str:
    """The name that distinguishes the pictures of a setting."""
    return f"{knob.kind}-{knob.name}-{number}"
