"""What strokes cover, held against what a slow and plain reckoning of the same geometry says."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
import pytest

from mothseed import arc, ngon, smooth, star, trochoid
from mothseed.arrays import FloatArray
from mothseed.colour.texture import Texture
from mothseed.formats.png_writing import write_png
from mothseed.geometry import Outline
from mothseed.geometry.outline import through
from mothseed.sheet import Sheet
from tests.reference import coverage, ink_sheet
from tests.truth import covered, stroke_contours, worst_patch

SIDE = 90
CORNERED = Outline(
    np.array([0, 2, 1, 1], np.uint8), np.array([(10, 60), (20, 20), (40, 20), (45, 60), (80, 60), (60, 20)], np.float64)
)
WAVE = smooth([(10, 70), (40, 20), (60, 60), (80, 20)])


def stroked(outline: Outline, **paint: object) -> FloatArray:
    sheet = ink_sheet(SIDE, SIDE)
    sheet.path(outline, **{"fill": None, "stroke": "black", **paint})  # type: ignore[arg-type]  # paint by name
    return coverage(sheet)


@pytest.mark.parametrize(
    ("name", "outline", "width", "most"),
    [
        ("a half circle wider than its radius", arc(10, 0, 180).moved(45, 45), 24, 1.5),
        ("a speck of an arc, far wider than it is", arc(1, 0, 180).moved(45, 45), 60, 4),
        ("three quarters of it", arc(3, 0, 270).moved(45, 45), 30, 3),
        ("a thin arc", arc(20, 0, 200).moved(45, 45), 4, 1.5),
        ("a wave", WAVE, 24, 1.5),
        ("a knot of loops", trochoid(5, -7, 7.102, points_per_turn=24).moved(45, 45), 9.7, 2),
        ("a curve that meets lines", CORNERED, 14, 1.5),
        ("a star", star(5, 35, 14).moved(45, 45), 6, 0.5),
        ("a hexagon", ngon(6, radius=30).moved(45, 45), 9, 0.5),
    ],
)
@pytest.mark.parametrize("join", ["miter", "round", "bevel"])
def test_a_stroke_covers_what_it_should(name: str, outline: Outline, width: float, most: float, join: str) -> None:
    # What is closed has no ends.
    for cap in ("butt", "square", "round") if join == "miter" and not outline.closed else ("butt",):
        truth = covered(stroke_contours(outline, width, cap, join), SIDE, SIDE, lines=20)
        found = worst_patch(stroked(outline, stroke_width=width, linecap=cap, linejoin=join), truth)
        assert found < most, f"{name}, {cap}"


@pytest.mark.parametrize("step", [0.0, 1e-14, 1e-9])
def test_a_corner_that_is_repeated_keeps_its_join(step: float) -> None:
    angles = np.arange(8) * (2 * math.pi / 7)
    corners = 45 + 30 * np.stack([np.cos(angles), np.sin(angles)], axis=1)
    corners[7] = corners[0] + step
    truth = covered(stroke_contours(through(corners[:7].copy(), closed=True), 10), SIDE, SIDE)
    assert np.abs(stroked(through(corners, closed=True), stroke_width=10) - truth).max() < 0.01


def test_a_dash_goes_on_where_a_closed_outline_begins() -> None:
    square = through(np.array([(20.0, 20), (70, 20), (70, 70), (20, 70)]), closed=True)
    dashed = stroked(square, stroke_width=8, dash=(20, 12))
    # 200 along, 32 to a dash and its gap: the seventh dash begins at 192, and has 8 left before the corner.
    around = through(np.array([(20.0, 28), (20, 20), (40, 20)]), closed=False)
    truth = covered(stroke_contours(around, 8), SIDE, SIDE)
    corner = np.s_[10:32, 10:42]
    assert np.abs(dashed[corner] - truth[corner]).max() < 0.01
    whole = stroked(square, stroke_width=8, dash=(500, 12))
    assert np.array_equal(whole, stroked(square, stroke_width=8))
    off = stroked(square, stroke_width=8, dash=(20, 5))  # ends in a gap: the first dash has its own end
    assert np.abs(off[14:24, 12:20]).max() < 0.01


def test_dashes_of_a_curve_end_square_to_it() -> None:
    ring = arc(20, 0, 300).moved(45, 45)
    length = 20 * math.radians(300)
    dashed = stroked(ring, stroke_width=16, dash=(length / 10, length / 10))
    pieces = [contour for k in range(5) for contour in stroke_contours(arc(20, 60 * k, 30).moved(45, 45), 16)]
    assert worst_patch(dashed, covered(pieces, SIDE, SIDE)) < 2.5


@pytest.mark.parametrize(("cap", "turn"), [("square", 0), ("square", 30), ("round", 30)])
def test_dots_are_turned_as_their_frame_and_their_line_are(cap: str, turn: float) -> None:
    sheet: Sheet = ink_sheet(SIDE, SIDE)
    sheet.frame(30, 45, turn=turn).line(0, 0, 0, 0, stroke="black", stroke_width=14, linecap=cap)
    along = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    sheet.line(50, 30, 50 + 30 * along[0], 30 + 30 * along[1], stroke="black", stroke_width=9, linecap=cap, dash=(0, 14))
    contours = []
    for x, y, width in ((30, 45, 14), *((50 + 14 * k * along[0], 30 + 14 * k * along[1], 9) for k in range(3))):
        dot = through(np.array([(x, y), (x + 1e-6 * along[0], y + 1e-6 * along[1])]), closed=False)
        contours += stroke_contours(dot, width, cap)
    assert worst_patch(coverage(sheet), covered(contours, SIDE, SIDE)) < 1


@pytest.mark.parametrize("size", [(37, 53), (63, 64), (64, 64), (5, 9), (1, 7)])
def test_a_picture_stays_where_it_is_as_it_shrinks(size: tuple[int, int]) -> None:
    height, width = size

    def across(count: int) -> FloatArray:
        return 40 + 170 * (np.arange(count) + 0.5) / count

    pixels = np.full((height, width, 4), 255, np.uint8)
    pixels[..., 0], pixels[..., 1] = np.round(across(width)), np.round(across(height))[:, None]
    for number in (1, 2, 3):
        shrunk = Texture(pixels).shrunk(number)
        step = 170 / max(shrunk.shape[1], 2)
        assert np.abs(shrunk[0, :, 0] - across(shrunk.shape[1])).max() <= max(1.0, 0.1 * step)
        assert abs(shrunk[..., 1].mean() - 125) <= 1.5


def test_an_exact_average_is_that_of_the_disc(tmp_path: Path) -> None:
    pixels = np.full((203, 301, 4), 255, np.uint8)
    pixels[..., :3] = np.round(20 + 200 * (np.arange(301) + 0.5) / 301)[None, :, None]
    write_png(tmp_path / "ramp.png", pixels)
    picture = ink_sheet(301, 203).picture(tmp_path / "ramp.png")
    for x in (60.0, 150.0, 240.0):
        true = (20 + 200 * x / 301) / 255
        assert picture.average(x, 100, 40, exact=True).red == pytest.approx(true, abs=0.003)
