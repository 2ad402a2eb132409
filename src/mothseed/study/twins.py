"""Editions that hardly differ from one another."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from mothseed.arrays import FloatArray, WholeArray
from mothseed.series import Edition
from mothseed.study.near_pairs import near_pairs
from mothseed.study.neighbours import SingleArray, connected

_WITHIN, _AT_LEAST = 0.5, 0.005
"""Twins are nearer than half of what is usual between neighbours, or so near that nobody could tell."""
_SEEN_PART = 0.04
"""Distance of the same part of two pictures from which on they are no twins: twice what is noticed, whatever the rest is."""
_AT_ONCE = 4096
"""Pairs that are looked at together."""


@dataclass(frozen=True, slots=True)
class Twins:
    """Editions of which each hardly differs from another; indices."""

    members: tuple[int, ...]
    distance: float
    """of the nearest two, in OKLab"""
    same_drawing: bool
    """whether all have one fingerprint"""


def twins_among(editions: Sequence[Edition], places: SingleArray, usual: float) -> tuple[Twins, ...]:
    """Those that are connected by being far nearer than is usual, or by one fingerprint; `places` are their appearances,
    float32 (n, 768), about their mean.
    """
    pairs, distances = near_pairs(places, max(_WITHIN * usual, _AT_LEAST))
    unseen = _farthest_parts(places, pairs) < _SEEN_PART
    pairs, distances = pairs[unseen], distances[unseen]
    drawn: dict[str, int] = {}
    of_one_drawing = [
        (drawn.setdefault(edition.fingerprint, index), index) for index, edition in enumerate(editions) if edition.fingerprint
    ]
    first, groups = connected(len(editions), np.concatenate([pairs, np.array(of_one_drawing, np.int64).reshape(-1, 2)]))
    closest = np.full(len(editions), np.inf)
    np.minimum.at(closest, first[pairs[:, 0]], distances)
    found = []
    for group in groups:
        one_drawing = len({editions[index].fingerprint for index in group}) == 1 and bool(editions[group[0]].fingerprint)
        found.append(Twins(group, 0.0 if one_drawing else float(closest[group[0]]), one_drawing))
    return tuple(sorted(found, key=lambda twins: (twins.distance, twins.members)))


def _farthest_parts(places: SingleArray, pairs: WholeArray) -> FloatArray:
    """The largest distance of the same part of both of each pair, float64 (m,) from int64 (m, 2): a word that only one of two
    pictures has is far there, and hardly on the whole.
    """
    found = np.zeros(len(pairs))
    for start in range(0, len(pairs), _AT_ONCE):
        one, other = pairs[start : start + _AT_ONCE].T
        parts = (places[one] - places[other]).reshape(len(one), -1, 3)
        found[start : start + _AT_ONCE] = np.linalg.norm(parts, axis=2).max(axis=1) * math.sqrt(parts.shape[1])
    return found
