"""Views: the sheet, and the places that arrangements lay out on it, as values that never change."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import Any, overload

from mothseed.checks import finite, from_nothing, length, one_of, whole
from mothseed.faults import SketchError
from mothseed.geometry.affine import Affine
from mothseed.geometry.contours import contours_of
from mothseed.geometry.given_points import as_points
from mothseed.geometry.outline import Outline
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

    Calls that make a view from a view (`frame`, `styled`, `layer`, `clipped`, `mirrored`, `inset`, `centred`) return a new
    one and change nothing.
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
        """Cells in rows and columns, row by row, each a view with its origin at the centre.

        They fill the view's area, or `width` by `height` from its top left corner, with a `gap` between them. With a `step`
        instead of counts, as many cells of that size as fit are centred in the area. `brick` shifts every other row by that
        fraction of a cell; `hexagonal` places the cells like hexagons with a corner at the top, each as high and wide as its
        hexagon. `growth` makes each column and row that many times the size of the one before. `where` keeps only cells that
        meet a condition, such as `lambda cell: cell.col <= cell.row`. Raises SketchError for counts below 1 and gaps that
        leave no room.
        """
        box = (self.left, self.top, self.width if width is None else width, self.height if height is None else height)
        finite("grid", width=box[2], height=box[3], gap=gap, brick=brick)
        spots = grid_spots(cols, rows, box, step, gap, brick, hexagonal, growth)
        return GridCells(lambda grid: self._views_at(Cell, spots, CellSpot.box, where, grid), shifted=hexagonal or brick != 0)

    def ring(
        self, count: int, radius: float, *, start: float = 0.0, sweep: float = 360.0, facing: str = "out"
    ) -> Arrangement[Spotted]:
        """Evenly spaced places around the origin, clockwise from the top, each a view with its origin on the circle.

        `start` moves the first place on by degrees; a `sweep` below 360 covers part of the circle, with a place at each end.
        `facing="out"` turns each so that its up points away from the centre, "in" towards it, "along" in the direction of the
        ring; "up" leaves all upright. Raises SketchError for a count below 0.
        """
        finite("ring", radius=radius, start=start, sweep=sweep)
        one_of("ring", "facing", facing, FACINGS)
        return Arrangement(self._spotted(ring_spots(whole("ring", "count", count), radius, start, sweep, facing)))

    def fan(self, count: int, sweep: float, *, start: float | None = None) -> Arrangement[Spotted]:
        """The view `count` times, turned in even steps over `sweep` degrees: centred on upright, or starting at `start`."""
        first = -sweep / 2 if start is None else start
        finite("fan", sweep=sweep, start=first)
        return Arrangement(self._spotted(fan_spots(whole("fan", "count", count), sweep, first)))

    def spiral(self, count: int, spacing: float, *, kind: str = "even", facing: str = "out") -> Arrangement[Spotted]:
        """Places outwards from the origin, about `spacing` apart: "even" along a winding line, or "phyllotaxis", like the
        seeds of a sunflower.
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
        """Evenly spaced places along an outline, from one fraction of its length to another.

        `facing="along"` turns each so that its +x follows the outline, "out" so that its +x points to the right of the
        outline; "up" leaves all upright. Raises SketchError for an outline of no length.
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
        """Random places in the view's area, within a margin and at least `gap` apart.

        `weight(x, y)`, from 0 to 1, is the probability that a place is kept. `relaxed` moves each place to the centroid of
        the region nearest to it, that many times, which evens them out as far as the weight allows: 5 loosens clumps, 40
        makes a stipple. If there is no room left, you get fewer. Raises SketchError for negative lengths, and for a margin
        that leaves nothing.
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
        """Circles that do not touch, each as large as its place allows, between a smallest and a largest radius.

        They lie in the view's area, or in an `area`: an outline, or a circle written (x, y, radius). `size(x, y)` is the
        largest radius at a place, such as `lambda x, y: 1 + 6 * photo.lightness(x, y)`. If there is no room left, you get
        fewer. Each is a view with its `radius`, whose area is the square around it. Raises SketchError for radii that are not
        above 0.
        """
        count = whole("packed", "count", count)
        spots = packed_spots(chance, count, self if area is None else area, smallest, largest, gap, size)
        return Arrangement(self._views_at(Packed, spots, PackedSpot.box))

    def voronoi(self, points: Iterable[object]) -> Arrangement[Piece]:
        """The Voronoi cells of points within the view's area: `sheet.voronoi(sheet.scatter(90, chance))`.

        Each is a view with its origin at the point, an `outline`, and the numbers of its `neighbours`. Points outside the
        area get no cell; points in the same place share one. Raises SketchError for anything that is not points.
        """
        corners = as_points(points, "voronoi", 0)
        return Arrangement(self._views_at(Piece, voronoi_spots(corners, self._area), PieceSpot.box))

    def delaunay(self, points: Iterable[object]) -> Arrangement[Piece]:
        """The Delaunay triangulation of points: triangles as even as possible, each a view with its origin at the centroid,
        an `outline` and `neighbours`.

        Raises SketchError for anything that is not points, and if all lie on one line.
        """
        return Arrangement(self._views_at(Piece, delaunay_spots(as_points(points, "delaunay", 3)), PieceSpot.box))

    def subdivided(self, rule: Callable[[Block], tuple[float, float] | None], *, gap: float = 0.0) -> Arrangement[Block]:
        """The view's area cut into blocks, and those again, by a rule: `sheet.subdivided(rule)`.

        The rule receives a block, a view with its origin at the centre and a `depth`, and returns None to keep it, or how to
        cut it across and down: `(2, 2)` into quarters, `(0.4, 1)` at 40 % of its width, `(1, 3)` into three rows. `gap` is
        left between parts. Raises SketchError for other answers, and if the rule never stops.
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
        """The contour lines of a surface at a level, within the view's area, as an outline: `sheet.contours(hills, 0.3)`.

        The surface is a field, a picture (by its lightness), or a function of x and y. `filled=True` returns the area above
        the level, to fill, clip or hatch. Several levels give a list. The surface is sampled every `step`, by default a
        two-hundredth of the longer side. Raises SketchError for levels and values that are not finite.
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
    """One of the views that an arrangement yields, with its running number."""

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
        """How far across the grid it lies: 0 in the first column, 1 in the last, 0.5 if there is only one."""
        return self._own[1].col_fraction

    @property
    def row_fraction(self) -> float:
        """How far down the grid it lies: 0 in the first row, 1 in the last, 0.5 if there is only one."""
        return self._own[1].row_fraction

    @property
    def neighbours(self) -> tuple[Cell, ...]:
        """The cells around it, row by row: up to eight, or six if every other row is shifted."""
        return self._own[2].around(self)


class GridCells(Arrangement[Cell]):
    """The cells of a grid, also available by column and row."""

    def __init__(self, cells: Callable[[GridCells], Iterator[Cell]], *, shifted: bool) -> None:
        """`cells` makes them, each of which keeps the grid that it is of; `shifted` is whether every other row is moved on."""
        super().__init__(cells(self))
        self._shifted = shifted
        self._by_place: dict[tuple[int, int], Cell] = {}

    def at(self, col: int, row: int) -> Cell | None:
        """The cell in a column and row, counted from 0, or None if there is none."""
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
        """Its direction in degrees: clockwise from the top in a ring or spiral, the heading along an outline."""
        return self._own[1].angle

    @property
    def fraction(self) -> float:
        """How far through the arrangement it is, from 0 to 1 at most."""
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
    """A piece of a plane that is divided among points."""

    __slots__ = ()

    _own: tuple[int, PieceSpot, object]

    @property
    def outline(self) -> Outline:
        """Its outline in its own coordinates: draw it with `piece.path(piece.outline)`."""
        return self._own[1].outline

    @property
    def neighbours(self) -> tuple[int, ...]:
        """The numbers of the pieces that share an edge with it."""
        return self._own[1].neighbours
