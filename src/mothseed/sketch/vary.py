"""What a sweep varies: values of dials, seeds, reseeded streams, layers left out."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from mothseed.faults import FieldError, UnknownNameError
from mothseed.sketch.dials import CHOICE, SWITCH, WHOLE, Dial
from mothseed.sketch.recipe import Recipe
from mothseed.sketch.seeds import Seed, parse_seeds
from mothseed.told import told

FIELD = "vary"
"""How errors refer to a text that names something to vary."""
_USUAL_STEPS = 5
_MOST_STEPS = 64
_RANGE = re.compile(r"(-?[\d.]+)\.\.(-?[\d.]+)(?:/(\d+))?")
_NO_LAYER = "none"


@dataclass(frozen=True, slots=True)
class Setting:
    """One position on an axis: its label, and what it changes about a recipe."""

    label: str
    changes: Mapping[str, Any]
    """arguments for `Recipe.but`"""

    def after(self, recipe: Recipe) -> Recipe:
        """A recipe with this change as well."""
        return recipe.but(**self.changes)


@dataclass(frozen=True, slots=True)
class Axis:
    """What is varied, and the settings to try."""

    name: str
    settings: tuple[Setting, ...]


def parse_axis(text: str, dials: dict[str, Dial]) -> Axis:
    """What a text such as "count=10,50,250" asks for.

    Before the equals sign stands a dial, or `seed`, or `reseed:STREAM`, or `without`. After it stand values, with commas
    between; of a dial with numbers also `LOW..HIGH`, five of them evenly, or `LOW..HIGH/COUNT`; of seeds also ranges, 1-8; of
    layers `none` leaves out none. A switch or a dial with choices may stand alone: all of its values. Raises FieldError for
    all else.
    """
    name, equals, written = (part.strip() for part in text.partition("="))
    names = [*dials, "seed", "reseed:STREAM", "without"]
    if name in dials:
        try:
            return Axis(name, _dial_settings(name, dials[name], written if equals else None))
        except FieldError as fault:
            raise FieldError(
                FIELD, fault.fault if fault.field == FIELD else f"{name}: {fault.fault}", hint=fault.hint
            ) from None
    if not (equals and written):
        raise FieldError(
            FIELD, f"{text!r} names nothing that can be varied so", hint=f"write NAME=VALUES; names are {', '.join(names)}"
        )
    if name == "seed":
        return Axis(name, tuple(Setting(f"seed {seed}", {"seed": seed}) for seed in parse_seeds(written)))
    if name.startswith("reseed:") and name.removeprefix("reseed:"):
        stream = name.removeprefix("reseed:")
        return Axis(name, tuple(reseeded(stream, seed) for seed in parse_seeds(written)))
    if name == "without":
        layers = [layer.strip() for layer in written.split(",")]
        return Axis(
            name,
            tuple(
                Setting("all layers", {}) if layer == _NO_LAYER else Setting(f"without {layer}", {"without": (layer,)})
                for layer in layers
            ),
        )
    raise UnknownNameError(
        FIELD, f"there is nothing called {name}", name=name, known=dials, hint=f"names are {', '.join(names)}"
    )


def _dial_settings(name: str, dial: Dial, written: str | None) -> tuple[Setting, ...]:
    if written is None:
        if dial.kind not in (SWITCH, CHOICE):
            raise FieldError(FIELD, f"which values of {name}? It takes {dial.takes}", hint=f"write {name}=1,2,3")
        values = [False, True] if dial.kind == SWITCH else list(dial.choices)
    elif match := _RANGE.fullmatch(written):
        values = [dial.checked(name, value) for value in _between(match, dial, name)]
    else:
        values = [dial.parsed(name, part.strip()) for part in written.split(",")]
    return tuple(turned(name, value) for value in values)


def _between(match: re.Match[str], dial: Dial, name: str) -> list[float]:
    try:
        low, high = float(match[1]), float(match[2])
    except ValueError:
        raise FieldError(FIELD, f"{match[0]!r} is not a range of {name}", hint="write 10..50 or 0.1..0.9/5") from None
    count = int(match[3] or _USUAL_STEPS)
    if not 2 <= count <= _MOST_STEPS:
        raise FieldError(FIELD, f"{match[0]!r}: a range is divided into 2 to {_MOST_STEPS} values")
    values = [low + (high - low) * step / (count - 1) for step in range(count)]
    if dial.kind == WHOLE:
        values = [float(round(value)) for value in values]
    if dial.step is not None:
        base = dial.low or 0.0
        values = [base + round((value - base) / dial.step) * dial.step for value in values]
    return list(dict.fromkeys(round(value, 12) for value in values))


def turned(dial: str, value: Any) -> Setting:
    """A dial set to a value."""
    return Setting(f"{dial} {told(value)}", {"dials": {dial: value}})


def reseeded(stream: str, seed: Seed) -> Setting:
    """A stream redrawn from a seed."""
    return Setting(f"{stream} {seed}", {"reseeds": {stream: seed}})
