"""Fields of chance that are read where they are always 0."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray
from mothseed.chance import Chance
from mothseed.chance.field import Field
from mothseed.check.rule import Finding, Look, Rule
from mothseed.sketch.perform import performed_with

_NEAR = 1e-6
"""In scales of a field."""
_FEWEST = 4
"""Least number of places at which a field is read for a finding."""


class _ReadField(Field):
    """A field that counts the places it is read at, and how many of them are corners of its cells."""

    __slots__ = ("read",)

    read: list[int]

    def at(self, x: Any, y: Any, z: Any = None) -> Any:
        values = self._sampled(x, y, z)[..., 0]
        return float(values) if values.ndim == 0 else values

    def _sampled(self, x: npt.ArrayLike, y: npt.ArrayLike, z: npt.ArrayLike | None) -> FloatArray:
        sampled = super()._sampled(x, y, z)
        parts = np.broadcast_arrays(*(np.asarray(part, np.float64) / self.scale for part in (x, y)))
        corners = np.logical_and.reduce([np.abs(part - np.round(part)) < _NEAR for part in parts])
        self.read[0] += corners.size
        self.read[1] += 0 if self.isotropic else int(corners.sum())
        return sampled


def _find(look: Look) -> Iterator[Finding]:
    heard: dict[str, list[int]] = {}

    class Listening(Chance):
        """The same chance, with fields that record where they are read."""

        __slots__ = ()

        def field(self, scale: float = 30.0, detail: int = 1, roughness: float = 0.5, *, isotropic: bool = False) -> Field:
            made = super().field(scale, detail, roughness, isotropic=isotropic)
            field = _ReadField(made.key, made.scale, made.detail, made.roughness, made.isotropic)
            object.__setattr__(field, "read", heard.setdefault(f"{self._path} {scale:g}", [0, 0]))
            return field

    first = look.impressions[0]
    assert first.origins is not None
    fields = [draw for draw in first.origins.draws if draw.distribution == "field"]
    if not fields:
        return
    performed_with(look.sketch, first.recipe, Listening(first.recipe.seed, first.recipe.reseeds))
    for (name, (read, corners)), draw in zip(heard.items(), fields, strict=False):
        if read >= _FEWEST and read == corners:
            calls = first.origins.calls[draw.calls]
            words = f"its {read} places are all multiples of its scale, {name.split()[-1]}, where every field is 0"
            remedy = "choose a scale that is no step of the grid, or write field(isotropic=True)"
            yield RULE.finding("field-corners", calls[0] if calls else look.artwork_line, words, remedy)


RULE = Rule({"field-corners": "a field that is read only where it is 0"}, _find)
