"""Palettes: ordered sets of colours, and what a sketch does with them."""

from __future__ import annotations

import math
import sys
from collections.abc import Iterable, Iterator, Sequence
from functools import lru_cache
from pathlib import Path
from typing import Protocol

from mothseed.colour.cluster import k_means
from mothseed.colour.oklch import mixed
from mothseed.colour.picture import note_picture, read_picture
from mothseed.colour.value import Colour, as_colour
from mothseed.errors import PictureError, SketchError

_MOST_SWATCHES = 64


class Picker(Protocol):
    """Whatever picks one of several colours: a stream of chance."""

    def pick(self, items: Sequence[Colour], *, label: str | None = None) -> Colour:
        """One of the items."""
        ...


class Palette:
    """An ordered set of colours, its swatches; never changes.

    >>> night = Palette(["#14213d", "#8d99ae", "#edf2f4"])
    >>> night.cycle(4).css, night.ramp(1.0).css, len(night)
    ('#8d99ae', '#edf2f4', 3)
    """

    __slots__ = ("shares", "swatches")

    swatches: tuple[Colour, ...]
    shares: tuple[float, ...]
    """How much of its source each swatch stands for; adds up to 1."""

    def __init__(self, colours: Iterable[object], shares: Sequence[float] | None = None) -> None:
        """From colours as Colour values or CSS strings; raises SketchError for none, or for what is no colour."""
        swatches = tuple(as_colour(colour) for colour in colours)
        if not swatches:
            raise SketchError("a palette needs at least one colour", hint='write Palette(["#14213d", "#edf2f4"])')
        object.__setattr__(self, "swatches", swatches)
        object.__setattr__(self, "shares", tuple(shares) if shares is not None else (1 / len(swatches),) * len(swatches))

    def __setattr__(self, name: str, value: object) -> None:
        raise AttributeError("a palette never changes; make a new one")

    @classmethod
    def from_picture(cls, path: str | Path, count: int = 6) -> Palette:
        """The `count` colours that stand best for a picture, dark to light; the same each time.

        A path is relative to the file that makes the call. Fewer colours come from a picture that has fewer. Raises
        PictureError where the picture cannot be read, SketchError for a count outside 1 to 64.
        """
        if not (isinstance(count, int) and 1 <= count <= _MOST_SWATCHES):
            raise SketchError(f"from_picture: count is a whole number from 1 to {_MOST_SWATCHES} (got {count!r})")
        caller = sys._getframe(1).f_globals.get("__file__")
        place = (Path(caller).parent / path if caller else Path(path)).resolve()
        note_picture(place)
        try:
            status = place.stat()
        except OSError:
            status = None
        version = (status.st_mtime_ns, status.st_size) if status else (0, 0)
        return _from_picture(place, version, count)

    def __len__(self) -> int:
        return len(self.swatches)

    def __iter__(self) -> Iterator[Colour]:
        return iter(self.swatches)

    def __getitem__(self, index: int) -> Colour:
        return self.swatches[index]

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Palette) and self.swatches == other.swatches

    def __hash__(self) -> int:
        return hash(self.swatches)

    def __repr__(self) -> str:
        return f"Palette({[swatch.css for swatch in self.swatches]})"

    def pick(self, chance: Picker, *, label: str | None = None) -> Colour:
        """One swatch, all equally likely, drawn from the given stream."""
        return chance.pick(self.swatches, label=label)

    def cycle(self, index: int) -> Colour:
        """The swatch at a running number, beginning again after the last."""
        return self.swatches[index % len(self.swatches)]

    def ramp(self, fraction: float) -> Colour:
        """A colour on the way from the first swatch (0) through all others to the last (1), mixed in OKLab.

        Beyond the ends it stays what it is there. Raises SketchError for what is not a number.
        """
        if math.isnan(fraction):
            raise SketchError("ramp: the fraction is not a number", hint="look for a division of 0 by 0 before it")
        reach = min(max(fraction, 0.0), 1.0) * (len(self.swatches) - 1)
        first = min(int(reach), max(len(self.swatches) - 2, 0))
        return mixed(self.swatches[first], self.swatches[min(first + 1, len(self.swatches) - 1)], reach - first)


@lru_cache(maxsize=64)
def _from_picture(path: Path, _version: tuple[int, int], count: int) -> Palette:
    """Kept for as long as the file's time and size, its version, are what they were."""
    clusters = k_means(read_picture(path), count)
    if len(clusters.srgb) == 0:
        raise PictureError(f"{path} is fully transparent: it has no colours", hint="use a picture with opaque pixels")
    return Palette([Colour(*parts) for parts in clusters.srgb.tolist()], clusters.shares.tolist())
