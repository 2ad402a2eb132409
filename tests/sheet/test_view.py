from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.colour import Colour
from mothseed.faults import SketchError
from mothseed.geometry import smooth
from mothseed.sheet import Drawing, Sheet, View, fingerprint
from mothseed.sheet.extents import mark_matrices, stroke_widths

PLACES = st.floats(-500, 500)


def blank(width: float = 100, height: float = 80) -> Sheet:
    return Sheet(width, height, "mm", Colour.parse("#f4efe4"))


def centre_of(view: View) -> tuple[float, float]:
    """Where a view's origin lies on the sheet."""
    sheet = blank()
    view.circle(0, 0, 1)
    recorder = view._recorder  # a view has no way to its sheet, which only a sketch has
    drawing = recorder.drawing(sheet.width, sheet.height, "mm", sheet.paper, sheet.light)
    e, f = mark_matrices(drawing)[-1, 4:]
    return float(e), float(f)


def drawn(draw: Any) -> Drawing:
    sheet = blank()
    draw(sheet)
    return sheet.drawing()


def test_nothing_leaks_from_a_view_to_the_one_it_was_made_from() -> None:
    sheet = blank()
    red = sheet.styled(fill="red", stroke="black", stroke_width=3)
    red.styled(fill="blue")
    red.frame(10, 10, turn=45).mirrored()
    sheet.circle(1, 2, 3)
    red.circle(1, 2, 3)
    plain, painted = sheet.drawing().marks
    assert plain["fill"].tolist() == [0, 0, 0, 1]
    assert plain["painted"] == 1
    assert painted["fill"].tolist() == [1, 0, 0, 1]
    assert painted["stroke_width"] == 3
    assert plain["view"] == painted["view"]


def test_paint_given_to_one_shape_reaches_no_other() -> None:
    sheet = blank()
    sheet.circle(1, 1, 1, fill="teal", opacity=0.5)
    sheet.circle(1, 1, 1)
    assert sheet.drawing().marks["opacity"].tolist() == [0.5, 1]


def test_a_styled_cell_is_still_a_cell() -> None:
    cell = list(blank().grid(3, 2))[4].styled(fill="teal")
    assert (cell.index, cell.col, cell.row) == (4, 1, 1)


@given(PLACES, PLACES, st.floats(-360, 360), st.floats(0.1, 5), PLACES, PLACES)
def test_a_pivot_stays_where_it_would_be_without_the_turn(
    x: float, y: float, turn: float, scale: float, px: float, py: float
) -> None:
    turned = blank().frame(x, y, turn=turn, scale=scale, pivot=(px, py)).frame(px, py)
    assert centre_of(turned) == pytest.approx((x + px, y + py), abs=1e-6)


def test_frames_nest_and_turn_clockwise() -> None:
    frame = blank().frame(50, 40, turn=90).frame(10, 0, scale=2).frame(5, 0)
    assert centre_of(frame) == pytest.approx((50, 60))


def test_a_frame_takes_its_area_along() -> None:
    frame = blank().centred().frame(5, 0, scale=2)
    assert (frame.left, frame.top, frame.width, frame.height) == (-25, -20, 50, 40)


def test_numbers_out_of_an_array_make_the_same_frame_and_colour_as_others() -> None:
    plain, arrays = (Sheet(100, 80, "px", Colour(1, 1, 1)) for _ in range(2))
    place, tint = np.array([10.5, 20.25, 33.0]), np.array([0.1, 0.5, 0.9, 0.5])
    parts: Any = tuple(tint)
    same: Any = tuple(tint.tolist())
    plain.frame(10.5, 20.25, turn=33.0).circle(0, 0, 5, fill=same)
    arrays.frame(place[0], place[1], turn=place[2]).circle(0, 0, 5, fill=parts)
    assert fingerprint(plain.drawing()) == fingerprint(arrays.drawing())
    single: Any = tuple(tint.astype(np.float32))
    arrays.circle(0, 0, 5, fill=single)
    bad: Any
    for bad in ((0.1, "0.2", 0.3), (0.1, None, 0.3), (0.1, 1j, 0.3), (np.zeros(2), 0.1, 0.1)):
        with pytest.raises(SketchError, match="a colour is a CSS string"):
            plain.circle(0, 0, 5, fill=bad)
    bad = (0.1, 120, 0.3)
    with pytest.raises(SketchError, match="green must be a number from 0 to 1"):
        plain.circle(0, 0, 5, fill=bad)


def test_insets_keep_the_place_of_the_origin_in_proportion() -> None:
    assert centre_of(blank().inset(10)) == (10, 10)
    centred = blank().centred().inset(10)
    assert centre_of(centred) == (50, 40)
    assert (centred.left, centred.top, centred.width, centred.height) == (-40, -30, 80, 60)


def test_a_grid_fills_its_area_row_by_row() -> None:
    cells = list(blank().grid(4, 2, gap=4))
    assert [(cell.col, cell.row) for cell in cells][:5] == [(0, 0), (1, 0), (2, 0), (3, 0), (0, 1)]
    assert (cells[0].width, cells[0].height) == (22, 38)
    assert centre_of(cells[0]) == (11, 19)
    assert centre_of(cells[-1]) == (100 - 11, 80 - 19)
    assert [cell.col_fraction for cell in cells[:4]] == [0, 1 / 3, 2 / 3, 1]
    assert next(blank().grid()).row_fraction == 0.5


def test_a_grid_of_its_own_size_begins_at_the_origin_of_a_frame() -> None:
    cells = list(blank().frame(20, 30).grid(cols=3, width=60, height=8))
    assert centre_of(cells[0]) == (30, 34)


def test_a_ring_starts_at_the_top_and_faces_out() -> None:
    centre = blank().centred()
    places = list(centre.ring(4, 10))
    assert [centre_of(place) for place in places] == [(50, 30), (60, 40), (50, 50), (40, 40)]
    tips = [centre_of(place.frame(0, -5)) for place in places]
    assert tips == [(50, 25), (65, 40), (50, 55), (35, 40)]
    assert centre_of(next(centre.ring(4, 10, facing="in")).frame(0, -5)) == (50, 35)
    assert centre_of(list(centre.ring(4, 10, facing="up"))[2].frame(0, -5)) == (50, 45)
    assert [place.fraction for place in places] == [0, 0.25, 0.5, 0.75]
    assert list(centre.ring(0, 10)) == []


def test_whatever_is_drawn_on_a_mirrored_view_appears_twice() -> None:
    sheet = blank()
    sheet.frame(50, 40).mirrored().frame(10, 0, turn=30).rect(0, 0, 4, 2)
    matrices = mark_matrices(sheet.drawing())
    assert len(matrices) == 2
    assert matrices[1, [0, 2]].tolist() == (-matrices[0, [0, 2]]).tolist()
    assert matrices[1, [1, 3, 5]].tolist() == matrices[0, [1, 3, 5]].tolist()
    assert matrices[:, 4].tolist() == [60, 40]


def test_a_mirrored_view_can_be_mirrored_again() -> None:
    sheet = blank()
    sheet.mirrored().mirrored(0).circle(3, 4, 1)
    assert sorted(map(tuple, mark_matrices(sheet.drawing())[:, 4:].tolist())) == [(-3, -4), (-3, 4), (3, -4), (3, 4)]


def test_many_at_once_are_recorded_as_one_by_one_would_be() -> None:
    x, r = [1.0, 2.0, 3.0], [4.0, 5.0, 6.0]
    tints, widths, fades = ["#ff0000", "#00ff00", "#0000ff"], [0.1, 0.2, 0.3], [0.2, 0.5, 1.0]

    def singly(sheet: Sheet) -> None:
        for place in range(3):
            more: Any = {"fill": tints[place], "stroke": "navy", "stroke_width": widths[place], "opacity": fades[place]}
            sheet.frame(5, 5).circle(x[place], 7, r[place], **more)

    def at_once(sheet: Sheet) -> None:
        sheet.frame(5, 5).circles(np.array(x), 7, r, fill=tints, stroke="navy", stroke_width=widths, opacity=fades)

    assert fingerprint(drawn(singly)) == fingerprint(drawn(at_once))
    colours = np.array([[1.0, 0, 0], [0, 1.0, 0], [0, 0, 1.0]])
    painted = drawn(lambda sheet: sheet.circles(x, 7, r, fill=colours)).marks["fill"]
    assert painted.tolist() == drawn(lambda sheet: sheet.circles(x, 7, r, fill=tints)).marks["fill"].tolist()


def test_many_on_a_mirrored_view_appear_twice_and_none_are_none() -> None:
    assert len(drawn(lambda sheet: sheet.mirrored().lines([1, 2], 3, 4, [5, 6], stroke="red"))) == 4
    assert len(drawn(lambda sheet: sheet.circles([], [], []))) == 0


def test_strokes_grow_with_their_frame() -> None:
    drawing = drawn(lambda sheet: sheet.frame(scale=3).circle(1, 1, 1, stroke="red", stroke_width=2))
    assert stroke_widths(drawing).tolist() == [6]


def test_an_outline_drawn_many_times_is_kept_once() -> None:
    wing = smooth([(0, 0), (5, 5), (9, 0)])
    drawing = drawn(lambda sheet: [sheet.frame(index).path(wing) for index in range(9)])
    assert len(drawing.outlines) == 1


FAULTS: list[tuple[Any, str, str]] = [
    (lambda v: v.circle(1, 2, -3), "circle: radius must be 0 or more (got -3)", "abs"),
    (lambda v: v.circle(math.nan, 2, 3), "circle: x is not finite (got nan)", "division by 0"),
    (lambda v: v.circle(1, math.inf, 3), "circle: y is not finite (got inf)", ""),
    (lambda v: v.circle(1, 2, math.nan), "circle: radius is not finite", ""),
    (lambda v: v.circle("1", 2, 3), "circle: x is a number (got '1')", ""),
    (lambda v: v.circle(np.zeros(3), 2, 3), "circle: x is one number (got ndarray)", "use circles for arrays"),
    (lambda v: v.ellipse([1], 2, 3, 4), "ellipse: x is one number (got list)", "use ellipses for arrays"),
    (lambda v: v.rect(0, 0, 5, -1), "rect: height must be 0 or more", ""),
    (lambda v: v.line(0, 0, 10**400, 1, stroke="red"), "line: ", ""),
    (
        lambda v: v.line(0, 0, 1, 1, stroke="red", fill="blue"),
        "a line has no inside that a fill",
        "rect or polygon",
    ),
    (lambda v: v.line(0, 0, 1, 1), "a line without a stroke cannot be seen", 'stroke="#333"'),
    (lambda v: v.polyline([(0, 0), (1, 1)], fill="red"), "a polyline has no inside", "polygon(points, fill=...)"),
    (lambda v: v.polygon([(0, 0), (1, 1)]), "polygon: at least 3 points", ""),
    (lambda v: v.polygon(np.array(5.0)), "polygon: points are pairs of numbers", "polygon([(0, 0)"),
    (lambda v: v.polygon([(0, 0), (1, 1), (2, 10**400)]), "polygon: a coordinate is too large to draw", "power"),
    (lambda v: v.polygon([(0, 0), (1, 1, 1), (2, 2)]), "polygon: points are pairs of numbers", ""),
    (lambda v: v.polygon(np.ones((2, 2))), "polygon: at least 3 points are needed (got 2)", ""),
    (lambda v: v.polygon(np.array([[0, 1], [math.inf, -math.inf], [3, 4]])), "point 1 is not finite (inf, -inf)", "root"),
    (lambda v: v.polyline(np.array([[0, 1], [2, math.nan]]), stroke="red"), "polyline: point 1 is not finite (2, nan)", ""),
    (lambda v: v.path("wing"), "path: an outline is needed (got str)", "smooth(points)"),
    (lambda v: v.path("M0 0 Q"), "this is not path data: 'M0 0 Q'", "begins with M"),
    (lambda v: v.circle(1, 2, 3, colour="red"), "colour= is not a paint", 'write fill="red"'),
    (lambda v: v.circle(1, 2, 3, strokewidth=2), "strokewidth= is not a paint", "write stroke_width=2"),
    (lambda v: v.circle(1, 2, 3, fill="reddish"), "fill: 'reddish' is not a colour that CSS knows", "teal"),
    (lambda v: v.circle(1, 2, 3, fill=["red"]), "fill: a colour is", ""),
    (lambda v: v.styled(opacity=1.5), "opacity must be a number from 0 (not seen) to 1 (solid) (got 1.5)", ""),
    (lambda v: v.styled(stroke_width=-1), "stroke_width must be a length in sheet units", ""),
    (lambda v: v.styled(linecap="rounded"), "linecap must be one of butt, round, square", ""),
    (lambda v: v.frame(math.nan, 0), "frame: x must be a finite number (got nan)", ""),
    (lambda v: v.frame(turn="30"), "frame: turn must be a finite number", ""),
    (lambda v: v.frame(scale=0), "frame: scale must be above 0 (got 0)", "mirrored()"),
    (lambda v: v.frame(turn=3, pivot=5), "frame: pivot is a point", "pivot=(40, 60)"),
    (lambda v: v.grid(0, 3), "grid: cols must be a whole number, 1 or more (got 0)", ""),
    (lambda v: v.grid(3, 3, gap=60), "do not fit into 100 by 80", ""),
    (lambda v: v.ring(-1, 3), "ring: count must be a whole number, 0 or more", ""),
    (lambda v: v.ring(3, 3, facing="left"), "facing must be one of out, in, along, up", ""),
    (lambda v: v.inset(40), "a margin of 40 leaves nothing of 100 by 80", "below 40"),
    (lambda v: v.circles([1, 2], [1, 2, 3], 1), "the arrays are of unlike length", ""),
    (lambda v: v.circles([1, 2], 3, [1, -1]), "circles: radius must be 0 or more (got -1 at 1)", ""),
    (lambda v: v.circles([1, math.nan], 3, 1), "circles: x is not finite at 1", ""),
    (lambda v: v.circles([1, 2], 3, 1, fill=["red"]), "circles: 1 colours of fill for 2 shapes", "one for each"),
    (lambda v: v.circles([1, 2], 3, 1, opacity=[0.5, 2]), "circles: opacity must be 0 or more, and at most 1", ""),
    (lambda v: v.circles([1, 2], 3, 1, fill=np.array([[255.0, 0, 0]] * 2)), "numbers from 0 to 1", "divide by 255"),
    (lambda v: v.circles([1, 2], 3, 1, linecap=["round", "butt"]), "linecap is one word for all", ""),
]


@pytest.mark.parametrize(("call", "words", "remedy"), FAULTS)
def test_what_cannot_be_drawn_is_refused_in_words_and_nothing_is_recorded(call: Any, words: str, remedy: str) -> None:
    sheet = blank()
    with pytest.raises(SketchError) as caught:
        call(sheet)
    assert words in caught.value.message
    assert remedy in caught.value.hint
    assert len(sheet.drawing()) == 0


def test_a_mark_beyond_all_numbers_is_told() -> None:
    sheet = blank()
    view: View = sheet
    for _ in range(5):
        view = view.frame(scale=1e100)
    view.circle(1, 1, 1)
    with pytest.raises(SketchError, match="mark 0, a circle, lies too far outside the sheet"):
        fingerprint(sheet.drawing())


def test_the_fingerprint_of_a_drawing_never_changes() -> None:
    def plate(sheet: Sheet) -> None:
        sheet.circle(10, 20, 5, fill="teal", opacity=0.25)
        wing = sheet.frame(50, 40, turn=33, scale=1.5).mirrored()
        wing.path(smooth([(0, 0), (20, -15), (30, 4)], closed=True), stroke="navy", linejoin="round")
        sheet.polyline([(0, 0), (5, 9), (9, 2)], stroke="#123456", stroke_width=0.3)

    assert fingerprint(drawn(plate)) == "0f9c860c637d4bc197e9ca614b42a07a"


def test_the_last_bit_of_a_sine_changes_no_fingerprint_but_a_move_does() -> None:
    def at(x: float) -> str:
        return fingerprint(drawn(lambda sheet: sheet.circle(x, 20, 5)))

    for x in (10.0, 33.3, 1 / 3, math.sin(1) * 90):
        assert at(x) == at(math.nextafter(x, math.inf)) == at(math.nextafter(x, -math.inf))
        assert at(x) != at(x + 0.01)


@pytest.mark.parametrize(
    "changed",
    [
        lambda s: s.circle(10, 20, 5, fill="teal", opacity=0.5),
        lambda s: s.circle(10, 20, 5, fill="#008081"),
        lambda s: s.ellipse(10, 20, 5, 5, fill="teal"),
        lambda s: s.circle(10, 20, 5, fill="teal", stroke="red"),
        lambda s: (s.circle(10, 20, 5, fill="teal"), s.circle(10, 20, 5, fill="teal")),
    ],
)
def test_every_change_of_a_mark_changes_the_fingerprint(changed: Any) -> None:
    assert fingerprint(drawn(changed)) != fingerprint(drawn(lambda sheet: sheet.circle(10, 20, 5, fill="teal")))
