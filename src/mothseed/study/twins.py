"""Editions that hardly differ from one another."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from mothseed.series import Edition
from mothseed.study.neighbours import Neighbours, SingleArray, connected

_WITHIN, _AT_LEAST = 0.5, 0.005
"""Twins are nearer than half of what is usual between neighbours, or so near that nobody could tell."""
_SEEN_PART = 0.04
"""Distance of the same part of two pictures from which on they are no twins: twice what is noticed, whatever the rest is."""


@dataclass(frozen=True, slots=True)
class Twins:
    """Editions of which each hardly differs from another; indices."""

    members: tuple[int, ...]
    distance: float
    """of the nearest two, in OKLab"""
    same_drawing: bool
    """whether all have one fingerprint"""


def twins_among(editions: Sequence[Edition], places: SingleArray, near: Neighbours, usual: float) -> tuple[Twins, ...]:
    """Those that are connected by being far nearer than is usual, or by one fingerprint; `places` are their appearances,
    float32 (n, 768).
    """
    rows = np.argwhere(near.distances < max(_WITHIN * usual, _AT_LEAST)).tolist()
    links = {(row, int(near.nearest[row, place])): float(near.distances[row, place]) for row, place in rows}
    links = {pair: far for pair, far in links.items() if _farthest_part(places[pair[0]], places[pair[1]]) < _SEEN_PART}
    drawn: dict[str, int] = {}
    for index, edition in enumerate(editions):
        if edition.fingerprint:
            links.setdefault((index, drawn.setdefault(edition.fingerprint, index)), math.inf)
    closest: dict[int, float] = {}
    for (one, _), distance in links.items():
        closest[one] = min(closest.get(one, math.inf), distance)
    found = []
    for group in connected(len(editions), links):
        if len(group) > 1:
            distance = min(closest.get(index, math.inf) for index in group)
            one_drawing = len({editions[index].fingerprint for index in group}) == 1 and bool(editions[group[0]].fingerprint)
            found.append(Twins(group, 0.0 if one_drawing else distance, one_drawing))
    return tuple(sorted(found, key=lambda twins: (twins.distance, twins.members)))


def _farthest_part(one: SingleArray, other: SingleArray) -> float:
    """The largest distance of two pictures' same parts: a word that only one has is far there, and hardly on the whole."""
    parts = (one - other).reshape(-1, 3)
    return float(np.linalg.norm(parts, axis=1).max()) * math.sqrt(len(parts))
