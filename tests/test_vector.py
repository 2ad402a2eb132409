"""Pictures as shapes: what a browser shows of an SVG, and poppler of a PDF, is what is rendered here."""

from __future__ import annotations

import io
import json
import os
import re
import shutil
import subprocess
from pathlib import Path
from typing import Any
from xml.etree import ElementTree as ET

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Browser

from mothseed import Colour, annulus, linear_ramp, ngon, radial_ramp, smooth, soft_shadow, star
from mothseed.arrays import FloatArray
from mothseed.render import rendered
from mothseed.sheet import Drawing, Sheet
from mothseed.sheet.finish import BLENDS
from mothseed.sketch import load_sketch, perform
from mothseed.sketch.history import History
from mothseed.vector.numbers import several, written
from mothseed.vector.pdf import as_pdf
from mothseed.vector.svg import as_svg
from tests.conftest import Run, WriteSketch

ROOT = Path(__file__).parents[1]
DEMO = ROOT / "src" / "mothseed" / "demo"
FINE = 3
"""Pixels of a browser to one that is looked at, either way: how it smooths an edge is its own affair."""
BLOCK = 12

WING = smooth([(0, 0), (9, -8), (11, -2), (4, 3)], closed=True)


def reduced(pixels: FloatArray) -> FloatArray:
    height, width = (side // FINE for side in pixels.shape[:2])
    whole = pixels[: height * FINE, : width * FINE]
    mean: FloatArray = whole.reshape(height, FINE, width, FINE, -1).mean(axis=(1, 3))
    return mean


def in_browser(browser: Browser, svg: str, width: int, height: int, folder: Path) -> FloatArray:
    """A picture of shapes as a browser shows it, on nothing: float64 (height, width, 4), 0 to 255, premultiplied."""
    (folder / "shown.svg").write_text(svg, encoding="utf-8")
    (folder / "shown.html").write_text(f'<body style="margin:0"><img src="shown.svg" style="display:block;width:{width}px">')
    page = browser.new_page(viewport={"width": width, "height": height}, device_scale_factor=FINE)
    page.goto((folder / "shown.html").as_uri())
    shot = np.asarray(Image.open(io.BytesIO(page.screenshot(omit_background=True))).convert("RGBA")).astype(np.float64)
    page.close()
    shot[..., :3] *= shot[..., 3:] / 255
    return reduced(shot)


def by_poppler(pdf: bytes, width: int, height: int, folder: Path) -> FloatArray:
    """A PDF as poppler shows it on white, as `in_browser` gives it."""
    program = shutil.which("pdftoppm")
    if program is None and not os.environ.get("CI"):
        pytest.skip("poppler is not installed; Debian has it as the package poppler-utils")
    (folder / "shown.pdf").write_bytes(pdf)
    size = ["-scale-to-x", str(width * FINE), "-scale-to-y", str(height * FINE)]
    subprocess.run([str(program), "-png", "-singlefile", *size, folder / "shown.pdf", folder / "shown"], check=True)
    shown = np.asarray(Image.open(folder / "shown.png").convert("RGBA")).astype(np.float64)
    return reduced(shown)


def assert_alike(drawing: Drawing, theirs: FloatArray, width: int, folder: Path, most: float) -> None:
    """Hold what is shown of a drawing against our own pixels: nearly the same all in all, and nowhere another picture."""
    ours = rendered(drawing, width * FINE).astype(np.float64)
    if ours.shape[2] == 3:
        ours = np.concatenate([ours, np.full((*ours.shape[:2], 1), 255.0)], axis=2)
    ours[..., :3] *= ours[..., 3:] / 255
    ours = reduced(ours)
    difference = np.abs(ours - theirs).max(axis=2)
    rows, columns = difference.shape[0] // BLOCK, difference.shape[1] // BLOCK
    blocks = difference[: rows * BLOCK, : columns * BLOCK].reshape(rows, BLOCK, columns, BLOCK).mean(axis=(1, 3))
    worst = np.unravel_index(blocks.argmax(), blocks.shape)
    evidence = folder / "difference.png"
    Image.fromarray(np.concatenate([ours, theirs], axis=1)[..., :3].clip(0, 255).astype(np.uint8)).save(evidence)
    assert np.abs(ours - theirs).mean() < 1, evidence
    assert blocks.max() < most, f"about {worst[1] * BLOCK}, {worst[0] * BLOCK}: {evidence}"


WIDTH = 600
SKETCHES = ["specimen", "drawer", "lamp", "lattice", "flights", "scales", "register"]


def height_of(drawing: Drawing) -> int:
    return round(WIDTH * drawing.height / drawing.width)


@pytest.mark.parametrize("name", SKETCHES)
def test_the_demo_is_the_same_in_a_browser_and_in_a_pdf(browser: Browser, name: str, tmp_path: Path) -> None:
    drawing = perform(load_sketch(DEMO / f"{name}.py"), 5).drawing
    height = height_of(drawing)
    assert_alike(drawing, in_browser(browser, as_svg(drawing), WIDTH, height, tmp_path), WIDTH, tmp_path, 5.0)
    assert_alike(drawing, by_poppler(as_pdf(drawing), WIDTH, height, tmp_path), WIDTH, tmp_path, 8.0)


def page_of_everything(paper: str | None = "#f4efe4") -> Sheet:
    """Every kind of shape, frame, paint and group."""
    sheet = Sheet(120, 80, "mm", Colour.parse(paper) if paper else Colour(0, 0, 0, 0), light=30)
    dusk = sheet.picture(DEMO / "dusk.png")
    cells = list(sheet.grid(8, 5))
    ink: dict[str, Any] = {"stroke": "#22203a", "stroke_width": 0.7}
    night = linear_ramp((-6, -6), (6, 6), ["#14213d", "#d9715b99", "#e8b44f"], at=[0.1, 0.6, 0.8])
    cells[0].circle(0, 0, 5, fill="#d9715b80", **ink)
    cells[1].frame(turn=20).ellipse(0, 0, 6, 3, fill=night)
    cells[2].frame(turn=-12, scale=0.8).rect(-6, -5, 12, 10, radius=2, fill="teal", **ink)
    cells[3].frame(skew=25).circle(0, 0, 5, fill=radial_ramp((1, 1), 5, ["#fff3cf", "#7d4f7f00"]), **ink)
    cells[4].frame(skew=-20, scale=0.7).rect(-6, -5, 12, 10, fill=night, dash=(2, 1), **ink)
    cells[5].frame(scale=3, keep_strokes=True).line(-1.5, -1, 1.5, 1, linecap="round", stroke="#22203a", stroke_width=2)
    cells[6].polyline([(-6, 5), (-2, -5), (2, 5), (6, -5)], fill=None, linejoin="round", linecap="square", **ink)
    cells[7].polygon([(-6, 5), (0, -6), (6, 5)], fill="#e8b44f", linejoin="bevel", **{**ink, "stroke_width": 2})
    cells[8].star(0, 0, 5, 6, 2.5, fill="#7d4f7f", fill_rule="evenodd")
    cells[9].path(annulus(6, 3).joined(star(5, 5, 2)), fill="#3a4a63", fill_rule="evenodd", opacity=0.7, **ink)
    cells[10].frame(turn=8).mirrored().path(WING, fill="#9fb08d", shadow=soft_shadow(1, 2))
    cells[11].frame(turn=70, scale=0.6).path(WING, fill=None, shadow=soft_shadow(1.5, 0, "#b03d36", 0.8), **ink)
    cells[12].spun(7).ellipse(0, -4, 0.8, 2.4, fill="#d9715b", opacity=0.6)
    cells[13].text(0, 2, "Moth", 5, align="middle", italic=True)
    cells[14].circles([-3, 0, 3], [0, 2, 0], [2, 3, 2], fill=np.array([(1, 0, 0), (1, 0.8, 0), (0, 0.5, 0.5)]), opacity=0.5)
    cells[15].arc(0, 0, 5, 20, 250, kind="sector", fill="#e8b44f", dash=(1, 0.5, 0.2), **ink)
    for number, outside in enumerate(("pad", "repeat", "reflect", "none")):
        cell = cells[16 + number]
        laid = cell.picture(DEMO / "dusk.png", outside=outside, smooth=number % 2 == 0).placed((-3, -2, 6, 4))
        cell.rect(-6, -6, 12, 12, fill=laid)
    cells[20].frame(turn=30).stamp(0, 0, dusk.tinted("#ffd0a0"), width=10)
    # Away from row 512 of a screen, where Chromium cuts strokes that are painted with a picture.
    cells[26].circle(0, 0, 4, fill=None, stroke=cells[26].picture(DEMO / "dusk.png"), stroke_width=2)
    cells[22].frame(skew=15).circle(0, 0, 5, fill=cells[22].picture(DEMO / "lichen.png"))
    for step in range(30):
        cells[23].circle(0, 0, 6 - step * 0.2, fill="#e0802f", opacity=0.02)
    under = cells[24].clipped(ngon(6, radius=6)).clipped(annulus(7, 3), fill_rule="evenodd")
    under.rect(-7, -8, 14, 16, fill=night)
    under.circle(2, 2, 3, fill="teal")
    for number, blend in enumerate(BLENDS):
        layer = sheet.layer(f"{blend} on", opacity=0.8, blend=blend if number % 2 else "normal")
        place = 3 + number * 7.4
        sheet.rect(place, 60, 6, 8, fill="#7d4f7f")
        layer.circle(place + 3, 68, 3.4, fill="#e8b44f", blend=blend)
    return sheet


@pytest.mark.parametrize("paper", ["#f4efe4", "#14213d80", None])
def test_every_feature_is_the_same_in_a_browser(browser: Browser, paper: str | None, tmp_path: Path) -> None:
    drawing = page_of_everything(paper).drawing()
    shown = in_browser(browser, as_svg(drawing), WIDTH, height_of(drawing), tmp_path)
    # Beyond its edge a picture that is shown small is drawn out from a smaller copy here, and from itself there.
    assert_alike(drawing, shown, WIDTH, tmp_path, 7.0)


def test_every_feature_is_the_same_in_a_pdf(tmp_path: Path) -> None:
    drawing = page_of_everything().drawing()
    # Poppler has a formula of its own for the blend mode "saturation", in whole numbers.
    assert_alike(drawing, by_poppler(as_pdf(drawing), WIDTH, height_of(drawing), tmp_path), WIDTH, tmp_path, 20.0)


def test_a_pdf_is_a_page_as_large_as_the_sheet_and_always_the_same(run: Run, write_sketch: WriteSketch, tmp_path: Path) -> None:
    write_sketch()
    answer = run("proof", "spots.py", "--seed", "lamp", "-o", "spots.pdf")
    assert answer.status == 0
    assert "spots.pdf  60 x 40 mm, 5 marks" in answer.out
    content = (tmp_path / "spots.pdf").read_bytes()
    assert content.startswith(b"%PDF-1.7")
    run("proof", "spots.py", "--seed", "lamp", "-o", "again.pdf")
    assert (tmp_path / "again.pdf").read_bytes() == content
    told = subprocess.run(["pdfinfo", "spots.pdf"], cwd=tmp_path, capture_output=True, text=True, check=True).stdout
    assert "Pages:           1" in told
    size = re.search(r"Page size: +([\d.]+) x ([\d.]+) pts", told)
    assert size is not None
    assert [float(side) / 72 * 25.4 for side in size.groups()] == pytest.approx([60, 40], abs=0.01)
    subject = re.search(r"Subject: +(.*)", told)
    assert subject is not None
    assert json.loads(subject[1])["seed"] == "lamp"
    assert "a PDF is as large as its sheet" in run("proof", "spots.py", "-o", "c.pdf", "--dpi", "300").err
    assert as_pdf(Sheet(10, 10, "in", Colour(1, 1, 1)).drawing()).startswith(b"%PDF")


ELEMENTS = {
    "svg", "metadata", "style", "defs", "g", "rect", "circle", "ellipse", "line", "polyline", "polygon", "path", "image",
    "clipPath", "pattern", "linearGradient", "radialGradient", "stop", "filter", "feGaussianBlur", "feOffset", "feFlood",
    "feComposite",
}  # fmt: skip
"""What is used of the elements of SVG 2 and Filter Effects 1."""


def test_it_is_well_formed_and_all_that_is_referred_to_is_there_once() -> None:
    text = as_svg(page_of_everything().drawing(), '{"a": "<&>"}')
    root = ET.fromstring(text)
    space = "{http://www.w3.org/2000/svg}"
    found = {element.tag for element in root.iter()}
    assert found == {space + name for name in ELEMENTS}
    ids = [element.get("id") for element in root.iter() if element.get("id")]
    assert len(ids) == len(set(ids))
    assert set(re.findall(r"url\(#([^)]+)\)", text)) <= set(ids)
    assert set(re.findall(r"url\(#([^)]+)\)", text)) == {name for name in ids if re.fullmatch(r"[crps]\d+", str(name))}
    assert (root.get("width"), root.get("height"), root.get("viewBox")) == ("120mm", "80mm", "0 0 120 80")
    assert root.findtext(f"{space}metadata") == '{"a": "<&>"}'
    assert "multiply-on" in ids
    assert not re.search(r"nan|inf|None", text.replace(text[text.find("base64") :], ""))


def test_paint_that_many_share_is_written_once() -> None:
    sheet = Sheet(100, 100, "mm", Colour(1, 1, 1))
    for place in sheet.grid(30, 30):
        place.circle(0, 0, 1, fill="#d9715b", stroke="#22203a", stroke_width=0.25)
    text = as_svg(sheet.drawing())
    assert text.count("#d9715b") == 1
    assert len(text) < 900 * 75


@pytest.mark.parametrize(
    ("number", "places", "text"),
    [
        (0.5, 3, ".5"),
        (-0.25, 3, "-.25"),
        (10.0, 3, "10"),
        (1.23456, 2, "1.23"),
        (-0.0001, 2, "0"),
        (100, 0, "100"),
        (0.0, 4, "0"),
    ],
)
def test_numbers_are_as_short_as_can_be(number: float, places: int, text: str) -> None:
    assert written(number, places) == text
    assert several([number, -1], places) == f"{text}-1"


def test_a_sketch_is_written_as_shapes_with_its_history(run: Run, write_sketch: WriteSketch, tmp_path: Path) -> None:
    write_sketch()
    answer = run("proof", "spots.py", "--seed", "lamp", "-o", "spots.svg")
    assert answer.status == 0
    assert "spots.svg  60 x 40 mm, 5 marks" in answer.out
    assert json.loads(run("proof", "spots.py", "-o", "b.svg", "--json").out)["unit"] == "mm"
    history = History.in_picture(tmp_path / "spots.svg")
    assert history is not None
    assert history.seed == "lamp"
    run("proof", "spots.py", "--seed", "lamp", "-o", "spots.png")
    assert "5 shapes are as they were" in run("compare", "spots.svg", "spots.png").out
    assert "spots.py:8" in run("trace", "spots.svg", "--at", "400px,300px").out + run("trace", "spots.svg").out
    wrong = run("proof", "spots.py", "-o", "c.svg", "--width", "300px")
    assert wrong.status == 2
    assert "an SVG is as large as its sheet" in wrong.err
    (tmp_path / "broken.svg").write_text("<svg>")
    assert "broken.svg is not a whole picture" in run("compare", "broken.svg", "spots.png").err
    (tmp_path / "plain.svg").write_text("<svg xmlns='http://www.w3.org/2000/svg'/>")
    assert "plain.svg has shapes and no pixels" in run("compare", "plain.svg", "spots.png").err
    empty = Sheet(10, 10, "mm", Colour(1, 1, 1)).drawing()
    assert ET.fromstring(as_svg(empty)).tag.endswith("svg")
