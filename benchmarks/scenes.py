"""The scenes that are timed, each as a drawing of ours and as the plain loop that somebody would write with aggdraw."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from mothseed import Colour
from mothseed.sheet import Sheet

SIDE = 1000
PAPER = Colour(1, 1, 1)


@dataclass(frozen=True)
class Scene:
    """Two functions that draw the same."""

    name: str
    what: str
    ours: Callable[[], Sheet]
    theirs: Callable[[], Any]


def circles(name: str, count: int, smallest: float, largest: float) -> Scene:
    """Circles in colours of their own, drawn one by one in a loop."""
    random = np.random.default_rng(1)
    places = (random.random((count, 2)) * SIDE).tolist()
    radii = random.uniform(smallest, largest, count).tolist()
    colours = [Colour(*parts) for parts in random.uniform((0, 0, 0, 0.3), (1, 1, 1, 0.5), (count, 4)).tolist()]
    bytes_of = [(tuple(int(255 * part) for part in colour[:3]), int(255 * colour.alpha)) for colour in colours]

    def ours() -> Sheet:
        sheet = Sheet(SIDE, SIDE, "px", PAPER)
        for (x, y), radius, colour in zip(places, radii, colours, strict=True):
            sheet.circle(x, y, radius, fill=colour)
        return sheet

    def theirs() -> Any:
        draw, image = _canvas()
        import aggdraw

        for (x, y), radius, (colour, alpha) in zip(places, radii, bytes_of, strict=True):
            draw.ellipse((x - radius, y - radius, x + radius, y + radius), aggdraw.Brush(colour, alpha))
        draw.flush()
        return image

    return Scene(name, f"{count:,} circles, radius {smallest:g} to {largest:g}", ours, theirs)


def strokes(name: str, count: int) -> Scene:
    """Thin lines with round caps; the other library has its own caps."""
    random = np.random.default_rng(2)
    starts = random.random((count, 2)) * SIDE
    turns, lengths = random.uniform(0, 2 * np.pi, count), random.uniform(20, 400, count)
    ends = starts + lengths[:, None] * np.stack([np.cos(turns), np.sin(turns)], axis=1)
    lines = np.concatenate([starts, ends], axis=1).tolist()
    colours = [Colour(*parts) for parts in random.uniform((0, 0, 0, 0.3), (1, 1, 1, 0.5), (count, 4)).tolist()]
    bytes_of = [(tuple(int(255 * part) for part in colour[:3]), int(255 * colour.alpha)) for colour in colours]

    def ours() -> Sheet:
        sheet = Sheet(SIDE, SIDE, "px", PAPER).styled(stroke_width=1.5, linecap="round")
        for line, colour in zip(lines, colours, strict=True):
            sheet.line(*line, stroke=colour)
        return sheet

    def theirs() -> Any:
        draw, image = _canvas()
        import aggdraw

        for line, (colour, alpha) in zip(lines, bytes_of, strict=True):
            draw.line(line, aggdraw.Pen(colour, 1.5, alpha))
        draw.flush()
        return image

    return Scene(name, f"{count:,} lines of width 1.5, round caps", ours, theirs)


def polygons(name: str, count: int) -> Scene:
    """Polygons of five to eight corners."""
    random = np.random.default_rng(3)
    shapes = []
    for _ in range(count):
        turns = np.sort(random.uniform(0, 2 * np.pi, random.integers(5, 9)))
        ring = np.stack([np.cos(turns), np.sin(turns)], axis=1)
        shapes.append(random.random(2) * SIDE + random.uniform(10, 60) * ring)
    colours = [Colour(*parts) for parts in random.uniform((0, 0, 0, 0.3), (1, 1, 1, 0.5), (count, 4)).tolist()]
    bytes_of = [(tuple(int(255 * part) for part in colour[:3]), int(255 * colour.alpha)) for colour in colours]
    flat = [shape.ravel().tolist() for shape in shapes]

    def ours() -> Sheet:
        sheet = Sheet(SIDE, SIDE, "px", PAPER)
        for shape, colour in zip(shapes, colours, strict=True):
            sheet.polygon(shape, fill=colour)
        return sheet

    def theirs() -> Any:
        draw, image = _canvas()
        import aggdraw

        for shape, (colour, alpha) in zip(flat, bytes_of, strict=True):
            draw.polygon(shape, None, aggdraw.Brush(colour, alpha))
        draw.flush()
        return image

    return Scene(name, f"{count:,} polygons of 5 to 8 corners", ours, theirs)


def _canvas() -> tuple[Any, Any]:
    import aggdraw
    from PIL import Image

    image = Image.new("RGB", (SIDE, SIDE), "white")
    return aggdraw.Draw(image), image


def all_scenes() -> list[Scene]:
    """The scenes in the order in which they are shown."""
    return [
        circles("A", 100_000, 2, 8),
        circles("B", 10_000, 20, 60),
        circles("C", 1_000, 100, 300),
        strokes("D", 20_000),
        polygons("E", 20_000),
    ]
