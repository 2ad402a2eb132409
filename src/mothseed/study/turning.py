"""Beyond turning a dial on its own: where it works at all, and which parts of its range are dead."""

from __future__ import annotations

import ast
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from pathlib import Path
from typing import Any, NamedTuple, Self

from mothseed.chance import Chance
from mothseed.faults import MothSeedError
from mothseed.sheet import fingerprint
from mothseed.sheet.record import Records
from mothseed.sketch import Recipe, Sketch, load_sketch
from mothseed.sketch.around import ends_of, settings_around
from mothseed.sketch.dials import WHOLE, Dial
from mothseed.sketch.perform import TooManyMarks, performed_with
from mothseed.sketch.seeds import Seed
from mothseed.study.trying import Told, trying
from mothseed.told import told

_FURTHER_SEEDS = 10
_MIXTURES = 24
"""How many random settings of all dials to try if turning pairs of dials shows nothing."""
_STEPS = 13
"""How many values of a range to try in search of dead parts."""
_FAILS, _MORE = "", "more"
"""Stand for the fingerprints of a drawing that fails, and of one that has more marks than another."""


@dataclass(frozen=True, slots=True)
class Works:
    """Where a dial changes the drawing, if it does not at the current settings."""

    dials: dict[str, Any]
    """settings of other dials; several if no single one is enough"""
    seed: Seed | None = None
    """the seed for which it does, if not one of those asked for"""

    @property
    def words(self) -> str:
        """In words: "only with spread 40"."""
        needed = [f"{name} {told(value)}" for name, value in self.dials.items()]
        return "only with " + ", ".join(needed if self.seed is None else [*needed, f"seed {self.seed}"])


class _FewRecords(Records):
    """Records that have a performance given up once they are longer than is of interest."""

    def __init__(self, most: float) -> None:
        super().__init__()
        self._most = most

    def __iadd__(self, records: bytes) -> Self:  # type: ignore[override, misc]  # bytes is what it is given
        super().__iadd__(records)
        if len(self) > self._most:
            raise TooManyMarks
        return self

    def apart(self) -> Records:  # type: ignore[override]  # those of a symbol are no marks yet
        """Records of a symbol."""
        return Records()


def _performed(sketch: Sketch, recipe: Recipe, most: float = math.inf) -> tuple[str, int]:
    """The fingerprint of what a recipe draws and the length of its records; _FAILS, or _MORE if they are longer than `most`."""
    records = _FewRecords(most)
    try:
        drawing = performed_with(sketch, recipe, Chance(recipe.seed, recipe.reseeds), records).drawing
    except MothSeedError:
        return _FAILS, 0
    except TooManyMarks:
        return _MORE, 0
    return fingerprint(drawing), len(records)


class _Turned(NamedTuple):
    """A dial with another value."""

    name: str
    value: Any


@dataclass(frozen=True, slots=True)
class _Turnable:
    """A recipe whose dials are turned in another process."""

    path: Path
    recipe: Recipe

    def bench(self) -> _TurningBench:
        """What turns them."""
        return _TurningBench(load_sketch(self.path), self)


@dataclass(frozen=True, slots=True)
class _TurningBench:
    """Turns the dials of a recipe."""

    sketch: Sketch
    subject: _Turnable

    def tried(self, turned: _Turned) -> tuple[str, int]:
        """What is drawn then, as from `_performed`."""
        return _performed(self.sketch, self.subject.recipe.but(dials=dict([turned])))


def _key(recipe: Recipe) -> str:
    """What a recipe is known by, as some values of dials cannot be hashed."""
    return repr((recipe.seed, sorted((name, repr(value)) for name, value in recipe.dials.items())))


@dataclass(slots=True)
class Turning:
    """Turns the dials of a sketch and compares fingerprints; never performs anything twice."""

    sketch: Sketch
    base: Recipe
    """with a value for every dial"""
    seeds: tuple[Seed, ...]
    _known: dict[str, tuple[str, int]] = field(default_factory=dict)
    """what recipes draw, as from `_performed`"""

    def works(self, name: str) -> Works | None:
        """Where a dial changes anything: with each other dial turned, for further seeds, with all dials mixed. No other
        setting and no seed means that it works at the current settings. None if nothing was found.
        """
        for seed in self.seeds:
            if self._changes(name, self.base.with_seed(seed)):
                return Works({})
        first = self.base.with_seed(self.seeds[0])
        for other in self.sketch.artwork.dials:
            for value in self.tried(other) if other != name else ():
                if self._changes(name, first.but(dials={other: value})):
                    return Works({other: value})
        for seed in (f"{self.seeds[0]}-{number}" for number in range(2, _FURTHER_SEEDS + 2)):
            if self._changes(name, self.base.with_seed(seed)):
                return Works({}, seed)
        for mixed in self._mixtures(name):
            if self._changes(name, first.but(dials=mixed)):
                return Works(self._needed(name, first, mixed))
        return None

    def dead_parts(self, name: str) -> list[tuple[float, float]]:
        """Parts of a dial's range in which nothing changes for any of the seeds, as pairs of ends."""
        values = self._steps(self.sketch.artwork.dials[name])
        parts: list[tuple[float, float]] = []
        for low, high in pairwise(values):
            drawn = (
                [self._drawn(self.base.but(seed=seed, dials={name: end}))[0] for end in (low, high)] for seed in self.seeds
            )
            if all(one == other != _FAILS for one, other in drawn):
                parts = [*parts[:-1], (parts[-1][0], high)] if parts and parts[-1][1] == low else [*parts, (low, high)]
        return parts

    def draw_ahead(self, names: Sequence[str], workers: int, told: Told) -> None:
        """Draw what `dead_parts` of some dials compare, with that many workers, of which this process is one."""
        attempts = [_Turned(name, value) for name in names for value in self._steps(self.sketch.artwork.dials[name])]
        first = self.base.with_seed(self.seeds[0])
        with trying(_TurningBench(self.sketch, _Turnable(self.sketch.path, first)), workers, told) as tried:
            # One that ends its process would end this one.
            for turned, drawn in zip(attempts, tried(attempts), strict=True):
                self._known[_key(first.but(dials=dict([turned])))] = drawn or (_FAILS, 0)

    def is_read(self, name: str) -> bool:
        """Whether the sketch's function does anything with a dial; where that cannot be seen, it may."""
        try:
            tree = ast.parse(self.sketch.path.read_bytes())
        except (OSError, SyntaxError, ValueError):
            return True
        names = [each for each in ast.walk(tree) if isinstance(each, ast.Name)]
        return any(each.id in (name, "locals", "vars", "eval", "exec") and isinstance(each.ctx, ast.Load) for each in names)

    def tried(self, name: str) -> list[Any]:
        """The values of a dial that are tried in place of the one it has."""
        dial, value = self.sketch.artwork.dials[name], self.base.dials[name]
        around = [setting.changes["dials"][name] for setting in settings_around(name, dial, value)]
        return list(dict.fromkeys([*ends_of(dial, value), *around]))

    def _changes(self, name: str, recipe: Recipe) -> bool:
        """Whether turning a dial changes what a recipe draws; to fail where it did not, or not to, is a change."""
        before, size = self._drawn(recipe)
        # At an end of its range, a dial may draw a thousand times as much; one mark more is enough to see that it changes.
        most = math.inf if recipe.without or before == _FAILS else size
        return any(self._drawn(recipe.but(dials={name: value}), most)[0] != before for value in self.tried(name))

    def _drawn(self, recipe: Recipe, most: float = math.inf) -> tuple[str, int]:
        """What a recipe draws, as from `_performed`; only what is drawn to its end is known from then on."""
        known = self._known.get(_key(recipe))
        if known is None:
            known = _performed(self.sketch, recipe, most)
            if known[0] != _MORE:
                self._known[_key(recipe)] = known
        return known

    def _mixtures(self, name: str) -> Iterator[dict[str, Any]]:
        """Settings of all other dials at once."""
        for number in range(_MIXTURES):
            chance = Chance(number)
            others = [(other, self.tried(other)) for other in self.sketch.artwork.dials if other != name]
            yield {other: chance(other).pick(values) for other, values in others if values}

    def _needed(self, name: str, recipe: Recipe, mixed: dict[str, Any]) -> dict[str, Any]:
        """Those of some dials without which another would change nothing."""
        needed = dict(mixed)
        for other in mixed:
            fewer = {each: value for each, value in needed.items() if each != other}
            if self._changes(name, recipe.but(dials=fewer)):
                needed = fewer
        return needed

    def _steps(self, dial: Dial) -> Sequence[float]:
        """Values over the range of a dial, its ends among them; none where it has no range."""
        low, high = dial.low, dial.high
        if low is None or high is None or low == high:
            return []
        count = min(_STEPS, int(high - low) + 1) if dial.kind == WHOLE else _STEPS
        values = [low + (high - low) * step / (count - 1) for step in range(count)]
        if dial.kind == WHOLE:
            return list(dict.fromkeys(round(value) for value in values))
        if dial.step is not None:
            values = [low + round((value - low) / dial.step) * dial.step for value in values]
        return list(dict.fromkeys(min(max(round(value, 12), low), high) for value in values))
