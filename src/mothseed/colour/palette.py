"""Palettes: ordered sets of colours."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from functools import lru_cache, reduce
from itertools import combinations
from pathlib import Path
from typing import Protocol, overload

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.checks import one_of, whole
from mothseed.colour.oklch import from_oklch, mixed, oklab_from_srgb, oklch_of
from mothseed.colour.palette_file import Swatch, read_swatches, write_swatches
from mothseed.colour.picture import beside_caller
from mothseed.colour.ramp import Ramp, linear_ramp, ramp_table
from mothseed.colour.texture import Texture, texture_of
from mothseed.colour.value import WHITE, Colour, as_colour
from mothseed.colour.vision import seen_with
from mothseed.colour.ways import WAYS
from mothseed.faults import PictureError, SketchError
from mothseed.kernels.tile_sizes import RAMP_STEPS
from mothseed.told import counted
from mothseed.values import fixed

MOST_SWATCHES = 64
_MOST_INKS = 6
HARMONIES = {
    "complementary": (0, 180),
    "analogous": (-30, 0, 30),
    "split-complementary": (0, 150, 210),
    "triadic": (0, 120, 240),
    "tetradic": (0, 90, 180, 270),
}
"""Turns around the hue circle from the key colour, in degrees."""
ORDERS = ("lightness", "chroma", "hue", "share")
ALIKE = 0.05
"""Default distance in OKLab below which swatches are merged: two and a half times what is just noticeable."""


class Picker(Protocol):
    """Anything that picks one of several colours, such as a stream of chance."""

    def pick(self, items: Sequence[Colour], *, weights: Sequence[float] | None = None, label: str | None = None) -> Colour:
        """One of the items."""
        ...


@fixed("its methods give new palettes: palette.sorted(), palette.limited(4), palette.merged()")
class Palette:
    """An ordered set of colours, its swatches; never changes.

    >>> night = Palette(["#14213d", "#8d99ae", "#edf2f4"])
    >>> night.cycle(4).css, night.ramp(1.0).css, len(night)
    ('#8d99ae', '#edf2f4', 3)
    """

    __slots__ = ("shares", "swatches")

    swatches: tuple[Colour, ...]
    shares: tuple[float, ...]
    """The share of its source that each swatch stands for; they add up to 1."""

    def __init__(self, colours: Iterable[object], shares: Sequence[float] | None = None) -> None:
        """From colours as Colour values or CSS strings; raises SketchError for none, or for what is no colour.

        `shares` are in proportion to each other; without them all are alike.
        """
        if isinstance(colours, str):
            hint = f'write Palette(["{colours}", "#edf2f4"]), or Palette.read("night.json") for a file'
            raise SketchError(f"a palette is made of a list of colours (got {colours!r})", hint=hint)
        swatches = tuple(as_colour(colour) for colour in colours)
        if not swatches:
            raise SketchError("a palette needs at least one colour", hint='write Palette(["#14213d", "#edf2f4"])')
        parts = [1.0] * len(swatches) if shares is None else [float(share) for share in shares]
        if len(parts) != len(swatches):
            raise SketchError(
                f"a palette of {counted(len(swatches), 'colour')} has {counted(len(parts), 'share')}",
                hint="give each colour one",
            )
        total = math.fsum(parts)
        if not (all(part >= 0 for part in parts) and 0 < total < math.inf):
            raise SketchError(f"shares of a palette are 0 or more, and not all 0 (got {parts})")
        object.__setattr__(self, "swatches", swatches)
        object.__setattr__(self, "shares", tuple(part / total for part in parts))

    # Where palettes come from

    @classmethod
    def from_picture(cls, path: str | Path, count: int = 6, *, method: str = "k-means") -> Palette:
        """The `count` colours that best represent a picture, dark to light; the same every time.

        `method` is "k-means", which finds clusters of pixels; "closest-k-means", which starts ten times and keeps the colours
        closest to the picture's, taking ten times as long; or "median-cut", which gives the colours more even shares, so that
        small vivid spots count for less. A path is relative to the file that makes the call. A picture with fewer colours
        gives fewer. Raises PictureError if the picture cannot be read, SketchError for a count outside 1 to 64.
        """
        count = whole("from_picture", "count", count, 1, MOST_SWATCHES)
        one_of("from_picture", "method", method, WAYS)
        place = beside_caller(path)
        found = _from_texture(texture_of(place), count, method)
        if found is None:
            raise PictureError(f"{place} is fully transparent: it has no colours", hint="use a picture with opaque pixels")
        return found

    @classmethod
    def read(cls, path: str | Path) -> Palette:
        """The palette in a JSON or text file; docs/files.md describes the format.

        A path is relative to the file that makes the call. Raises PictureError if it cannot be read or has no colours.
        """
        colours, shares = zip(*read_swatches(beside_caller(path)), strict=True)
        return cls(colours, shares)

    @classmethod
    def harmony(cls, key: object, kind: str = "analogous") -> Palette:
        """Colours with the lightness and chroma of a key colour and its hue turned by a classic interval.

        `kind` is "complementary", "analogous", "split-complementary", "triadic" or "tetradic". Colours outside the gamut of a
        screen lose chroma. Raises SketchError for any other kind.
        """
        one_of("harmony", "kind", kind, HARMONIES)
        colour = as_colour(key)
        lightness, chroma, hue = oklch_of(colour)
        return cls([from_oklch(lightness, chroma, hue + turn, colour.alpha) if turn else colour for turn in HARMONIES[kind]])

    @classmethod
    def overprinted(cls, inks: Iterable[object], paper: object = "white") -> Palette:
        """All colours that a few inks give on paper, each printed or not, one over another: three inks give eight.

        The paper comes first, then the inks, then pairs, and so on, multiplied like transparent inks. Raises SketchError for
        more than six.
        """
        given = [as_colour(ink) for ink in inks]
        if not 1 <= len(given) <= _MOST_INKS:
            raise SketchError(f"overprinted: from one to {_MOST_INKS} inks (got {len(given)})")
        ground = as_colour(paper)
        # What is not quite opaque lets more through; white lets everything through.
        layers = [ink.over(WHITE) for ink in given]
        sets = (chosen for count in range(len(layers) + 1) for chosen in combinations(layers, count))
        return cls([reduce(Colour.multiplied, chosen, ground) for chosen in sets])

    def write(self, path: str | Path) -> None:
        """Write it to a .json or .txt file for `Palette.read`; raises FileError if that fails."""
        write_swatches(Path(path), [Swatch(*pair) for pair in zip(self.swatches, self.shares, strict=True)])

    # What it is

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

    # Palettes from this one

    def sorted(self, by: str = "lightness", *, descending: bool = False) -> Palette:
        """The same swatches sorted by "lightness", "chroma", "hue" or "share", ascending unless `descending`."""
        one_of("sorted", "by", by, ORDERS)
        parts = [(*oklch_of(swatch), share) for swatch, share in zip(self.swatches, self.shares, strict=True)]
        keys = [part[ORDERS.index(by)] for part in parts]
        return self._of(sorted(range(len(self)), key=lambda index: keys[index], reverse=descending))

    def limited(self, count: int) -> Palette:
        """Its `count` swatches with the largest shares, in their present order."""
        count = whole("limited", "count", count, 1)
        largest = sorted(range(len(self)), key=lambda index: -self.shares[index])[:count]
        return self._of(sorted(largest))

    def merged(self, distance: float = ALIKE) -> Palette:
        """The palette with similar swatches merged, until all are farther apart than `distance`.

        Distances are in OKLab: 0.02 is just noticeable, 0.05 plain to see, 1 is black to white. Merged swatches are mixed by
        share.
        """
        if not 0 <= distance < math.inf:
            raise SketchError(f"merged: distance must be 0 or more, and finite (got {distance!r})")
        swatches, shares = list(self.swatches), list(self.shares)
        while len(swatches) > 1:
            lab = oklab_from_srgb(np.array([swatch[:3] for swatch in swatches]))
            apart = np.sqrt(((lab[:, None] - lab[None]) ** 2).sum(axis=2)) + np.diag(np.full(len(lab), np.inf))
            first, second = sorted(divmod(int(apart.argmin()), len(lab)))
            if apart[first, second] > distance:
                break
            share = shares[first] + shares[second]
            swatches[first] = mixed(swatches[first], swatches[second], shares[second] / share if share else 0.5)
            shares[first] = share
            del swatches[second], shares[second]
        return Palette(swatches, shares)

    def _of(self, indices: Sequence[int]) -> Palette:
        shares = [self.shares[index] for index in indices]
        return Palette([self.swatches[index] for index in indices], shares if any(shares) else None)

    def seen_with(self, vision: str) -> Palette:
        """The palette as seen with a colour vision deficiency: "protanopia", "deuteranopia" or "tritanopia".

        Raises SketchError for anything else.
        """
        return Palette([seen_with(swatch, vision) for swatch in self.swatches], self.shares)

    # Colours from it

    @overload
    def nearest(self, colour: FloatArray) -> FloatArray: ...
    @overload
    def nearest(self, colour: Colour | str | tuple[float, ...]) -> Colour: ...
    def nearest(self, colour: FloatArray | Colour | str | tuple[float, ...]) -> Colour | FloatArray:
        """The swatch that looks most like a colour: `night.nearest(photo.at(x, y))`; for an array (n, 4), an array of swatches.

        Distances are in OKLab and ignore alpha. Raises SketchError for anything that is not a colour.
        """
        several = isinstance(colour, np.ndarray) and colour.ndim == 2
        wanted = np.asarray(colour)[:, :3] if several else np.array([as_colour(colour)[:3]])
        away = oklab_from_srgb(wanted)[:, None] - oklab_from_srgb(np.array([swatch[:3] for swatch in self.swatches]))[None]
        which = (away * away).sum(axis=2).argmin(axis=1)
        return np.array(self.swatches)[which] if several else self.swatches[int(which[0])]

    def pick(self, chance: Picker, *, weighted: bool = False, label: str | None = None) -> Colour:
        """One swatch, drawn from the given stream: all equally likely, or in proportion to their shares."""
        return chance.pick(self.swatches, weights=self.shares if weighted else None, label=label)

    @overload
    def cycle(self, index: int) -> Colour: ...
    @overload
    def cycle(self, index: np.ndarray[tuple[int, ...], np.dtype[np.int64]]) -> FloatArray: ...
    def cycle(self, index: int | np.ndarray[tuple[int, ...], np.dtype[np.int64]]) -> Colour | FloatArray:
        """The swatch with a running number, starting over after the last; for an array of numbers, float64 (n, 4)."""
        if isinstance(index, np.ndarray):
            return np.array(self.swatches)[index % len(self.swatches)]
        try:
            return self.swatches[index % len(self.swatches)]
        except TypeError:
            hint = "write cycle(int(number)), or ramp(fraction) for colours in between"
            raise SketchError(f"cycle: index must be a whole number (got {index!r})", hint=hint) from None

    @overload
    def ramp(self, fraction: float, at: Sequence[float] | None = None) -> Colour: ...
    @overload
    def ramp(self, fraction: FloatArray, at: Sequence[float] | None = None) -> FloatArray: ...
    def ramp(self, fraction: float | FloatArray, at: Sequence[float] | None = None) -> Colour | FloatArray:
        """A colour on the way from the first swatch (0) through the others to the last (1), mixed in OKLab.

        `at` gives the position of each swatch, from 0 to 1; by default they are evenly spaced. Beyond the ends, the colour
        stays the same. An array of fractions gives float64 (n, 4), as `circles(fill=...)` takes it. Raises SketchError for
        anything that is not a number, and for positions that are not ascending.
        """
        if at is not None:
            places = [place for place, _ in linear_ramp((0, 0), (1, 0), self.swatches, at).stops]
            return self.ramp(_evened(fraction, places))
        if isinstance(fraction, np.ndarray):
            return self._ramped(fraction)
        if math.isnan(fraction):
            raise _no_fraction()
        reach = min(max(fraction, 0.0), 1.0) * (len(self.swatches) - 1)
        first = min(int(reach), max(len(self.swatches) - 2, 0))
        return mixed(self.swatches[first], self.swatches[min(first + 1, len(self.swatches) - 1)], reach - first)

    def _ramped(self, fractions: FloatArray) -> FloatArray:
        if np.isnan(fractions).any():
            raise _no_fraction()
        last = max(len(self.swatches) - 1, 1)
        stops = [(index / last, swatch) for index, swatch in enumerate(self.swatches)]
        table = ramp_table(Ramp("linear", (0.0, 0.0, 1.0, 0.0), tuple(stops)))
        even = np.linspace(0.0, 1.0, RAMP_STEPS + 1)
        return np.stack([np.interp(fractions, even, table[:, part]) for part in range(4)], axis=-1)


@overload
def _evened(fraction: float, places: Sequence[float]) -> float: ...
@overload
def _evened(fraction: FloatArray, places: Sequence[float]) -> FloatArray: ...
def _evened(fraction: float | FloatArray, places: Sequence[float]) -> float | FloatArray:
    """A fraction mapped from these positions to evenly spaced ones."""
    even = np.interp(fraction, places, np.linspace(0.0, 1.0, len(places)))
    return even if isinstance(fraction, np.ndarray) else float(even)


def _no_fraction() -> SketchError:
    return SketchError("ramp: the fraction is not a number", hint="check for a division of 0 by 0")


@lru_cache(maxsize=16)
def _from_texture(texture: Texture, count: int, method: str) -> Palette | None:
    clusters = WAYS[method](texture.pixels, count)
    if len(clusters.srgb) == 0:
        return None
    return Palette([Colour(*parts) for parts in clusters.srgb.tolist()], clusters.shares.tolist())
