"""Outlines: geometry of lines and curves, open or closed, without paint."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import TYPE_CHECKING, Any, NamedTuple, overload

import numpy as np

from mothseed.arrays import BoolArray, ByteArray, FloatArray, PointArray, WholeArray
from mothseed.checks import finite, from_nothing, length
from mothseed.faults import SketchError
from mothseed.geometry.affine import Affine, shifted, transformed
from mothseed.geometry.given_points import as_points, refuse_endless
from mothseed.geometry.pens.base import Pen
from mothseed.geometry.verbs import CLOSE, CUBIC, LINE, MOVE, POINTS_TAKEN
from mothseed.told import counted
from mothseed.values import closed as of_kind
from mothseed.values import fixed

if TYPE_CHECKING:
    from mothseed.geometry.trail import Trail


class OutlinePlace(NamedTuple):
    """A point on an outline, and the heading of the outline there."""

    x: float
    y: float
    heading: float


class Bounds(NamedTuple):
    """The box around an outline: an area, and four numbers."""

    left: float
    top: float
    right: float
    bottom: float

    @property
    def width(self) -> float:
        """How wide it is."""
        return self.right - self.left

    @property
    def height(self) -> float:
        """How high it is."""
        return self.bottom - self.top

    @property
    def centre(self) -> tuple[float, float]:
        """Its middle."""
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2

    @property
    def center(self) -> tuple[float, float]:
        """As `centre`."""
        return self.centre


class _Geometry:
    """An outline that nobody has yet: it can be filled, and is then closed."""

    __slots__ = ("points", "verbs")

    verbs: ByteArray
    points: PointArray


@fixed("its methods give new outlines: outline.moved(10, 0), outline.turned(30), outline.joined(other)")
@dataclass(frozen=True, slots=True, eq=False)
class Outline(_Geometry):
    """Subpaths of straight lines and cubic Bézier curves, as verbs and the points that they take.

    A verb is 0 to begin a subpath at a point, 1 for a line to a point, 2 for a curve through two control points to a third, and
    3 to close the subpath, after which another begins. Raises SketchError for verbs and points that do not go together, and
    for points that are not finite.
    """

    verbs: ByteArray
    """uint8 (m,)"""
    points: PointArray
    """float64 (n, 2), in the units of whatever it is drawn on"""

    def __post_init__(self) -> None:
        # Kernels trust verbs and points, so they are checked here, once.
        if not (_is_own(self.verbs, _VERB, 1) and _is_own(self.points, _POINT, 2)):
            object.__setattr__(self, "verbs", _own_verbs(self.verbs))
            object.__setattr__(self, "points", _own_points(self.points))
        _check_verbs(self.verbs.tobytes(), len(self.points))
        refuse_endless(self.points, "Outline")
        self.verbs.setflags(write=False)
        self.points.setflags(write=False)

    @property
    def closed(self) -> bool:
        """Whether its last subpath returns to its start."""
        return bool(len(self.verbs) and self.verbs[-1] == CLOSE)

    def transformed(self, matrix: Affine) -> Outline:
        """The outline under an affine map."""
        return self._through(transformed(self.points, np.array(matrix)))

    def moved(self, x: float, y: float) -> Outline:
        """The outline moved by x and y."""
        return self._through(shifted(self.points, x, y))

    def turned(self, degrees: float, pivot: tuple[float, float] = (0.0, 0.0)) -> Outline:
        """The outline turned clockwise about a point."""
        back = Affine.rotation(degrees).after(Affine.translation(-pivot[0], -pivot[1]))
        return self.transformed(Affine.translation(*pivot).after(back))

    def scaled(self, factor: float) -> Outline:
        """The outline enlarged from the origin."""
        return self.transformed(Affine.scaling(factor))

    def _through(self, points: PointArray) -> Outline:
        """Its lines and curves through other points."""
        if points.shape != self.points.shape:
            return Outline(self.verbs, points)  # which tells what is wrong
        refuse_endless(points, "Outline")
        return known(self.verbs, points)

    def joined(self, other: Outline) -> Outline:
        """This outline and another as one; the fill rule decides about overlaps."""
        return Outline(np.concatenate([self.verbs, other.verbs]), np.concatenate([self.points, other.points]))

    def reversed(self) -> Outline:
        """The same outline drawn from its end to its start."""
        pieces = []
        for verbs, points in self.subpaths():
            shut = verbs[-1] == CLOSE
            steps = verbs[1:-1] if shut else verbs[1:]
            pieces.append((np.array([MOVE, *steps[::-1].tolist(), *[CLOSE] * bool(shut)], np.uint8), points[::-1]))
        verbs_of_all, points_of_all = zip(*pieces[::-1], strict=True)
        return Outline(np.concatenate(verbs_of_all), np.concatenate(points_of_all))

    def mirrored(self, axis: float = 90.0) -> Outline:
        """Its mirror image in the line through the origin at heading `axis`: 90 is vertical, 0 horizontal."""
        finite("mirrored", axis=axis)
        return self.transformed(Affine.reflection(axis))

    def continued(self, other: Outline | Trail | Iterable[object]) -> Outline:
        """This outline continued by another: a line to its start, then along it.

        Raises SketchError for an outline that is closed.
        """
        from mothseed.geometry.segments import continued

        return continued(self, other)

    @classmethod
    def polygon(cls, points: Iterable[object]) -> Outline:
        """Straight lines through points and back to the first."""
        return through(as_points(points, "polygon", 3), closed=True)

    @classmethod
    def polyline(cls, points: Iterable[object]) -> Outline:
        """Straight lines through points."""
        return through(as_points(points, "polyline", 2), closed=False)

    @classmethod
    def rect(cls, x: float, y: float, width: float, height: float, *, radius: float = 0.0) -> Outline:
        """A rectangle by its top left corner and its size; raises SketchError for sizes that are not above 0."""
        from mothseed.geometry.figures import rounded_rect

        finite("rect", x=x, y=y)
        length("rect", width=width, height=height)
        from_nothing("rect", radius=radius)
        if radius:
            return rounded_rect(width, height, radius).moved(x, y)
        return cls.polygon([(x, y), (x + width, y), (x + width, y + height), (x, y + height)])

    @classmethod
    def circle(cls, x: float, y: float, radius: float) -> Outline:
        """A circle by its centre and radius; raises SketchError for a radius that is not above 0."""
        length("circle", radius=radius)
        return cls.ellipse(x, y, radius, radius)

    @classmethod
    def ellipse(cls, x: float, y: float, rx: float, ry: float) -> Outline:
        """An ellipse by its centre and radii; raises SketchError for radii that are not above 0."""
        from mothseed.geometry.unit_shapes import UNIT_CIRCLE

        finite("ellipse", x=x, y=y)
        length("ellipse", rx=rx, ry=ry)
        return UNIT_CIRCLE.transformed(Affine(float(rx), 0.0, 0.0, float(ry), float(x), float(y)))

    @classmethod
    def from_svg(cls, data: str) -> Outline:
        """The outline of SVG path data: `Outline.from_svg("M 0 0 H 20 a 5 5 0 0 1 0 10 z")`.

        https://www.w3.org/TR/SVG2/paths.html. Raises SketchError for what is none.
        """
        from mothseed.geometry.path_data import from_path_data

        return from_path_data(data)

    @property
    def length(self) -> float:
        """The length of all its pieces, gaps between them left out."""
        from mothseed.geometry.lengths import length_of

        return length_of(self)

    @property
    def bounds(self) -> Bounds:
        """The bounding box of its lines and curves; raises SketchError if it is empty."""
        from mothseed.geometry.segments import bounds_of

        return bounds_of(self)

    @property
    def corners(self) -> tuple[OutlinePlace, ...]:
        """The points where it starts, ends, and where its lines and curves meet, with the heading of a marker at each."""
        from mothseed.geometry.segments import corners_of

        return corners_of(self)

    def at(self, fraction: float) -> OutlinePlace:
        """The point at a fraction of its length, from 0 (start) to 1 (end), and the heading of the outline there.

        Raises SketchError for an outline of no length.
        """
        from mothseed.geometry.lengths import places_along

        finite("at", fraction=fraction, hint="0 is the start, 1 the end")
        return places_along(self, np.array([float(fraction)]))[0]

    def part(self, start: float, end: float) -> Outline:
        """The part between two fractions of its length; curves stay curves.

        On a closed outline of one piece, `part(0.9, 0.1)` passes through its start. Raises SketchError for fractions outside
        0 to 1, for fractions in descending order on any other outline, and for an outline of no length.
        """
        from mothseed.geometry.segments import part_of

        return part_of(self, start, end)

    def nearest(self, x: float, y: float) -> OutlinePlace:
        """The point on it that is nearest to a given point; raises SketchError for an outline of no length."""
        from mothseed.geometry.segments import nearest_to

        return nearest_to(self, x, y)

    def distance(self, x: float, y: float) -> float:
        """How far a point is from its line; raises SketchError for an outline of no length."""
        place = self.nearest(x, y)
        return math.hypot(x - place.x, y - place.y)

    @overload
    def contains(self, x: float, y: float) -> bool: ...
    @overload
    def contains(self, x: FloatArray, y: float | FloatArray) -> BoolArray: ...
    @overload
    def contains(self, x: float, y: FloatArray) -> BoolArray: ...
    def contains(self, x: float | FloatArray, y: float | FloatArray) -> bool | BoolArray:
        """Whether a point lies inside, by the nonzero winding rule; arrays of coordinates give an array.

        Raises SketchError for an outline that has no inside.
        """
        from mothseed.geometry.region import region_of

        across, down = np.broadcast_arrays(np.asarray(x, np.float64), np.asarray(y, np.float64))
        inside = region_of(self, "contains").contains(across.ravel(), down.ravel()).reshape(across.shape)
        return inside if across.ndim else bool(inside)

    @classmethod
    def united(cls, outlines: Iterable[Outline | Trail | Iterable[object]]) -> Outline:
        """What lies in any of several outlines, combined at once: far faster than one `union` after another."""
        from mothseed.geometry.combining import united

        return united(outlines)

    def union(self, other: Outline | Trail | Iterable[object]) -> Outline:
        """What lies in one outline or the other. Curves come back as fine straight lines, as in the next three."""
        from mothseed.geometry.combining import combined

        return combined(self, other, "union")

    def intersection(self, other: Outline | Trail | Iterable[object]) -> Outline:
        """What lies in both outlines: nothing if they do not overlap."""
        from mothseed.geometry.combining import combined

        return combined(self, other, "intersection")

    def difference(self, other: Outline | Trail | Iterable[object]) -> Outline:
        """This outline without what lies in the other."""
        from mothseed.geometry.combining import combined

        return combined(self, other, "difference")

    def exclusion(self, other: Outline | Trail | Iterable[object]) -> Outline:
        """What lies in exactly one of the two outlines."""
        from mothseed.geometry.combining import combined

        return combined(self, other, "exclusion")

    __or__, __and__, __sub__, __xor__ = union, intersection, difference, exclusion

    def grown(self, distance: float, *, join: str = "round") -> Outline:
        """Everything within a distance of its inside; a negative distance shrinks it. The result never crosses itself.

        `join` shapes the corners: "round", "miter" or "bevel". Curves come back as short straight lines. Raises SketchError
        for a distance that is not finite, and for other joins.
        """
        from mothseed.geometry.combining import grown

        return grown(self, distance, join)

    def simplified(self, tolerance: float) -> Outline:
        """Straight lines through as few points as possible, nowhere farther from it than the tolerance.

        Raises SketchError for a tolerance that is not above 0.
        """
        from mothseed.geometry.segments import simplified

        return simplified(self, tolerance)

    def hatched(self, spacing: float, turn: float = 0.0) -> Outline:
        """Parallel lines inside it, `spacing` apart, at heading `turn`: draw them with `path` and a stroke.

        Neighbours hatched with the same settings line up. Raises SketchError for a spacing that is not above 0, a turn that
        is not finite, and more than a million lines.
        """
        from mothseed.geometry.hatching import hatched

        return hatched(self, spacing, turn)

    def swelled(self, widths: Iterable[float]) -> Outline:
        """The outline of a line along it with varying width: `swelled([0, 2, 0])` swells towards the middle and tapers off.

        Raises SketchError for fewer than two widths, for negative ones, and for an outline of no length.
        """
        from mothseed.geometry.hatching import swelled

        return swelled(self, widths)

    def subpaths(self) -> Iterator[tuple[ByteArray, PointArray]]:
        """The verbs and points of each subpath."""
        place = 0
        for first, last in pairwise([*np.flatnonzero(self.verbs == MOVE).tolist(), len(self.verbs)]):
            verbs = self.verbs[first:last]
            count = int(_POINTS_TAKEN[verbs].sum())
            yield verbs, self.points[place : place + count]
            place += count

    def draw(self, pen: Pen) -> None:
        """Trace it with a pen."""
        numbers = self.points.ravel().tolist()
        calls = (pen.move, pen.line, pen.cubic, pen.close)
        place = 0
        for verb in self.verbs.tolist():
            end = place + 2 * POINTS_TAKEN[verb]
            calls[verb](*numbers[place:end])
            place = end


_POINTS_TAKEN = np.array(POINTS_TAKEN)
_CLOSE_LINE, _CLOSE_CURVE, _CLOSE_CLOSE = (bytes([CLOSE, verb]) for verb in (LINE, CUBIC, CLOSE))


_VERBS = "Outline: verbs are 0 to begin, 1 for a line, 2 for a curve, 3 to close"
_VERB, _POINT = np.dtype(np.uint8), np.dtype(np.float64)


def _is_own(array: object, kind: np.dtype[Any], dimensions: int) -> bool:
    """Whether something is an array of that type that nobody else can change."""
    if type(array) is not np.ndarray or array.dtype is not kind or array.ndim != dimensions:
        return False
    return array.base is None or not array.flags.writeable


def _own_verbs(given: object) -> ByteArray:
    try:
        numbers = np.array(given, np.float64)
    except (TypeError, ValueError):
        numbers = np.full(1, np.nan)
    if numbers.ndim != 1 or not ((numbers >= 0) & (numbers <= CLOSE) & (numbers == np.floor(numbers))).all():
        raise SketchError(_VERBS)
    return numbers.astype(np.uint8)


def _own_points(given: object) -> PointArray:
    try:
        points = np.array(given, np.float64)
    except (TypeError, ValueError):
        points = np.zeros(0)
    points = points.reshape(-1, 2) if points.shape == (0,) and given == [] else points
    if points.ndim != 2 or points.shape[1] != 2:
        raise SketchError("Outline: points are pairs of numbers", hint="Outline([0, 1, 1, 3], [(0, 0), (10, 0), (10, 5)])")
    return points


def _check_verbs(verbs: bytes, count: int) -> None:
    """Raises SketchError if verbs do not match the number of points, or do not follow one another."""
    curves, closes = verbs.count(CUBIC), verbs.count(CLOSE)
    lines = verbs.count(MOVE) + verbs.count(LINE)
    if lines + curves + closes != len(verbs):
        raise SketchError(_VERBS)
    if verbs and verbs[0] != MOVE:
        raise SketchError("Outline: the first verb is 0, which begins at a point")
    if closes and (_CLOSE_LINE in verbs or _CLOSE_CURVE in verbs or _CLOSE_CLOSE in verbs):
        raise SketchError("Outline: after 3, which closes, comes 0, which begins again")
    if lines + 3 * curves != count:
        taken = counted(lines + 3 * curves, "point")
        raise SketchError(f"Outline: its verbs take {taken} (got {count:,})", hint="0 and 1 take one each, 2 takes three")


def starts_of(lengths: WholeArray) -> WholeArray:
    """Where consecutive runs of these lengths begin: int64 (k,)."""
    return np.cumsum(lengths) - lengths


def through(points: PointArray, *, closed: bool) -> Outline:
    """Straight lines from point to point; the points, which must be finite, belong to the outline from then on."""
    return known(verbs_of_run(LINE, len(points) - 1, closed), points)


def known(verbs: ByteArray, points: PointArray) -> Outline:
    """An outline of verbs and finite points that are known to match; both belong to it from then on, and the verbs are
    read-only. Checking them again would take a quarter of the time of recording a polygon.
    """
    points.setflags(False)  # type: ignore[call-arg]  # by position, which takes half the time
    outline = _Geometry()
    outline.verbs = verbs
    outline.points = points
    return of_kind(outline, Outline)


@lru_cache(maxsize=512)
def verbs_of_run(verb: int, count: int, closed: bool) -> ByteArray:
    """The verbs of one subpath of so many lines or curves: read-only, and shared by all that are alike."""
    verbs = np.array([MOVE, *[verb] * count, *[CLOSE] * closed], np.uint8)
    verbs.setflags(write=False)
    return verbs


EMPTY = Outline(np.zeros(0, np.uint8), np.zeros((0, 2)))
"""An empty outline."""


def all_joined(outlines: Iterable[Outline]) -> Outline:
    """Several outlines as one; the fill rule decides about overlaps."""
    parts = [EMPTY, *outlines]
    return Outline(np.concatenate([each.verbs for each in parts]), np.concatenate([each.points for each in parts]))
