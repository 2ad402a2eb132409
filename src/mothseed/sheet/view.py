"""Views: the sheet and the frames on it, as values that never change."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any, Self, TypeVar, Unpack

from mothseed.colour.value import Colour
from mothseed.errors import SketchError
from mothseed.geometry.affine import Affine
from mothseed.portable import cosine_and_sine
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.marks import Marks
from mothseed.sheet.recorder import Recorder
from mothseed.sheet.style import Paint, Style

ViewT = TypeVar("ViewT", bound="View")
PlaceT = TypeVar("PlaceT", bound="Place")

Box = tuple[float, float, float, float]
"""Left, top, width, height."""


class View(Marks):
    """A coordinate frame with a style and an area, drawn on like a sheet.

    What makes a view from a view (`frame`, `styled`, `mirrored`, `inset`, `centred`) returns a new one and changes nothing.
    """

    __slots__ = ("_matrices", "height", "left", "top", "width")

    _matrices: tuple[Affine, ...]
    """The map of each image to the sheet."""
    left: float
    top: float
    width: float
    height: float
    """The area, in the view's own units: a sheet's has its top left corner at the origin, a cell's its centre."""

    def _on(self, view: ViewT, matrices: tuple[Affine, ...], area: Box) -> ViewT:
        """Make an empty view one with these maps to the sheet and this area, in this view's style."""
        recorder = self._recorder
        view._recorder = recorder
        view._style, view._paint = self._style, self._paint
        view._matrices = matrices
        view._images = tuple([recorder.add_view(matrix) for matrix in matrices])
        view.left, view.top, view.width, view.height = area
        return view

    def _moved(self, matrix: Affine, area: Box) -> View:
        return self._on(View(), tuple([outer.after(matrix) for outer in self._matrices]), area)

    def frame(
        self,
        x: float = 0.0,
        y: float = 0.0,
        *,
        turn: float = 0.0,
        scale: float = 1.0,
        pivot: tuple[float, float] = (0.0, 0.0),
    ) -> View:
        """A frame with its origin at (x, y), turned by degrees clockwise, enlarged by `scale`.

        Turning and enlarging are about the `pivot`, a point in the frame's own coordinates, which stays where it would
        be without them. The area comes along with the origin. Raises SketchError for a number that is not finite or a
        scale that is not above 0.
        """
        try:
            across, down = pivot
            total = x + y + turn + scale + across + down
            if total - total != 0 or not scale > 0:
                raise _frame_fault(x, y, turn, scale, pivot)
        except (TypeError, ValueError):
            raise _frame_fault(x, y, turn, scale, pivot) from None
        if turn or scale != 1:
            cosine, sine = cosine_and_sine(turn)
            a, b = scale * cosine, scale * sine
            matrix = Affine(a, b, -b, a, x + across - a * across + b * down, y + down - b * across - a * down)
        else:
            matrix = Affine.translation(x, y)
        area = (self.left / scale, self.top / scale, self.width / scale, self.height / scale)
        return self._moved(matrix, area)

    def styled(self, **paint: Unpack[Paint]) -> Self:
        """The same view with other paint; shapes drawn on it have that paint unless they say otherwise."""
        style = self._style.but(paint)
        twin = object.__new__(type(self))
        for owner in type(self).__mro__:
            for name in getattr(owner, "__slots__", ()):
                setattr(twin, name, getattr(self, name))
        twin._style, twin._paint = style, style.packed()
        return twin

    def mirrored(self, axis: float = 90.0) -> View:
        """A view on which everything appears twice: as drawn, and in mirror image.

        The mirror is the line through the origin at heading `axis` in degrees: 90 is upright, so that left and right
        are the same; 0 lies flat. A mirrored view can be mirrored again.
        """
        _finite("mirrored", axis=axis)
        reflection = Affine.reflection(axis)
        matrices = tuple(image for outer in self._matrices for image in (outer, outer.after(reflection)))
        return self._on(View(), matrices, (self.left, self.top, self.width, self.height))

    def inset(self, margin: float) -> View:
        """A view of the area within a margin. Its origin is where it was in proportion: a corner stays a corner, a centre
        a centre. Raises SketchError where the margin leaves nothing.
        """
        _finite("inset", margin=margin)
        width, height = self.width - 2 * margin, self.height - 2 * margin
        if not (width > 0 and height > 0):
            raise SketchError(
                f"inset: a margin of {margin} leaves nothing of {self.width:g} by {self.height:g}",
                hint=f"keep it below {min(self.width, self.height) / 2:g}",
            )
        across, down = -self.left / self.width, -self.top / self.height
        left, top = self.left + margin, self.top + margin
        origin = Affine.translation(left + across * width, top + down * height)
        return self._moved(origin, (-across * width, -down * height, width, height))

    def centred(self) -> View:
        """A view with its origin in the middle of the area."""
        middle = Affine.translation(self.left + self.width / 2, self.top + self.height / 2)
        return self._moved(middle, (-self.width / 2, -self.height / 2, self.width, self.height))

    def grid(
        self,
        cols: int = 1,
        rows: int = 1,
        *,
        width: float | None = None,
        height: float | None = None,
        gap: float = 0.0,
    ) -> Iterator[Cell]:
        """Cells in rows and columns, row by row, each a view with its origin at its centre.

        They fill the view's area, or `width` by `height` from the area's top left corner on, with a gap between them.
        Raises SketchError for counts below 1 and gaps that leave no room.
        """
        for name, count in (("cols", cols), ("rows", rows)):
            if not (isinstance(count, int) and count >= 1):
                raise SketchError(f"grid: {name} is a whole number from 1 on (got {count!r})")
        full_width = self.width if width is None else width
        full_height = self.height if height is None else height
        _finite("grid", width=full_width, height=full_height, gap=gap)
        cell_width = (full_width - gap * (cols - 1)) / cols
        cell_height = (full_height - gap * (rows - 1)) / rows
        if not (cell_width > 0 and cell_height > 0 and gap >= 0):
            raise SketchError(
                f"grid: {cols} by {rows} cells with a gap of {gap} do not fit into {full_width:g} by {full_height:g}"
            )

        def cells() -> Iterator[Cell]:
            area = (-cell_width / 2, -cell_height / 2, cell_width, cell_height)
            for row in range(rows):
                for col in range(cols):
                    x = self.left + col * (cell_width + gap) + cell_width / 2
                    y = self.top + row * (cell_height + gap) + cell_height / 2
                    cell = self._place(Cell, Affine.translation(x, y), area, row * cols + col)
                    cell.col, cell.row = col, row
                    cell.across, cell.down = _fraction(col, cols), _fraction(row, rows)
                    yield cell

        return cells()

    def ring(self, count: int, radius: float, *, start: float = 0.0, facing: str = "out") -> Iterator[RingPlace]:
        """Places evenly around the origin, clockwise from the top, each a view with its origin on the circle.

        `start` moves the first place on by degrees. `facing="out"` turns each so that its upward direction points away
        from the middle, "in" towards it; "up" leaves all upright. Raises SketchError for a count below 0.
        """
        if not (isinstance(count, int) and count >= 0):
            raise SketchError(f"ring: count is a whole number from 0 on (got {count!r})")
        _finite("ring", radius=radius, start=start)
        turns = {"out": 0.0, "in": 180.0}
        if facing not in (*turns, "up"):
            raise SketchError(f'ring: facing is "out", "in" or "up" (got {facing!r})')

        def places() -> Iterator[RingPlace]:
            area = (self.left, self.top, self.width, self.height)
            for index in range(count):
                angle = start + 360.0 * index / count
                spoke = Affine.rotation(angle)
                x, y = spoke.point(0.0, -radius)
                turned = Affine() if facing == "up" else Affine.rotation(angle + turns[facing])
                place = self._place(RingPlace, Affine.translation(x, y).after(turned), area, index)
                place.angle = angle
                place.fraction = index / count
                yield place

        return places()

    def _place(self, kind: type[PlaceT], matrix: Affine, area: Box, index: int) -> PlaceT:
        place = self._on(kind(), tuple([outer.after(matrix) for outer in self._matrices]), area)
        place.index = index
        return place


class Place(View):
    """One of several views that an arrangement yields, with its running number."""

    __slots__ = ("index",)

    index: int


class Cell(Place):
    """A cell of a grid."""

    __slots__ = ("across", "col", "down", "row")

    col: int
    row: int
    across: float
    down: float
    """How far across and down the grid it lies: 0 in the first column or row, 1 in the last, 0.5 where there is but one."""


class RingPlace(Place):
    """A place on a ring."""

    __slots__ = ("angle", "fraction")

    angle: float
    """Degrees clockwise from the top."""
    fraction: float
    """How far around it lies, from 0 up to but not including 1."""


class Sheet(View):
    """What a sketch draws on: width, height, unit and paper, origin top left, y down."""

    __slots__ = ("paper", "unit")

    def __init__(self, width: float, height: float, unit: str, paper: Colour) -> None:
        style = Style()
        self._recorder = Recorder()
        self._style, self._paint = style, style.packed()
        self._on(self, (Affine(),), (0.0, 0.0, float(width), float(height)))
        self.unit = unit
        self.paper = paper

    def drawing(self) -> Drawing:
        """All that was drawn so far."""
        return self._recorder.drawing(self.width, self.height, self.unit, self.paper)


def _frame_fault(x: object, y: object, turn: object, scale: Any, pivot: object) -> SketchError:
    """What is wrong with the arguments of a frame, in words."""
    _finite("frame", x=x, y=y, turn=turn, scale=scale)
    if not scale > 0:
        return SketchError(f"frame: scale is above 0 (got {scale})", hint="for a mirror image use mirrored()")
    return SketchError(f"frame: pivot is a point of finite numbers (got {pivot!r})", hint="write pivot=(40, 60)")


def _finite(call: str, **numbers: Any) -> None:
    for name, number in numbers.items():
        try:
            if math.isfinite(number):
                continue
        except TypeError:
            pass
        raise SketchError(f"{call}: {name.replace('_', ' ')} is a finite number (got {number!r})")


def _fraction(position: int, count: int) -> float:
    return position / (count - 1) if count > 1 else 0.5
