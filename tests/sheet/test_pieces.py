"""A plane in pieces: blocks, cells and triangles as views; the cells of a grid and those around them."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from mothseed import Chance, Outline
from mothseed.faults import SketchError
from mothseed.sheet import Sheet
from tests.reference import ink_sheet


def halves(cell: Any) -> tuple[float, float] | None:
    return None if cell.depth == 4 else (0.25, 1) if cell.width > cell.height else (1, 0.5)


@pytest.mark.parametrize("gap", [0.0, 0.5])
def test_blocks_fill_the_area_side_by_side(gap: float) -> None:
    view = ink_sheet(80, 50).inset(5)
    blocks = list(view.subdivided(halves, gap=gap))
    assert len(blocks) == 16
    assert [block.index for block in blocks] == list(range(16))
    assert {block.depth for block in blocks} == {4}
    boxes = np.array([(b.x - b.width / 2, b.y - b.height / 2, b.x + b.width / 2, b.y + b.height / 2) for b in blocks])
    assert tuple(boxes[:, :2].min(axis=0)) == (0, 0)
    assert boxes[:, 2:].max(axis=0) == pytest.approx((70, 40))
    for number, one in enumerate(boxes):
        for other in boxes[:number]:
            apart = max(one[0] - other[2], other[0] - one[2], one[1] - other[3], other[1] - one[3])
            assert apart >= gap - 1e-9
    if not gap:
        assert sum(block.width * block.height for block in blocks) == pytest.approx(70 * 40)


def test_a_rule_is_asked_of_a_view_in_its_place_from_left_to_right() -> None:
    asked: list[tuple[float, float, float, int, int]] = []

    def rule(block: Any) -> tuple[int, int] | None:
        asked.append((block.x, block.y, block.width, block.depth, block.index))
        return (3, 1) if block.depth == 0 else None

    places = list(ink_sheet(90, 30).subdivided(rule))
    for found, block in zip(
        asked, [(45, 15, 90, 0, 0), (15, 15, 30, 1, 0), (45, 15, 30, 1, 1), (75, 15, 30, 1, 2)], strict=True
    ):
        assert found == pytest.approx(block)
    assert [place.index for place in places] == [0, 1, 2]
    assert [part for place in places for part in (place.left, place.top)] == pytest.approx([-15] * 6)


@pytest.mark.parametrize(
    ("rule", "gap", "message"),
    [
        ((2, 2), 0, "the rule is a function of a block"),
        (lambda _: 2, 0, r"how it is cut across and down \(got 2\)"),
        (lambda _: (0, 2), 0, r"\(got \(0, 2\)\)"),
        (lambda _: (1.5, 1), 0, r"\(got \(1.5, 1\)\)"),
        (lambda _: (math.nan, 1), 0, "how it is cut"),
        (lambda _: (True, 2), 0, "how it is cut"),
        (lambda _: (1, 1), 0, r"\(1, 1\) cuts nothing"),
        (lambda _: (2, 2), 0, "cut 24 times over"),
        (lambda _: (200, 200), 0, "more than 100,000 blocks"),
        (lambda _: (2, 2), 3, "a gap of 3 leaves nothing"),
        (lambda _: None, -1, "gap must be 0 or more"),
    ],
)
def test_rules_that_never_stop_or_cut_nothing_are_told(rule: object, gap: float, message: str) -> None:
    with pytest.raises(SketchError, match=f"^subdivided: .*{message}"):
        list(ink_sheet(80, 50).subdivided(rule, gap=gap))  # type: ignore[arg-type]


def test_cells_and_triangles_are_views_with_an_outline_about_their_origin() -> None:
    sheet = ink_sheet(80, 50)
    points = [(place.x, place.y) for place in sheet.scatter(40, Chance(2), relaxed=3)]
    pieces = list(sheet.voronoi(points))
    assert [(piece.x, piece.y) for piece in pieces] == points
    for piece in pieces:
        assert piece.outline.contains(0.0, 0.0)
        assert (piece.left, piece.top) == tuple(piece.outline.bounds)[:2]
        assert all(piece.index in pieces[other].neighbours for other in piece.neighbours)
    triangles = list(sheet.delaunay(points))
    assert all(triangle.outline.points.mean(axis=0) == pytest.approx((0, 0), abs=1e-9) for triangle in triangles)
    assert {len(triangle.neighbours) for triangle in triangles} <= {1, 2, 3}
    assert max(len(triangle.neighbours) for triangle in triangles) == 3


def test_places_and_corners_are_points() -> None:
    sheet = ink_sheet(80, 50)
    places = sheet.scatter(12, Chance(2))
    pairs = [(place.x, place.y) for place in places]
    for call in (sheet.voronoi, sheet.delaunay):
        from_places, from_pairs = ([piece.outline.points.tolist() for piece in call(given)] for given in (places, pairs))
        assert from_places == from_pairs
    assert len(sheet.voronoi(Outline.rect(10, 10, 30, 20).corners[:4])) == 4
    assert len(sheet.voronoi([(10, 10), (90, 10), (-1, 3)])) == 1
    assert len(sheet.voronoi([])) == 0
    with pytest.raises(SketchError, match="voronoi: points are pairs"):
        sheet.voronoi(["a", "b"])


def around(grid: Any, col: int, row: int) -> set[tuple[int, int]]:
    return {(cell.col, cell.row) for cell in grid.at(col, row).neighbours}


def test_a_cell_knows_those_around_it() -> None:
    sheet = ink_sheet(80, 50)
    square = sheet.grid(5, 4)
    assert around(square, 2, 1) == {(1, 0), (2, 0), (3, 0), (1, 1), (3, 1), (1, 2), (2, 2), (3, 2)}
    assert around(square, 0, 0) == {(1, 0), (0, 1), (1, 1)}
    assert square.at(5, 0) is None
    assert around(sheet.grid(5, 4, where=lambda cell: cell.col != 1), 2, 0) == {(3, 0), (2, 1), (3, 1)}


@pytest.mark.parametrize("more", [{"hexagonal": True}, {"brick": 0.5}])
def test_where_rows_are_shifted_six_are_around_and_all_as_near(more: dict[str, Any]) -> None:
    grid = ink_sheet(80, 50).grid(6, 5, **more)
    for row in (1, 2):
        cell = grid.at(3, row)
        assert cell is not None
        reach = max(math.hypot(other.x - cell.x, other.y - cell.y) for other in cell.neighbours)
        near = {(o.col, o.row) for o in grid if o is not cell and math.hypot(o.x - cell.x, o.y - cell.y) <= reach + 1e-9}
        assert len(cell.neighbours) == 6
        assert {(other.col, other.row) for other in cell.neighbours} == near


def corner(face: Any, x: float, y: float) -> tuple[float, float]:
    """Where a point of a face lies on the sheet."""
    a, b, c, d, e, f = face._matrices[0]  # what it is to be compared with is the sheet's
    return a * x + c * y + e, b * x + d * y + f


@pytest.mark.parametrize("kind", ["isometric", "oblique"])
def test_the_faces_of_a_box_meet_at_its_edges(kind: str) -> None:
    top, front, side = ink_sheet(100, 100).frame(50, 80).faces(20, 14, 30, kind=kind)
    assert [(face.width, face.height) for face in (top, front, side)] == [(20, 14), (20, 30), (14, 30)]
    for one, other in (
        (corner(front, 20, 0), corner(side, 0, 0)),
        (corner(front, 20, 30), (50, 80)),
        (corner(side, 0, 30), (50, 80)),
        (corner(top, 20, 14), corner(front, 20, 0)),
        (corner(top, 0, 14), corner(front, 0, 0)),
        (corner(top, 20, 0), corner(side, 14, 0)),
    ):
        assert one == pytest.approx(other)


def test_an_isometric_box_has_equal_edges_and_an_oblique_one_faces_you() -> None:
    sheet = ink_sheet(100, 100).frame(50, 80)
    edges = [math.dist(corner(face, 0, 0), corner(face, face.width, 0)) for face in sheet.faces(10, 10, 10)]
    assert edges == pytest.approx([10, 10, 10])
    _, front, side = sheet.faces(10, 10, 10, kind="oblique")
    assert (corner(front, 0, 0), corner(front, 10, 10)) == ((40, 70), (50, 80))
    assert math.dist(corner(side, 0, 0), corner(side, 10, 0)) == pytest.approx(5)


Drawn = list[tuple[float, float]]


def uses_of(draw: Callable[[Sheet], None]) -> Drawn:
    sheet = ink_sheet(100, 100)
    draw(sheet)
    drawing = sheet.drawing()
    return [(float(e), float(f)) for *_, e, f in drawing.views[drawing.marks["view"]].tolist()]


def test_markers_lie_where_an_outline_turns_and_point_ahead() -> None:
    line = Outline.polyline([(10, 10), (50, 10), (50, 60)])

    def at(where: str) -> Drawn:
        return uses_of(lambda sheet: sheet.markers(sheet.symbol(lambda view: view.circle(0, 0, 1)), line, at=where))

    assert at("all") == [(10, 10), (50, 10), (50, 60)]
    assert (at("start"), at("mid"), at("end")) == ([(10, 10)], [(50, 10)], [(50, 60)])
    sheet = ink_sheet(100, 100)
    sheet.markers(sheet.symbol(lambda view: view.circle(0, 0, 4)), line, at="end")
    a, b, *_ = sheet.drawing().views[-1].tolist()
    assert (a, b) == pytest.approx((0, 1))


@pytest.mark.parametrize("turn", [0, 30])
@pytest.mark.parametrize("brick", [0, 0.5])
def test_a_pattern_covers_an_outline_wherever_it_lies(turn: float, brick: float) -> None:
    """Disks that overlap leave nothing of what they fill."""
    outline = Outline.circle(57, 41, 23)

    def fill(sheet: Sheet) -> None:
        sheet.pattern(outline, sheet.symbol(lambda view: view.circle(0, 0, 4)), (5, 4), turn=turn, brick=brick)

    places = np.array(uses_of(fill))
    for x, y in (np.random.default_rng(1).random((400, 2)) * 100).tolist():
        if outline.contains(x, y):
            assert np.hypot(*(places - (x, y)).T).min() <= 4
    assert np.hypot(*(places - (57, 41)).T).max() < 23 * math.sqrt(2) + 4 * math.sqrt(2) + 5


def test_patterns_side_by_side_go_on_from_one_to_the_other() -> None:
    def places(left: float) -> set[tuple[float, float]]:
        box = Outline.rect(left, 20, 30, 30)
        found = uses_of(lambda sheet: sheet.pattern(box, sheet.symbol(lambda view: view.circle(0, 0, 1)), 5, brick=0.5))
        return {(round(x, 6), round(y, 6)) for x, y in found}

    both = places(10) & places(40)
    assert both
    assert all(38 < x < 42 for x, _ in both)


@pytest.mark.parametrize(
    ("draw", "message"),
    [
        (lambda v, m: v.pattern(Outline.circle(5, 5, 3), m, 0), "step must be a length above 0"),
        (lambda v, m: v.pattern(Outline.circle(5, 5, 3), m, 0.0001), "more than 1,000,000"),
        (lambda v, m: v.pattern(Outline.circle(5, 5, 3), m, 2, turn=math.inf), "turn must be a finite number"),
        (lambda v, _: v.pattern(Outline.circle(5, 5, 3), "moth", 2), "a symbol is needed"),
        (lambda v, m: v.pattern(3, m, 2), "an outline is needed"),
        (lambda v, m: v.markers(m, Outline.circle(5, 5, 3), at="corner"), "at must be one of start, mid, end, all"),
        (lambda v, _: v.markers("moth", Outline.circle(5, 5, 3)), "a symbol is needed"),
        (lambda v, _: v.faces(1, 2, 0), "height must be a length above 0"),
        (lambda v, _: v.faces(1, 2, 3, kind="cubist"), "kind must be one of isometric, oblique"),
    ],
)
def test_what_cannot_be_repeated_is_refused(draw: Callable[..., None], message: str) -> None:
    sheet = ink_sheet(100, 100)
    with pytest.raises(SketchError, match=message):
        draw(sheet, sheet.symbol(lambda view: view.circle(0, 0, 1)))
