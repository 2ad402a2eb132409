"""Guides, and one drawing over another."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.arrays import ByteArray
from mothseed.colour import Colour
from mothseed.geometry import ngon
from mothseed.render import rendered
from mothseed.sheet import Sheet, soft_shadow
from mothseed.sheet.derive import CLEAR, laid_over
from mothseed.sheet.guides import grid_step, guided
from tests.conftest import Run, WriteSketch, pixels_of


def sheet_of(paper: Colour) -> Sheet:
    return Sheet(60, 40, "mm", paper)


def lower(sheet: Sheet) -> None:
    sheet.rect(0, 0, 60, 20, fill="teal")
    sheet.layer("veil", opacity=0.5).path(ngon(5, radius=9).moved(20, 20), fill="red")
    sheet.clipped(ngon(4, radius=12).moved(40, 20)).circle(40, 20, 30, fill="gold", shadow=soft_shadow(1, 1))


def upper(sheet: Sheet) -> None:
    sheet.frame(30, 20, turn=30).path(ngon(3, radius=7), fill=None, stroke="black", dash=(2, 1))
    sheet.layer("mist", opacity=0.4).frame(9, 9, scale=2).circle(0, 0, 4, fill="navy")
    sheet.clipped(ngon(6, radius=5).moved(50, 30)).rect(0, 0, 60, 40, fill="violet")


def test_one_drawing_over_another_is_as_if_all_were_drawn_on_one() -> None:
    white = Colour(1, 1, 1)
    both, one, other = sheet_of(white), sheet_of(white), sheet_of(CLEAR)
    for sheet, draws in ((both, (lower, upper)), (one, (lower,)), (other, (upper,))):
        for draw in draws:
            draw(sheet)
    joined = laid_over(one.drawing(), other.drawing())
    assert np.array_equal(rendered(joined, 300), rendered(both.drawing(), 300))
    assert sorted(joined.order.tolist()) == list(range(len(joined)))
    assert joined.layers == ("veil", "mist")


@given(st.floats(1e-3, 1e5))
def test_the_grid_has_about_twelve_lines(longer: float) -> None:
    step = grid_step(longer)
    assert 4 <= longer / step <= 12.0001
    assert f"{step:e}"[0] in "125"


def coloured(picture: ByteArray, css: str) -> np.ndarray[tuple[int, int], np.dtype[np.bool]]:
    wanted = np.array(Colour.parse(css)[:3]) * 255
    return np.asarray(np.abs(picture.astype(float) - wanted).sum(axis=2) < 60)


def test_guides_show_frames_outlines_and_boxes() -> None:
    sheet = sheet_of(Colour(1, 1, 1))
    sheet.frame(30, 20, turn=90).circle(0, 0, 8, fill="#dddddd")
    picture = rendered(guided(sheet.drawing()), 1600)
    rows, columns = np.nonzero(coloured(picture, "#c8392f"))
    assert rows.max() - rows.min() > 40, "the frame's x axis points down"
    assert abs(columns.mean() - 800) < 15
    ring = np.argwhere(coloured(picture, "#7b4fb0"))
    radii = np.hypot(ring[:, 0] - 20 / 60 * 1600, ring[:, 1] - 800) / 1600 * 60
    assert radii.min() == pytest.approx(8, abs=0.3)
    box = np.argwhere(coloured(picture, "#c9761b"))
    assert box[:, 1].min() == pytest.approx((30 - 8) / 60 * 1600, abs=4)


def test_of_very_many_only_what_leaves_the_picture_visible_is_shown() -> None:
    sheet = sheet_of(Colour(1, 1, 1))
    for place in sheet.grid(60, 40):
        place.circle(0, 0, 0.3, fill="#dddddd")
    picture = rendered(guided(sheet.drawing()), 1200)
    assert not coloured(picture, "#7b4fb0").any()
    assert coloured(picture, "#c8392f").any(), "centres of cells"
    assert len(guided(sheet_of(Colour(1, 1, 1)).drawing())) > 10, "a bare sheet has its grid"


def test_a_proof_with_guides(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    run("proof", "spots.py", "-o", "plain.png", "--width", "600px")
    answer = run("proof", "spots.py", "--guides", "-o", "guides.png", "--width", "600px")
    assert answer.status == 0
    assert "5 marks" in answer.out
    assert (pixels_of("plain.png") != pixels_of("guides.png")).any(axis=2).mean() > 0.02
    assert "made from the same sketch" in run("compare", "plain.png", "guides.png").out


def test_guides_lie_over_every_picture_of_a_sweep_and_a_replay(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    for command in (["sweep", "spots.py", "--vary", "count=1,3"], ["replay", "spots.py", "--frames", "3", "--width", "90px"]):
        name = f"{command[0]}.png"
        assert run(*command, "-o", name).status == 0
        assert run(*command, "--guides", "-o", "guided.png").status == 0
        plain, guides = pixels_of(name), pixels_of("guided.png")
        assert plain.shape == guides.shape
        assert (plain != guides).any(axis=-1).mean() > 0.02
