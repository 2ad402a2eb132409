"""Measures of pictures whose looks are known."""

from __future__ import annotations

import itertools
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.arrays import ByteArray
from mothseed.chance import Chance
from mothseed.colour import Colour
from mothseed.colour.oklch import oklab_from_srgb
from mothseed.measure import MEASURES, ReducedBands, appearances, forms_of, reduced, seen, shared_forms, signatures
from mothseed.measure.makeup import makeup_of
from mothseed.render import rendered
from mothseed.series import series_editions
from mothseed.sheet import Sheet
from tests.conftest import Run, WriteSketch
from tests.places import ROOT

WHITE = Colour(1, 1, 1)


def look(pixels: ByteArray, paper: Colour = WHITE) -> dict[str, float]:
    return seen(reduced(pixels), paper).look


def plain(width: int = 200, height: int = 100, colour: tuple[int, ...] = (255, 255, 255)) -> ByteArray:
    return np.full((height, width, len(colour)), colour, np.uint8)


@given(st.integers(1, 700), st.integers(1, 300), st.lists(st.integers(1, 90), max_size=6), st.sampled_from([3, 4]))
def test_a_picture_is_reduced_alike_in_one_piece_and_in_bands(width: int, height: int, cuts: list[int], channels: int) -> None:
    pixels = np.random.default_rng(width).integers(0, 256, (height, width, channels), np.uint8)
    edges = sorted({0, height, *(cut for cut in cuts if cut < height)})
    bands = ReducedBands([pixels[top:bottom] for top, bottom in itertools.pairwise(edges)], width, height)
    for _ in bands:
        pass
    whole = reduced(pixels)
    assert (bands.image == whole).all()
    assert whole.shape[1] == min(width, 192)
    if channels == 3:
        sums = pixels / 255
        for axis, length in enumerate(whole.shape[:2]):
            starts = np.arange(length + 1) * pixels.shape[axis] // length
            sums = np.add.reduceat(sums, starts[:-1], axis=axis) / np.expand_dims(np.diff(starts), (1 - axis, 2))
        assert whole == pytest.approx(sums)


def test_bare_paper_has_nothing_on_it() -> None:
    measures = look(plain(colour=(244, 239, 228)), Colour.parse("#f4efe4"))
    assert list(measures) == list(MEASURES)
    assert (measures["coverage"], measures["detail"], measures["margin"]) == (0, 0, 0.5)
    assert (measures["balance_x"], measures["balance_y"], measures["contrast"]) == (0, 0, 0)


def test_coverage_margin_and_balance_tell_where_it_lies() -> None:
    pixels = plain(400, 200)
    pixels[50:150, 300:380] = (20, 30, 60)
    measures = look(pixels)
    assert measures["coverage"] == pytest.approx(0.1, abs=0.006)
    assert measures["margin"] == pytest.approx(0.05, abs=0.006)
    assert measures["balance_x"] == pytest.approx(0.35, abs=0.006)
    assert measures["balance_y"] == pytest.approx(0, abs=0.006)


def test_lightness_contrast_and_detail() -> None:
    halves = plain(384, 200)
    halves[:, :192] = 0
    measures = look(halves)
    assert measures["lightness"] == pytest.approx(0.5, abs=0.01)
    assert measures["lightness_spread"] == pytest.approx(0.5, abs=0.01)
    assert measures["contrast"] == pytest.approx(1, abs=1e-3)
    stripes = plain(384, 200)
    stripes[:, ::4] = stripes[:, 1::4] = 0
    assert look(stripes)["detail"] > 20 * measures["detail"] > 0
    assert measures["colourfulness"] == 0
    assert measures["hue"] == -1


@pytest.mark.parametrize(("css", "hue"), [("#ff0000", 29), ("#e8e000", 109), ("#00a000", 142), ("#0040ff", 264)])
def test_the_main_hue_is_that_of_most_of_its_colour(css: str, hue: float) -> None:
    levels = [round(part * 255) for part in Colour.parse(css)[:3]]
    pixels = plain()
    pixels[:, :80] = levels
    pixels[:10, 100:120] = (30, 60, 90)
    measures = look(pixels)
    assert abs((measures["hue"] - hue + 180) % 360 - 180) <= 4
    assert measures["colourfulness"] > 0.05


def test_symmetry_is_of_left_and_right() -> None:
    sheet = Sheet(200, 100, "px", WHITE)
    sheet.frame(100, 50).mirrored().circle(40, 10, 22, fill="black")
    assert look(rendered(sheet.drawing(), 400))["symmetry"] > 0.99
    sheet.circle(30, 20, 15, fill="black")
    assert look(rendered(sheet.drawing(), 400))["symmetry"] < 0.8
    halves = plain()
    halves[:, :100] = 0
    assert look(halves)["symmetry"] == pytest.approx(-1)


def test_measures_hardly_depend_on_the_resolution() -> None:
    sheet = Sheet(60, 40, "mm", Colour.parse("#f4efe4"))
    chance = Chance(5)
    for _ in range(60):
        sheet.circle(*chance.point(sheet), chance.between(0.5, 6), fill=chance.colour(), opacity=0.8)
    drawing = sheet.drawing()
    small, large = (look(rendered(drawing, width), drawing.paper) for width in (384, 1920))
    for name in MEASURES:
        assert small[name] == pytest.approx(large[name], abs=0.03 if name != "detail" else 0.3), name


def test_transparent_paper_is_seen_on_white() -> None:
    clear = plain(colour=(0, 0, 0, 0))
    clear[40:60, 90:110] = (200, 30, 30, 255)
    measures = look(clear, Colour(0, 0, 0, 0))
    assert measures["coverage"] == pytest.approx(0.02, abs=0.004)
    assert measures["lightness"] > 0.95


def test_shapes_are_counted_by_their_kind() -> None:
    sheet = Sheet(60, 40, "mm", WHITE)
    sheet.circles([1, 2, 3], [1, 2, 3], 1)
    sheet.mirrored().line(0, 0, 9, 9, stroke="black")
    sheet.ngon(9, 9, 5, 3)
    assert makeup_of(sheet.drawing()) == {"marks": 6, "circles": 3, "lines": 2, "paths": 1}


def test_editions_have_their_measures_in_the_ledger(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    run("edition", "spots.py", "--seeds", "1-6", "--width", "300px", "--jobs", "1", "-o", "s")
    for edition in series_editions(Path("s")):
        assert set(MEASURES) <= set(edition.measures)
        assert edition.measures["circles"] == edition.measures["marks"] == 5
    most: Any = run("table", "s", "--sort", "coverage desc", "--columns", "seed,coverage", "--csv").out.split()[1:]
    covered = [float(row.split(",")[1]) for row in most]
    assert covered == sorted(covered, reverse=True)
    assert "coverage" not in run("table", "s").out.split()
    assert all(len(edition.appearance) == 768 and len(edition.forms) == 256 for edition in series_editions(Path("s")))
    assert "#f4efe4 95%" in run("table", "s", "--columns", "seed,palette").out


def drawn(seed: int, tint: str = "teal", marks: int = 300) -> Sheet:
    sheet, chance = Sheet(60, 40, "mm", WHITE), Chance(seed)
    for index in range(marks):
        own = chance("mark", index)
        if index % 2:
            sheet.circle(*own.point(sheet), own.between(0.5, 4), fill=tint)
        else:
            sheet.frame(*own.point(sheet), turn=own.turn()).polygon([(0, 0), (3, 1), (1, own.between(2, 4))], fill=tint)
    return sheet


def test_appearances_are_as_far_apart_as_the_pictures() -> None:
    half = plain(320, 160)
    half[:, 160:] = 0
    kept = [
        seen(reduced(pixels), WHITE).appearance for pixels in (plain(320, 160), plain(320, 160, (0, 0, 0)), half, plain(3, 2))
    ]
    white, black, halves, tiny = appearances(kept)
    assert np.linalg.norm(white - black) == pytest.approx(1, abs=1e-3)
    assert np.linalg.norm(white - halves) == pytest.approx(0.5**0.5, abs=1e-3)
    assert np.linalg.norm(white - tiny) == 0
    red, blue = (np.array(Colour.parse(css)[:3]) for css in ("#c9663d", "#1b2a41"))
    pair = appearances([seen(np.tile(each, (20, 20, 1)), WHITE).appearance for each in (red, blue)])
    exact = np.linalg.norm(np.diff(oklab_from_srgb(np.array([red, blue])), axis=0))
    assert np.linalg.norm(pair[0] - pair[1]) == pytest.approx(exact, abs=4e-3)


def test_forms_are_those_without_their_paint() -> None:
    plain_one, tinted = forms_of(drawn(1).drawing()), forms_of(drawn(1, "red").drawing())
    assert plain_one == tinted
    assert len(plain_one) == 256
    assert forms_of(drawn(1, marks=0).drawing()) == bytes(256)


@pytest.mark.parametrize("marks", [40, 300, 4000])
@pytest.mark.parametrize("share", [0.0, 0.3, 0.9])
def test_the_shared_part_of_forms_is_told(marks: int, share: float) -> None:
    common = round(share * marks)
    both = [drawn(9, marks=common) for _ in range(2)]
    for sheet, chance in zip(both, (Chance(1), Chance(2)), strict=True):
        for _ in range(marks - common):
            sheet.circle(*chance.point(sheet), chance.between(0.5, 4))
    first, second = signatures([forms_of(sheet.drawing()) for sheet in both])
    told = shared_forms(first[None], second[None])
    assert told[0, 0] == pytest.approx(common / (2 * marks - common), abs=0.13)
    assert shared_forms(first[None], first[None])[0, 0] == 1


def test_the_palette_has_the_colours_in_use() -> None:
    pixels = plain(200, 100, (244, 239, 228))
    pixels[:, :50] = (27, 42, 65)
    pixels[:20, 150:] = (201, 102, 61)
    palette = dict(seen(reduced(pixels), WHITE).palette)
    assert palette == pytest.approx({"#f4efe4": 0.7, "#1b2a41": 0.25, "#c9663d": 0.05}, abs=0.01)


def test_every_measure_is_explained_in_the_docs() -> None:
    text = (ROOT / "docs" / "measures.md").read_text(encoding="utf-8")
    for name, words in MEASURES.items():
        assert f"| `{name}` | {words} |" in text
