from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.chance import Chance
from mothseed.colour import Colour
from mothseed.faults import SketchError
from mothseed.geometry import (
    Affine,
    Trail,
    annulus,
    arc,
    bounds_of,
    length_of,
    lettering,
    ngon,
    offset,
    places_along,
    resampled,
    smooth,
    star,
    trochoid,
)
from mothseed.geometry.outline import through
from mothseed.geometry.verbs import CUBIC, MOVE
from mothseed.sheet import Sheet
from mothseed.sheet.extents import mark_matrices, stroke_widths
from tests.reference import coverage, ink_sheet

RADII = st.floats(0.1, 1000)


@given(st.integers(3, 40), RADII)
def test_the_sides_of_a_regular_polygon_are_equal_and_its_corners_on_its_circle(sides: int, side: float) -> None:
    points = ngon(sides, side=side).points
    steps = np.linalg.norm(points - np.roll(points, 1, axis=0), axis=1)
    assert np.allclose(steps, side)
    assert np.allclose(np.linalg.norm(points, axis=1), side / (2 * math.sin(math.pi / sides)))
    assert points[0, 0] == 0
    assert points[0, 1] < 0, "a corner is at the top"


@given(st.integers(2, 30), RADII, RADII)
def test_a_star_has_its_points_and_notches_at_its_radii(points: int, outer: float, inner: float) -> None:
    distances = np.linalg.norm(star(points, outer, inner).points, axis=1)
    assert np.allclose(distances[::2], outer)
    assert np.allclose(distances[1::2], inner)


@given(RADII, st.floats(-720, 720), st.floats(-359, 359).filter(lambda sweep: abs(sweep) > 1))
def test_an_arc_lies_on_its_circle_and_is_as_long_as_its_angle(radius: float, start: float, sweep: float) -> None:
    outline = arc(radius, start, sweep)
    assert length_of(outline) == pytest.approx(radius * math.radians(abs(sweep)), rel=1e-3)
    ends = outline.points[::3]
    assert np.allclose(np.linalg.norm(ends, axis=1), radius)
    heading = math.degrees(math.atan2(ends[-1, 1], ends[-1, 0]))
    assert math.cos(math.radians(heading - start - sweep)) == pytest.approx(1, abs=1e-9)


@pytest.mark.parametrize(
    ("draw", "area"),
    [
        (lambda s: s.ngon(30, 30, 6, 20), 1.5 * math.sqrt(3) * 400),
        (lambda s: s.ngon(30, 30, 4, side=20, turn=12), 400),
        (lambda s: s.annulus(30, 30, 20, 12), math.pi * (400 - 144)),
        (lambda s: s.annulus(30, 30, 20, 12, fill_rule="evenodd"), math.pi * (400 - 144)),
        (lambda s: s.arc(30, 30, 20, 10, 90, kind="sector"), math.pi * 100),
        (lambda s: s.arc(30, 30, 20, 10, 90, kind="chord"), math.pi * 100 - 200),
        (lambda s: s.arc(30, 30, 20, 0, 400, kind="chord"), math.pi * 400),
        (lambda s: s.arc(30, 30, 20, 0, 180, stroke="black", stroke_width=4), 20 * math.pi * 4),
        (lambda s: s.rect(10, 10, 40, 30, radius=8), 1200 - (4 - math.pi) * 64),
        (lambda s: s.rect(10, 10, 40, 30, radius=99), 1200 - (4 - math.pi) * 225),
        (lambda s: s.dot(30, 30, stroke="black", stroke_width=14), math.pi * 49),
        (lambda s: s.dots([10, 40], 30, stroke="black", stroke_width=14), 2 * math.pi * 49),
        (lambda s: s.ellipses([20, 40], 30, 6, [10, 5]), math.pi * 90),
        (lambda s: s.rects([5, 30], 10, 10, 20), 400),
    ],
)
def test_figures_cover_the_area_that_they_should(draw: Any, area: float) -> None:
    sheet = ink_sheet(60, 60)
    draw(sheet)
    assert coverage(sheet).sum() == pytest.approx(area, rel=0.005)


def test_a_rolling_curve_closes_after_as_many_turns_as_its_radii_ask_for() -> None:
    assert trochoid(60, 25, 30).closed
    hypocycloid = trochoid(40, -10, 10)
    assert np.allclose(hypocycloid.points[0], [20, 0], atol=1e-9)
    distances = np.linalg.norm(hypocycloid.points[::3], axis=1)
    assert distances.max() == pytest.approx(40, abs=1e-6)
    assert distances.min() == pytest.approx(20, abs=1e-6)
    with pytest.raises(SketchError, match="does not close"):
        trochoid(math.pi * 10, 7.77777, 3)
    assert not trochoid(math.pi * 10, 7.77777, 3, turns=2).closed


def test_a_trail_walks_and_bends_to_either_side_and_comes_home() -> None:
    right = Trail(0, 0).bend(10, 90)
    assert (right.x, right.y, right.heading) == pytest.approx((10, 10, 90))
    for left in (Trail(0, 0).bend(-10, 90), Trail(0, 0).bend(10, -90)):
        assert (left.x, left.y, left.heading) == pytest.approx((10, -10, 270))
    around = Trail(3, 4, 30).bend(10, 360)
    assert (around.x, around.y, around.heading) == pytest.approx((3, 4, 30))
    square = Trail(0, 0)
    for _ in range(3):
        square = square.walk(10).veer(90)
    home = square.close()
    assert (home.x, home.y) == (0, 0)
    assert home.outline.closed
    assert length_of(home.outline) == pytest.approx(40)
    assert [(corner.x, corner.y) for corner in home.corners] == [(0, 0), (10, 0), (10, 10), (0, 10)]


def test_a_trail_never_changes_and_can_be_gone_on_with_in_two_ways() -> None:
    start = Trail(0, 0).walk(10)
    one, two = start.walk(5), start.face(90).walk(5)
    assert (start.x, one.x, two.x, two.y) == (10, 15, 10, 5)
    pieces = start.leap(5).walk(5).outline
    assert np.count_nonzero(pieces.verbs == MOVE) == 2
    assert length_of(pieces) == pytest.approx(15)
    with pytest.raises(SketchError, match="radius of 0"):
        start.bend(0, 90)
    with pytest.raises(SketchError, match="walk: distance must be a finite number"):
        start.walk(math.nan)


def test_places_along_an_outline_are_even_and_know_their_heading() -> None:
    corner = through(np.array([(0.0, 0.0), (10.0, 0.0), (10.0, 10.0)]), closed=False)
    places = places_along(corner, np.array([0, 0.25, 0.75, 1, 7]))
    assert [(p.x, p.y, p.heading) for p in places] == [(0, 0, 0), (5, 0, 0), (10, 5, 90), (10, 10, 90), (10, 10, 90)]
    circle = arc(10, 0, 360)
    points = resampled(circle, 12).points
    assert np.allclose(np.linalg.norm(points - np.roll(points, 1, axis=0), axis=1), 20 * math.sin(math.pi / 12), rtol=1e-3)
    assert bounds_of(circle) == pytest.approx((-10, -10, 10, 10), abs=0.01)
    with pytest.raises(SketchError, match="no length"):
        places_along(through(np.array([(1.0, 1.0)]), closed=False), np.array([0.5]))


@given(st.lists(st.tuples(st.integers(-50, 50), st.integers(-50, 50)), min_size=3, max_size=8, unique=True), st.booleans())
def test_a_reversed_outline_covers_the_same_and_twice_reversed_is_the_same(points: list[Any], closed: bool) -> None:
    outline = smooth(points, closed=closed).joined(arc(9, 20, 200, kind="sector"))
    back = outline.reversed()
    assert length_of(back) == pytest.approx(length_of(outline))
    assert np.array_equal(back.reversed().points, outline.points)
    assert np.array_equal(back.reversed().verbs, outline.verbs)
    assert np.count_nonzero(back.verbs == CUBIC) == np.count_nonzero(outline.verbs == CUBIC)


def test_outlines_are_moved_turned_and_enlarged_as_values() -> None:
    wing = smooth([(0, 0), (10, 5), (20, 0)])
    assert np.allclose(wing.moved(3, 4).points, wing.points + np.array([3, 4]))
    assert np.allclose(wing.turned(90, pivot=(10, 5)).points[3], [10, 5])
    assert np.allclose(wing.scaled(2).points, wing.points * 2)
    assert np.array_equal(wing.transformed(Affine()).points, wing.points)


def test_an_outline_beside_a_square_is_a_square() -> None:
    square = through(np.array([(0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0)]), closed=True)
    assert offset(square, 2).points.tolist() == [[2, 2], [8, 2], [8, 8], [2, 8]]
    assert offset(square, -2).points.tolist() == [[-2, -2], [12, -2], [12, 12], [-2, 12]]
    line = through(np.array([(0.0, 0.0), (10.0, 0.0), (10.0, 10.0)]), closed=False)
    assert offset(line, 1).points.tolist() == [[0, 1], [9, 1], [9, 10]]
    ring = offset(annulus(10, 5), 1)
    radii = np.linalg.norm(ring.points, axis=1)
    assert np.allclose(np.where(radii > 7, radii - 9, radii - 6), 0, atol=0.01), "inside the disc, outside its hole"
    spike = through(np.array([(0.0, 0.0), (50.0, 0.5), (0.0, 1.0)]), closed=True)
    assert np.linalg.norm(offset(spike, -1).points[1] - [50, 0.5]) == pytest.approx(4), "a sharp corner has its limit"
    with pytest.raises(SketchError, match="no length"):
        offset(through(np.array([(1.0, 1.0)]), closed=False), 1)
    with pytest.raises(SketchError, match="distance must be a finite number"):
        offset(square, math.nan)


def test_frames_are_scaled_unevenly_and_lean_about_their_pivot() -> None:
    sheet = blank()
    sheet.frame(10, 20, scale=(2, 3)).rect(1, 1, 2, 2)
    sheet.frame(skew=45).rect(0, 0, 10, 10)
    sheet.frame(skew=30, scale=(2, 1), turn=40, pivot=(7, 9)).frame(7, 9).circle(0, 0, 1)
    stretched, leaning, pivoted = mark_matrices(sheet.drawing())
    assert stretched.tolist() == [4, 0, 0, 6, 12, 23]
    assert leaning == pytest.approx([10, 0, -10, 10, 0, 0])
    assert pivoted[4:] == pytest.approx([7, 9])
    frame = sheet.frame(scale=(2, 4))
    assert (frame.width, frame.height) == (50, 20)


def test_strokes_grow_with_their_frame_or_are_kept() -> None:
    sheet = blank()
    for keep in (False, True):
        inner = sheet.frame(scale=2).frame(scale=(3, 3), keep_strokes=keep)
        inner.line(0, 0, 5, 0, stroke="black", stroke_width=0.5)
        inner.frame(turn=30).line(0, 0, 5, 0, stroke="black", stroke_width=0.5)
    assert stroke_widths(sheet.drawing()).tolist() == [3, 3, 1, 1]


def test_hexagonal_cells_touch_and_fill_their_area() -> None:
    cells = list(blank().grid(3, 3, hexagonal=True))
    points = np.array(origins(blank().grid(3, 3, hexagonal=True)))
    assert points[3] - points[0] == pytest.approx([cells[0].width / 2, cells[0].height * 0.75])
    assert points[:, 1].max() + cells[0].height / 2 == pytest.approx(80)
    assert points[:, 0].max() + cells[0].width / 2 == pytest.approx(100)
    with pytest.raises(SketchError, match="no gap, brick or growth"):
        blank().grid(3, 3, hexagonal=True, gap=1)


@pytest.mark.parametrize("spacing", [0.0, 1.5, -0.4])
def test_a_line_of_text_begins_ends_or_has_its_middle_at_its_origin(spacing: float) -> None:
    start, middle, end = (
        lettering("Wainscot", 12, align=align, spacing=spacing).points for align in ("start", "middle", "end")
    )
    width = (start - end)[0, 0]
    assert start - end == pytest.approx(np.tile([width, 0], (len(start), 1)))
    assert start - middle == pytest.approx(np.tile([width / 2, 0], (len(start), 1)))
    # The same letters one by one, each where the one before it has advanced to.
    place = 0.0
    parts = []
    for letter in "Wainscot":
        alone = lettering(letter, 12).points
        parts.append(alone + np.array([place, 0]))
        place += (alone - lettering(letter, 12, align="end").points)[0, 0] + spacing
    assert start == pytest.approx(np.concatenate(parts))
    assert width == pytest.approx(place - spacing)


def test_text_is_an_outline_as_wide_as_its_letters() -> None:
    start, middle, end = (bounds_of(lettering("Moth", 20, align=align)) for align in ("start", "middle", "end"))
    assert start[0] == pytest.approx(0, abs=1)
    assert middle[0] == pytest.approx(-middle[2], abs=1)
    assert end[2] == pytest.approx(0, abs=1)
    assert start[3] <= 1, "it stands on its baseline"
    assert -20 < start[1] < -10
    assert length_of(lettering("Moth", 40)) == pytest.approx(2 * length_of(lettering("Moth", 20)))
    assert len(lettering("Лунь, λάμπα", 10).verbs) > 0
    assert bounds_of(lettering("ll", 10, spacing=5))[2] - bounds_of(lettering("ll", 10))[2] == pytest.approx(5)
    faces = {length_of(lettering("Moth", 20, bold=bold, italic=italic)) for bold in (False, True) for italic in (False, True)}
    assert len(faces) == 4


def test_nothing_written_is_nothing_drawn() -> None:
    sheet = ink_sheet(20, 20)
    sheet.text(5, 5, "", 5)
    assert len(sheet.drawing()) == 0


def blank() -> Sheet:
    return ink_sheet(100, 80)


def origins(places: Any) -> list[tuple[float, float]]:
    drawn = list(places)
    for place in drawn:
        place.circle(0, 0, 1)
    drawing = drawn[0]._recorder.drawing(100, 80, "px", blank().paper, 45)
    return [(round(x, 6), round(y, 6)) for x, y in mark_matrices(drawing)[:, 4:].tolist()]


def test_whatever_is_drawn_on_a_spun_view_appears_all_round_exactly() -> None:
    sheet = blank()
    sheet.spun(4).frame(10, 3).circle(0, 0, 1)
    assert mark_matrices(sheet.drawing())[:, 4:].tolist() == [[10, 3], [-3, 10], [-10, -3], [3, -10]]
    sheet.mirrored().spun(6).rect(1, 2, 3, 4)
    assert len(sheet.drawing()) == 4 + 12
    with pytest.raises(SketchError, match="count must be a whole number, 1 or more"):
        sheet.spun(0)


def test_a_part_of_a_ring_has_a_place_at_each_end_and_a_fan_turns_in_place() -> None:
    half = list(blank().ring(3, 10, start=-90, sweep=180))
    assert [place.angle for place in half] == [-90, 0, 90]
    assert origins(blank().fan(3, 60)) == [(0, 0)] * 3
    assert [place.angle for place in blank().fan(3, 60)] == [-30, 0, 30]
    assert [place.angle for place in blank().fan(2, 60, start=0)] == [0, 60]


def test_the_places_of_a_sunflower_keep_apart() -> None:
    points = np.array(origins(blank().spiral(200, 2, kind="phyllotaxis")))
    apart = np.linalg.norm(points[:, None] - points[None], axis=2) + np.eye(200) * 9
    assert apart.min() > 1.6
    even = np.array(origins(blank().spiral(60, 3)))
    assert np.linalg.norm(np.diff(even[5:], axis=0), axis=1) == pytest.approx(3, abs=0.4)


def test_scattered_places_keep_their_gap_and_margin_and_the_first_ones_stay_where_they_are() -> None:
    few, many = (origins(blank().scatter(n, Chance(3)("s"), margin=6, gap=4)) for n in (20, 100))
    assert many[:20] == few
    points = np.array(many)
    assert points.min(axis=0).tolist() >= [6, 6]
    assert points.max(axis=0).tolist() <= [94, 74]
    assert (np.linalg.norm(points[:, None] - points[None], axis=2) + np.eye(len(points)) * 9).min() >= 4
    assert len(list(blank().scatter(10_000, Chance(3), gap=15))) < 60, "where no room is left there are fewer"
    left = np.array(origins(blank().scatter(80, Chance(1), weight=lambda x, y: x < 30)))
    assert left[:, 0].max() < 30


def test_places_along_an_outline_face_along_it() -> None:
    wave = smooth([(10, 10), (50, 30), (90, 10)])
    places = list(blank().along(wave, 5))
    assert [place.fraction for place in places] == [0, 0.25, 0.5, 0.75, 1]
    assert origins(blank().along(wave, 3))[1] == pytest.approx((50, 30), abs=0.05)
    assert places[2].angle == pytest.approx(0, abs=2) or places[2].angle == pytest.approx(360, abs=2)
    assert len(set(origins(blank().along(arc(10, 0, 360), 4)))) == 4


def test_grids_of_bricks_growing_cells_and_rules() -> None:
    bricks = origins(blank().grid(2, 2, brick=0.5))
    assert bricks == [(25, 20), (75, 20), (50, 60), (100, 60)]
    growing = list(blank().grid(3, 1, growth=(2, 1)))
    assert [cell.width for cell in growing] == pytest.approx([100 / 7, 200 / 7, 400 / 7])
    triangle = [(cell.col, cell.row) for cell in blank().grid(3, 3, where=lambda cell: cell.col <= cell.row)]
    assert triangle == [(0, 0), (0, 1), (1, 1), (0, 2), (1, 2), (2, 2)]


def test_a_grid_by_step_has_as_many_cells_as_fit_in_the_middle() -> None:
    cells = list(blank().grid(step=(30, 25), gap=2))
    assert len(cells) == 3 * 3
    assert (cells[0].width, cells[0].height) == (30, 25)
    assert origins(blank().grid(step=(30, 25), gap=2))[0] == (3 + 15, 0.5 + 12.5)
    assert len(list(blank().grid(step=10))) == 80
    for step in (0, 101, -1):
        with pytest.raises(SketchError, match="does not fit"):
            blank().grid(step=step)


def test_fractions_and_bleed_are_those_of_the_area() -> None:
    cell = next(blank().grid(2, 2))
    assert (cell.across(0), cell.across(0.5), cell.across(1), cell.down(1)) == (-25, 0, 25, 20)
    wide = blank().bleed(3)
    assert (wide.width, wide.height) == (106, 86)
    assert origins([wide]) == [(-3, -3)]


@pytest.mark.parametrize(
    ("call", "words"),
    [
        (lambda s: s.ngon(0, 0, 2, 5), "sides must be a whole number, 3 or more"),
        (lambda s: s.ngon(0, 0, 5), "give its radius or its side"),
        (lambda s: s.ngon(0, 0, 5, 3, side=3), "give its radius or its side"),
        (lambda s: s.ngon(math.nan, 0, 5, 3), "place and turn are finite"),
        (lambda s: s.star(0, 0, 5, 0, 3), "outer must be a length above 0"),
        (lambda s: s.annulus(0, 0, 5, 6), "inner is between 0 and outer"),
        (lambda s: s.arc(0, 0, 5, 0, 90), "an open arc without a stroke cannot be seen"),
        (lambda s: s.arc(0, 0, 5, 0, 90, fill="red", stroke="red"), "an open arc has no inside"),
        (lambda s: s.arc(0, 0, 5, 0, 90, kind="pie"), "kind must be one of open, chord, sector"),
        (lambda s: s.dot(0, 0, fill="red", stroke="red"), "a dot has no inside"),
        (lambda s: s.dot(0, 0), "a dot without a stroke"),
        (lambda s: s.rect(0, 0, 5, 5, radius=-1), "radius must be 0 or more"),
        (lambda s: s.text(0, 0, "漢字", 5), "the font has no 字, 漢"),
        (lambda s: s.text(0, 0, 7, 5), "the text is a string"),
        (lambda s: s.text(0, 0, "a", 0), "size must be a length above 0"),
        (lambda s: s.text(0, 0, "a", 5, align="left"), "align must be one of start, middle, end"),
        (lambda s: s.text(0, 0, "a", 5, font=__file__), "is not a font that can be read"),
        (lambda s: s.spiral(5, 0), "spacing must be a length above 0"),
        (lambda s: s.spiral(5, 1, kind="odd"), "kind must be one of even, phyllotaxis"),
        (lambda s: s.scatter(5, Chance(1), margin=50), "leaves nothing"),
        (lambda s: s.along(7, 5), "an outline is needed (got int)"),
        (lambda s: s.along([(0, 0)], 5), "along: at least 2 points are needed"),
        (lambda s: s.grid(3, 3, growth=0), "growth must be above 0"),
        (lambda s: s.bleed(-1), "bleed: amount must be 0 or more"),
    ],
)
def test_a_figure_that_cannot_be_is_refused_in_words(call: Any, words: str) -> None:
    with pytest.raises(SketchError) as caught:
        call(blank())
    assert words in caught.value.message


SOME = "The Tawny Veil flies late, when AVATA is lit."


def test_lines_are_broken_between_words_so_that_they_fit() -> None:
    width = bounds_of(lettering(SOME, 5)).width
    for room in (20.0, 33.0, 60.0, width + 1):
        outline = lettering(SOME, 5, width=room, leading=1.4)
        lines = round(outline.bounds.height / 7) + (1 if room < width else 0)
        assert outline.bounds.width <= room
        assert lines >= math.floor(width / room)
    assert (lettering(SOME, 5, width=width + 1).points == lettering(SOME, 5).points).all()
    alone = lettering("Abraxas grossulariata", 5, width=3)
    assert alone.bounds.height > 6.5
    assert (lettering("a b", 5, width=0.1).points[-1] - lettering("b", 5).points[-1]).tolist() == pytest.approx([0, 6.5])


def test_a_line_break_begins_a_line_where_the_alignment_has_it() -> None:
    for align in ("start", "middle", "end"):
        both = lettering("owlet\nhawk moth", 5, align=align, leading=2)
        first, second = lettering("owlet", 5, align=align), lettering("hawk moth", 5, align=align).moved(0, 10)
        assert (both.points == np.concatenate([first.points, second.points])).all()


def test_pairs_of_letters_are_set_as_close_as_the_font_says() -> None:
    plain, close = (lettering("AVATA", 100, kerning=kerning) for kerning in (False, True))
    assert bounds_of(close).width < bounds_of(plain).width - 20
    assert bounds_of(lettering("nnn", 100, kerning=True)).width == bounds_of(lettering("nnn", 100)).width
    assert len(lettering("", 100, kerning=True).points) == 0
    own = [
        bounds_of(part.moved(-bounds_of(part).left, 0)).width
        for part in (lettering("A", 100), lettering("A", 100, kerning=True))
    ]
    assert own[0] == own[1]
    assert len(lettering(SOME, 5, width=30, kerning=True).verbs) == len(lettering(SOME, 5).verbs)


def test_text_on_a_sheet_is_broken_as_its_lettering_is_and_turned_as_one() -> None:
    sheet = Sheet(100, 100, "mm", Colour(1, 1, 1))
    sheet.frame(20, 30).text(3, 4, SOME, 5, width=30, turn=40, kerning=True)
    outlines = list(sheet.drawing().outlines)
    whole = lettering(SOME, 5, width=30, kerning=True).turned(40).moved(3, 4)
    assert len(outlines) > 2
    assert np.concatenate([each.points for each in outlines]) == pytest.approx(whole.points)


@pytest.mark.parametrize(
    ("more", "words"),
    [
        ({"width": 0}, "width must be a length above 0"),
        ({"width": "wide"}, "width must be a length above 0"),
        ({"leading": math.nan}, "leading must be a finite number"),
        ({"width": 5, "along": arc(30, 0, 180)}, "width is for lines that lie straight"),
        ({"along": arc(30, 0, 180)}, "one line is needed"),
    ],
)
def test_lines_that_cannot_be_set_are_refused(more: dict[str, Any], words: str) -> None:
    with pytest.raises(SketchError, match=f"text: {words}"):
        lettering("owlet\nmoth", 5, **more)
