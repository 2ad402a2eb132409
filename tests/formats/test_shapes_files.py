"""Pictures as shapes: what a browser shows of an SVG, and poppler of a PDF, is what is rendered here."""

from __future__ import annotations

import base64
import io
import json
import os
import re
import shutil
import subprocess
from dataclasses import replace
from pathlib import Path
from xml.etree import ElementTree as ET

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from playwright.sync_api import Browser

from mothseed import Colour, linear_ramp, ngon, soft_shadow
from mothseed.arrays import FloatArray
from mothseed.colour.ramp import ramp_table
from mothseed.faults import PictureError, SketchError
from mothseed.formats.decimals import several, spaced, written
from mothseed.formats.pdf import as_pdf
from mothseed.formats.svg import as_svg
from mothseed.geometry.typeface import house_font
from mothseed.render import rendered
from mothseed.sheet import Drawing, Sheet, View
from mothseed.sketch import load_sketch, perform
from mothseed.sketch.history import history_in_picture
from tests.conftest import SPOTS, Run, WriteSketch
from tests.page import page_of_everything
from tests.places import DEMO
from tests.recipes import recipe

FINE = 3
"""Pixels of a browser to one that is looked at, either way: how it smooths an edge is its own affair."""
BLOCK = 12


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
SKETCHES = {"specimen": 300, "lamp": 300, "lattice": 300, "register": 300, "drawer": WIDTH}
if os.environ.get("MOTHSEED_ALL_PLATES"):  # browsers take a minute for each of these
    SKETCHES |= {"scales": 300, "flights": 450, "moonrise": 450}
"""Plates of the demo, and how wide each is looked at: as small as fine marks and letters can be held against each other."""


def height_of(drawing: Drawing, width: int = WIDTH) -> int:
    return round(width * drawing.height / drawing.width)


@pytest.mark.endurance
@pytest.mark.parametrize("name", SKETCHES)
def test_the_demo_is_the_same_in_a_browser_and_in_a_pdf(browser: Browser, name: str, tmp_path: Path) -> None:
    drawing = perform(load_sketch(DEMO / f"{name}.py"), recipe(5)).drawing
    width = SKETCHES[name]
    height = height_of(drawing, width)
    assert_alike(drawing, in_browser(browser, as_svg(drawing), width, height, tmp_path), width, tmp_path, 5.0)
    assert_alike(drawing, by_poppler(as_pdf(drawing), width, height, tmp_path), width, tmp_path, 8.0)


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


def page_of_symbols() -> Sheet:
    """Symbols with clips, ramps, dashes and blends, one in the other, turned, mirrored, tinted, faded, in layers and clips."""
    sheet = Sheet(120, 80, "mm", Colour.parse("#f4efe4"))

    def moth(view: View, size: float) -> None:
        for side in (-1, 1):
            wing = view.frame(side * size * 0.55, 0, turn=side * 20, scale=(1, 0.8), skew=5)
            ramp = linear_ramp((-size, 0), (size, 0), ["#7d4f7f", "#e8b44f80"])
            wing.path(ngon(7, radius=size / 2), fill=ramp, stroke="#22203a", stroke_width=0.3)
            inside = wing.clipped(ngon(7, radius=size / 2))
            inside.circle(0, size / 3, size / 3, fill="#d9715b", blend="multiply")
            inside.clipped(ngon(3, radius=size / 3)).rect(-9, -1, 18, 2, fill="#fff")
        view.line(0, -size / 2, 0, size / 2, stroke="#22203a", stroke_width=0.5, dash=(1, 0.5), linecap="round")
        view.text(0, size, "moth", size / 3, align="middle", fill="#22203a")

    def pair(view: View) -> None:
        view.use(one, -8, 0)
        view.use(one, 8, 0, turn=20)
        view.rect(-1, -1, 2, 2, fill="teal", stroke="#222", stroke_width=0.2)

    one = sheet.symbol(moth, 8)
    two = sheet.symbol(pair)
    sheet.uses(one, [12, 30, 48, 66], 14, turn=[0, 40, 100, -30], scale=[0.5, 1, 1, 0.7])
    sheet.uses(one, [90, 108], 14, tint="#9fd0ff")
    sheet.layer("upper", opacity=0.7, blend="multiply").uses(two, [25, 60, 95], 38, turn=[0, 15, -40], scale=[0.8, 1, 1.1])
    sheet.frame(60, 0).mirrored().clipped(ngon(5, radius=22).moved(30, 62)).uses(two, [20, 34], [58, 66], opacity=[1, 0.5])
    sheet.frame(skew=20, scale=(0.8, 1.2)).uses(one, [20, 30], 55, scale=0.5)
    sheet.frame(scale=4, keep_strokes=True).uses(one, [12, 16], 17, scale=0.15)
    return sheet


def test_symbols_are_the_same_in_a_browser_and_in_a_pdf(browser: Browser, tmp_path: Path) -> None:
    drawing = page_of_symbols().drawing()
    svg, pdf = as_svg(drawing), as_pdf(drawing)
    assert_alike(drawing, in_browser(browser, svg, WIDTH, height_of(drawing), tmp_path), WIDTH, tmp_path, 5.0)
    assert_alike(drawing, by_poppler(pdf, WIDTH, height_of(drawing), tmp_path), WIDTH, tmp_path, 8.0)


def test_a_symbol_is_written_once_for_all_its_uses() -> None:
    sheet = Sheet(100, 100, "mm", Colour(1, 1, 1))

    def flower(view: View) -> None:
        for turn in range(0, 360, 36):
            view.frame(turn=turn).path(ngon(5, radius=1).moved(0, -3), fill="crimson", stroke="#222", stroke_width=0.1)

    symbol, places = sheet.symbol(flower), np.random.default_rng(1).uniform(5, 95, (2, 200))
    sheet.uses(symbol, *places, turn=places[0], tint=["#fff"] * 100 + ["#88f"] * 99 + ["#0f0"])
    drawing = sheet.drawing()
    shapes = replace(drawing, uses=())
    svg = as_svg(drawing)
    uses = re.findall(r'<use href="#([\w-]+)"', svg)
    assert {name: uses.count(name) for name in uses} == {"flower": 100, "flower-2": 99}
    assert re.findall(r'<symbol id="([\w-]+)"', svg) == ["flower", "flower-2"]
    assert svg.count("<path") == 30  # in two symbols, and once for the use that looks like no other
    assert len(as_svg(shapes)) > 10 * len(svg)
    assert len(as_pdf(shapes)) > 10 * len(as_pdf(drawing))
    # What is not all there is written as shapes.
    some = drawing.part(np.arange(5, 1005))
    assert as_svg(some).count("<use") == 100 - 1
    assert as_svg(drawing.without([])) == svg


def test_what_a_symbol_cannot_say_is_written_as_shapes() -> None:
    sheet = Sheet(100, 100, "mm", Colour(1, 1, 1))
    shadowed = sheet.symbol(lambda view: view.rect(0, 0, 5, 5, shadow=soft_shadow(1, 1)))
    plain = sheet.symbol(lambda view: view.rect(0, 0, 5, 5, stroke="#222"))
    sheet.uses(shadowed, [10, 30], 10)
    sheet.frame(skew=20).uses(plain, [10, 30], 30)
    sheet.use(plain, 10, 50)
    faint = sheet.symbol(lambda view: [view.circle(0, 0, radius, opacity=0.02) for radius in range(1, 9)])
    sheet.uses(faint, [20, 60], 70)
    assert "<use" not in as_svg(sheet.drawing())


def test_a_pdf_is_a_page_as_large_as_the_sheet_and_always_the_same(run: Run, write_sketch: WriteSketch, tmp_path: Path) -> None:
    write_sketch()
    answer = run("proof", "spots.py", "--seed", "lamp", "-o", "spots.pdf")
    assert answer.status == 0
    assert "spots.pdf  60 x 40 mm, 5 marks" in answer.out
    content = (tmp_path / "spots.pdf").read_bytes()
    assert content.startswith(b"%PDF-1.7")
    run("proof", "spots.py", "--seed", "lamp", "-o", "again.pdf")
    assert (tmp_path / "again.pdf").read_bytes() == content
    run("proof", "spots.py", "--seed", "lamp", "-o", "spots.png")
    history = history_in_picture(tmp_path / "spots.pdf")
    assert history is not None
    assert history == history_in_picture(tmp_path / "spots.png")
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


def test_what_a_pdf_of_somebody_else_says_is_no_history(run: Run, write_sketch: WriteSketch, tmp_path: Path) -> None:
    write_sketch(SPOTS.replace('label="tint"', 'label="für die Wand 🦋 (1)\\\\"'))
    run("proof", "spots.py", "-o", "spots.pdf")
    history = history_in_picture(tmp_path / "spots.pdf")
    assert history is not None
    assert history.outcomes[0].label == "für die Wand 🦋 (1)\\"
    content = (tmp_path / "spots.pdf").read_bytes()
    for number, bytes_ in enumerate((content[:-400], content[:300], b"", b"%PDF-1.7\n%%EOF", b"not one")):
        (tmp_path / f"{number}.pdf").write_bytes(bytes_)
        try:
            assert history_in_picture(tmp_path / f"{number}.pdf") is None
        except PictureError as fault:
            assert "not a whole picture" in fault.message  # noqa: PT017  # one or the other
    answer = run("compare", "spots.pdf", "spots.pdf", "--sketch", "spots.py")
    assert (answer.status, "made from the same sketch, seed and dials" in answer.out) == (0, True)
    answer = run("compare", "0.pdf", "gone.pdf")
    assert answer.status == 1


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


@given(st.lists(st.floats(-1e6, 1e6) | st.sampled_from([0.0, -0.0, 0.5, -0.25, 1e-9, -1e-9, 10.0, 1e300])), st.integers(0, 9))
def test_many_numbers_are_written_as_each_is(numbers: list[float], places: int) -> None:
    assert spaced(numbers, places) == " ".join(written(number, places) for number in numbers)


def test_a_sketch_is_written_as_shapes_with_its_history(run: Run, write_sketch: WriteSketch, tmp_path: Path) -> None:
    write_sketch()
    answer = run("proof", "spots.py", "--seed", "lamp", "-o", "spots.svg")
    assert answer.status == 0
    assert "spots.svg  60 x 40 mm, 5 marks" in answer.out
    assert json.loads(run("proof", "spots.py", "-o", "b.svg", "--json").out)["unit"] == "mm"
    history = history_in_picture(tmp_path / "spots.svg")
    assert history is not None
    assert history.seed == "lamp"
    run("proof", "spots.py", "--seed", "lamp", "-o", "spots.png")
    assert "5 shapes unchanged" in run("compare", "spots.svg", "spots.png", "--sketch", "spots.py").out
    assert "spots.py:8" in run("trace", "spots.svg", "--sketch", "spots.py").out
    wrong = run("proof", "spots.py", "-o", "c.svg", "--width", "300px")
    assert wrong.status == 2
    assert "an SVG is as large as its sheet" in wrong.err
    (tmp_path / "broken.svg").write_text("<svg>")
    assert "broken.svg is not a whole picture" in run("compare", "broken.svg", "spots.png").err
    (tmp_path / "plain.svg").write_text("<svg xmlns='http://www.w3.org/2000/svg'/>")
    assert "plain.svg has shapes and no pixels" in run("compare", "plain.svg", "spots.png").err
    empty = Sheet(10, 10, "mm", Colour(1, 1, 1)).drawing()
    assert ET.fromstring(as_svg(empty)).tag.endswith("svg")


def test_a_font_whose_name_is_damaged_is_told_only_where_its_name_is_needed(tmp_path: Path) -> None:
    content = bytearray(Path(house_font()).read_bytes())
    offset = content.index(b"name") + 8
    content[offset : offset + 4] = len(content).to_bytes(4, "big")
    font = tmp_path / "damaged.ttf"
    font.write_bytes(content)
    sheet = Sheet(60, 20, "mm", Colour(1, 1, 1))
    sheet.text(5, 15, "moth", 10, font=font)
    assert "<path" in as_svg(sheet.drawing())
    with pytest.raises(SketchError, match=r"damaged\.ttf is not a font that can be read"):
        as_svg(sheet.drawing(), keep_text=True)


def test_text_can_stay_text(browser: Browser, run: Run, write_sketch: WriteSketch, tmp_path: Path) -> None:
    sheet = Sheet(60, 40, "mm", Colour(1, 1, 1))
    words = sheet.styled(fill="#14213d")
    words.text(3, 8, "Pale  Owlet & <kin>", 5, italic=True)
    words.frame(30, 20, turn=20).text(0, 0, "turned", 6, align="middle", bold=True, spacing=0.4)
    words.text(55, 35, "twice", 4, turn=-90, align="end")
    words.frame(10, 30, skew=20).text(0, 0, "skewed", 4)
    drawing = sheet.drawing()
    text = as_svg(drawing, keep_text=True)
    root = ET.fromstring(text)
    assert [element.text for element in root.iter("{http://www.w3.org/2000/svg}text")] == [
        "Pale  Owlet & <kin>",
        "turned",
        "twice",
    ]
    assert "<text" not in as_svg(drawing)
    # The browser gets the very font, under its family's name, as somebody has it installed.
    faces = [(style, weight, house_font(bold=weight == "bold", italic=style == "italic"))
             for style, weight in (("normal", "normal"), ("italic", "normal"), ("normal", "bold"))]  # fmt: skip
    rules = "".join(
        f"@font-face{{font-family:STIXGeneral;font-style:{style};font-weight:{weight};"
        f"src:url(data:font/ttf;base64,{base64.b64encode(Path(file).read_bytes()).decode()})}}"
        for style, weight, file in faces
    )
    with_faces = text.replace("<g style", f"<style>{rules}</style><g style", 1)
    shown = in_browser(browser, with_faces, WIDTH, height_of(drawing), tmp_path)
    assert_alike(drawing, shown, WIDTH, tmp_path, 12.0)
    write_sketch()
    assert run("proof", "spots.py", "--keep-text", "-o", "a.svg").status == 0
    assert "--keep-text: that is for an SVG" in run("proof", "spots.py", "--keep-text").err


def test_layers_and_frames_are_groups_and_names_are_ids_once_each() -> None:
    sheet = Sheet(60, 40, "mm", Colour(1, 1, 1))
    outer = sheet.layer("dusk & dawn", opacity=0.5)
    outer.layer("inner").circle(5, 5, 2)
    sheet.layer("7").circle(9, 9, 2)
    sheet.layer("dusk - dawn", blend="multiply").circle(1, 1, 1)
    frame = sheet.frame(20, 20, turn=30)
    frame.circle(0, 0, 1)
    frame.circle(3, 0, 1)
    frame.clipped(ngon(6, radius=4)).rect(-9, -9, 18, 18)
    sheet.frame(40, 20, scale=2).circle(0, 0, 1)
    root = ET.fromstring(as_svg(sheet.drawing()))
    space = "{http://www.w3.org/2000/svg}"
    groups = list(root.iter(f"{space}g"))
    ids = [group.get("id") for group in groups if group.get("id")]
    assert ids == ["dusk---dawn", "inner", "layer-7", "dusk---dawn-2"]
    assert groups[1].get("opacity") == ".5"
    assert [group.get("id") for group in groups[1].iter(f"{space}g")] == ["dusk---dawn", "inner"]
    assert any("mix-blend-mode:multiply" in str(group.get("style")) for group in groups)
    frames = [group for group in groups if group.get("transform")]
    assert [len(group) for group in frames] == [2], "marks that share a frame lie in one group"
    alone = [circle for circle in root.iter(f"{space}circle") if circle.get("transform")]
    assert [circle.get("transform") for circle in alone] == ["matrix(2 0 0 2 40 20)"]
    assert [group.get("clip-path") for group in groups if group.get("clip-path")] == ["url(#c1)"]


def test_a_stack_of_faint_marks_is_one_picture_and_a_few_are_not() -> None:
    for count, images in ((7, 0), (8, 1), (40, 1)):
        sheet = Sheet(60, 40, "mm", Colour(1, 1, 1))
        for step in range(count):
            sheet.circle(30, 20, 10 - step * 0.2, fill="#e0802f", opacity=0.03)
        sheet.circle(30, 20, 2, fill="#fff8e4")
        text = as_svg(sheet.drawing())
        assert text.count("<image") == images
        assert text.count("<circle") == (1 if images else count + 1)
    beyond = Sheet(60, 40, "mm", Colour(1, 1, 1))
    for step in range(9):
        beyond.circle(-50, -50, 10 - step, fill="teal", opacity=0.03)
    assert "<image" not in as_svg(beyond.drawing()), "nothing of it lies on the sheet"


RAMPS = [
    ["#0000ff", "#ffff00"],
    ["#000000", "#ffffff", "#ff0000"],
    ["#d9715b00", "#14213d"],
    ["#00ff00", "#ff00ff", "#00ff00", "#0000ff"],
]


@pytest.mark.parametrize("colours", RAMPS)
def test_a_ramp_of_an_svg_is_nowhere_a_level_off(colours: list[str]) -> None:
    sheet = Sheet(100, 10, "mm", Colour.parse("white"), 45)
    ramp = linear_ramp((0, 0), (100, 0), colours, at=[0.1, *[0.5] * (len(colours) - 2), 0.95])
    sheet.rect(0, 0, 100, 10, fill=ramp)
    stops = re.findall(r'<stop offset="([\d.]+)" stop-color="(#\w+)"(?: stop-opacity="([\d.]+)")?', as_svg(sheet.drawing()))
    places = np.array([float(place) for place, _, _ in stops])
    parts = np.array([[*Colour.parse(colour)[:3], float(alpha or 1)] for _, colour, alpha in stops])
    assert len(stops) <= 60
    table = ramp_table(ramp)
    at = np.arange(len(table)) / (len(table) - 1)
    jumps = np.abs(at[:, None] - places[None, np.flatnonzero(np.diff(places) == 0)]).min(axis=1, initial=1) < 2 / len(table)
    shown = np.stack([np.interp(at, places, part) for part in parts.T], axis=1)
    assert np.abs(shown - table)[~jumps].max() * 255 < 1.6, "a level, and what eight bits of a stop round"


def test_what_is_flat_keeps_its_stroke_in_an_svg(browser: Browser, tmp_path: Path) -> None:
    sheet = Sheet(60, 40, "mm", Colour.parse("white"), 45).styled(fill=None, stroke="#1b2a41", stroke_width=2)
    sheet.ellipse(20, 10, 12, 0)
    sheet.ellipse(50, 20, 0, 12)
    sheet.rect(5, 30, 30, 0)
    sheet.rect(30, 20, 0, 9, fill="#c9663d")
    drawing = sheet.drawing()
    shown = in_browser(browser, as_svg(drawing), WIDTH, height_of(drawing), tmp_path)
    assert_alike(drawing, shown, WIDTH, tmp_path, 5.0)


@pytest.mark.parametrize("scale", [1e-9, 1e-4, 0.3, 40, 1e6])
def test_a_frame_of_any_scale_is_where_it_was_in_an_svg(scale: float) -> None:
    sheet = Sheet(100, 100, "mm", Colour.parse("white"), 45)
    sheet.frame(20, 30, turn=20, scale=scale).rect(3 / scale, 5 / scale, 40 / scale, 20 / scale, fill="#345")
    text = as_svg(sheet.drawing())
    a, b, c, d, e, f = (float(number) for number in re.findall(r"-?[\d.]+", text.partition("matrix(")[2].partition(")")[0]))
    x, y = (float(re.search(rf' {name}="([-\d.]+)"', text)[1]) for name in "xy")  # type: ignore[index]  # it is there
    turned = np.array([[np.cos(np.pi / 9), -np.sin(np.pi / 9)], [np.sin(np.pi / 9), np.cos(np.pi / 9)]]) @ [3, 5] + [20, 30]
    assert [a * x + c * y + e, b * x + d * y + f] == pytest.approx(turned.tolist(), abs=2e-3)
