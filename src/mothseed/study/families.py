"""Editions drawn with the same forms in different colours."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mothseed.arrays import WholeArray
from mothseed.bits import stream_of, words
from mothseed.measure import shared_by_each, signatures
from mothseed.measure.forms import FORMS_BYTES
from mothseed.series import Edition
from mothseed.study.neighbours import SingleArray, connected, squares_apart, squares_of

_SHARED = 0.75
_BAND = 4
"""Parts of a signature that are looked up together: of two that share three quarters of their forms, one of the 32 bands is the
same in all but five of a million cases; of two that share a quarter, in one of nine."""
_PAIRS = 2000
"""Pairs that show what is usual."""
_AT_ONCE, _BLOCK = 1 << 16, 512
"""Pairs of signatures, and members of a family, that are compared at a time."""
_TOLD_APART = 0.02
"""Distance from which two appearances can be told apart."""


@dataclass(frozen=True, slots=True)
class Recoloured:
    """Editions that are one drawing in several colourings; indices."""

    colourings: tuple[tuple[int, ...], ...]
    """grouped by look, the largest group first"""
    shared: float
    """share of forms in common for the least alike of the pairs compared"""


def recoloured(editions: Sequence[Edition], places: SingleArray) -> tuple[Recoloured, ...]:
    """Families of editions that share far more of their forms than is usual but look different; `places` are their
    appearances, float32 (n, 768), about their mean.
    """
    known = [index for index, edition in enumerate(editions) if len(edition.forms) == FORMS_BYTES]
    if len(known) < 2:
        return ()
    kept = signatures([editions[index].forms for index in known])
    found = []
    for members, shared in same_forms(kept, max(_SHARED, (1 + _usually_shared(kept)) / 2)):
        looks = _looks([known[place] for place in members], places)
        if len(looks) > 1:
            found.append(Recoloured(looks, shared))
    return tuple(sorted(found, key=lambda family: (-family.shared, family.colourings)))


def same_forms(kept: npt.NDArray[np.uint16], limit: float) -> list[tuple[tuple[int, ...], float]]:
    """Families among n signatures, uint16 (n, 128), that share at least such a part of their forms, with the least share
    found; each has at least two members. Candidates have one band of the signature in common (locality-sensitive hashing:
    Indyk and Motwani, "Approximate nearest neighbors", 1998).
    """
    one, other = _candidates(kept)
    blocks = [slice(start, start + _AT_ONCE) for start in range(0, len(one), _AT_ONCE)]
    shares = np.concatenate([np.zeros(0), *(shared_by_each(kept[one[block]], kept[other[block]]) for block in blocks)])
    alike = shares >= limit
    first, families = connected(len(kept), np.stack([one[alike], other[alike]], axis=1))
    least = np.ones(len(kept))
    np.minimum.at(least, first[one[alike]], shares[alike])
    return [(family, float(least[family[0]])) for family in families]


def _candidates(kept: npt.NDArray[np.uint16]) -> tuple[WholeArray, WholeArray]:
    """Pairs of n signatures, in order, as two int64 (m,): one with a band, and the first with the same band."""
    total = np.int64(len(kept))
    found = [np.zeros(0, np.int64)]
    bands = np.ascontiguousarray(kept).view(f"u{_BAND * kept.itemsize}")
    for band in bands.T:
        values, first, which = np.unique(band, return_index=True, return_inverse=True)
        earlier = np.where(values == 0, total, first)[which]
        later = np.arange(total)
        found.append((earlier * total + later)[earlier < later])
    pairs = np.unique(np.concatenate(found))
    return pairs // total, pairs % total


def _usually_shared(kept: npt.NDArray[np.uint16]) -> float:
    """The share of forms that a random pair has in common, which is large if all editions have the same ground."""
    drawn = words(stream_of("pairs of a series"), 0, 2 * _PAIRS)
    one, other = (drawn % np.uint64(len(kept))).astype(np.int64).reshape(2, -1)
    apart = np.flatnonzero(one != other)
    return float(np.median(shared_by_each(kept[one[apart]], kept[other[apart]])))


def _looks(members: Sequence[int], places: SingleArray) -> tuple[tuple[int, ...], ...]:
    """Members grouped so that those of a group cannot be told apart from its first."""
    sets: dict[int, list[int]] = {}
    for start in range(0, len(members), _BLOCK):
        some, before = members[start : start + _BLOCK], list(sets)
        own, earlier = places[some], places[before]
        known = np.full((len(some), 1), np.inf, np.float32)
        if before:
            known = squares_apart(own, earlier, squares_of(own), squares_of(earlier))
        within = squares_apart(own, own, squares_of(own), squares_of(own))
        nearest, least = known.argmin(axis=1), known.min(axis=1)
        new: list[int] = []
        for place, index in enumerate(some):
            far = within[place, new]
            if new and far.min() < min(least[place], _TOLD_APART**2):
                sets[some[new[int(far.argmin())]]].append(index)
            elif least[place] < _TOLD_APART**2:
                sets[before[int(nearest[place])]].append(index)
            else:
                new.append(place)
                sets[index] = [index]
    return tuple(sorted(map(tuple, sets.values()), key=lambda each: (-len(each), each)))
