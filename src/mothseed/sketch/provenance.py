"""What a picture came from: a recipe as it was performed, as an edition, a proof and a picture's file record it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, fields
from pathlib import Path
from typing import Any, Self

from mothseed.chance import Outcome
from mothseed.records import RecordError
from mothseed.render import RENDERER_VERSION
from mothseed.sketch.recipe import Recipe
from mothseed.sketch.seeds import is_number, is_seed
from mothseed.told import quoted


@dataclass(frozen=True, slots=True, kw_only=True)
class Provenance(Recipe):
    """A recipe as it was performed: with which sketch, and with what outcomes. It has all dials of the sketch."""

    sketch: str = ""
    """name of the sketch's file"""
    variant: str = ""
    """for an edition of a series: its variant"""
    number: str = ""
    """of a numbered print, such as 3/12"""
    outcomes: tuple[Outcome, ...] = ()
    fingerprint: str = ""
    sources: dict[str, str] = field(default_factory=dict)
    """for an edition: content hash of each file it was made from, by path relative to the sketch's folder"""
    renderer: int = RENDERER_VERSION

    @classmethod
    def of(cls, followed: Provenance, **more: Any) -> Self:
        """The record of a picture with that history and further fields."""
        return cls(**{each.name: getattr(followed, each.name) for each in fields(Provenance)} | more)


def check_names(read: Provenance) -> None:
    """Raises RecordError if the seed, variant or number is invalid, or the sketch is not a file name."""
    for name in CHECKED:
        check_field(name, getattr(read, name))


def check_field(name: str, value: Any) -> None:
    """The same for one of the fields in CHECKED."""
    is_right, words = CHECKED[name]
    if not is_right(value):
        raise RecordError(f"{name}: {words.format(quoted(value))}")


CHECKED: dict[str, tuple[Callable[[Any], bool], str]] = {
    "seed": (is_seed, "{} is neither a whole number nor a word"),
    "variant": (lambda name: not name or (isinstance(name, str) and is_seed(name)), "{} is not a word"),
    "number": (lambda number: not number or is_number(number), "{} is not the number of a print"),
    "reseeds": (lambda streams: all(map(is_seed, streams.values())), "not all of them are seeds"),
    "sketch": (lambda file: Path(file).name == file and "\0" not in file, "{} is not the name of a file"),
}
"""Fields that need a check, with what is wrong if it fails."""
