"""Many outlines as arrays, without an object for each."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import TypeVar, overload

import numpy as np
import numpy.typing as npt

from mothseed.arrays import BoolArray, ByteArray, FloatArray, PointArray, WholeArray
from mothseed.faults import SketchError
from mothseed.geometry.given_points import as_points
from mothseed.geometry.lengths import pieces_of
from mothseed.geometry.outline import Outline, known
from mothseed.geometry.polylines import Polylines
from mothseed.geometry.trail import Trail
from mothseed.geometry.verbs import CLOSE, LINE, MOVE

Value = TypeVar("Value", bound=np.generic)


@dataclass(frozen=True, slots=True, eq=False)
class Outlines(Sequence[Outline]):
    """Outlines one after another, as ragged arrays; an index gives one as an `Outline`."""

    verbs: ByteArray
    """uint8 (v,), of all of them"""
    first_verb: WholeArray
    """int64 (n + 1,): the verbs of an outline run from its own entry up to the next"""
    points: PointArray
    """float64 (p, 2)"""
    first_point: WholeArray
    """int64 (n + 1,)"""
    kept: Mapping[int, Outline] = field(default_factory=dict)
    """those that are more than geometry, such as text that knows what it spells"""

    @classmethod
    def of(cls, pieces: Iterable[Outline | Outlines]) -> Outlines:
        """Outlines and runs of outlines, in order."""
        verbs, points = [np.zeros(0, np.uint8)], [np.zeros((0, 2))]
        verb_counts, point_counts = [0], [0]
        kept: dict[int, Outline] = {}
        for piece in pieces:
            verbs.append(piece.verbs)
            points.append(piece.points)
            if type(piece) is Outline:
                verb_counts.append(len(piece.verbs))
                point_counts.append(len(piece.points))
            elif isinstance(piece, Outlines):
                count = len(verb_counts) - 1
                kept |= {count + number: outline for number, outline in piece.kept.items()}
                verb_counts += np.diff(piece.first_verb).tolist()
                point_counts += np.diff(piece.first_point).tolist()
            else:
                kept[len(verb_counts) - 1] = piece
                verb_counts.append(len(piece.verbs))
                point_counts.append(len(piece.points))
        first_verb, first_point = (np.cumsum(counts, dtype=np.int64) for counts in (verb_counts, point_counts))
        return cls(np.concatenate(verbs), first_verb, np.concatenate(points), first_point, kept)

    @classmethod
    def alike(cls, verbs: ByteArray, points: FloatArray) -> Outlines:
        """Outlines with the same verbs, each through points of its own, float64 (n, k, 2)."""
        count = np.arange(len(points) + 1)
        return cls(np.tile(verbs, len(points)), count * len(verbs), points.reshape(-1, 2), count * points.shape[1])

    @classmethod
    def through(cls, points: PointArray, lengths: WholeArray, closed: BoolArray) -> Outlines:
        """Straight lines through runs of points, of so many points each, (n,), closed or open, (n,)."""
        first_point = np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64)
        first_verb = np.concatenate([[0], np.cumsum(lengths + closed)]).astype(np.int64)
        verbs = np.full(first_verb[-1], LINE, np.uint8)
        verbs[first_verb[:-1]] = MOVE
        verbs[first_verb[1:][closed] - 1] = CLOSE
        for array in (verbs, points):
            array.setflags(write=False)
        return cls(verbs, first_verb, points, first_point)

    def __len__(self) -> int:
        return len(self.first_verb) - 1

    @overload
    def __getitem__(self, number: int) -> Outline: ...
    @overload
    def __getitem__(self, number: slice) -> Sequence[Outline]: ...
    def __getitem__(self, number: int | slice) -> Outline | Sequence[Outline]:
        if isinstance(number, slice):
            return self.chosen(np.arange(len(self))[number])
        place = range(len(self))[number]
        if place in self.kept:
            return self.kept[place]
        verbs = self.verbs[self.first_verb[place] : self.first_verb[place + 1]]
        verbs.setflags(write=False)
        return known(verbs, self.points[self.first_point[place] : self.first_point[place + 1]])

    def chosen(self, numbers: WholeArray) -> Outlines:
        """Those with some indices, in that order."""
        verbs, first_verb = _chosen(self.verbs, self.first_verb, numbers)
        points, first_point = _chosen(self.points, self.first_point, numbers)
        kept = {place: self.kept[number] for place, number in enumerate(numbers.tolist()) if number in self.kept}
        return Outlines(verbs, first_verb, points, first_point, kept)

    def end_to_end(self) -> tuple[PointArray, WholeArray]:
        """All points, float64 (p + 1, 2), and how many each outline has, int64 (n,). There is one extra point, the origin, so
        that an empty outline at the end begins somewhere too.
        """
        return np.concatenate([self.points, np.zeros((1, 2))]), np.diff(self.first_point)


def _chosen(values: npt.NDArray[Value], first: WholeArray, numbers: WholeArray) -> tuple[npt.NDArray[Value], WholeArray]:
    """Some runs of the values that `first` cuts into runs, by index, and where each then begins."""
    lengths = first[numbers + 1] - first[numbers]
    begins = np.concatenate([[0], np.cumsum(lengths)])
    places = np.arange(begins[-1]) + np.repeat(first[numbers] - begins[:-1], lengths)
    return values[places], begins


def _lines_of(piece: object) -> list[object]:
    """The pieces of an outline or a trail as fine chords, closed ones ending where they began; anything else as it is."""
    outline = piece.outline if isinstance(piece, Trail) else piece
    if not isinstance(outline, Outline):
        return [piece]
    return [np.concatenate([points, points[:1]]) if closed else points for points, closed in pieces_of(outline)]


def lines_through(pieces: Iterable[object], call: str) -> Outlines:
    """Many open polylines at once, from an array (n, k, 2), arrays (k, 2), `Polylines`, outlines or trails. Raises
    SketchError as `as_points` does.
    """
    if isinstance(pieces, Polylines) and (pieces.lengths >= 2).all():
        points, lengths = pieces.points, pieces.lengths
    elif isinstance(pieces, np.ndarray) and pieces.ndim == 3 and pieces.shape[1] >= 2 and pieces.shape[2] == 2:
        lengths = np.full(len(pieces), pieces.shape[1])
        points = np.array(pieces, np.float64).reshape(-1, 2)
    else:
        given = [each for piece in pieces for each in _lines_of(piece)]
        arrays = [piece for piece in given if isinstance(piece, np.ndarray) and piece.ndim == 2 and piece.shape[1] == 2]
        lengths = np.array([len(piece) for piece in arrays], np.int64)
        if len(arrays) < len(given) or (lengths < 2).any():
            arrays = [as_points(piece, call, 2) for piece in given]  # type: ignore[arg-type]
            lengths = np.array([len(piece) for piece in arrays], np.int64)
        points = np.concatenate([np.zeros((0, 2)), *arrays]).astype(np.float64)
    if len(lengths) and not np.isfinite(points).all():
        owner = int(np.searchsorted(np.cumsum(lengths), np.flatnonzero(~np.isfinite(points).all(axis=1))[0], side="right"))
        first = int(lengths[:owner].sum())
        try:
            as_points(points[first : first + int(lengths[owner])], call, 2)
        except SketchError as fault:
            raise SketchError(f"{fault.message} in line {owner}", hint=fault.hint) from None
    return Outlines.through(points, lengths, np.zeros(len(lengths), np.bool))
