"""What kind of picture an edition is: its colours, layout, density and shapes, regardless of exactly where each mark lies.

Two sheets of scattered dots are of one kind, however the dots fell. Each aspect is a point in a space of its own, in which a
distance of 1 means half alike.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.colour import Colour
from mothseed.colour.oklch import oklab_from_srgb
from mothseed.colour.value import Swatches
from mothseed.measure import appearances
from mothseed.measure.seen import APPEARANCE_CELLS
from mothseed.processors import on_all_processors
from mothseed.series import Edition
from mothseed.sheet.kinds import KINDS
from mothseed.study.neighbours import SingleArray

_HALF_COLOURS = 0.05
"""Distance in OKLab between the colours of two editions, over all that is drawn, at which they are half alike."""
_LEAST_PAPER = 0.2
"""Least share of ink that counts: with less, its colours depend too much on chance."""
_HALF_LAYOUT = 0.06
"""Distance in OKLab over sixteen parts of the sheet: three times what is noticeable, since things that fall by chance differ
by as much.
"""
_HALF_UNEVEN, _HALF_DETAIL, _HALF_COVERAGE = 0.02, 0.02, 0.1
_COARSE = 4
"""Parts of the width and of the height in a layout."""
_STEPS = 32
"""Quantiles of ink that describe its colours."""
_TOGETHER = 128
"""Editions processed at a time, which keeps intermediate arrays to a few megabytes."""
_AXES = np.array([(1, 0, 0), (0, 1, 0), (0, 0, 1)], float)
_DIAGONALS = np.array([(0, 1, 1), (0, 1, -1), (1, 1, 0), (1, -1, 0), (1, 0, 1), (1, 0, -1)], float) / np.sqrt(2)
_DIRECTIONS = np.concatenate([_AXES, _DIAGONALS])
"""Of OKLab, each of length 1."""


@dataclass(frozen=True, slots=True, eq=False)
class Aspects:
    """The aspects of some editions."""

    places: SingleArray
    """all aspects side by side: float32 (n, d) about their mean; squared distances are the sums of those of the aspects
    """
    sizes: dict[str, int]
    """how many columns each aspect has, in order"""

    @property
    def by_name(self) -> dict[str, SingleArray]:
        """For each aspect, float32 (n, k)."""
        ends = np.cumsum(list(self.sizes.values())).tolist()
        return {name: self.places[:, end - size : end] for (name, size), end in zip(self.sizes.items(), ends, strict=True)}


def aspects_of(editions: Sequence[Edition]) -> Aspects:
    """The aspects of some editions, from what the ledger records.

    *Colours* are those of the palette, as the sliced Wasserstein distance sees them (Bonneel, Rabin, Peyré and Pfister,
    "Sliced and Radon Wasserstein barycenters of measures", 2015); the most frequent, which mostly is the paper, counts no
    more than all others together, or a fifth. *Layout* is the colours of sixteen parts of the sheet. *Density* is how much is
    covered, how fine it is, and how uneven, as a whole and across and down. *Shapes* are how many of each kind of mark there
    are, more for whether there are any than for how many.
    """
    sizes = {name: part.shape[1] for name, part in _parts(editions[:1]).items()}
    places = np.empty((len(editions), sum(sizes.values())), np.float32)

    def fill(start: int) -> None:
        some = slice(start, start + _TOGETHER)
        np.concatenate(list(_parts(editions[some]).values()), axis=1, out=places[some])

    list(on_all_processors(fill, range(0, len(editions), _TOGETHER)))
    places -= places.mean(axis=0)
    return Aspects(places, sizes)


def _parts(editions: Sequence[Edition]) -> dict[str, SingleArray]:
    """The points of some editions in each aspect, float32 (n, k)."""
    cells = appearances([edition.appearance for edition in editions]).astype(np.float64) * APPEARANCE_CELLS
    cells = cells.reshape(len(editions), APPEARANCE_CELLS, APPEARANCE_CELLS, 3)
    parts = {
        "colours": _colours(editions, cells) / _HALF_COLOURS,
        "layout": _layout(cells) / _HALF_LAYOUT,
        "density": _density(editions, cells),
        "shapes": _shapes(editions),
    }
    return {name: part.astype(np.float32) for name, part in parts.items()}


def _colours(editions: Sequence[Edition], cells: FloatArray) -> FloatArray:
    """Float64 (n, 288), whose distances are in OKLab."""
    rows = np.empty((len(editions), len(_DIRECTIONS) * _STEPS))
    known = [place for place, edition in enumerate(editions) if edition.palette]
    if known:
        rows[known] = _quantiles(*_inks([editions[place].palette for place in known]))
    for place in set(range(len(editions))) - set(known):  # without a recorded palette
        rows[place] = _quantiles(cells[place].reshape(1, -1, 3), np.full((1, APPEARANCE_CELLS**2), APPEARANCE_CELLS**-2.0))
    # On average over all directions, each sees a third of the squared distance.
    result: FloatArray = rows * np.sqrt(3 / rows.shape[1])
    return result


def _inks(palettes: Sequence[Swatches]) -> tuple[FloatArray, FloatArray]:
    """Colours in OKLab, (n, k, 3), and their weights, (n, k): 0 for what pads the shorter palettes."""
    longest = max(map(len, palettes))
    colours, shares = np.zeros((len(palettes), longest, 3)), np.zeros((len(palettes), longest))
    for place, palette in enumerate(palettes):
        colours[place, : len(palette)] = [_oklab_of(css) for css, _ in palette]
        shares[place, : len(palette)] = [share for _, share in palette]
    rows, most = np.arange(len(palettes)), shares.argmax(axis=1)
    largest = shares[rows, most]
    shares[rows, most] = np.minimum(largest, np.maximum(shares.sum(axis=1) - largest, _LEAST_PAPER))
    return colours, shares / shares.sum(axis=1, keepdims=True)


@lru_cache(maxsize=1 << 14)
def _oklab_of(css: str) -> tuple[float, float, float]:
    lightness, a, b = oklab_from_srgb(np.array(Colour.parse(css)[:3])).tolist()
    return lightness, a, b


def _quantiles(colours: FloatArray, shares: FloatArray) -> FloatArray:
    """Means of quantiles of the colours along each direction: (n, 288) from (n, k, 3) and (n, k)."""
    along = np.einsum("nkc,dc->ndk", colours, _DIRECTIONS)
    order = np.argsort(along, axis=2, kind="stable")
    sizes = np.take_along_axis(np.broadcast_to(shares[:, None], along.shape), order, axis=2)
    before = np.cumsum(sizes, axis=2) - sizes
    edges = np.linspace(0, 1, _STEPS + 1)[:, None]
    # The share of each colour below each edge, times the colour: differences give what lies between two edges.
    below = np.clip(edges - before[:, :, None], 0, sizes[:, :, None])
    totals = np.einsum("ndek,ndk->nde", below, np.take_along_axis(along, order, axis=2))
    result: FloatArray = np.diff(totals, axis=2).reshape(len(colours), -1) * _STEPS
    return result


def _layout(cells: FloatArray) -> FloatArray:
    """Float64 (n, 48), whose distances are in OKLab."""
    size = APPEARANCE_CELLS // _COARSE
    means: FloatArray = cells.reshape(len(cells), _COARSE, size, _COARSE, size, 3).mean(axis=(2, 4))
    return means.reshape(len(cells), -1) / _COARSE


def _density(editions: Sequence[Edition], cells: FloatArray) -> FloatArray:
    """Float64 (n, 5)."""
    off = cells - cells.mean(axis=(1, 2), keepdims=True)
    uneven = [_spread(off), _spread(off.mean(axis=1)), _spread(off.mean(axis=2))]
    measured = np.array([(edition.measures.get("detail", 0.0), edition.measures.get("coverage", 0.0)) for edition in editions])
    detail, coverage = measured[:, 0] / 100 / _HALF_DETAIL, measured[:, 1] / _HALF_COVERAGE
    return np.stack([*(each / _HALF_UNEVEN for each in uneven), detail, coverage], axis=1)


def _spread(off: FloatArray) -> FloatArray:
    """Root of the mean squared distance in OKLab, (n,), from (n, ..., 3)."""
    result: FloatArray = np.sqrt((off**2).sum(axis=-1).reshape(len(off), -1).mean(axis=1))
    return result


def _shapes(editions: Sequence[Edition]) -> FloatArray:
    """Float64 (n, kinds): roots of the logarithms of counts, so that the first mark of a kind counts most."""
    counts = np.array([[edition.measures.get(kind.plural, 0.0) for kind in KINDS] for edition in editions])
    result: FloatArray = np.sqrt(np.log2(1 + np.maximum(counts, 0)))
    return result
