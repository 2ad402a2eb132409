"""Views: the sheet, and the places that arrangements lay out on it, as values that never change."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import Any, overload

from mothseed.checks import finite, from_nothing, length, one_of, whole
from mothseed.faults import SketchError
from mothseed.geometry.affine import Affine
from mothseed.geometry.contours import contours_of
from mothseed.geometry.outline import Outline, as_points
from mothseed.geometry.region import Area, Box
from mothseed.geometry.surface import Surface
from mothseed.geometry.trail import Trail, as_outline
from mothseed.sheet.arrange import (
    FACINGS,
    SPIRALS,
    CellSpot,
    Spot,
    Stream,
    along_spots,
    fan_spots,
    grid_spots,
    relaxed_spots,
    ring_spots,
    scatter_spots,
    spiral_spots,
)
from mothseed.sheet.arrangement import Arrangement
from mothseed.sheet.frames import Frames
from mothseed.sheet.packing import PackedSpot, packed_spots
from mothseed.sheet.pieces import BlockSpot, PieceSpot, delaunay_spots, subdivided_spots, voronoi_spots
from mothseed.sheet.view_state import ViewT
from mothseed.values import fixed


@fixed("a view is made from a view: sheet.styled(fill=...), sheet.frame(x, y, turn=30), sheet.inset(10)")
class View(Frames):
    """A coordinate frame with a style and an area, drawn on like a sheet.

    What makes a view from a view (`frame`, `styled`, `layer`, `clipped`, `mirrored`, `inset`, `centred`) returns a new one and
    changes nothing.
    """

    __slots__ = ()

    def grid(
        self,
        cols: int = 1,
        rows: int = 1,
        *,
        step: float | tuple[float, float] | None = None,
        width: float | None = None,
        height: float | None = None,
        gap: float = 0.0,
        brick: float = 0.0,
        hexagonal: bool = False,
        growth: float | tuple[float, float] = 1.0,
        where: Callable[[Cell], bool] | None = None,
    ) -> GridCells:
        """Cells in rows and columns, row by row, each a view with its origin at its centre.

        They fill the view's area, or `width` by `height` from the area's top left corner on, with a gap between them. With
        a `step` instead of counts there are as many of that size, across and down, as fit, in the middle of the area.
        `brick` moves every other row on by that part of a cell; `hexagonal` sets the cells as hexagons lie, each as high
        and wide as the hexagon with a corner at its top. `growth` makes each column and row that many times the size
        of the one before; `where` is a rule that a cell has to meet, such as `lambda cell: cell.col <= cell.row`. Raises
        SketchError for counts below 1 and gaps that leave no room.
        """
        box = (self.left, self.top, self.width if width is None else width, self.height if height is None else height)
        finite("grid", width=box[2], height=box[3], gap=gap, brick=brick)
        spots = grid_spots(cols, rows, box, step, gap, brick, hexagonal, growth)
        return GridCells(lambda grid: self._views_at(Cell, spots, CellSpot.box, where, grid), shifted=hexagonal or brick != 0)

    def ring(
        self, count: int, radius: float, *, start: float = 0.0, sweep: float = 360.0, facing: str = "out"
    ) -> Arrangement[Spotted]:
        """Places evenly around the origin, clockwise from the top, each a view with its origin on the circle.

        `start` moves the first place on by degrees; a `sweep` below 360 is a part of the circle, with a place at each end.
        `facing="out"` turns each so that its upward direction points away from the middle, "in" towards it, "along" the way
        the ring goes; "up" leaves all upright. Raises SketchError for a count below 0.
        """
        finite("ring", radius=radius, start=start, sweep=sweep)
        one_of("ring", "facing", facing, FACINGS)
        return Arrangement(self._spotted(ring_spots(whole("ring", "count", count), radius, start, sweep, facing)))

    def fan(self, count: int, sweep: float, *, start: float | None = None) -> Arrangement[Spotted]:
        """The view itself `count` times, turned in even steps over `sweep` degrees: upright in the middle, or from `start`."""
        first = -sweep / 2 if start is None else start
        finite("fan", sweep=sweep, start=first)
        return Arrangement(self._spotted(fan_spots(whole("fan", "count", count), sweep, first)))

    def spiral(self, count: int, spacing: float, *, kind: str = "even", facing: str = "out") -> Arrangement[Spotted]:
        """Places outwards from the origin, about `spacing` apart: "even" along a line that winds, or "phyllotaxis", as seeds
        lie in a sunflower.
        """
        one_of("spiral", "facing", facing, FACINGS)
        one_of("spiral", "kind", kind, SPIRALS)
        length("spiral", spacing=spacing)
        return Arrangement(self._spotted(spiral_spots(whole("spiral", "count", count), spacing, kind, facing)))

    def along(
        self,
        outline: Outline | Trail | Iterable[object],
        count: int,
        *,
        start: float = 0.0,
        end: float = 1.0,
        facing: str = "along",
    ) -> Arrangement[Spotted]:
        """Places evenly along an outline, from one fraction of its length to another.

        `facing="along"` turns each so that +x goes on along the outline, "out" so that it points to its right; "up" leaves
        all upright. Raises SketchError for an outline of no length.
        """
        outline = as_outline(outline, "along", "write along(smooth(points), 12)", closed=False)
        finite("along", start=start, end=end)
        one_of("along", "facing", facing, ("along", "out", "up"))
        return Arrangement(self._spotted(along_spots(outline, whole("along", "count", count), start, end, facing)))

    def scatter(
        self,
        count: int,
        chance: Stream,
        *,
        margin: float = 0.0,
        gap: float = 0.0,
        weight: Callable[[float, float], float] | None = None,
        relaxed: int = 0,
    ) -> Arrangement[Spotted]:
        """Random places in the view's area, within a margin, none nearer to another than `gap`.

        `weight(x, y)` from 0 to 1 is how likely a place is kept. `relaxed` moves each place to the middle of what is nearest
        to it, so many times over, until they lie as evenly as the weight has it: 5 loosens clumps, 40 makes a stipple. Where
        no room is left there are fewer. Raises SketchError for lengths that are negative and a margin that leaves nothing.
        """
        from_nothing("scatter", margin=margin, gap=gap)
        box = (self.left + margin, self.top + margin, self.width - 2 * margin, self.height - 2 * margin)
        if not (box[2] > 0 and box[3] > 0):
            raise SketchError(f"scatter: a margin of {margin} leaves nothing of {self.width:g} by {self.height:g}")
        spots = scatter_spots(chance, whole("scatter", "count", count), box, gap, weight)
        if whole("scatter", "relaxed", relaxed):
            spots = relaxed_spots(spots, box, relaxed, weight)
        return Arrangement(self._spotted(spots))

    def packed(
        self,
        count: int,
        chance: Stream,
        smallest: float,
        largest: float,
        *,
        gap: float = 0.0,
        area: Area | None = None,
        size: Callable[[float, float], float] | None = None,
    ) -> Arrangement[Packed]:
        """Circles that touch no other, each as large as its place allows, from a smallest radius to a largest.

        They lie in the view's area, or in an `area`: an outline, or a circle written (x, y, radius). `size(x, y)` is the
        largest radius at a place, such as `lambda x, y: 1 + 6 * photo.lightness(x, y)`. Where no room is left there are fewer.
        Each is a view with its `radius`, in the square about it. Raises SketchError for radii that are not above 0.
        """
        count = whole("packed", "count", count)
        spots = packed_spots(chance, count, self if area is None else area, smallest, largest, gap, size)
        return Arrangement(self._views_at(Packed, spots, PackedSpot.box))

    def voronoi(self, points: Iterable[object]) -> Arrangement[Piece]:
        """What of the view's area is nearer to each point than to any other: `sheet.voronoi(sheet.scatter(90, chance))`.

        Each is a view with its origin at the point, its `outline`, and the numbers of its `neighbours`. Points outside the area
        have none, points in one place have one between them. Raises SketchError for what are no points.
        """
        corners = as_points(points, "voronoi", 0)
        return Arrangement(self._views_at(Piece, voronoi_spots(corners, self._area), PieceSpot.box))

    def delaunay(self, points: Iterable[object]) -> Arrangement[Piece]:
        """Triangles between points, as even as can be, each with its origin at its centroid, an `outline` and `neighbours`.

        Raises SketchError for what are no points, and where they all lie on one line.
        """
        return Arrangement(self._views_at(Piece, delaunay_spots(as_points(points, "delaunay", 3)), PieceSpot.box))

    def subdivided(self, rule: Callable[[Block], tuple[float, float] | None], *, gap: float = 0.0) -> Arrangement[Block]:
        """The view's area cut into blocks, and those again, as a rule has it: `sheet.subdivided(rule)`.

        The rule is given a block, a view with its origin in its middle, its place and its `depth`, and returns None where it
        stays, or how it is cut across and down: `(2, 2)` into quarters, `(0.4, 1)` at 40 % of its width, `(1, 3)` into
        three rows. Between parts is a gap. Raises SketchError for other answers, and where a rule never stops.
        """
        if not callable(rule):
            raise SketchError(
                f"subdivided: the rule is a function of a block (got {rule!r})",
                hint="write subdivided(lambda cell: (2, 2) if cell.depth < 3 else None)",
            )
        from_nothing("subdivided", gap=gap)

        def asked(index: int, block: BlockSpot) -> object:
            return rule(self._view_at(Block, index, block, block.box()))

        return Arrangement(self._views_at(Block, subdivided_spots(self._area, asked, gap), BlockSpot.box))

    @overload
    def contours(self, surface: Surface, level: float, *, step: float | None = None, filled: bool = False) -> Outline: ...
    @overload
    def contours(
        self, surface: Surface, level: Iterable[float], *, step: float | None = None, filled: bool = False
    ) -> list[Outline]: ...
    def contours(
        self, surface: Surface, level: float | Iterable[float], *, step: float | None = None, filled: bool = False
    ) -> Outline | list[Outline]:
        """The lines in the view's area along which a surface has a level, as an outline: `sheet.contours(hills, 0.3)`.

        The surface is a field, a picture, whose lightness counts, or a function of x and y. `filled` gives the area where it is
        above the level, to be filled, clipped or hatched. For several levels it gives a list. The surface is looked at every
        `step`, a two hundredth of the longer side. Raises SketchError for levels and values that are not finite.
        """
        several = isinstance(level, Iterable)
        levels = list(level) if isinstance(level, Iterable) else [level]
        found = contours_of(surface, levels, self._area, step, filled=filled)
        return found if several else found[0]

    def _spotted(self, spots: Iterator[Spot]) -> Iterator[Spotted]:
        return self._views_at(Spotted, spots, lambda _spot: self._area)

    def _views_at(
        self,
        kind: type[ViewT],
        spots: Iterator[Any],
        area: Callable[[Any], Box],
        where: Callable[[Any], bool] | None = None,
        of: object = None,
    ) -> Iterator[ViewT]:
        for index, spot in enumerate(spots):
            view = self._view_at(kind, index, spot, area(spot), of)
            if where is None or where(view):
                yield view

    def _view_at(self, kind: type[ViewT], index: int, spot: Any, area: Box, of: object = None) -> ViewT:
        matrix = Affine.translation(spot.x, spot.y)
        if spot.turn:
            matrix = matrix.after(Affine.rotation(spot.turn))
        return self._on(kind, tuple([outer.after(matrix) for outer in self._matrices]), area, own=(index, spot, of))


Frames._plain = View


class Place(View):
    """One of several views that an arrangement yields, with its running number."""

    __slots__ = ()

    _own: tuple[int, Any, object]

    @property
    def index(self) -> int:
        """Its running number, from 0 on."""
        return self._own[0]

    @property
    def x(self) -> float:
        """The x of its origin on the view whose arrangement it is of."""
        return float(self._own[1].x)

    @property
    def y(self) -> float:
        """The y of its origin there."""
        return float(self._own[1].y)


class Cell(Place):
    """A cell of a grid."""

    __slots__ = ()

    _own: tuple[int, CellSpot, GridCells]

    @property
    def col(self) -> int:
        """Its column, from 0 on."""
        return self._own[1].col

    @property
    def row(self) -> int:
        """Its row, from 0 on."""
        return self._own[1].row

    @property
    def col_fraction(self) -> float:
        """How far across the grid it lies: 0 in the first column, 1 in the last, 0.5 where there is but one."""
        return self._own[1].col_fraction

    @property
    def row_fraction(self) -> float:
        """How far down the grid it lies: 0 in the first row, 1 in the last, 0.5 where there is but one."""
        return self._own[1].row_fraction

    @property
    def neighbours(self) -> tuple[Cell, ...]:
        """The cells around it that there are, row by row: up to eight, or six where every other row is shifted."""
        return self._own[2].around(self)


class GridCells(Arrangement[Cell]):
    """The cells of a grid, which can be asked for by column and row."""

    def __init__(self, cells: Callable[[GridCells], Iterator[Cell]], *, shifted: bool) -> None:
        """`cells` makes them, each of which keeps the grid that it is of; `shifted` is whether every other row is moved on."""
        super().__init__(cells(self))
        self._shifted = shifted
        self._by_place: dict[tuple[int, int], Cell] = {}

    def at(self, col: int, row: int) -> Cell | None:
        """The cell in a column and row, from 0 on, or None where there is none."""
        if not self._by_place:
            self._by_place = {(cell.col, cell.row): cell for cell in self[:]}
        return self._by_place.get((col, row))

    def around(self, cell: Cell) -> tuple[Cell, ...]:
        """The cells around one of its cells."""
        places = cell._own[1].around(shifted=self._shifted)
        return tuple([found for col, row in places if (found := self.at(col, row))])


class Packed(Place):
    """A circle of a packing."""

    __slots__ = ()

    _own: tuple[int, PackedSpot, object]

    @property
    def radius(self) -> float:
        """Its radius."""
        return self._own[1].radius


class Spotted(Place):
    """A place of any other arrangement."""

    __slots__ = ()

    _own: tuple[int, Spot, object]

    @property
    def angle(self) -> float:
        """Its direction in degrees: clockwise from the top where the arrangement goes round, the heading along an outline."""
        return self._own[1].angle

    @property
    def fraction(self) -> float:
        """How far through the arrangement it is, from 0 to at most 1."""
        return self._own[1].fraction


class Block(Place):
    """A rectangle of a subdivision."""

    __slots__ = ()

    _own: tuple[int, BlockSpot, object]

    @property
    def depth(self) -> int:
        """How many cuts led to it: 0 for the whole area."""
        return self._own[1].depth


class Piece(Place):
    """A piece of a plane that is parted between points."""

    __slots__ = ()

    _own: tuple[int, PieceSpot, object]

    @property
    def outline(self) -> Outline:
        """Its outline in its own coordinates: draw it with `piece.path(piece.outline)`."""
        return self._own[1].outline

    @property
    def neighbours(self) -> tuple[int, ...]:
        """The numbers of the pieces that have an edge in common with it."""
        return self._own[1].neighbours
