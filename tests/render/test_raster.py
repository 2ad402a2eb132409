from __future__ import annotations

import functools
import itertools
import math
import subprocess
import sys
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.arrays import ByteArray, WholeArray
from mothseed.chance import Chance
from mothseed.colour import Colour
from mothseed.faults import UsageError
from mothseed.geometry import Outline, smooth
from mothseed.geometry.outline import through
from mothseed.native.build import compile_for
from mothseed.native.store import PARTS
from mothseed.native.target import usual_targets
from mothseed.render import pixel_hash, rendered, rendered_bands, waiting
from mothseed.render.scene import bins
from mothseed.sheet import Sheet
from tests.page import page_of_everything
from tests.places import ROOT
from tests.reference import Points, coverage, ink_sheet, polygon_coverage, same_picture, sampled_coverage
from tests.truth import covered

LEVEL = 1 / 255
CURVE = 0.02
CIRCLE = 0.011


def everything() -> Sheet:
    """A sheet with each kind of mark, stroke and fade, over several tiles and beyond the edges."""
    sheet = Sheet(200, 150, "mm", Colour.parse("#f4efe4"))
    sheet.circle(50, 50, 30, fill="#335577", stroke="tomato", stroke_width=4, opacity=0.5)
    sheet.circle(90, 50, 30, fill=None, stroke="#e8b44f", stroke_width=14)
    sheet.circle(190, 140, 45, fill="#8d99ae", opacity=0.3)
    for index in range(40):
        sheet.circle(20 + index * 4, 95, 0.1 + index * 0.06, fill="#1b2a41", opacity=0.8)
    frame = sheet.frame(140, 60, turn=20)
    frame.rect(-20, -20, 40, 40, fill="gold", stroke="black", stroke_width=3, linejoin="round")
    frame.ellipse(0, 0, 15, 8, fill="purple", stroke="white", opacity=0.9)
    wing = smooth([(0, 0), (38, -30), (70, -20), (44, 6)], closed=True)
    sheet.frame(100, 110).mirrored().path(wing, fill="#aa446680", stroke="navy", stroke_width=0.8)
    zigzag = [(10, 100), (30, 140), (31, 100), (60, 140), (15, 141)]
    for index, join in enumerate(("miter", "round", "bevel")):
        sheet.frame(20 * index, -4 * index).polyline(zigzag, stroke="green", stroke_width=4, linejoin=join, opacity=0.4)
    for index, cap in enumerate(("butt", "round", "square")):
        sheet.line(70 + 15 * index, 130, 80 + 15 * index, 145, stroke="darkred", stroke_width=5, linecap=cap)
    sheet.path(smooth([(-20, 10), (190, 12), (195, 140)]), fill=None, stroke="orange", stroke_width=3)
    return sheet


@given(
    st.lists(st.tuples(st.floats(-6, 22), st.floats(-6, 20)), min_size=3, max_size=3),
)
def test_straight_edges_cover_exactly_what_they_cut_off_the_sheets_borders_included(points: Points) -> None:
    sheet = ink_sheet(16, 14)
    sheet.polygon(points)
    assert np.abs(coverage(sheet) - polygon_coverage(points, 16, 14)).max() <= LEVEL


@pytest.mark.parametrize(
    "points",
    [
        [(3.3, 5.1), (190.7, 40.2), (150.2, 130.9), (20.5, 99.4)],
        [(64, 64), (128, 64), (128, 128), (64, 128)],
        [(63.999, 0.3), (64.001, 139.7), (64, 139.8), (63.998, 0.4)],
        [(-900, 69.7), (1100, 69.9), (1100, 71.2), (-900, 70.9)],
        [(-5000, -3), (199.5, 63.99), (-5000, 150)],
        [(128, -40), (128.5, 64), (128, 200), (127.5, 64)],
        [(70.4, 63.2), (71.3, 64.8), (69.9, 64.6)],
        [(300, -300), (500, 70), (300, 400), (72.0, 72.0)],
    ],
    ids=["large", "a whole tile", "upright", "flat", "from far left", "a needle", "a speck", "from far right"],
)
def test_straight_edges_are_exact_across_the_borders_of_tiles(points: Points) -> None:
    # With more edges than rows, areas are added up in another way.
    corners = itertools.pairwise([*points, points[0]])
    pieces = [point for start, end in corners for point in np.linspace(start, end, 200, endpoint=False).tolist()]
    for drawn in (points, points[::-1], pieces):
        sheet = ink_sheet(200, 140)
        sheet.polygon(drawn)
        assert np.abs(coverage(sheet) - polygon_coverage(points, 200, 140)).max() <= LEVEL


@pytest.mark.parametrize("radius", [0.05, 0.3, 0.5, 0.8, 1.3, 2, 2.6, 4, 4.99, 5, 5.2, 7.5, 11, 30])
@pytest.mark.parametrize("offset", [(0.0, 0.0), (0.31, 0.77), (0.5, 0.5), (0.9, 0.05)])
def test_discs_cover_what_they_should(radius: float, offset: tuple[float, float]) -> None:
    size = 2 * math.ceil(radius) + 4
    x, y = size / 2 + offset[0], size / 2 + offset[1]
    sheet = ink_sheet(size, size)
    sheet.circle(x, y, radius)
    expected = sampled_coverage(lambda px, py: (px - x) ** 2 + (py - y) ** 2 <= radius * radius, size, size)
    # Half a level of rounding, and what 32 x 32 samples cannot see of a curve.
    assert np.abs(coverage(sheet) - expected).max() <= CIRCLE + LEVEL / 2 + 0.003
    assert coverage(sheet).sum() == pytest.approx(math.pi * radius * radius, rel=0.02, abs=0.02)


@pytest.mark.parametrize(
    ("radius", "width"), [(9, 0.4), (9, 1), (9, 5), (2.5, 4.9), (3, 6), (60, 3), (60, 50), (1, 0.5), (5, 0.2)]
)
def test_rings_cover_what_they_should(radius: float, width: float) -> None:
    size = 2 * math.ceil(radius + width / 2) + 4
    x, y = size / 2 + 0.2, size / 2 - 0.35
    sheet = ink_sheet(size, size)
    sheet.circle(x, y, radius, fill=None, stroke="black", stroke_width=width)
    outer, inner = radius + width / 2, max(radius - width / 2, 0)

    def within(px: Any, py: Any) -> Any:
        square = (px - x) ** 2 + (py - y) ** 2
        return (square <= outer * outer) & (square >= inner * inner)

    expected = sampled_coverage(within, size, size)
    assert np.abs(coverage(sheet) - expected).max() <= 2 * CIRCLE + LEVEL


def test_a_dot_is_a_disc_as_wide_as_its_stroke_and_a_circle_without_a_radius_nothing() -> None:
    dots, discs, nothing = ink_sheet(90, 40), ink_sheet(90, 40), ink_sheet(90, 40)
    for index, width in enumerate((0.3, 1, 2.7, 9, 24)):
        place = 12 + 15.3 * index, 20.2
        dots.dot(*place, stroke="black", stroke_width=width)
        discs.circle(*place, width / 2)
        nothing.circle(*place, 0, fill=None, stroke="black", stroke_width=width)
        nothing.line(*place, *place, stroke="black", stroke_width=width)
    assert same_picture(rendered(dots.drawing(), 90), rendered(discs.drawing(), 90))
    assert coverage(nothing).max() == 0


@pytest.mark.parametrize("size", [64, 200])
def test_a_disc_over_everything_covers_everything(size: int) -> None:
    sheet = ink_sheet(size, size)
    sheet.circle(size / 2, size / 2, size)
    assert (coverage(sheet) == 1).all()


def test_an_ellipse_turned_in_its_frame_is_where_it_should_be() -> None:
    sheet = ink_sheet(60, 50)
    sheet.frame(30, 25, turn=30).ellipse(0, 0, 20, 9)
    c, s = math.cos(math.radians(30)), math.sin(math.radians(30))

    def within(px: Any, py: Any) -> Any:
        along, over = (px - 30) * c + (py - 25) * s, (py - 25) * c - (px - 30) * s
        return (along / 20) ** 2 + (over / 9) ** 2 <= 1

    assert np.abs(coverage(sheet) - sampled_coverage(within, 60, 50)).max() <= CURVE + LEVEL


@pytest.mark.parametrize(("cap", "area"), [("butt", 30 * 6), ("square", 36 * 6), ("round", 30 * 6 + math.pi * 9)])
def test_caps_end_a_line_as_they_should(cap: str, area: float) -> None:
    sheet = ink_sheet(60, 60)
    sheet.frame(30, 30, turn=37).line(-15, 0, 15, 0, stroke="black", stroke_width=6, linecap=cap)
    assert coverage(sheet).sum() == pytest.approx(area, abs=0.4)


@pytest.mark.parametrize(("join", "area"), [("miter", 9), ("round", math.pi * 9 / 4), ("bevel", 4.5)])
def test_joins_fill_a_corner_as_they_should(join: str, area: float) -> None:
    """Two legs of 20 with a right angle between, 6 wide: they share a square of 3 by 3, and the join fills the outside."""
    sheet = ink_sheet(50, 50)
    sheet.polyline([(10.25, 30.5), (30.25, 30.5), (30.25, 10.5)], stroke="black", stroke_width=6, linejoin=join)
    assert coverage(sheet).sum() == pytest.approx(2 * 20 * 6 - 9 + area, abs=0.3)


def test_a_miter_longer_than_its_limit_becomes_a_bevel() -> None:
    spike: Any = [(5, 20), (45, 21), (5, 22)]
    sharp, cut = ink_sheet(80, 40), ink_sheet(80, 40)
    sharp.polyline(spike, stroke="black", stroke_width=6, linejoin="miter")
    cut.polyline(spike, stroke="black", stroke_width=6, linejoin="bevel")
    assert same_picture(rendered(sharp.drawing(), 80), rendered(cut.drawing(), 80))


@given(
    st.lists(st.tuples(st.floats(2, 38), st.floats(2, 38)), min_size=2, max_size=6, unique=True),
    st.sampled_from([0.7, 3.0, 12.0]),
    st.booleans(),
)
def test_a_round_stroke_is_all_that_lies_within_half_its_width(points: Points, width: float, closed: bool) -> None:
    sheet = ink_sheet(40, 40)
    style: Any = {"fill": None, "stroke": "black", "stroke_width": width, "linecap": "round", "linejoin": "round"}
    if closed and len(points) > 2:
        sheet.polygon(points, **style)
        points = [*points, points[0]]
    else:
        sheet.polyline(points, **{name: value for name, value in style.items() if name != "fill"})

    def near(ends: Any) -> Any:
        (ax, ay), (bx, by) = ends
        dx, dy = bx - ax, by - ay

        def within(px: Any, py: Any) -> Any:
            t = np.clip(((px - ax) * dx + (py - ay) * dy) / max(dx * dx + dy * dy, 1e-30), 0, 1)
            return (px - ax - t * dx) ** 2 + (py - ay - t * dy) ** 2 <= width * width / 4

        return within

    parts = [near(ends) for ends in itertools.pairwise(points)]
    union = sampled_coverage(lambda px, py: np.logical_or.reduce([part(px, py) for part in parts]), 40, 40, 16)
    total = sum(sampled_coverage(part, 40, 40, 16) for part in parts)
    # Where a stroke meets itself within a pixel, what its parts cover adds up; it is never less than their union. The
    # tolerance is what 16 x 16 samples of a thin line cannot see.
    assert (coverage(sheet) >= union - 0.07).all()
    assert (coverage(sheet) <= np.minimum(total, 1) + 0.07).all()
    assert np.abs(coverage(sheet) - union)[total < union + 0.05].mean() < 0.01


def test_what_a_path_covers_twice_the_same_way_round_is_covered_and_a_hole_is_not() -> None:
    square = [(0, 0), (30, 0), (30, 30), (0, 30)]
    twice = ink_sheet(40, 40)
    twice.polygon([*square, (0, 0), *square])
    assert coverage(twice)[10, 10] == 1
    hole = ink_sheet(40, 40)
    inner = [(10, 10), (10, 20), (20, 20), (20, 10)]
    hole.polygon([*square, (0, 0), *inner, inner[0], (0, 0)])
    assert coverage(hole)[15, 15] == 0
    assert coverage(hole)[5, 5] == 1


@pytest.mark.parametrize("rule", ["nonzero", "evenodd"])
def test_squares_over_each_other_count_as_often_as_the_rule_says(rule: str) -> None:
    """Edges of several squares in one outline meet in the same pixels, blocks and tiles, at places of all sorts."""
    squares = [(3.25, 5.5, 140.75, 90.25), (50.5, 40.0, 100.25, 127.75), (64.0, 8.125, 128.0, 100.5), (63.5, 60, 65, 70)]
    contours = [
        np.array([(left, top), (right, top), (right, bottom), (left, bottom)], np.float64)
        for left, top, right, bottom in squares
    ]
    sheet = ink_sheet(150, 130)
    outlines = (through(corners, closed=True) for corners in contours)
    sheet.path(functools.reduce(Outline.joined, outlines), fill_rule=rule)
    truth = covered(contours, 150, 130, even_odd=rule == "evenodd")
    assert np.abs(coverage(sheet) - truth).max() <= LEVEL


def test_opacity_fades_fill_and_stroke_as_one() -> None:
    """Where the stroke lies over its own fill, the fill does not shine through."""
    sheet = Sheet(40, 40, "px", Colour(1, 1, 1))
    sheet.circle(20, 20, 12, fill="#ff0000", stroke="#0000ff", stroke_width=8, opacity=0.5)
    pixels = rendered(sheet.drawing(), 40)
    assert pixels[20, 20].tolist() == [255, 128, 128]
    assert pixels[20, 20 - 10].tolist() == pixels[20, 20 - 14].tolist() == [128, 128, 255]


def test_thousands_of_faint_layers_neither_stick_nor_drift() -> None:
    sheet = Sheet(70, 70, "px", Colour(0, 0, 0))
    for _ in range(3000):
        sheet.rect(0, 0, 70, 70, fill="#c0ffee", opacity=0.001)
    expected = [round(part * 255 * (1 - 0.999**3000)) for part in Colour.parse("#c0ffee")[:3]]
    assert rendered(sheet.drawing(), 70)[35, 35].tolist() == expected


def test_transparent_paper_keeps_its_alpha_and_the_colour_on_it() -> None:
    sheet = Sheet(40, 40, "px", Colour(1, 1, 1, 0))
    sheet.circle(20, 20, 10, fill="#336699", opacity=0.5)
    pixels = rendered(sheet.drawing(), 40)
    assert pixels.shape == (40, 40, 4)
    assert pixels[0, 0].tolist() == [0, 0, 0, 0]
    assert pixels[20, 20].tolist() == [0x33, 0x66, 0x99, 128]


@pytest.mark.parametrize("paper", ["#f4efe4", "#f4efe480"])
def test_a_row_of_pixels_is_the_same_wherever_it_ends(paper: str) -> None:
    def picture(width: int) -> ByteArray:
        sheet = Sheet(width, 16, "px", Colour.parse(paper))
        for x in range(4, 140, 8):
            sheet.circle(x, 8, x / 8, fill="#336699", opacity=0.4)
        return rendered(sheet.drawing(), width)

    whole = picture(136)
    assert len(np.unique(whole.reshape(-1, whole.shape[2]), axis=0)) > 100
    for width in (1, 7, 8, 9, 63, 65, 71, 129):
        assert same_picture(picture(width), whole[:, :width])


def test_a_drawing_without_marks_is_bare_paper() -> None:
    pixels = rendered(Sheet(30, 20, "mm", Colour.parse("#f4efe4")).drawing(), 90)
    assert pixels.shape == (60, 90, 3)
    assert (pixels == [0xF4, 0xEF, 0xE4]).all()


def test_marks_far_off_the_sheet_do_no_harm() -> None:
    sheet = ink_sheet(70, 70)
    sheet.circle(1e12, 1e12, 1e11)
    sheet.line(-1e9, -1e9, -1e9, 1e9, stroke="black")
    sheet.rect(-1e9, -1e9, 1e8, 1e8, stroke="black", stroke_width=1e7)
    assert coverage(sheet).max() == 0
    sheet.rect(-1e9, -1e9, 2e9, 1e9 + 35)
    assert coverage(sheet)[:35].min() == 1
    assert coverage(sheet)[35:].max() == 0


def test_one_thread_and_two_and_five_give_the_same_pixels() -> None:
    drawing = everything().drawing()
    first, *others = (rendered(drawing, 700, threads=threads) for threads in (1, 2, 5))
    assert all(same_picture(first, other) for other in others)


_AS_IF_ON = """
from pathlib import Path
from mothseed.native import store, target
there = target.Target.from_text("{target}")
target.this_machine = store.this_machine = lambda: there
store.kernel_folder = lambda: Path("{folder}")
"""
_HASH_EVERYTHING = """
from tests.render.test_raster import everything
from tests.page import page_of_everything
from mothseed.native.build import compile_for
from mothseed.native.store import PARTS
from mothseed.native.target import usual_targets
from mothseed.render import pixel_hash, rendered
print(*(pixel_hash(rendered(sheet.drawing(), 700)) for sheet in (everything(), page_of_everything())))
"""


@pytest.mark.endurance
def test_a_plain_processor_gives_the_same_pixels_as_this_one(tmp_path: Path) -> None:
    plain = min(usual_targets(), key=lambda target: target.cpu)
    compile_for(plain, tmp_path, list(PARTS))
    program = _AS_IF_ON.format(target=plain.as_text(), folder=tmp_path) + _HASH_EVERYTHING
    there = subprocess.run([sys.executable, "-c", program], cwd=ROOT, capture_output=True, text=True, check=True)
    here = [pixel_hash(rendered(sheet.drawing(), 700)) for sheet in (everything(), page_of_everything())]
    assert there.stdout.split() == here


def test_the_pixels_of_a_drawing_never_change() -> None:
    """Raise RENDERER_VERSION when this has to change: editions made before are then made anew."""
    assert pixel_hash(rendered(everything().drawing(), 700)) == "e5b1ad66eca91d6801949a432756d973"


@pytest.mark.parametrize("width", [0, -3, 20_001])
def test_a_size_that_cannot_be_made_is_refused(width: int) -> None:
    with pytest.raises(UsageError, match="cannot be made"):
        rendered(ink_sheet(10, 10).drawing(), width)


def test_very_many_marks_are_got_ready_slice_by_slice_and_give_the_same_pixels(monkeypatch: pytest.MonkeyPatch) -> None:
    sheet = page_of_everything()
    chance = Chance(3)
    for number in range(300):
        own = sheet.layer("dots", opacity=0.5) if number % 3 else sheet
        own.circle(*chance.point(sheet), chance.between(0.1, 9), fill="teal", opacity=0.3)
    drawing = sheet.drawing()
    whole = rendered(drawing, 700)
    for most in (1, 40, 200):
        monkeypatch.setattr("mothseed.render.raster.MOST_AT_ONCE", most)
        assert np.array_equal(rendered(drawing, 700), whole)
        assert np.array_equal(np.concatenate(list(rendered_bands(drawing, 700, 1))), whole)


def layered_over(cover: str) -> Sheet:
    """A page on which something solid, or nearly so, lies over what was drawn before, and other things over it."""
    sheet = page_of_everything()
    if cover == "rect":
        sheet.rect(-1, 10, 90, 60, fill="teal")
    elif cover == "ellipse":
        sheet.ellipse(60, 40, 90, 70, fill="teal")
    elif cover == "circle":
        sheet.circle(60, 40, 85, fill="teal")
    elif cover == "faint":
        sheet.rect(-5, -5, 140, 100, fill="teal", opacity=0.7)
    elif cover == "stroked":
        sheet.rect(5, 5, 100, 60, fill="teal", stroke="navy", stroke_width=2)
    elif cover == "in a layer":
        sheet.layer("over", opacity=0.6).rect(-5, -5, 140, 100, fill="teal")
    elif cover == "turned":
        sheet.frame(60, 40, turn=30).rect(-70, -60, 140, 120, fill="teal")
    elif cover == "mirrored":
        sheet.frame(130, 90, turn=180).rect(0, 0, 140, 100, fill="teal")
    chance = Chance(7)
    for _ in range(40):
        sheet.circle(chance.between(0, 120), chance.between(0, 80), 2, fill="gold", opacity=0.5)
    sheet.clipped(through(np.array([(5.0, 5), (70, 9), (40, 70)]), closed=True)).rect(0, 0, 120, 80, fill="navy", opacity=0.4)
    return sheet


@pytest.mark.parametrize("cover", ["rect", "ellipse", "circle", "faint", "stroked", "in a layer", "turned", "mirrored"])
def test_what_is_hidden_is_left_out_and_nothing_else(monkeypatch: pytest.MonkeyPatch, cover: str) -> None:
    drawing = layered_over(cover).drawing()
    ours = rendered(drawing, 700)
    counts = []
    first_seen = bins._first_seen  # what would be left out is counted, and then is not

    def none_hidden(*given: Any) -> WholeArray:
        begin = first_seen(*given)
        counts.append(int(begin.max()))
        return np.zeros_like(begin)

    monkeypatch.setattr(bins, "_first_seen", none_hidden)
    assert same_picture(rendered(drawing, 700), ours)
    assert (counts[0] > 0) == (cover in ("rect", "ellipse", "circle", "stroked", "mirrored"))


def test_a_picture_that_takes_long_to_paint_is_told_of_until_it_is_done(monkeypatch: pytest.MonkeyPatch) -> None:
    told: list[waiting.PaintingProgress] = []
    monkeypatch.setattr(waiting, "_asked", [told.append])
    drawing = everything().drawing()
    rendered(drawing, 900)
    assert told == [], "it is done sooner than anybody would ask"
    monkeypatch.setattr(waiting, "_PATIENCE", 0.0)
    monkeypatch.setattr(waiting, "_BETWEEN", 0.0)
    list(rendered_bands(drawing, 900, threads=2))
    shares = [progress.share for progress in told]
    assert shares == sorted(shares)
    assert shares[-1] == 1
    assert len(shares) > 3
    assert told[-1].seconds_left == 0
