"""Outlines that lie over themselves, and images of one mark that meet: covered by the winding rule, to the area."""

from __future__ import annotations

import numpy as np
import pytest

from mothseed import linear_ramp, ngon, smooth, star, trochoid
from mothseed.arrays import FloatArray, PointArray
from mothseed.geometry import Outline
from mothseed.geometry.given_points import as_points
from mothseed.geometry.outline import through
from mothseed.kernels.primitives import FREE, ONE_WAY, PLAIN, Primitives
from mothseed.render import rendered
from mothseed.render.scene.assemble import prepared
from mothseed.render.threads import Threads
from mothseed.sheet import Drawing, Sheet, View
from tests.reference import coverage, ink_sheet
from tests.render.test_random_drawings import random_painting
from tests.render.test_raster import everything
from tests.truth import covered, stroke_contours

SIDE = 90
SLANTED = [(15.13, 15.2), (60.37, 21.1), (53.7, 63.9), (18.2, 57.4)]
LEVEL = [(15.3, 15.4), (60.6, 15.4), (60.6, 63.7), (15.3, 63.7)]
"""A rectangle that lies straight, with no side between pixels."""
Corners = list[tuple[float, float]]


def joined(contours: list[Corners]) -> Outline:
    first, *others = (through(as_points(contour, "polygon", 3), closed=True) for contour in contours)
    for other in others:
        first = first.joined(other)
    return first


def scribble(count: int, size: float = 80.0, seed: int = 1) -> Corners:
    corners: Corners = (5 + np.random.default_rng(seed).uniform(0, size, (count, 2))).tolist()
    return corners


def ring_of(corners: int, step: int, radius: float) -> Corners:
    turns = 0.3 + 2 * np.pi * step * np.arange(corners) / corners
    points: Corners = (45 + radius * np.stack([np.cos(turns), np.sin(turns)], axis=1)).tolist()
    return points


def most_off(ours: FloatArray, truth: FloatArray) -> float:
    """Levels by which the worst pixel is off."""
    return float(np.abs(ours - truth).max() * 255)


OVERLAPPING: dict[str, list[Corners]] = {
    "one with itself": [SLANTED, SLANTED],
    "one with itself, turned round": [SLANTED, SLANTED[::-1]],
    "a straight one with itself": [LEVEL, LEVEL],
    "straight ones a third of a pixel apart": [LEVEL, [(x + 0.3, y + 0.3) for x, y in LEVEL]],
    "straight ones side by side": [LEVEL, [(x + 45.3, y) for x, y in LEVEL]],
    "two that share a slanting side": [[(5, 5), (31, 62), (3, 60)], [(5, 5), (31, 62), (60, 7)]],
    "two that share it, turned round": [[(5, 5), (31, 62), (3, 60)], [(31, 62), (5, 5), (60, 7)]],
    "one in another, both the same way": [ring_of(7, 1, 40), ring_of(7, 1, 39.6)],
    "a bow tie": [[(5, 5), (70, 51), (70.3, 5.1), (6, 53)]],
    "a pentagram": [ring_of(5, 2, 40)],
    "a speck": [scribble(8, 1.0)],
    **{f"a scribble of {count}": [scribble(count)] for count in (5, 10, 20, 40, 100, 400)},
}


@pytest.mark.parametrize("fill_rule", ["nonzero", "evenodd"])
@pytest.mark.parametrize("name", OVERLAPPING)
def test_a_fill_covers_what_its_rule_says_is_inside(name: str, fill_rule: str) -> None:
    contours = OVERLAPPING[name]
    sheet = ink_sheet(SIDE, SIDE)
    sheet.path(joined(contours), fill="black", fill_rule=fill_rule)
    corners: list[PointArray] = [np.array(contour) for contour in contours]
    truth = covered(corners, SIDE, SIDE, even_odd=fill_rule == "evenodd", lines=256)
    # Where more than ten edges meet in a pixel, it is cut into so many strips.
    assert most_off(coverage(sheet), truth) < (1.5 if len(contours[0]) < 400 else 8)


@pytest.mark.parametrize(("width", "cap"), [(0.7, "butt"), (1.5, "round"), (4, "butt"), (9.7, "round")])
def test_a_stroke_that_crosses_itself_covers_each_pixel_once(width: float, cap: str) -> None:
    knot = through(np.array(scribble(9, seed=4)), closed=False)
    for outline in (knot, trochoid(5, -7, 7.102, points_per_turn=24).moved(45, 45)):
        sheet = ink_sheet(SIDE, SIDE)
        sheet.path(outline, fill=None, stroke="black", stroke_width=width, linecap=cap, linejoin="bevel")
        truth = covered(stroke_contours(outline, width, cap, "bevel"), SIDE, SIDE, lines=32)
        assert most_off(coverage(sheet), truth) < 12  # chords lie up to a fortieth of a pixel from the curves of caps


@pytest.mark.parametrize("cap", ["square", "round"])
def test_dashes_whose_caps_overlap_are_as_dark_as_one(cap: str) -> None:
    sheet = ink_sheet(SIDE, SIDE)
    sheet.line(12.3, 20.1, 70.4, 61.2, stroke="black", stroke_width=5.3, linecap=cap, dash=(7, 3))
    start, end = np.array([12.3, 20.1]), np.array([70.4, 61.2])
    length = float(np.linalg.norm(end - start))
    along = (end - start) / length
    contours = []
    for at in np.arange(0, length, 10):
        piece = np.stack([start + at * along, start + min(at + 7, length) * along])
        contours += stroke_contours(through(piece, closed=False), 5.3, cap)
    assert most_off(coverage(sheet), covered(contours, SIDE, SIDE)) < 8


def folds_of(sheet: Sheet) -> list[int]:
    folds: list[int] = prepared(sheet.drawing(), 1.0, Threads(1)).folds.tolist()
    return folds


def test_outlines_that_never_lie_over_themselves_are_known() -> None:
    hole: Corners = [(30, 30), (30, 50), (50, 50), (50, 30)]
    cases: list[tuple[list[Corners], int]] = [
        ([LEVEL], PLAIN),
        ([LEVEL, hole], PLAIN),
        ([LEVEL, hole[::-1]], FREE),  # inside twice
        ([LEVEL, [(x + 60, y) for x, y in hole[::-1]]], PLAIN),
        ([LEVEL, [(x + 60, y) for x, y in hole]], FREE),  # the other way round
        ([LEVEL, LEVEL], FREE),
        ([ring_of(5, 2, 40)], FREE),
        ([scribble(12)], FREE),
        ([[*LEVEL[:2], (40, 40), *LEVEL[2:]]], PLAIN),
        ([[*LEVEL[:2], (15.3, 40), *LEVEL[2:]]], FREE),  # a corner on the other side
        ([[*LEVEL[:2], (70, 15.4), *LEVEL[2:]]], PLAIN),
        ([[(10, 10), (50, 10), (30, 10), (30, 40)]], FREE),  # a side that goes back on itself
    ]
    for contours, folds in cases:
        sheet = ink_sheet(SIDE, SIDE)
        sheet.path(joined(contours), fill="black")
        assert folds_of(sheet) == [folds], contours
    sheet = ink_sheet(SIDE, SIDE)
    sheet.path(star(9, 40, 12).moved(45, 45), fill="black", stroke=None)
    sheet.polyline(scribble(12), stroke="black")
    sheet.line(3, 4, 50, 60, stroke="black")
    assert folds_of(sheet) == [PLAIN, ONE_WAY, PLAIN]


HALF = [(0, -22), (16, -9), (19, 12), (0, 21)]
"""Half a figure, along the axis."""


def picture_of_halves(view: View, sheet: Sheet, **paint: object) -> FloatArray:
    view.polygon(HALF, **paint)  # type: ignore[arg-type]  # paint by name
    return coverage(sheet)


@pytest.mark.parametrize("opacity", [1.0, 0.5])
@pytest.mark.parametrize("turn", [0, 17, 45])
def test_no_seam_shows_between_mirrored_halves(turn: float, opacity: float) -> None:
    sheet = ink_sheet(SIDE, SIDE)
    ours = picture_of_halves(sheet.frame(45.13, 45.2, turn=turn).mirrored(), sheet, fill="black", opacity=opacity)
    whole = ink_sheet(SIDE, SIDE)
    figure = [*HALF, *((-x, y) for x, y in HALF[2:0:-1])]
    whole.frame(45.13, 45.2, turn=turn).polygon(figure, fill="black", opacity=opacity)
    assert most_off(ours, coverage(whole)) <= 1.01


@pytest.mark.parametrize(
    "of",
    [
        lambda view: view.mirrored(90).mirrored(0),
        lambda view: view.mirrored().spun(2),
        lambda view: view.spun(2).mirrored(),
    ],
)
def test_no_seam_shows_between_the_images_of_a_solid_figure(of: object) -> None:
    sheet = ink_sheet(SIDE, SIDE)
    view = of(sheet.frame(45.13, 45.2, turn=17))  # type: ignore[operator]
    view.polygon([(0, 0), (0, -30), (25, 0)], fill="black")
    whole = ink_sheet(SIDE, SIDE)
    whole.frame(45.13, 45.2, turn=17).polygon([(0, -30), (25, 0), (0, 30), (-25, 0)], fill="black")
    assert most_off(coverage(sheet), coverage(whole)) <= 1.01


def test_images_that_overlap_are_as_dark_as_they_are_written() -> None:
    across: Corners = [(-5, -22), (16, -9), (19, 12), (-5, 21)]
    for paint, middle in (({"fill": "black", "opacity": 0.5}, 0.75), ({"fill": "black", "fill_rule": "evenodd"}, 1.0)):
        sheet = ink_sheet(SIDE, SIDE)
        sheet.frame(45, 45).mirrored().path(joined([across]), **paint)
        assert coverage(sheet)[45, 45] == pytest.approx(middle, abs=0.003)


def test_halves_are_joined_only_where_they_are_painted_alike() -> None:
    def primitives(view: View, sheet: Sheet, **paint: object) -> int:
        view.polygon(HALF, **paint)  # type: ignore[arg-type]  # paint by name
        return len(prepared(sheet.drawing(), 1.0, Threads(1)).kind)

    ramp = linear_ramp((0, 0), (20, 0), ["black", "white"])
    for paint, count in (({"fill": "black"}, 1), ({"fill": ramp}, 2), ({"fill": "black", "stroke": "white"}, 4)):
        sheet = ink_sheet(SIDE, SIDE)
        assert primitives(sheet.frame(45, 45).mirrored(), sheet, **paint) == count
    apart = ink_sheet(SIDE, SIDE)
    assert primitives(apart.frame(45, 45).mirrored().frame(5, 0), apart, fill="black") == 2
    separate = ink_sheet(SIDE, SIDE)
    for view, ink in ((separate.frame(45, 45), "black"), (separate.frame(45, 45, turn=90), "navy")):
        view.path(ngon(5, radius=20), fill=ink)
    assert len(prepared(separate.drawing(), 1.0, Threads(1)).kind) == 2


def test_what_a_frame_flattens_is_joined_with_nothing() -> None:
    sheet = ink_sheet(SIDE, SIDE)
    sheet.frame(45, 45, scale=1e-200).mirrored().polygon(HALF, fill="black", opacity=0.5)
    assert coverage(sheet).max() < 0.01


def wanderings() -> Drawing:
    """Lines that mostly keep apart from themselves, and now and then do not."""
    random, sheet = np.random.default_rng(3), ink_sheet(SIDE, SIDE)
    for number in range(60):
        turns = number + np.cumsum(random.normal(0, random.uniform(0.1, 0.8), 50))
        points = random.uniform(0, 90, 2) + np.cumsum(
            random.uniform(0.3, 4) * np.stack([np.cos(turns), np.sin(turns)], axis=1), axis=0
        )
        way = smooth(points.tolist()) if number % 2 else through(points, closed=number % 3 == 0)
        view = sheet.styled(
            linecap=("butt", "round", "square")[number % 3], linejoin=("miter", "round", "bevel")[number % 4 % 3]
        )
        view.path(way, fill=None, stroke="black", stroke_width=random.uniform(0.5, 4), opacity=0.4)
    return sheet.drawing()


def test_what_is_known_of_an_outline_beforehand_changes_no_pixel(monkeypatch: pytest.MonkeyPatch) -> None:
    drawings = [everything().drawing(), wanderings(), *(random_painting(number) for number in range(6))]
    known = [rendered(drawing, 240).astype(np.int64) for drawing in drawings]

    def unknown(drawing: Drawing, scale: float, threads: Threads) -> Primitives:
        primitives = prepared(drawing, scale, threads)
        return primitives._replace(folds=np.full_like(primitives.folds, FREE))  # the public call of a named tuple

    monkeypatch.setattr("mothseed.render.raster.prepared", unknown)
    for drawing, pixels in zip(drawings, known, strict=True):
        assert np.abs(rendered(drawing, 240) - pixels).max() <= 1


@pytest.mark.parametrize("scale", [1e-300, 1e-9, 1e6, 1e15, 1e60, 1e300])
def test_outlines_of_any_size_are_painted(scale: float) -> None:
    for count in (5, 12, 60):
        corners = np.random.default_rng(count).uniform(-scale, scale, (count, 2))
        sheet = ink_sheet(130, 90)
        for rule in ("nonzero", "evenodd"):
            sheet.polygon(corners, fill="black", fill_rule=rule, opacity=0.5)
        sheet.polyline(corners, stroke="black", stroke_width=min(scale, 1e6))
        sheet.frame(45, 45, turn=20).mirrored().polygon(corners, fill="black", opacity=0.5)
        assert ((coverage(sheet) >= 0) & (coverage(sheet) <= 1)).all()
