"""Editions arranged by likeness: along a few directions, and in groups."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.series import Edition
from mothseed.study.aspects import Aspects
from mothseed.study.distinctions import Columns, Direction, directions_explained
from mothseed.study.groupings import Cluster, groups_of
from mothseed.study.neighbours import SingleArray

_DIMENSIONS = 12
_TOGETHER = 8192
"""Editions converted to double precision at a time."""


@dataclass(frozen=True, slots=True, eq=False)
class LaidOut:
    """Editions as points, with look-alikes close together."""

    points: FloatArray
    """float64 (n, 12 or fewer): principal components, in order of variance"""
    groups: tuple[Cluster, ...]
    """empty if they do not fall into groups"""
    axes: tuple[Direction, ...]
    """the first two directions, in words"""


def lay_out(editions: Sequence[Edition], aspects: Aspects) -> LaidOut:
    """Arrange editions by their `aspects`. Groups are found by k-means along all of the directions."""
    points, parts = _principal(aspects.places)
    columns = Columns.of(editions)
    return LaidOut(points, groups_of(columns, points), directions_explained(columns, points[:, :2], parts[:2]))


def _principal(places: SingleArray) -> tuple[FloatArray, FloatArray]:
    """Principal components of points about their mean, float64 (n, 12), and the share of variance of each, (12,)."""
    blocks = range(0, len(places), _TOGETHER)
    scatter = np.zeros((places.shape[1],) * 2)
    for start in blocks:
        some = places[start : start + _TOGETHER].astype(np.float64)
        scatter += some.T @ some
    powers, directions = np.linalg.eigh(scatter)
    order = np.argsort(powers)[::-1][:_DIMENSIONS]
    chosen = directions[:, order]
    # The sign of a direction is arbitrary: take the one in which more values grow.
    chosen *= np.where(chosen.sum(axis=0) < 0, -1.0, 1.0)
    total = max(float(powers.sum()), 1e-300)
    along = np.concatenate([places[start : start + _TOGETHER].astype(np.float64) @ chosen for start in blocks])
    return along, np.maximum(powers[order], 0.0) / total
