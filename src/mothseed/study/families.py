"""Editions that are drawn with the same forms, however they are painted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mothseed.bits import stream_of, words
from mothseed.measure import shared_by_each, signatures
from mothseed.measure.forms import FORMS_BYTES
from mothseed.series import Edition
from mothseed.study.neighbours import SingleArray, connected

_SHARED = 0.75
_BAND = 4
"""Parts of a signature that are looked up together: of two that share three quarters of their forms, one of the 32 bands is the
same in all but five of a million cases; of two that share a quarter, in one of nine."""
_PAIRS = 2000
"""Pairs from which it is told what is usual."""
_TOLD_APART = 0.02
"""Distance of two appearances from which on they are told apart."""


@dataclass(frozen=True, slots=True)
class Recoloured:
    """Editions that are one drawing in several sets of colours; indices."""

    colourings: tuple[tuple[int, ...], ...]
    """those of one look together, the largest set first"""
    shared: float
    """part of their forms that the least alike of those that were held against each other both have"""


def recoloured(editions: Sequence[Edition], places: SingleArray) -> tuple[Recoloured, ...]:
    """The families of editions that share far more of their forms than is usual, and look unlike; `places` are their
    appearances, float32 (n, 768).
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
    """Families of those of n signatures, uint16 (n, 128), that share such a part of their forms, with the least that was
    found to be shared; each of them has two members at least.

    Candidates are those of which one band of the signature is the same (locality-sensitive hashing: Indyk and Motwani,
    "Approximate nearest neighbors", 1998).
    """
    bands = np.ascontiguousarray(kept.reshape(len(kept), -1, _BAND))
    first: dict[tuple[int, bytes], int] = {}
    candidates: set[tuple[int, int]] = set()
    for index, row in enumerate(bands):
        for number, band in enumerate(row):
            if not band.any():
                continue
            earlier = first.setdefault((number, band.tobytes()), index)
            if earlier != index:
                candidates.add((earlier, index))
    pairs = sorted(candidates)
    one, other = np.array(pairs, np.int64).reshape(-1, 2).T
    shares = shared_by_each(kept[one], kept[other]).tolist()
    alike = {pair: share for pair, share in zip(pairs, shares, strict=True) if share >= limit}
    least: dict[int, float] = {}
    families = [family for family in connected(len(kept), alike) if len(family) > 1]
    of = {index: number for number, family in enumerate(families) for index in family}
    for (member, _), share in alike.items():
        least[of[member]] = min(least.get(of[member], 1.0), share)
    return [(family, least[number]) for number, family in enumerate(families)]


def _usually_shared(kept: npt.NDArray[np.uint16]) -> float:
    """The part of their forms that two have which are drawn at random; of a series with one ground it is large."""
    drawn = words(stream_of("pairs of a series"), 0, 2 * _PAIRS)
    one, other = (drawn % np.uint64(len(kept))).astype(np.int64).reshape(2, -1)
    apart = np.flatnonzero(one != other)
    return float(np.median(shared_by_each(kept[one[apart]], kept[other[apart]])))


def _looks(members: Sequence[int], places: SingleArray) -> tuple[tuple[int, ...], ...]:
    """Members in sets of those that cannot be told apart."""
    own = places[list(members)].astype(np.float64)
    seen: list[int] = []
    sets: list[list[int]] = []
    for index, place in zip(members, own, strict=True):
        apart = np.linalg.norm(places[seen].astype(np.float64) - place, axis=1) if seen else np.zeros(0)
        if len(apart) and apart.min() < _TOLD_APART:
            sets[int(apart.argmin())].append(index)
        else:
            seen.append(index)
            sets.append([index])
    return tuple(sorted(map(tuple, sets), key=lambda each: (-len(each), each)))
