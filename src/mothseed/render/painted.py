"""A painted drawing, and its picture without some of its marks, in a fraction of the time: what is ready for the whole stays as
it is, and only the tiles on which those marks are seen are painted again.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from mothseed.arrays import BoolArray, ByteArray, WholeArray
from mothseed.kernels.primitives import Bins
from mothseed.render.painting import rendered
from mothseed.render.raster import MOST_AT_ONCE, Ready, load_for, made_ready, paint_tiles
from mothseed.render.rounding import USUAL
from mothseed.render.scene.bins import binned
from mothseed.render.threads import Threads
from mothseed.render.waiting import PaintedTiles
from mothseed.sheet.drawing import Drawing
from mothseed.sizes import picture_size

_FEW = 4
"""Tiles that are painted first."""


class Painted:
    """A drawing and its picture, as `rendered` gives it."""

    pixels: ByteArray
    """uint8 (height, width, 3), or 4 with straight alpha where the paper is not opaque"""

    def __init__(self, drawing: Drawing, width: int) -> None:
        self._drawing = drawing
        self._size = picture_size(drawing.width, drawing.height, width)
        self._threads = Threads()
        self._ready: Ready | None = None
        if len(drawing) > MOST_AT_ONCE:
            self.pixels = rendered(drawing, width)
            return
        load_for(drawing)
        self._ready = made_ready(drawing, *self._size, self._threads)
        self.pixels = np.empty((*self._size[::-1], USUAL.bytes_of_pixel(opaque=drawing.paper.alpha == 1)), np.uint8)
        self._paint(self._ready, self.pixels, np.arange(len(self._ready[1].first_item) - 1))

    def without(self, marks: WholeArray) -> ByteArray:
        """The picture without some marks, by index: as `rendered` has it of all others."""
        *_, pixels = self.gradually_without(marks)
        return pixels

    def gradually_without(self, marks: WholeArray) -> Iterator[ByteArray]:
        """The picture, of which only a few tiles lack some marks, those with the least on them; then the picture that lacks
        them everywhere: the same array, painted further. What is seen of marks is mostly seen on the former, in a fraction of
        the time.
        """
        stays = np.ones(len(self._drawing), np.bool)
        stays[marks] = False
        gone = None if self._ready is None else _gone(self._ready[0].sources, ~stays)
        if self._ready is None or gone is None:
            yield rendered(self._drawing.part(stays), self._size[0])
            return
        primitives, bins = self._ready
        is_gone = gone[bins.items]
        of_tiles = np.diff(bins.first_item)
        tiles = np.unique(np.repeat(np.arange(len(of_tiles)), of_tiles)[is_gone])
        if (gone & primitives.hides).any():
            # What they hid belongs to tiles now.
            seen = np.where(gone[:, None], np.array([np.inf, np.inf, -np.inf, -np.inf]), primitives.seen)
            primitives = primitives._replace(seen=seen, hides=primitives.hides & ~gone)
            bins = binned(primitives, *self._size, self._threads)
        else:
            bins = _without(bins, is_gone)
        pixels = self.pixels.copy()
        by_load = tiles[np.argsort(of_tiles[tiles], kind="stable")]
        for some in (by_load[:_FEW], by_load[_FEW:]):
            self._paint((primitives, bins), pixels, some)
            yield pixels

    def _paint(self, ready: Ready, pixels: ByteArray, tiles: WholeArray) -> None:
        runs = [range(tile, tile + 1) for tile in tiles.tolist()]
        paint_tiles(self._drawing, ready, runs, pixels, 0, self._threads, PaintedTiles(len(runs)))


def _gone(sources: WholeArray, marks: BoolArray) -> BoolArray | None:
    """Which primitives are of some marks, bool (n,), from the `sources` of each; None if one is of these and others."""
    before = np.concatenate([[0], np.cumsum(marks)])
    # Those after all marks are of clips and layers.
    first, last = np.minimum(sources, len(marks)).T
    count = before[np.minimum(last + 1, len(marks))] - before[first]
    gone: BoolArray = count > 0
    return gone if (count[gone] == last[gone] - first[gone] + 1).all() else None


def _without(bins: Bins, is_gone: BoolArray) -> Bins:
    """What each tile has, without some of the items, bool (items,)."""
    before = np.concatenate([[0], np.cumsum(~is_gone)])
    return bins._replace(
        first_item=before[bins.first_item], items=bins.items[~is_gone], edges_of_item=bins.edges_of_item[~is_gone]
    )
