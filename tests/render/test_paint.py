"""Ramps, blends, layers, clips, dashes and shadows, as they look."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mothseed.colour import Colour, linear_ramp, radial_ramp
from mothseed.colour.oklch import mixed
from mothseed.faults import SketchError, UsageError
from mothseed.geometry import ngon, smooth
from mothseed.render import rendered
from mothseed.render.scene.assemble import prepared
from mothseed.render.scene.bins import binned
from mothseed.render.threads import Threads
from mothseed.sheet import Sheet, fingerprint, soft_shadow
from mothseed.sheet.blends import BLENDS
from tests.reference import coverage, ink_sheet, same_picture

ANYTHING: Any = 3


def white(width: float = 40, height: float = 40) -> Sheet:
    return Sheet(width, height, "px", Colour(1, 1, 1))


def pixel(sheet: Sheet, x: int, y: int) -> list[int]:
    values: list[int] = rendered(sheet.drawing(), int(sheet.width))[y, x].tolist()
    return values


def test_a_linear_ramp_runs_from_end_to_end_and_stays_even_beyond() -> None:
    sheet = white(100, 10)
    first, second = Colour.parse("#14213d"), Colour.parse("#e8b44f")
    sheet.rect(0, 0, 100, 10, fill=linear_ramp((20, 0), (80, 0), [first, second]))
    row = rendered(sheet.drawing(), 100)[5]
    assert row[5].tolist() == row[19].tolist() == [0x14, 0x21, 0x3D]
    assert row[90].tolist() == [0xE8, 0xB4, 0x4F]
    for x in (30, 50, 77):
        expected = np.array(mixed(first, second, (x + 0.5 - 20) / 60)[:3]) * 255
        assert np.abs(row[x] - expected).max() <= 1


def test_a_ramp_lies_in_the_view_that_it_is_painted_on() -> None:
    sheet = white(60, 60)
    sheet.frame(30, 30, turn=90, scale=2).rect(-15, -15, 30, 30, fill=linear_ramp((-15, 0), (15, 0), ["black", "white"]))
    column = rendered(sheet.drawing(), 60)[:, 30, 0].astype(int)
    assert (np.diff(column) >= 0).all()
    assert column[0] < 10
    assert column[-1] > 245


def test_a_radial_ramp_runs_outwards_and_fades_with_its_alpha() -> None:
    sheet = white(41, 41)
    sheet.circle(20.5, 20.5, 20, fill=radial_ramp((20.5, 20.5), 20, ["#000000", "#00000000"]))
    row = rendered(sheet.drawing(), 41)[20, :, 0].astype(int)
    assert row[20] < 12
    assert (np.diff(row[20:]) >= 0).all()
    assert np.abs(row - row[::-1]).max() <= 1


def test_a_plain_colour_takes_the_place_of_a_ramp_of_the_view() -> None:
    sheet = white()
    ramped = sheet.styled(fill=linear_ramp((0, 0), (40, 0), ["black", "white"]))
    ramped.rect(0, 0, 40, 20, fill="#336699")
    ramped.rects([0], 20, 40, 20, fill=["#996633"])
    assert pixel(sheet, 5, 5) == [0x33, 0x66, 0x99]
    assert pixel(sheet, 5, 30) == [0x99, 0x66, 0x33]


def test_paper_may_be_a_ramp_below_everything() -> None:
    sheet = Sheet(40, 40, "px", linear_ramp((0, 0), (0, 40), ["#000000", "#ffffff"]))
    sheet.layer("under").rect(0, 0, 10, 10, fill="red")
    assert pixel(sheet, 5, 5) == [255, 0, 0]
    assert pixel(sheet, 20, 39)[0] > 240


BACK, SOURCE = (0.8, 0.4, 0.2), (0.3, 0.6, 0.9)
BLENDED = {
    "normal": SOURCE,
    "multiply": (0.24, 0.24, 0.18),
    "screen": (0.86, 0.76, 0.92),
    "overlay": (0.72, 0.48, 0.36),
    "darken": (0.3, 0.4, 0.2),
    "lighten": (0.8, 0.6, 0.9),
    "color-dodge": (1, 1, 1),
    "color-burn": (1 / 3, 0, 1 - 0.8 / 0.9),
    "hard-light": (0.48, 0.52, 0.84),
    "soft-light": (0.736, 0.4 + 0.2 * (0.4**0.5 - 0.4), 0.2 + 0.8 * (((16 * 0.2 - 12) * 0.2 + 4) * 0.2 - 0.2)),
    "difference": (0.5, 0.2, 0.7),
    "exclusion": (0.62, 0.52, 0.74),
}


@pytest.mark.parametrize("mode", BLENDS)
@pytest.mark.parametrize("alpha", [1.0, 0.5])
def test_blend_modes_are_those_of_the_standard(mode: str, alpha: float) -> None:
    sheet = white()
    sheet.rect(0, 0, 40, 40, fill=Colour(*BACK))
    sheet.rect(0, 0, 40, 40, fill=Colour(*SOURCE), blend=mode, opacity=alpha)
    expected = np.array(BLENDED.get(mode, _not_separable(mode)))
    assert np.abs(np.array(pixel(sheet, 20, 20)) / 255 - (expected * alpha + np.array(BACK) * (1 - alpha))).max() <= 1 / 255


def _not_separable(mode: str) -> Any:
    """The formulas of section 10.2, written down plainly."""

    def luminosity(c: Any) -> float:
        return float(0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2])

    def set_luminosity(c: Any, wanted: float) -> Any:
        c = np.array(c) + wanted - luminosity(c)
        if c.min() < 0:
            c = wanted + (c - wanted) * wanted / (wanted - c.min())
        if c.max() > 1:
            c = wanted + (c - wanted) * (1 - wanted) / (c.max() - wanted)
        return c

    def set_saturation(c: Any, wanted: float) -> Any:
        return (np.array(c) - min(c)) * wanted / (max(c) - min(c))

    match mode:
        case "hue":
            return set_luminosity(set_saturation(SOURCE, max(BACK) - min(BACK)), luminosity(BACK))
        case "saturation":
            return set_luminosity(set_saturation(BACK, max(SOURCE) - min(SOURCE)), luminosity(BACK))
        case "color":
            return set_luminosity(SOURCE, luminosity(BACK))
    return set_luminosity(BACK, luminosity(SOURCE))


def test_a_layer_fades_as_one_and_lies_where_it_was_made() -> None:
    sheet = white()
    ink = sheet.layer("ink", opacity=0.5)
    sheet.rect(0, 20, 40, 20, fill="#00ff00")
    ink.rect(0, 0, 30, 40, fill="#ff0000")
    ink.rect(10, 0, 30, 40, fill="#0000ff")
    assert pixel(sheet, 5, 5) == [255, 128, 128]
    assert pixel(sheet, 20, 5) == [128, 128, 255], "what lies below in the layer does not shine through"
    assert pixel(sheet, 20, 30) == [0, 255, 0], "the layer lies below what was drawn after it was made"


def test_a_layer_is_the_same_when_it_is_asked_for_again_and_can_be_left_out() -> None:
    sheet = white()
    sheet.layer("ink").circle(10, 10, 5)
    sheet.circle(20, 20, 5)
    sheet.layer("ink").circle(30, 30, 5)
    sheet.layer("ink").layer("inner").circle(5, 5, 2)
    drawing = sheet.drawing()
    assert drawing.layers == ("ink", "inner")
    assert drawing.marks["place"][:, 0].tolist() == [10, 30, 5, 20]
    assert len(drawing.without(["ink"])) == 1
    assert len(drawing.without(["inner"])) == 3
    with pytest.raises(UsageError, match="has no layer inkk; its layers are ink, inner"):
        drawing.without(["inkk"])
    with pytest.raises(SketchError, match="layer ink is there already"):
        sheet.layer("ink", opacity=0.3)
    with pytest.raises(SketchError, match="a layer has a name"):
        sheet.layer("")
    with pytest.raises(SketchError, match="blend must be one of normal, multiply"):
        sheet.layer("x", blend="glow")


def test_a_layer_blends_as_a_whole_over_tiles_and_transparent_paper() -> None:
    sheet = Sheet(150, 70, "px", Colour(1, 1, 1, 0))
    sheet.rect(0, 0, 150, 35, fill="#cc6633")
    sheet.layer("light", blend="multiply").circle(75, 35, 60, fill="#4d99e6")
    pixels = rendered(sheet.drawing(), 150)
    assert pixels[20, 75].tolist() == pytest.approx([0xCC * 0x4D / 255, 0x66 * 0x99 / 255, 0x33 * 0xE6 / 255, 255], abs=1)
    assert pixels[50, 75].tolist() == [0x4D, 0x99, 0xE6, 255], "on nothing it is as it is"
    assert pixels[69, 0].tolist() == [0, 0, 0, 0]


def test_of_a_clipped_view_only_what_lies_within_is_seen() -> None:
    sheet = ink_sheet(100, 100)
    disc = smooth([(50, 20), (80, 50), (50, 80), (20, 50)], closed=True)
    sheet.clipped(disc).rect(0, 0, 100, 50)
    sheet_of_disc = ink_sheet(100, 100)
    sheet_of_disc.path(disc)
    expected = coverage(sheet_of_disc)
    expected[50:] = 0
    assert np.abs(coverage(sheet) - expected).max() <= 1 / 255 + 1e-9
    nothing = ink_sheet(100, 100)
    nothing.clipped(disc.moved(500, 0)).rect(0, 0, 100, 100)
    assert coverage(nothing).max() == 0


@pytest.mark.parametrize("mode", BLENDS)
def test_a_blended_shape_is_the_same_in_many_tiles_as_in_one(mode: str) -> None:
    """What lies at the rim of a tile, of a block or of the shape is blended as what lies elsewhere is."""
    for paper in (Colour(0.9, 0.8, 0.7), Colour(0.2, 0.4, 0.6, 0.5)):
        near, far = (Sheet(150, 40, "px", paper) for _ in range(2))
        for sheet, offset in ((near, 0), (far, 57)):
            sheet.rect(offset + 4, 4, 40, 20, fill="#804020")
            sheet.circle(offset + 24.3, 20.6, 14, fill="#3080d0c0", blend=mode)
        first, second = (rendered(sheet.drawing(), 150).astype(int) for sheet in (near, far))
        assert np.abs(first[:, :50] - second[:, 57:107]).max() <= 1


def test_one_clip_leaves_nothing_behind_for_the_next() -> None:
    """The outline reaches into tiles where the first group has no marks."""
    outline = smooth([(10, 10), (190, 60), (180, 190), (20, 150)], closed=True, tension=1)
    sheet, shape = ink_sheet(200, 200), ink_sheet(200, 200)
    sheet.clipped(outline).rect(0, 0, 60, 60)
    sheet.clipped(outline.moved(0, 2)).rect(0, 0, 200, 200)
    shape.path(outline.moved(0, 2))
    shape.clipped(outline).rect(0, 0, 60, 60)
    assert np.abs(coverage(sheet) - coverage(shape))[70:].max() <= 1 / 255


def test_what_lies_beyond_a_clip_is_on_no_tile_and_changes_nothing() -> None:
    ramp = linear_ramp((0, 0), (0, 300), ["navy", "white"])
    drawings = []
    for reach in (0, 300):  # once without what lies beyond
        sheet = Sheet(320, 320, "px", Colour(1, 0.9, 0.8))
        sheet.circle(160, 160, 150, fill="gold")
        lamp = sheet.clipped(ngon(5, radius=40).moved(80, 80))
        for view in (lamp, lamp.clipped(ngon(3, radius=30).moved(100, 100)), lamp.layer("glow", blend="multiply", opacity=0.7)):
            view.rect(60, 60, 30 + reach, 30, fill=ramp)
            for x in (90, *([260] if reach else [])):
                view.circle(x, 100, 25, fill="teal", stroke="black", opacity=0.5)
                view.polygon([(x, 70), (x + 30, 90), (x, 130)], fill="white", shadow=soft_shadow(6, 8))
        drawings.append(sheet.drawing())
    small, large = (rendered(drawing, 320).astype(int) for drawing in drawings)
    assert np.abs(small - large)[:, :90].max() <= 1
    primitives = prepared(drawings[1], 1.0, Threads(1))
    bins = binned(primitives, 320, 320, Threads(1))
    beyond = [tile for tile in range(25) if tile % 5 > 1 or tile > 9]  # tiles of 64 pixels, five in a row
    assert all(bins.first_item[tile + 1] - bins.first_item[tile] == 1 for tile in beyond if tile not in (20, 24, 4))


def test_clips_lie_in_clips_and_turn_with_their_view_and_mirror() -> None:
    sheet = ink_sheet(80, 40)
    half = sheet.frame(40, 20).mirrored()
    box = smooth([(5, -10), (25, -10), (25, 10), (5, 10)], closed=True, tension=1)
    inner = half.clipped(box).clipped(box.moved(10, 0))
    inner.rect(-40, -20, 80, 40)
    hits = np.argwhere(coverage(sheet) > 0.5)
    assert hits[:, 0].min() == 10
    assert hits[:, 0].max() == 29
    columns = sorted(set(hits[:, 1].tolist()))
    assert columns == [*range(15, 25), *range(55, 65)]


def test_an_even_odd_fill_leaves_out_what_is_covered_twice() -> None:
    star = smooth([(50, 5), (80, 95), (5, 38), (95, 38), (20, 95)], closed=True, tension=1)
    whole, hollow = ink_sheet(100, 100), ink_sheet(100, 100)
    whole.path(star)
    hollow.path(star, fill_rule="evenodd")
    assert coverage(whole)[50, 50] == 1
    assert coverage(hollow)[50, 50] == 0
    assert coverage(hollow)[15, 50] == coverage(whole)[15, 50] == 1


def test_dashes_leave_gaps_of_the_length_they_say() -> None:
    sheet = ink_sheet(100, 20)
    sheet.line(0, 10, 100, 10, stroke="black", stroke_width=4, dash=(6, 4))
    row = coverage(sheet)[10]
    assert [int(value) for value in row[:20]] == [1] * 6 + [0] * 4 + [1] * 6 + [0] * 4
    assert coverage(sheet).sum() == pytest.approx(60 * 4)
    scaled = ink_sheet(100, 20)
    scaled.frame(scale=2).line(0, 5, 50, 5, stroke="black", stroke_width=2, dash=(3, 2))
    assert same_picture(rendered(sheet.drawing(), 100), rendered(scaled.drawing(), 100))
    ring = ink_sheet(60, 60)
    ring.circle(30, 30, 20, fill=None, stroke="black", stroke_width=3, dash=(5,))
    assert coverage(ring).sum() == pytest.approx(20 * np.pi * 3, rel=0.05)


@pytest.mark.parametrize("dash", [(), (0, 0), (-1, 2), "3 x", "", 5, (float("nan"), 1)])
def test_a_dash_that_is_none_is_refused(dash: Any) -> None:
    with pytest.raises(SketchError, match="dash is on and off lengths"):
        white().line(0, 0, 9, 9, stroke="black", dash=dash)


@pytest.mark.parametrize("blur", [0.5, 4, 20, 60])
def test_a_shadow_has_no_bands_however_soft(blur: float) -> None:
    """Along the falloff, neighbouring pixels never differ by more than the steepest part of so soft an edge asks for."""
    sheet = Sheet(300, 120, "px", Colour(1, 1, 1))
    sheet.rect(-400, -300, 550, 900, fill="black", shadow=soft_shadow(0, blur, opacity=1))
    row = rendered(sheet.drawing(), 300)[60, 151:, 0].astype(int)
    steps = np.diff(row)
    assert (steps >= 0).all()
    deviation = blur / 2
    steepest = 255 / (deviation * np.sqrt(2 * np.pi))
    assert steps.max() <= np.ceil(steepest) + 1
    assert np.abs(np.diff(steps)).max() <= max(2, np.ceil(steepest / deviation) + 1)
    assert row[-1] == 255 or blur == 60


@pytest.mark.parametrize("blur", [0.7, 9, 50])
def test_of_a_shadow_that_reaches_off_the_sheet_the_rest_is_as_it_would_be(blur: float) -> None:
    for x, y in ((-20, 20), (50, -9), (58, 55), (-70, -40), (20, 20)):
        part, whole = white(64, 64), white(192, 192)
        for sheet, offset in ((part, 0), (whole, 64)):
            sheet.rect(x + offset, y + offset, 30, 17, fill=None, stroke="teal", shadow=soft_shadow(4, blur))
        seen = rendered(whole.drawing(), 192)[64:128, 64:128].astype(int)
        assert np.abs(rendered(part.drawing(), 64) - seen).max() <= 1


def test_all_shadows_fall_the_way_the_sheets_light_says_however_their_view_turns() -> None:
    for light, offset in ((0, (8, 0)), (90, (0, 8)), (225, (-8 * 0.5**0.5, -8 * 0.5**0.5))):
        sheet = Sheet(80, 80, "px", Colour(1, 1, 1), light)
        sheet.frame(40, 40, turn=77).mirrored().circle(0, 0, 10, fill="#ffffff00", shadow=soft_shadow(8, 2, opacity=0.5))
        dark = 1 - rendered(sheet.drawing(), 80)[..., 0] / 255
        y, x = (np.indices(dark.shape) + 0.5) * dark / dark.sum()
        assert (x.sum(), y.sum()) == pytest.approx((40 + offset[0], 40 + offset[1]), abs=0.2)


def test_a_shadow_is_cast_by_fill_and_stroke_and_lies_below_both() -> None:
    sheet = white(60, 60)
    sheet.circle(30, 30, 10, fill="#ff0000", stroke="#0000ff", stroke_width=4, shadow=soft_shadow(6, 1))
    assert pixel(sheet, 30, 30) == [255, 0, 0]
    assert pixel(sheet, 30 + 13, 30 + 5)[0] < 255
    assert fingerprint(sheet.drawing()) != fingerprint(white(60, 60).drawing())


def test_no_shadow_is_cast_by_a_hole() -> None:
    for rule, dark in (("evenodd", 0.0), ("nonzero", 1.0)):
        sheet = ink_sheet(80, 80)
        ring = ngon(40, radius=30).joined(ngon(40, radius=18)).moved(40, 40)
        sheet.path(ring, fill="#00000000", fill_rule=rule, shadow=soft_shadow(0, 1, "black", 1))
        assert coverage(sheet)[40, 40] == pytest.approx(dark, abs=0.01)
        assert coverage(sheet)[40, 16] > 0.99


def test_groups_and_shadows_give_the_same_pixels_on_any_number_of_threads() -> None:
    sheet = white(200, 150)
    for index in range(12):
        layer = sheet.layer(f"l{index % 4}", opacity=0.7, blend=BLENDS[index % 4])
        shade = soft_shadow(3, 5 + index % 4)
        layer.circle(20 + index * 14, 75, 30, fill=radial_ramp((20 + index * 14, 75), 30, ["teal", "gold"]), shadow=shade)
    drawing = sheet.drawing()
    assert same_picture(rendered(drawing, 700, threads=1), rendered(drawing, 700, threads=3))


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda: linear_ramp((0, 0), (0, 0), ["red", "blue"]), "same point"),
        (lambda: linear_ramp((0, 0), (1, 0), ["red"]), "at least two colours"),
        (lambda: linear_ramp((0, 0), (1, 0), ["red", "blue"], at=[0.5, 0.2]), "places rise from 0 to 1"),
        (lambda: linear_ramp((0, 0), (1, 0), ["red", "blue"], at=[0.5]), "2 colours but 1 places"),
        (lambda: linear_ramp(ANYTHING, (1, 0), ["red", "blue"]), "start is a point"),
        (lambda: radial_ramp((0, 0), 0, ["red", "blue"]), "radius must be above 0"),
        (lambda: soft_shadow(-1, 2), "soft_shadow: distance must be 0 or more (got -1)"),
        (lambda: soft_shadow(1, 2, opacity=2), "opacity must be a number"),
        (lambda: white().circle(1, 1, 1, shadow=ANYTHING), "shadow is a soft_shadow or None"),
        (lambda: white().clipped(ANYTHING), "an outline is needed (got int)"),
    ],
)
def test_paint_that_cannot_be_is_refused_in_words(make: Any, words: str) -> None:
    with pytest.raises(SketchError) as caught:
        make()
    assert words in caught.value.message
