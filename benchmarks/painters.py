"""Who draws a scene: we, and the plain loops that somebody would write with general drawing libraries.

Each gives its pixels, with smooth edges; where a library has no way to draw a kind of shape, it is left out of that scene.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from benchmarks.scenes import LAYERS, SIDE, Scene, hatches_of
from mothseed import Colour, linear_ramp, soft_shadow
from mothseed.geometry.outline import through
from mothseed.geometry.typeface import house_font
from mothseed.sheet import Sheet

PAPER = Colour(1, 1, 1)
BLUR, FALL = 6.0, 5.0
Painter = Callable[[Scene], Any]


def ours(scene: Scene) -> Sheet:
    """Recorded by a loop, as an artist writes it."""
    sheet = Sheet(SIDE, SIDE, "px", PAPER)
    colours = [Colour(*colour) for colour in scene.colours]
    match scene.kind:
        case "circle":
            for (x, y, radius), colour in zip(scene.places, colours, strict=True):
                sheet.circle(x, y, radius, fill=colour)
        case "line":
            lines = sheet.styled(stroke_width=1.5, linecap="round")
            for (x1, y1, x2, y2), colour in zip(scene.places, colours, strict=True):
                lines.line(x1, y1, x2, y2, stroke=colour)
        case "polygon":
            for place, colour in zip(scene.places, colours, strict=True):
                sheet.polygon(np.array(place).reshape(-1, 2), fill=colour)
        case "ramp":
            for (x, y, radius), colour in zip(scene.places, colours, strict=True):
                sheet.circle(x, y, radius, fill=linear_ramp((x - radius, y), (x + radius, y), [colour, PAPER]))
        case "shadow":
            cards = sheet.styled(shadow=soft_shadow(FALL, BLUR))
            for (x, y, width, height), colour in zip(scene.places, colours, strict=True):
                cards.rect(x, y, width, height, fill=colour)
        case "text":
            for (x, y, size), colour, word in zip(scene.places, colours, scene.words, strict=True):
                sheet.text(x, y, word, size, fill=colour)
        case "way":
            lines = sheet.styled(stroke_width=1.5)
            for place, colour in zip(scene.places, colours, strict=True):
                lines.polyline(np.array(place).reshape(-1, 2), stroke=colour)
        case "hatch":
            for place, colour in zip(scene.places, colours, strict=True):
                outline = through(np.array(place).reshape(-1, 2), closed=True)
                inside = sheet.clipped(outline).styled(stroke=colour, stroke_width=1.5)
                for line in hatches_of(place):
                    inside.line(*line)
        case "layer":
            layers = [sheet.layer(f"{blend} {opacity}", opacity=opacity, blend=blend) for blend, opacity in LAYERS]
            for layer in layers:
                layer.rect(0, 0, SIDE, SIDE, fill="#c8d0e0")
            for number, ((x, y, radius), colour) in enumerate(zip(scene.places, colours, strict=True)):
                layers[number % len(LAYERS)].circle(x, y, radius, fill=colour)
    return sheet


def ours_by_arrays(scene: Scene) -> Sheet | None:
    """Recorded by one call that is handed arrays, where there is one for the kind of shape."""
    if scene.kind not in {"circle", "line", "way"}:
        return None
    sheet = Sheet(SIDE, SIDE, "px", PAPER)
    places, colours = scene.arrays
    match scene.kind:
        case "circle":
            sheet.circles(*places.T, fill=colours)
        case "line":
            sheet.lines(*places.T, stroke=colours, stroke_width=1.5, linecap="round")
        case "way":
            sheet.polylines(places.reshape(len(places), -1, 2), stroke=colours, stroke_width=1.5)
    return sheet


def aggdraw_loop(scene: Scene) -> Any:
    """AGG behind Pillow's images."""
    import aggdraw
    from PIL import Image

    image = Image.new("RGB", (SIDE, SIDE), "white")
    draw = aggdraw.Draw(image)
    for place, (*colour, alpha) in zip(scene.places, _bytes_of(scene), strict=True):
        match scene.kind:
            case "circle":
                x, y, radius = place
                draw.ellipse((x - radius, y - radius, x + radius, y + radius), aggdraw.Brush(tuple(colour), alpha))
            case "line" | "way":
                draw.line(place, aggdraw.Pen(tuple(colour), 1.5, alpha))
            case "polygon":
                draw.polygon(place, None, aggdraw.Brush(tuple(colour), alpha))
    draw.flush()
    return image


def pillow_loop(scene: Scene) -> Any:
    """Pillow, which has hard edges, at four times the size; shadows by its blur, text as it is."""
    from PIL import Image, ImageDraw, ImageFilter, ImageFont

    if scene.kind == "text":
        image = Image.new("RGB", (SIDE, SIDE), "white")
        draw = ImageDraw.Draw(image, "RGBA")
        faces: dict[int, Any] = {}
        for (x, y, size), colour, word in zip(scene.places, _bytes_of(scene), scene.words, strict=True):
            face = faces.get(round(size)) or faces.setdefault(round(size), ImageFont.truetype(house_font(), round(size)))
            draw.text((x, y), word, fill=colour, font=face, anchor="ls")
        return image
    if scene.kind == "shadow":
        image = Image.new("RGBA", (SIDE, SIDE), "white")
        margin = round(3 * BLUR)
        for (x, y, width, height), colour in zip(scene.places, _bytes_of(scene), strict=True):
            dark = Image.new("L", (round(width) + 2 * margin, round(height) + 2 * margin), 0)
            ImageDraw.Draw(dark).rectangle((margin, margin, margin + width, margin + height), fill=89)
            blurred = dark.filter(ImageFilter.GaussianBlur(BLUR / 2))
            fall = round(FALL * 0.7)
            image.paste((0, 0, 0, 255), (round(x) - margin + fall, round(y) - margin + fall), blurred)
            ImageDraw.Draw(image).rectangle((x, y, x + width, y + height), fill=colour)
        return image
    image = Image.new("RGB", (4 * SIDE, 4 * SIDE), "white")
    draw = ImageDraw.Draw(image, "RGBA")
    for place, colour in zip(scene.places, _bytes_of(scene), strict=True):
        large = [4 * number for number in place]
        match scene.kind:
            case "circle":
                x, y, radius = large
                draw.ellipse((x - radius, y - radius, x + radius, y + radius), fill=colour)
            case "line" | "way":
                draw.line(large, fill=colour, width=6)
            case "polygon":
                draw.polygon(large, fill=colour)
    return image.reduce(4)


def matplotlib_collections(scene: Scene) -> Any:
    """Matplotlib's Agg canvas with one collection for all, which is its quickest way."""
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from matplotlib.collections import EllipseCollection, LineCollection, PolyCollection
    from matplotlib.figure import Figure

    figure = Figure(figsize=(SIDE / 100, SIDE / 100), dpi=100)
    canvas: Any = FigureCanvasAgg(figure)
    axes = figure.add_axes((0, 0, 1, 1), xlim=(0, SIDE), ylim=(SIDE, 0))
    axes.axis("off")
    match scene.kind:
        case "circle":
            x, y, radius = np.array(scene.places).T
            marks: Any = EllipseCollection(
                2 * radius, 2 * radius, np.zeros(len(x)), units="xy", offsets=np.stack([x, y], axis=1),
                offset_transform=axes.transData, facecolors=scene.colours, linewidths=0,
            )  # fmt: skip
        case "line" | "way":
            lines = list(np.array(scene.places).reshape(len(scene.places), -1, 2))
            marks = LineCollection(lines, colors=scene.colours, linewidths=1.5 * 0.72, capstyle="round")
        case _:
            shapes = [np.array(place).reshape(-1, 2) for place in scene.places]
            marks = PolyCollection(shapes, facecolors=scene.colours, linewidths=0)
    axes.add_collection(marks)
    canvas.draw()
    return np.asarray(canvas.buffer_rgba())


def skia_loop(scene: Scene) -> Any:
    """Skia by way of its Python binding."""
    import skia

    surface = skia.Surface(SIDE, SIDE)
    canvas = surface.getCanvas()
    canvas.clear(skia.ColorWHITE)
    if scene.kind == "layer":
        return _skia_layers(scene, surface)
    face = skia.Typeface.MakeFromFile(house_font())
    cast = skia.ImageFilters.DropShadow(FALL * 0.7, FALL * 0.7, BLUR / 2, BLUR / 2, skia.Color(0, 0, 0, 89))
    for number, (place, colour) in enumerate(zip(scene.places, scene.colours, strict=True)):
        paint = skia.Paint(AntiAlias=True, Color4f=skia.Color4f(*colour))
        match scene.kind:
            case "circle":
                canvas.drawCircle(*place, paint)
            case "line":
                paint.setStyle(skia.Paint.kStroke_Style)
                paint.setStrokeWidth(1.5)
                paint.setStrokeCap(skia.Paint.kRound_Cap)
                canvas.drawLine(*place, paint)
            case "polygon" | "way":
                if scene.kind == "way":
                    paint.setStyle(skia.Paint.kStroke_Style)
                    paint.setStrokeWidth(1.5)
                path = skia.Path()
                corners = [skia.Point(place[at], place[at + 1]) for at in range(0, len(place), 2)]
                path.addPoly(corners, close=scene.kind == "polygon")
                canvas.drawPath(path, paint)
            case "ramp":
                x, y, radius = place
                ends = [skia.Point(x - radius, y), skia.Point(x + radius, y)]
                paint.setShader(skia.GradientShader.MakeLinear(ends, [paint.getColor(), skia.ColorWHITE]))
                canvas.drawCircle(x, y, radius, paint)
            case "shadow":
                paint.setImageFilter(cast)
                canvas.drawRect(skia.Rect.MakeXYWH(*place), paint)
            case "hatch":
                path = skia.Path()
                path.addPoly([skia.Point(place[at], place[at + 1]) for at in range(0, len(place), 2)], close=True)
                paint.setStyle(skia.Paint.kStroke_Style)
                paint.setStrokeWidth(1.5)
                canvas.save()
                canvas.clipPath(path, doAntiAlias=True)
                for line in hatches_of(place):
                    canvas.drawLine(*line, paint)
                canvas.restore()
            case "text":
                x, y, size = place
                canvas.drawString(scene.words[number], x, y, skia.Font(face, size), paint)
    return surface.makeImageSnapshot().toarray()


def _skia_layers(scene: Scene, surface: Any) -> Any:
    import skia

    canvas = surface.getCanvas()
    modes = {"normal": skia.BlendMode.kSrcOver, "multiply": skia.BlendMode.kMultiply, "screen": skia.BlendMode.kScreen}
    for number, (blend, opacity) in enumerate(LAYERS):
        canvas.saveLayer(paint=skia.Paint(BlendMode=modes[blend], Alphaf=opacity))
        canvas.drawRect(skia.Rect.MakeWH(SIDE, SIDE), skia.Paint(Color=skia.Color(200, 208, 224)))
        for place, colour in list(zip(scene.places, scene.colours, strict=True))[number :: len(LAYERS)]:
            canvas.drawCircle(*place, skia.Paint(AntiAlias=True, Color4f=skia.Color4f(*colour)))
        canvas.restore()
    return surface.makeImageSnapshot().toarray()


def _bytes_of(scene: Scene) -> list[tuple[int, int, int, int]]:
    return [tuple(int(255 * part) for part in colour) for colour in scene.colours]  # type: ignore[misc]


OTHERS: dict[str, tuple[Painter, frozenset[str]]] = {
    "aggdraw": (aggdraw_loop, frozenset({"circle", "line", "polygon", "way"})),
    "skia-python": (skia_loop, frozenset({"circle", "line", "polygon", "ramp", "shadow", "text", "way", "hatch", "layer"})),
    "matplotlib": (matplotlib_collections, frozenset({"circle", "line", "polygon", "way"})),
    "Pillow": (pillow_loop, frozenset({"circle", "line", "polygon", "shadow", "text", "way"})),
}
"""The libraries, each with the kinds of scene that it can draw."""
