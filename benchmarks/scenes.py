"""The scenes that are timed: what is to be drawn, as plain numbers, whoever draws it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from mothseed.arrays import FloatArray

SIDE = 1000
Numbers = Sequence[Sequence[float]]


@dataclass(frozen=True)
class Scene:
    """Many shapes of one kind, each in a colour of its own."""

    name: str
    what: str
    kind: str
    """circle, line, polygon, ramp, shadow, text, way, hatch or layer"""
    places: Numbers
    """x y radius; x1 y1 x2 y2; x y of each corner or point; x y radius; x y width height; x y size; as circles in layers"""
    colours: Numbers
    """red, green, blue, alpha, 0 to 1"""
    words: list[str] = field(default_factory=list)

    @cached_property
    def arrays(self) -> tuple[FloatArray, FloatArray]:
        """Places and colours as arrays, for who takes them so."""
        return np.array(self.places), np.array(self.colours)


def circles(name: str, count: int, smallest: float, largest: float) -> Scene:
    """Circles all over the sheet."""
    random = np.random.default_rng(1)
    places = np.concatenate([random.random((count, 2)) * SIDE, random.uniform(smallest, largest, (count, 1))], axis=1)
    return Scene(
        name, f"{count:,} circles, radius {smallest:g} to {largest:g}", "circle", places.tolist(), _colours(random, count)
    )


def strokes(name: str, count: int) -> Scene:
    """Thin lines with round caps."""
    random = np.random.default_rng(2)
    starts = random.random((count, 2)) * SIDE
    turns, lengths = random.uniform(0, 2 * np.pi, count), random.uniform(20, 400, count)
    ends = starts + lengths[:, None] * np.stack([np.cos(turns), np.sin(turns)], axis=1)
    lines = np.concatenate([starts, ends], axis=1).tolist()
    return Scene(name, f"{count:,} lines of width 1.5, round caps", "line", lines, _colours(random, count))


def polygons(name: str, count: int) -> Scene:
    """Polygons of five to eight corners."""
    random = np.random.default_rng(3)
    shapes = []
    for _ in range(count):
        turns = np.sort(random.uniform(0, 2 * np.pi, random.integers(5, 9)))
        ring = np.stack([np.cos(turns), np.sin(turns)], axis=1)
        shapes.append((random.random(2) * SIDE + random.uniform(10, 60) * ring).ravel().tolist())
    return Scene(name, f"{count:,} polygons of 5 to 8 corners", "polygon", shapes, _colours(random, count))


def wanderings(name: str, count: int, corners: int) -> Scene:
    """Thin lines of many points, as of things that wander."""
    random = np.random.default_rng(8)
    turns = random.uniform(0, 2 * np.pi, (count, 1)) + np.cumsum(random.normal(0, 0.35, (count, corners)), axis=1)
    steps = 3.5 * np.stack([np.cos(turns), np.sin(turns)], axis=2)
    ways = random.random((count, 1, 2)) * SIDE + np.cumsum(steps, axis=1)
    return Scene(name, f"{count:,} lines of {corners} points", "way", ways.reshape(count, -1).tolist(), _colours(random, count))


def hatchings(name: str, count: int, corners: int) -> Scene:
    """Round outlines that are hatched within."""
    random = np.random.default_rng(9)
    turns = np.linspace(0, 2 * np.pi, corners, endpoint=False)
    radii = random.uniform(25, 70, (count, 1)) * (1 + 0.25 * np.sin(3 * turns + random.uniform(0, 6, (count, 1))))
    rings = np.stack([np.cos(turns) * radii, np.sin(turns) * radii], axis=2) + random.random((count, 1, 2)) * SIDE
    what = f"{count:,} outlines hatched with {HATCHES} lines each"
    return Scene(name, what, "hatch", rings.reshape(count, -1).tolist(), _colours(random, count))


HATCHES = 40


def hatches_of(place: Sequence[float]) -> list[tuple[float, float, float, float]]:
    """The slanting lines that hatch an outline: x1 y1 x2 y2 each."""
    xs, ys = place[::2], place[1::2]
    left, right, top, bottom = min(xs), max(xs), min(ys), max(ys)
    reach, step = bottom - top, (right - left + bottom - top) / HATCHES
    return [(left + step * number, top, left + step * number - reach, bottom) for number in range(HATCHES)]


def layered(name: str, count: int) -> Scene:
    """Three layers, each over the whole sheet, that are blended with what lies below."""
    scene = circles(name, count, 30, 120)
    return _renamed(scene, "layer", f"{count:,} circles in three layers that are blended over the sheet")


LAYERS = (("normal", 1.0), ("multiply", 0.8), ("screen", 0.6))
"""Blend mode and opacity of each."""


def faint(name: str, motifs: int, layers: int) -> Scene:
    """Stacks of faint circles, as for a glow."""
    random = np.random.default_rng(4)
    middles, tints = random.random((motifs, 2)) * SIDE, random.random((motifs, 3))
    places = [(x, y, 4.0 + 2 * layer) for x, y in middles.tolist() for layer in range(layers)]
    colours = [(*tint, 0.02) for tint in tints.tolist() for _ in range(layers)]
    return Scene(name, f"{motifs:,} stacks of {layers} faint circles", "circle", places, colours)


def ramps(name: str, count: int) -> Scene:
    """Circles that pass from their colour into white."""
    return _renamed(circles(name, count, 10, 60), "ramp", f"{count:,} circles with a linear ramp")


def shadows(name: str, count: int) -> Scene:
    """Cards with a soft shadow below each."""
    random = np.random.default_rng(6)
    sizes = random.uniform(20, 90, (count, 2))
    places = np.concatenate([random.random((count, 2)) * (SIDE - 100), sizes], axis=1).tolist()
    return Scene(
        name, f"{count:,} cards with a soft shadow", "shadow", places, [(*c[:3], 1.0) for c in _colours(random, count)]
    )


def words(name: str, count: int) -> Scene:
    """Names in many sizes."""
    random = np.random.default_rng(7)
    places = np.concatenate([random.random((count, 2)) * SIDE * 0.95, random.uniform(9, 30, (count, 1))], axis=1).tolist()
    names = [["Owlet", "Plume", "Hawk", "Wainscot", "Sallow"][number % 5] for number in range(count)]
    return Scene(name, f"{count:,} words of text", "text", places, _colours(random, count), names)


def _colours(random: np.random.Generator, count: int) -> Numbers:
    colours: Numbers = random.uniform((0, 0, 0, 0.3), (1, 1, 1, 0.5), (count, 4)).tolist()
    return colours


def _renamed(scene: Scene, kind: str, what: str) -> Scene:
    return Scene(scene.name, what, kind, scene.places, scene.colours)


SCENES: tuple[Callable[[], Scene], ...] = (
    lambda: circles("A", 100_000, 2, 8),
    lambda: circles("B", 10_000, 20, 60),
    lambda: circles("C", 1_000, 100, 300),
    lambda: strokes("D", 20_000),
    lambda: polygons("E", 20_000),
    lambda: faint("F", 1_000, 30),
    lambda: ramps("G", 3_000),
    lambda: shadows("H", 500),
    lambda: words("I", 4_000),
    lambda: wanderings("J", 10_000, 50),
    lambda: hatchings("K", 300, 48),
    lambda: layered("L", 1_500),
)
"""In the order in which they are shown."""
