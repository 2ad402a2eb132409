"""Drawings of shapes, frames, strokes, clips and layers drawn by chance, painted and held against a slow reckoning of them."""

from __future__ import annotations

import os
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Browser

from mothseed import ngon, smooth, star
from mothseed.arrays import FloatArray, PointArray
from mothseed.chance import Chance
from mothseed.colour import Colour
from mothseed.formats.pdf import as_pdf
from mothseed.formats.svg import as_svg
from mothseed.formats.svg_elements import shape_of
from mothseed.geometry import Outline
from mothseed.geometry.affine import Affine
from mothseed.render import rendered
from mothseed.sheet import Drawing, Sheet, View
from mothseed.sheet.extents import stroke_widths
from mothseed.sheet.group import chain
from mothseed.sheet.kinds import HAS_INSIDE
from mothseed.sheet.style import EVEN_ODD, FILLED, STROKED
from tests.formats.test_shapes_files import FINE, by_poppler, in_browser
from tests.truth import covered, lines_of, stroke_contours, worst_patch

SIDE, SCALE = 120, 1.5
CAPS, JOINS = ("butt", "round", "square"), ("miter", "round", "bevel")
INKS = ("#14213d", "#d9715b", "#e8b44f", "#3f7a6f", "#7d4f7f", "#f4efe4")
_LINES = 16
"""In a row of pixels: what is level in one is told within a 32nd of it, and in a patch much better."""
COUNT = int(os.environ.get("MOTHSEED_RANDOM_DRAWINGS", "40"))
"""How many are held against it; any number by hand."""


def random_drawing(number: int) -> Drawing:
    """Some shapes with fills and strokes, in frames that are turned, scaled and skewed, under clips and in layers."""
    chance = Chance(f"drawing-{number}")
    sheet = Sheet(SIDE, SIDE, "mm", Colour.parse(chance.pick(INKS)))
    for index in range(chance.whole(2, 5)):
        own = chance("mark", index)
        view: View = sheet
        if own.odds(0.2):
            view = view.layer(f"layer {index}", opacity=own.between(0.3, 1))
        if own.odds(0.2):
            view = view.clipped(
                ngon(own.whole(3, 7), radius=own.between(20, 55)).moved(own.between(30, 90), own.between(30, 90))
            )
        view = view.frame(own.between(20, 100), own.between(20, 100), turn=own.between(0, 360), scale=own.between(0.5, 1.6))
        if own.odds(0.2):
            view = view.frame(skew=own.between(-35, 35))
        draw_one(view, own)
    return sheet.drawing()


def draw_one(view: View, own: Chance) -> None:
    """One shape by chance."""
    paint: dict[str, object] = {
        "fill": own.pick(INKS), "stroke": own.pick([None, *INKS]), "stroke_width": own.between(0.5, 14),
        "linecap": own.pick(CAPS), "linejoin": own.pick(JOINS), "opacity": own.pick([1, 1, 0.6, 0.25]),
    }  # fmt: skip
    size = own.between(8, 40)
    points = [(own.between(-size, size), own.between(-size, size)) for _ in range(5)]
    match own.pick(["circle", "ellipse", "rect", "line", "polyline", "polygon", "star", "curve", "leaf"]):
        case "circle":
            view.circle(0, 0, size / 2, **paint)  # type: ignore[arg-type]  # paint by name, here and below
        case "ellipse":
            view.ellipse(0, 0, size, size / 3, **paint)  # type: ignore[arg-type]
        case "rect":
            view.rect(-size / 2, -size / 3, size, size / 1.5, **paint)  # type: ignore[arg-type]
        case "line":
            view.line(-size, 0, size, 0, **{**paint, "fill": None, "stroke": INKS[0]})  # type: ignore[arg-type]
        case "polyline":
            view.polyline(points, **{**paint, "fill": None, "stroke": INKS[1]})  # type: ignore[arg-type]
        case "polygon":
            view.polygon(points[:3], **paint)  # type: ignore[arg-type]
        case "star":
            view.path(star(own.whole(4, 7), size, size / 2.5), fill_rule=own.pick(["nonzero", "evenodd"]), **paint)  # type: ignore[arg-type]
        case "curve":
            view.path(smooth(points), **{**paint, "fill": None, "stroke": INKS[2]})  # type: ignore[arg-type]
        case "leaf":
            view.path(smooth([(0, -size), (size / 3, 0), (0, size), (-size / 3, 0)], closed=True), **paint)  # type: ignore[arg-type]


def reckoned(drawing: Drawing, width: int) -> FloatArray:
    """The picture, float64 (height, width, 3), 0 to 1, of a drawing on opaque paper without ramps, pictures and shadows."""
    scale = width / drawing.width
    height = round(drawing.height * scale)
    picture = np.zeros((height, width, 4)) + np.array([*drawing.paper[:3], 1.0])
    widths = stroke_widths(drawing) * scale
    levels = [picture]
    open_groups: list[int] = []
    for number in range(len(drawing)):
        mark = drawing.marks[number]
        wanted = chain_of(drawing, int(mark["group"]))
        while open_groups and open_groups != wanted[: len(open_groups)]:
            close_group(drawing, open_groups.pop(), levels, scale)
        for group in wanted[len(open_groups) :]:
            open_groups.append(group)
            levels.append(np.zeros_like(picture))
        outline = shape_of(drawing, number).transformed(scaled(drawing.views[int(mark["view"])], scale))
        painted = int(mark["painted"])
        layers: list[tuple[FloatArray, FloatArray]] = []
        if painted & FILLED and HAS_INSIDE[int(mark["kind"])]:
            fill = covered(contours_of(outline), width, height, even_odd=bool(painted & EVEN_ODD), lines=_LINES)
            layers.append((fill, np.array(mark["fill"], float)))
        if painted & STROKED and widths[number] > 0:
            cap, join = CAPS[int(mark["linecap"])], JOINS[int(mark["linejoin"])]
            stroke = covered(stroke_contours(outline, widths[number], cap, join), width, height, lines=_LINES)
            layers.append((stroke, np.array(mark["stroke"], float)))
        opacity = float(mark["opacity"])
        if len(layers) > 1 and opacity < 1:
            levels.append(np.zeros_like(picture))
            for cover, ink in layers:
                lay(levels[-1], cover, ink, 1.0)
            merge(levels, opacity)
        else:
            for cover, ink in layers:
                lay(levels[-1], cover, ink, opacity)
    while open_groups:
        close_group(drawing, open_groups.pop(), levels, scale)
    result: FloatArray = picture[..., :3]
    return result


def contours_of(outline: Outline) -> list[PointArray]:
    """Its subpaths as fine closed contours."""
    return [line.points for line in lines_of(outline, 0.0)]


def scaled(matrix: FloatArray, scale: float) -> Affine:
    return Affine(*(matrix * scale).tolist())


def chain_of(drawing: Drawing, group: int) -> list[int]:
    """The groups that a mark lies in, the outermost first."""
    return chain(drawing.groups, group)


def lay(picture: FloatArray, cover: FloatArray, ink: FloatArray, opacity: float) -> None:
    """Lay an ink on a picture of premultiplied colours."""
    alpha = (cover * ink[3] * opacity)[..., None]
    picture *= 1 - alpha
    picture += alpha * np.array([*ink[:3], 1.0])


def merge(levels: list[FloatArray], opacity: float, mask: FloatArray | None = None) -> None:
    """Lay the topmost level on the one below."""
    top = levels.pop() * opacity * (1.0 if mask is None else mask[..., None])
    levels[-1] *= 1 - top[..., 3:]
    levels[-1] += top


def close_group(drawing: Drawing, number: int, levels: list[FloatArray], scale: float) -> None:
    group = drawing.groups[number]
    mask = None
    if not group.is_layer:
        outline = drawing.outlines[group.outline].transformed(scaled(drawing.views[group.view], scale))
        height, width = levels[0].shape[:2]
        mask = covered(contours_of(outline), width, height, even_odd=group.even_odd, lines=_LINES)
    merge(levels, group.opacity, mask)


def off_by(number: int) -> float:
    """The worst patch of a drawing, in levels."""
    drawing = random_drawing(number)
    width = round(SIDE * SCALE)
    ours, truth = rendered(drawing, width) / 255, reckoned(drawing, width)
    return max(worst_patch(ours[..., part], truth[..., part]) for part in range(3))


@pytest.mark.parametrize("number", [pytest.param(each, marks=[pytest.mark.endurance] * (each > 9)) for each in range(COUNT)])
def test_a_drawing_by_chance_is_what_it_should_be(number: int) -> None:
    assert off_by(number) < 4


WIDTH = 360
POPPLER_IS_WRONG = {
    4: "it cuts tight bends of wide strokes into chords",
    16: "it cuts tight bends of wide strokes into chords",
    18: "it cuts tight bends of wide strokes into chords",
    21: "it cuts tight bends of wide strokes into chords",
}
"""Drawings that poppler shows otherwise, and why that is its fault."""


def apart_from(drawing: Drawing, shown: FloatArray) -> float:
    """The worst patch, in levels, of what a viewer shows of a drawing, which is looked at finer and reduced as it is."""
    fine = rendered(drawing, WIDTH * FINE).astype(np.float64)
    ours = fine.reshape(WIDTH, FINE, WIDTH, FINE, 3).mean(axis=(1, 3)) / 255
    return max(worst_patch(ours[..., part], shown[..., part] / 255) for part in range(3))


@pytest.mark.parametrize("number", [pytest.param(each, marks=[pytest.mark.endurance] * (each > 3)) for each in range(COUNT)])
def test_a_drawing_by_chance_is_the_same_in_a_browser_and_in_a_pdf(browser: Browser, number: int, tmp_path: Path) -> None:
    drawing = random_drawing(number)
    assert apart_from(drawing, in_browser(browser, as_svg(drawing), WIDTH, WIDTH, tmp_path)) < 8
    if number not in POPPLER_IS_WRONG:
        assert apart_from(drawing, by_poppler(as_pdf(drawing), WIDTH, WIDTH, tmp_path)) < 8
