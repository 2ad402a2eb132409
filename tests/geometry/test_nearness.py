"""Cells, triangles and even places: against what each of them is by definition, asked of many places one by one."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.arrays import PointArray
from mothseed.faults import SketchError
from mothseed.geometry.nearness import cells_around, relaxed, triangles_between

BOX = (10.0, 20.0, 60.0, 40.0)


def sown(count: int, seed: int = 3) -> PointArray:
    return np.random.default_rng(seed).random((count, 2)) * (60, 40) + (10, 20)


def area_of(polygon: PointArray) -> float:
    x, y = polygon.T
    return 0.5 * float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum())


def holds(polygon: PointArray, points: PointArray) -> np.ndarray:
    """Which points lie in a convex polygon that goes clockwise on a sheet, a hair of its edge let through."""
    ends = np.roll(polygon, -1, axis=0)
    steps, away = ends - polygon, points[:, None] - polygon
    return np.asarray((steps[:, 0] * away[:, :, 1] - steps[:, 1] * away[:, :, 0] >= -1e-6).all(axis=1))


@pytest.mark.parametrize("count", [1, 2, 3, 7, 60, 500])
def test_a_cell_is_all_that_is_nearest_to_its_point(count: int) -> None:
    points, places = sown(count), sown(4000, 9)
    cells = cells_around(points, BOX)
    polygons = cells.polygons()
    assert len(polygons) == count
    assert sum(map(area_of, polygons)) == pytest.approx(60 * 40)
    nearest = np.hypot(*(places[:, None] - points).transpose(2, 0, 1)).argmin(axis=1)
    for number, polygon in enumerate(polygons):
        assert holds(polygon, places[nearest == number]).all()
        assert holds(polygon, points[number : number + 1]).all()


def test_neighbours_are_those_with_an_edge_in_common() -> None:
    cells = cells_around(sown(80), BOX)
    polygons = cells.polygons()
    pairs = {tuple(pair) for pair in cells.pairs.tolist()}
    for one in range(80):
        for other in range(one + 1, 80):
            away = np.abs(polygons[one][:, None] - polygons[other][None]).max(axis=2)
            in_common = int((away.min(axis=1) < 1e-6).sum())
            assert ((one, other) in pairs) == (in_common >= 2), (one, other)


def test_a_lattice_has_square_cells_and_no_neighbours_across_a_corner() -> None:
    points = np.stack(np.meshgrid(np.arange(6) * 10 + 15.0, np.arange(4) * 10 + 25.0), axis=-1).reshape(-1, 2)
    cells = cells_around(points, BOX)
    assert cells.counts.tolist() == [4] * 24
    assert all(area_of(polygon) == pytest.approx(100) for polygon in cells.polygons())
    assert len(cells.pairs) == 5 * 4 + 6 * 3


def test_points_in_one_place_have_one_cell_and_those_on_the_edge_have_theirs() -> None:
    cells = cells_around(np.array([[10.0, 20.0], [70.0, 60.0], [10.0, 20.0], [70.0, 60.0]]), BOX)
    assert (cells.counts > 0).tolist() == [True, True, False, False]
    assert [area_of(polygon) for polygon in cells.polygons() if len(polygon)] == pytest.approx([1200, 1200])


@given(st.lists(st.tuples(st.integers(0, 12), st.integers(0, 8)), min_size=1, max_size=30))
def test_cells_of_points_on_a_coarse_grid_fill_the_box(places: list[tuple[int, int]]) -> None:
    points = np.array(places) * 5.0 + (10, 20)
    cells = cells_around(points, BOX)
    assert sum(area_of(polygon) for polygon in cells.polygons() if len(polygon)) == pytest.approx(2400)
    assert (cells.counts > 0).sum() == len(set(places))


def test_no_point_lies_within_the_circle_of_a_triangle() -> None:
    points = sown(120)
    triangles = triangles_between(points, "delaunay")
    assert (triangles[:, 0] < triangles[:, 1:].min(axis=1)).all()
    for corners in triangles.tolist():
        a, b, c = points[corners]
        middle = a + np.linalg.solve(2 * np.stack([b - a, c - a]), [((b - a) ** 2).sum(), ((c - a) ** 2).sum()])
        away = np.hypot(*(points - middle).T)
        assert away.min() >= np.hypot(*(a - middle)) - 1e-9
        assert area_of(np.stack([a, b, c])) > 0


@pytest.mark.parametrize("points", [[], [(1, 1)], [(1, 1), (1, 1), (2, 2)], [(0, 0), (1, 1), (2, 2), (5, 5)]])
def test_points_without_a_triangle_between_them_are_told(points: list[tuple[float, float]]) -> None:
    with pytest.raises(SketchError, match=r"^delaunay: (at least 3 points|the points lie on one line)"):
        triangles_between(np.array(points, float).reshape(-1, 2), "delaunay")


def spread(points: PointArray) -> float:
    away = np.hypot(*(points[:, None] - points).transpose(2, 0, 1))
    np.fill_diagonal(away, np.inf)
    return float(away.min(axis=1).std() / away.min(axis=1).mean())


def test_places_even_out_with_each_round_and_stay_in_order() -> None:
    points = sown(150)
    once, often = (relaxed(points, BOX, rounds, None, "scatter") for rounds in (1, 40))
    assert spread(points) > spread(once) > 3 * spread(often)
    assert relaxed(points, BOX, 0, None, "scatter") is points
    moved = np.hypot(*(once - points).T)
    polygons = cells_around(points, BOX).polygons()
    assert all(holds(polygon, once[number : number + 1])[0] for number, polygon in enumerate(polygons))
    assert moved.max() < 15


@pytest.mark.parametrize("weight", [lambda x, _y: x > 40, lambda x, _y: 1.0 if x > 40 else 0.0])
def test_places_stay_where_the_weight_is(weight: object) -> None:
    first = sown(180)[sown(180)[:, 0] > 40]
    points = relaxed(first, BOX, 20, weight, "scatter")  # type: ignore[arg-type]
    assert (points[:, 0] > 40).all()
    assert spread(points) < spread(first) / 3


@pytest.mark.parametrize("ratio", [2.0, 4.0])
def test_so_many_times_as_high_a_weight_is_so_many_times_as_dense(ratio: float) -> None:
    everywhere = sown(6000)
    chosen = everywhere[np.random.default_rng(5).random(6000) < np.where(everywhere[:, 0] > 40, 0.4, 0.4 / ratio)]
    assert (chosen[:, 0] > 40).sum() / (chosen[:, 0] <= 40).sum() == pytest.approx(ratio, rel=0.1)
    points = relaxed(chosen, BOX, 60, lambda x, _y: np.where(x > 40, ratio, 1.0), "scatter")
    right, left = ((points[:, 0] > 44).sum(), (points[:, 0] < 36).sum())
    assert right / left == pytest.approx(ratio, rel=0.1)


def test_a_weight_that_is_not_finite_is_told_with_its_place() -> None:
    with pytest.raises(SketchError, match=r"scatter: weight at \(.*\) is not finite"):
        relaxed(sown(5), BOX, 1, lambda x, _y: x / 0, "scatter")
    with pytest.raises(SketchError, match="scatter: weight must be a finite number"):
        relaxed(sown(5), BOX, 1, lambda _x, _y: "much", "scatter")
