"""Write docs/reference/: every call that draws, arranges or paints, with a picture of what it does.

    python scripts/make_reference.py

It also draws the pictures of docs/plate/ and docs/patterns/, from the code that stands there.

Signatures and words come from the code, so that they cannot go out of date; the examples are run to draw the pictures.
"""

from __future__ import annotations

import inspect
import re
import textwrap
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import mothseed
from mothseed import Chance, Colour, Outline, Palette, Picture, Swarm
from mothseed.chance.field import Field
from mothseed.chance.swarm import Trails
from mothseed.colour.placed import Cells
from mothseed.formats.png_writing import write_png
from mothseed.geometry.flow import Flow
from mothseed.geometry.outline import Bounds, OutlinePlace
from mothseed.render import rendered
from mothseed.sheet import Sheet, View
from mothseed.sheet.arrangement import Arrangement
from mothseed.sheet.frames import Faces
from mothseed.sheet.symbol import Symbol
from mothseed.sheet.view import Block, Cell, GridCells, Packed, Piece, Place, Spotted

ROOT = Path(__file__).parents[1]
WIDTH, HEIGHT, PIXELS = 84, 48, 504
INK = "#22203a"


@dataclass(frozen=True)
class Entry:
    """One call: what is documented, and lines that show it."""

    call: Callable[..., object] | property
    example: str
    owner: str = ""
    """what it is a method of, as examples call it"""

    @property
    def name(self) -> str:
        """The call's name."""
        return self.function.__name__

    @property
    def function(self) -> Callable[..., object]:
        """The call itself, or what reckons a property."""
        if isinstance(self.call, property):
            assert self.call.fget is not None
            return self.call.fget
        return self.call

    @property
    def title(self) -> str:
        """The call as it is written, without arguments."""
        return f"{self.owner}.{self.name}" if self.owner else self.name

    @property
    def picture(self) -> str:
        """The name of its picture: views' calls have the plain ones."""
        return self.name if self.owner in ("", "view") else f"{self.owner}-{self.name}"


def method(call: Callable[..., object], example: str) -> Entry:
    """An entry for a call of a view."""
    return Entry(call, example, "view")


def of(owner: str, name: str, example: str) -> Entry:
    """An entry for a call of something else that sketches use."""
    return Entry(getattr(OWNERS[owner], name), example, owner)


def function(name: str, example: str) -> Entry:
    """An entry for something that `mothseed` exports."""
    return Entry(getattr(mothseed, name), example)


OWNERS: dict[str, type] = {
    "chance": Chance,
    "palette": Palette,
    "picture": Picture,
    "field": Field,
    "swarm": Swarm,
    "outline": Outline,
}


GIVEN: dict[type, type] = {
    Sheet: View,
    Place: View,
    Cell: Place,
    GridCells: object,
    Spotted: Place,
    Packed: Place,
    Block: Place,
    Piece: Place,
    Arrangement: object,
    Faces: tuple,
    Symbol: object,
    Field: object,
    Flow: tuple,
    Trails: tuple,
    Cells: tuple,
    Bounds: tuple,
    OutlinePlace: tuple,
}
"""What calls give, and what each of them is besides."""

SECTIONS: dict[str, list[Entry]] = {
    "Shapes": [
        method(View.circle, 'sheet.circle(42, 24, 15, fill="#d9715b", stroke=ink, stroke_width=0.6)'),
        method(View.ellipse, 'sheet.ellipse(42, 24, 24, 12, fill="#7d4f7f")'),
        method(View.rect, 'sheet.rect(14, 9, 56, 30, radius=6, fill="#e8b44f", stroke=ink, stroke_width=0.6)'),
        method(View.line, 'for y in range(8, 42, 4):\n    sheet.line(12, y, 72, 48 - y, stroke=ink, stroke_width=0.1 + y / 40)'),
        method(View.polyline, 'sheet.polyline([(10, 36), (26, 10), (42, 34), (58, 12), (74, 38)], stroke="#d9715b", stroke_width=2.4, linejoin="round", linecap="round")'),
        method(View.polygon, 'sheet.polygon([(14, 38), (30, 8), (48, 26), (68, 10), (70, 40)], fill="#7d9f86")'),
        method(View.ngon, 'for sides in range(3, 8):\n    sheet.ngon(sides * 15 - 33, 25, sides, 6.5, fill="#7d4f7f")'),
        method(View.star, 'for points in range(4, 9):\n    sheet.star(points * 15 - 48, 25, points, 7, 3, fill="#e8b44f", stroke=ink, stroke_width=0.3)'),
        method(View.arc, 'for x, kind in ((16, "open"), (42, "chord"), (68, "sector")):\n    sheet.arc(x, 25, 11, -120, 230, kind=kind, fill=None if kind == "open" else "#d9715b", stroke=ink, stroke_width=0.7)'),
        method(View.annulus, 'for step in range(4):\n    sheet.annulus(18 + step * 16, 24, 7, 1 + step * 1.7, fill="#7d9f86")'),
        method(View.dot, 'for place in sheet.grid(14, 8):\n    place.dot(0, 0, stroke=ink, stroke_width=0.4 + place.index / 45)'),
        method(View.path, 'wing = smooth([(8, 30), (26, 8), (52, 12), (76, 34), (40, 40)], closed=True)\nsheet.path(wing, fill="#e8b44f", stroke=ink, stroke_width=0.6)'),
        method(View.text, 'sheet.text(42, 29, "owlet", 18, italic=True, align="middle", fill="#7d4f7f")'),
        method(View.circles, 'own = chance("many")\nsheet.circles(own.between(0, 84, size=900), own.between(0, 48, size=900), own.between(0.2, 1.6, size=900),\n              fill=own.pick(["#d9715b", "#7d4f7f", "#e8b44f"], size=900), opacity=0.5)'),
        method(View.lines, 'x = chance("x").between(6, 78, size=160)\nsheet.lines(x, 40, x + chance("lean").bell(0, 4, size=160), chance("top").between(8, 30, size=160), stroke="#4e6b5c", stroke_width=0.3)'),
        method(View.ellipses, 'x, y = chance("place").point(sheet, size=260).T\nsheet.ellipses(x, y, 2.2, 0.8, turn=chance("wind").field(40).heading(x, y), fill=palette.ramp(x / 84), opacity=0.8)'),
        method(View.ngons, 'x, y = chance("place").point(sheet, size=120).T\nsheet.ngons(x, y, 3, chance("size").between(0.8, 3, size=120), turn=chance("turn").between(0, 120, size=120), fill=palette.ramp(y / 48), opacity=0.8)'),
        method(View.stars, 'x, y = chance("place").point(sheet, size=90).T\nsize = chance("size").between(0.6, 2.6, size=90)\nsheet.stars(x, y, 6, size, size * 0.4, turn=chance("turn").between(0, 60, size=90), fill=palette.ramp(y / 48))'),
        method(View.stamps, 'x, y = chance("place").point(sheet, size=70).T\nsheet.stamps(x, y, sheet.picture("dusk.png"), chance("size").between(3, 9, size=70), turn=chance("turn").bell(0, 12, size=70), tint=palette.ramp(x / 84))'),
        method(View.texts, 'x, y = chance("place").point(sheet.inset(4), size=60).T\nsheet.texts(x + 4, y + 4, ["moth", "owlet", "hawk"] * 20, chance("size").between(2, 6, size=60), turn=chance("turn").bell(0, 20, size=60), italic=True, align="middle", fill=palette.ramp(y / 48))'),
    ],
    "Symbols": [
        method(View.symbol, 'def moth(view, size):\n    both = view.mirrored()\n    both.path(smooth([(0, 0), (size, -size * 0.8), (size * 1.2, -size * 0.2), (size * 0.4, size * 0.3)], closed=True), fill="#d9715b", stroke=ink, stroke_width=0.2)\n    view.ellipse(0, 0, size * 0.12, size * 0.5, fill=ink)\n\nsymbol = sheet.symbol(moth, 4)\nfor place in sheet.inset(8).scatter(24, chance, gap=6):\n    place.use(symbol, turn=chance("turn", place.index).turn())'),
        method(View.use, 'leaf = sheet.symbol(lambda view: view.path(smooth([(0, 0), (3, -7), (0, -16), (-3, -7)], closed=True), fill="#ffffff", stroke=ink, stroke_width=0.2))\nfor step in range(12):\n    sheet.use(leaf, 42, 26, turn=step * 30, scale=0.6 + step * 0.07, tint=palette.ramp(step / 11))'),
        method(View.uses, 'def eye(view):\n    view.circle(0, 0, 2, fill="#ffffff", stroke=ink, stroke_width=0.2)\n    view.circle(0.5, 0, 1, fill=ink)\n\nx, y = chance("place").point(sheet, size=300).T\nsheet.uses(sheet.symbol(eye), x, y, turn=chance("wind").field(30).heading(x, y), scale=0.4 + y / 60, tint=palette.ramp(x / 84))'),
        method(View.markers, 'bud = sheet.symbol(lambda view: view.path(smooth([(0, 0), (1.5, -1.2), (4, 0), (1.5, 1.2)], closed=True), fill="#d9715b"))\nvine = smooth([(8, 36), (24, 12), (42, 34), (60, 12), (74, 32)])\nsheet.path(vine, fill=None, stroke=ink, stroke_width=0.5)\nsheet.markers(bud, vine)\nsheet.markers(bud, vine, at="end", scale=1.6)'),
        method(View.pattern, 'def scale(view):\n    view.circle(0, 0, 3, fill="#e8b44f", stroke=ink, stroke_width=0.25)\n    view.circle(0, 1, 1.2, fill="#d9715b")\n\nwing = smooth([(10, 36), (20, 6), (56, 8), (76, 30), (44, 42)], closed=True)\nsheet.pattern(wing, sheet.symbol(scale), (5.6, 3.2), brick=0.5)\nsheet.path(wing, fill=None, stroke=ink, stroke_width=0.6)'),
    ],
    "Outlines": [
        function("smooth", 'points = [(8, 38), (20, 10), (40, 34), (60, 12), (76, 36)]\nfor tension in (0, 0.5, 1):\n    sheet.path(smooth(points, tension=tension), fill=None, stroke=("#d9715b", "#7d4f7f", "#22203a")[int(tension * 2)], stroke_width=0.5)'),
        function("trochoid", 'sheet.frame(22, 24).path(trochoid(12, -5, 8), fill=None, stroke="#7d4f7f", stroke_width=0.35)\nsheet.frame(62, 24).path(trochoid(9, 3, 5), fill=None, stroke=ink, stroke_width=0.35)'),
        function("Trail", 'trail = Trail(5, 24, heading=-75)\nfor step in range(6):\n    trail = trail.bend(4 + step / 2, 150 if step % 2 == 0 else -150).walk(1 + step)\nsheet.path(trail.outline, fill=None, stroke=ink, stroke_width=0.6)\nfor corner in trail.corners:\n    sheet.circle(corner.x, corner.y, 0.9, fill="#d9715b")'),
        of("outline", "polygon", 'corners = [(14, 40), (22, 8), (42, 30), (62, 8), (70, 40)]\nsheet.path(Outline.polygon(corners), fill="#e8b44f")\nsheet.path(Outline.polyline(corners), fill=None, stroke=ink, stroke_width=0.8)'),
        of("outline", "rect", 'sheet.path(Outline.rect(8, 8, 30, 32, radius=5).joined(Outline.circle(23, 24, 9).reversed()), fill="#d9715b")\nsheet.path(Outline.ellipse(60, 24, 17, 11), fill=None, stroke=ink, stroke_width=0.6)'),
        of("outline", "from_svg", 'wing = Outline.from_svg("M 0 0 C 4 -14 22 -20 26 -8 S 12 10 0 0 z")\nfor step in range(8):\n    sheet.path(wing.turned(step * 45).moved(42, 24), fill=palette.ramp(step / 7), opacity=0.8)'),
        of("outline", "part", 'vine = smooth([(6, 40), (24, 10), (42, 38), (60, 12), (78, 38)])\nfor step in range(12):\n    sheet.path(vine.part(step / 12, step / 12 + 0.06), fill=None, stroke=palette.ramp(step / 11), stroke_width=1.6, linecap="round")'),
        of("outline", "at", 'vine = smooth([(6, 34), (24, 14), (42, 36), (60, 14), (78, 34)])\nsheet.path(vine, fill=None, stroke=ink, stroke_width=0.4)\nfor step in range(25):\n    place = vine.at(step / 24)\n    sheet.frame(place.x, place.y, turn=place.heading + 90).ellipse(0, -3, 0.8, 2.4, fill="#7d9f86")'),
        of("outline", "corners", 'shape = star(7, 19, 9).moved(42, 25)\nsheet.path(shape, fill=None, stroke=ink, stroke_width=0.4)\nfor corner in shape.corners:\n    sheet.frame(corner.x, corner.y, turn=corner.heading).polygon([(2, 0), (-1, 1.2), (-1, -1.2)], fill="#d9715b")'),
        of("outline", "nearest", 'wing = smooth([(20, 34), (30, 14), (52, 16), (64, 34)], closed=True)\nsheet.path(wing, fill="#e8b44f")\nfor x, y in chance("place").point(sheet, size=60).tolist():\n    place = wing.nearest(x, y)\n    sheet.line(x, y, place.x, place.y, stroke=ink, stroke_width=0.2)'),
        of("outline", "contains", 'wing = smooth([(20, 38), (28, 10), (54, 14), (66, 36)], closed=True)\nfor cell in sheet.grid(42, 24):\n    sheet.circle(cell.x, cell.y, 0.7, fill="#d9715b" if wing.contains(cell.x, cell.y) else "#cbbfae")'),
        of("outline", "union", 'left, right = Outline.circle(18, 24, 11), Outline.circle(27, 24, 11)\nsheet.path(left.union(right), fill="#7d9f86")\nsheet.path(left.moved(33, 0).exclusion(right.moved(33, 0)), fill="#d9715b")'),
        of("outline", "intersection", 'left, right = Outline.circle(18, 24, 13), Outline.circle(30, 24, 13)\nsheet.path(left.intersection(right), fill="#7d9f86")\nsheet.path(left.difference(right).moved(43, 0), fill="#d9715b")\nfor each in (left, right):\n    sheet.path(each, fill=None, stroke=ink, stroke_width=0.3)'),
        of("outline", "grown", 'shape = star(5, 10, 4.5).moved(42, 25)\nfor step in reversed(range(8)):\n    sheet.path(shape.grown(step * 1.6 - 1), fill=palette.ramp(step / 7), stroke=None)'),
        of("outline", "simplified", 'heights = chance("coast").bell(26, 7, size=18).tolist()\ncoast = smooth([(6 + 4.2 * step, y) for step, y in enumerate(heights)])\nfor step, tolerance in enumerate((0.05, 1, 3)):\n    sheet.path(coast.simplified(tolerance), fill=None, stroke=("#cbbfae", "#d9715b", ink)[step], stroke_width=0.5)'),
        of("outline", "hatched", 'moon = Outline.circle(42, 24, 19)\nshade = moon.difference(Outline.circle(36, 19, 17))\nsheet.path(moon.hatched(1.8, 30), stroke=ink, stroke_width=0.2)\nsheet.path(shade.hatched(0.9, -40), stroke=ink, stroke_width=0.25)'),
        of("outline", "swelled", 'for step in range(9):\n    line = smooth([(8, 8 + step * 4), (30, 2 + step * 5), (54, 14 + step * 3), (76, 8 + step * 4)])\n    sheet.path(line.swelled([0, 1.6, 0.3, 2.2, 0]), fill=palette.ramp(step / 8))'),
        method(View.contours, 'hills = chance("hills").field(34, detail=3)\nfor step, area in enumerate(sheet.contours(hills, [-0.3, -0.1, 0.1, 0.3], filled=True)):\n    sheet.path(area, fill=palette.ramp(step / 3), opacity=0.8)\nsheet.path(sheet.contours(hills, 0.0), fill=None, stroke=ink, stroke_width=0.4)'),
        function("lettering", 'letters = lettering("Moth", 30, bold=True, align="middle").moved(42, 34)\nfor y in range(8, 44, 2):\n    sheet.clipped(letters).line(0, y, 84, y + 4, stroke="#d9715b" if y % 4 else "#7d4f7f", stroke_width=1.5)'),
        function("resampled", 'for count in (5, 9, 40):\n    shape = resampled(arc(14, 0, 360), count).moved({5: 16, 9: 42, 40: 68}[count], 24)\n    sheet.path(shape, fill=None, stroke=ink, stroke_width=0.5)'),
        function("offset", 'shape = star(5, 20, 11).moved(42, 25)\nfor step in range(8):\n    sheet.path(offset(shape, step * 1.4), fill=None, stroke=ink, stroke_width=0.3)'),
    ],
    "Views": [
        method(View.frame, 'for step in range(9):\n    frame = sheet.frame(8 + step * 8.5, 24, turn=step * 15, scale=0.5 + step / 10)\n    frame.rect(-3, -5, 6, 10, fill="#7d4f7f", opacity=0.7)'),
        method(View.styled, 'ink_lines = sheet.styled(fill=None, stroke=ink, stroke_width=0.4)\nfor step in range(10):\n    ink_lines.circle(14 + step * 6, 24, 4 + step)'),
        method(View.mirrored, 'wings = sheet.frame(42, 28).mirrored()\nwings.path(smooth([(1, 0), (12, -16), (30, -14), (20, 4)], closed=True), fill="#d9715b", stroke=ink, stroke_width=0.4)'),
        method(View.spun, 'petals = sheet.frame(42, 24).mirrored().spun(7)\npetals.path(smooth([(1, -4), (5, -12), (3, -20), (0, -14)], closed=True), fill="#e8b44f", stroke=ink, stroke_width=0.3)'),
        method(View.layer, 'sheet.rect(8, 8, 68, 32, fill="#e8b44f")\nshade = sheet.layer("shade", opacity=0.6, blend="multiply")\nshade.circle(32, 24, 14, fill="#7d4f7f")\nshade.circle(50, 24, 14, fill="#7d4f7f")'),
        method(View.clipped, 'leaf = smooth([(6, 26), (42, 4), (78, 22), (42, 44)], closed=True)\nwithin = sheet.clipped(leaf)\nfor x in range(0, 84, 3):\n    within.line(x, 0, x + 10, 48, stroke="#4e6b5c", stroke_width=1.2)'),
        method(View.inset, 'view = sheet\nfor _ in range(6):\n    view = view.inset(3)\n    view.rect(view.left, view.top, view.width, view.height, fill=None, stroke=ink, stroke_width=0.4)'),
        method(View.centred, 'middle = sheet.centred()\nfor step in range(12):\n    middle.frame(turn=step * 7).rect(-14, -14, 28, 28, fill=None, stroke="#7d4f7f", stroke_width=0.3)'),
        method(View.faces, 'for index, kind in enumerate(("isometric", "oblique")):\n    top, front, side = sheet.frame(26 + index * 34, 44).faces(14, 12, 16, kind=kind)\n    for face, tint in ((top, "#e8b44f"), (front, "#d9715b"), (side, "#7d4f7f")):\n        face.rect(0, 0, face.width, face.height, fill=tint)\n        for cell in face.inset(1.5).grid(3, 3, gap=1):\n            cell.circle(0, 0, cell.width * 0.4, fill="#f4efe4")'),
        method(View.across, 'for part in (0.1, 0.3, 0.5, 0.7, 0.9):\n    sheet.circle(sheet.across(part), sheet.down(0.5), 1 + part * 6, fill="#d9715b")'),
        method(View.note, 'count = chance("count").whole(5, 12)\nsheet.note("moths", count)\nfor step in range(count):\n    sheet.circle(8 + step * 6, 24, 2.2, fill="#7d4f7f")'),
        method(View.bleed, 'wide = sheet.bleed(6)\nwide.circle(0, 0, 16, fill="#e8b44f")\nwide.circle(wide.width, wide.height, 16, fill="#7d4f7f")'),
    ],
    "Arrangements": [
        method(View.grid, 'for cell in sheet.inset(3).grid(9, 5, hexagonal=True):\n    cell.ngon(0, 0, 6, cell.height * 0.46, fill=palette.ramp(cell.col_fraction))'),
        method(View.ring, 'for place in sheet.frame(42, 24).ring(16, 16):\n    place.ellipse(0, 0, 1.4, 4.5, fill=palette.cycle(place.index))'),
        method(View.fan, 'for place in sheet.frame(42, 44).fan(15, 150):\n    place.ellipse(0, -22, 1.6, 14, fill=palette.ramp(place.fraction), opacity=0.7)'),
        method(View.spiral, 'for place in sheet.frame(42, 24).spiral(260, 1.35, kind="phyllotaxis"):\n    place.circle(0, 0, 0.55, fill=palette.ramp(place.fraction))'),
        method(View.along, 'wave = smooth([(4, 30), (24, 10), (44, 36), (64, 12), (80, 28)])\nfor place in sheet.along(wave, 34):\n    place.line(0, -3, 0, 3, stroke=ink, stroke_width=0.4)'),
        method(View.packed, 'wing = smooth([(12, 40), (20, 8), (50, 6), (76, 22), (60, 42)], closed=True)\nfor place in sheet.packed(260, chance("pack"), 0.5, 5, gap=0.3, area=wing):\n    place.circle(0, 0, place.radius, fill=palette.ramp(place.x / 84))'),
        method(View.subdivided, 'def rule(block):\n    own = chance("block", round(block.x, 3), round(block.y, 3))\n    if block.depth < 6 and (block.depth < 2 or own.odds(0.85)) and min(block.width, block.height) > 3:\n        cut = own.between(0.3, 0.7)\n        return (cut, 1) if block.width > block.height else (1, cut)\n    return None\n\n\nfor block in sheet.inset(3).subdivided(rule, gap=0.6):\n    block.rect(block.left, block.top, block.width, block.height, fill=palette.cycle(block.index * 7))'),
        method(View.voronoi, 'for piece in sheet.voronoi(sheet.scatter(110, chance("seeds"), relaxed=4)):\n    cell = piece.outline.grown(-0.35)\n    piece.path(cell, fill=palette.cycle(len(piece.neighbours)))'),
        method(View.delaunay, 'points = sheet.inset(3).scatter(70, chance("stars"), gap=6)\nfor piece in sheet.delaunay(points):\n    piece.path(piece.outline, fill=palette.ramp(piece.x / 84), stroke="#f4efe4", stroke_width=0.3)'),
        function("stepped", 'first = chance("sown").odds(0.52, size=(24, 42))\ncaves = stepped(first, lambda own, around: own.astype(int) + around.sum(axis=0) >= 5, 4)\nfor cell in sheet.grid(42, 24):\n    if caves[cell.row, cell.col]:\n        cell.circle(0, 0, 0.95, fill="#7d4f7f")'),
        method(View.scatter, 'for place in sheet.scatter(150, chance("moss"), margin=3, gap=2.6, weight=lambda x, y: (x / 84) ** 2):\n    place.circle(0, 0, 1, fill="#7d9f86")'),
    ],
    "Paint": [
        function("linear_ramp", 'sheet.rect(8, 8, 68, 32, fill=linear_ramp((8, 8), (76, 40), ["#14213d", "#7d4f7f", "#d9715b", "#e8b44f"]))'),
        function("radial_ramp", 'sheet.circle(42, 24, 21, fill=radial_ramp((36, 18), 26, ["#fdf3cf", "#e8b44f", "#7d4f7f"]))'),
        method(View.picture, 'wing = smooth([(8, 30), (26, 6), (56, 8), (78, 34), (40, 44)], closed=True)\nsheet.path(wing, fill=sheet.picture("dusk.png"), stroke=ink, stroke_width=0.4)'),
        method(View.stamp, 'dusk = sheet.picture("dusk.png")\nsheet.stamp(20, 24, dusk, 30, turn=-14)\nsheet.stamp(46, 25, dusk, 26, turn=6, tint="#7d9f86")\nsheet.stamp(68, 24, dusk, 22, turn=20, opacity=0.5)'),
        function("soft_shadow", 'for step in range(4):\n    sheet.circle(15 + step * 18, 23, 6.5, fill="#e8b44f", shadow=soft_shadow(1 + step * 0.6, 0.4 + step * 1.6))'),
    ],
    "Chance": [
        of("chance", "between", 'for step in range(160):\n    x = chance.between(6, 78)\n    sheet.line(x, 14, x, 34, stroke=ink, stroke_width=0.25)'),
        of("chance", "whole", 'for step in range(12):\n    for dot in range(chance.whole(1, 6)):\n        sheet.circle(10 + step * 5.8, 38 - dot * 5, 1.9, fill="#7d4f7f")'),
        of("chance", "odds", 'for cell in sheet.inset(4).grid(19, 10):\n    cell.circle(0, 0, 1.5, fill="#d9715b" if chance.odds(0.25) else "#14213d")'),
        of("chance", "pick", 'for cell in sheet.inset(4).grid(19, 10):\n    cell.circle(0, 0, 1.5, fill=chance.pick({"#14213d": 6, "#7d4f7f": 3, "#e8b44f": 1}))'),
        of("chance", "several", 'for row in range(5):\n    for place, tint in enumerate(chance.several(palette.swatches, 3)):\n        sheet.rect(20 + place * 16, 5 + row * 8, 14, 6, fill=tint)'),
        of("chance", "shuffled", 'for row in range(5):\n    for place, tint in enumerate(chance.shuffled(palette.swatches)):\n        sheet.rect(11 + place * 16, 5 + row * 8, 14, 6, fill=tint)'),
        of("chance", "bell", 'for step in range(400):\n    x = chance.bell(42, 11)\n    sheet.line(x, 14, x, 34, stroke=ink, stroke_width=0.15)'),
        of("chance", "triangular", 'for step in range(400):\n    x = chance.triangular(6, 78, 22)\n    sheet.line(x, 14, x, 34, stroke=ink, stroke_width=0.15)'),
        of("chance", "skewed", 'for step in range(260):\n    x, y = chance.point(sheet)\n    sheet.circle(x, y, chance.skewed(0.2, 7, 5), fill=palette.pick(chance), opacity=0.8)'),
        of("chance", "jittered", 'for cell in sheet.inset(4).grid(19, 10):\n    cell.circle(chance.jittered(0, 1.2), chance.jittered(0, 1.2), 1, fill="#4e6b5c")'),
        of("chance", "turn", 'for cell in sheet.inset(4).grid(10, 5):\n    cell.frame(turn=chance.turn(step=45)).line(-3, 0, 3, 0, stroke=ink, stroke_width=0.5)'),
        of("chance", "point", 'star_outline = star(5, 22, 10).moved(22, 25)\nfor x, y in chance.point(star_outline, size=420):\n    sheet.circle(x, y, 0.4, fill="#d9715b")\nfor x, y in chance.point((64, 24, 18), size=420):\n    sheet.circle(x, y, 0.4, fill="#7d4f7f")'),
        of("chance", "walk", 'for index in range(7):\n    way = chance("moth", index).walk(sheet.inset(4), 220, 0.9)\n    sheet.polyline(way, stroke=palette.cycle(index), stroke_width=0.3, opacity=0.8)'),
        of("chance", "field", 'wind = chance.field(16, detail=2)\nfor cell in sheet.grid(28, 16):\n    x, y = cell.col * 3 + 1.5, cell.row * 3 + 1.5\n    cell.frame(turn=wind.heading(x, y)).line(-1.2, 0, 1.2, 0, stroke=palette.ramp(wind.at(x, y) + 0.5), stroke_width=0.4)'),
        of("field", "at", 'hills = chance.field(20, detail=4)\nfor x in range(84):\n    for y in range(48):\n        sheet.rect(x, y, 1, 1, fill=palette.ramp(hills.at(x + 0.5, y + 0.5) + 0.5))'),
        of("field", "flow", 'wind = chance.field(24)\nfor index in range(90):\n    x, y = chance("start", index).point(sheet)\n    for step in range(26):\n        flow = wind.flow(x, y)\n        sheet.line(x, y, x + flow.dx, y + flow.dy, stroke=ink, stroke_width=0.2)\n        x, y = x + flow.dx, y + flow.dy'),
        of("field", "heading", 'wind = chance.field(30)\nfor cell in sheet.inset(3).grid(13, 7):\n    cell.frame(turn=wind.heading(cell.col * 6.0, cell.row * 6.0)).ellipse(0, 0, 2.8, 0.8, fill="#7d4f7f")'),
        of("field", "uphill", 'hills = chance.field(30)\nfor cell in sheet.inset(3).grid(13, 7):\n    cell.frame(turn=hills.uphill(cell.col * 6.0, cell.row * 6.0)).polygon([(-2, -1), (2.6, 0), (-2, 1)], fill="#4e6b5c")'),
        of("chance", "chosen", 'def veins(view):\n    for x in range(-9, 10, 3):\n        view.line(x / 3, 0, x, -16, stroke=ink, stroke_width=0.3)\n\n\ndef spots(view):\n    for x in (-5, 0, 5):\n        view.circle(x, -11, 1.4, fill="#14213d")\n\n\nfor index in range(8):\n    wing = sheet.frame(12 + index % 4 * 20, 21 + index // 4 * 22)\n    wing.path(smooth([(0, 0), (-10, -12), (0, -17), (10, -12)], closed=True), fill="#e8b44f")\n    for technique in chance("wing", index).chosen({veins: 0.6, spots: 0.4}):\n        technique(wing)'),
        of("chance", "colour", 'for cell in sheet.inset(4).grid(19, 10):\n    cell.circle(0, 0, 1.7, fill=chance.colour(lightness=(0.55, 0.85), chroma=(0.05, 0.13), hue=(-20, 95)))'),
        of("chance", "colour_near", 'for cell in sheet.inset(4).grid(19, 10):\n    cell.rect(-2, -2, 4, 4, fill=chance.colour_near("#7d4f7f", lightness=0.12, hue=30))'),
    ],
    "Colour": [
        of("palette", "from_picture", 'for y, method in ((14, "k-means"), (30, "median-cut")):\n    for index, swatch in enumerate(Palette.from_picture("lichen.png", 9, method=method)):\n        sheet.rect(6 + index * 8, y - 6, 7.4, 12, fill=swatch)'),
        of("palette", "harmony", 'for row, kind in enumerate(("complementary", "analogous", "split-complementary", "triadic", "tetradic")):\n    for index, swatch in enumerate(Palette.harmony("#d9715b", kind)):\n        sheet.rect(14 + index * 14, 4 + row * 8.3, 13, 7, fill=swatch)'),
        of("palette", "read", 'from pathlib import Path\nfrom tempfile import mkdtemp\n\nfile = Path(mkdtemp()) / "night.txt"\nfile.write_text("#14213d\\nteal\\noklch(80% 0.12 90)\\n")\nfor index, swatch in enumerate(Palette.read(file)):\n    sheet.circle(20 + index * 22, 24, 9, fill=swatch)'),
        of("palette", "write", 'from pathlib import Path\nfrom tempfile import mkdtemp\n\nfile = Path(mkdtemp()) / "night.json"\npalette.write(file)\nfor index, swatch in enumerate(Palette.read(file)):\n    sheet.circle(15 + index * 18, 24, 8, fill=swatch)'),
        of("palette", "sorted", 'lichen = Palette.from_picture("lichen.png", 12)\nfor row, by in enumerate(("lightness", "chroma", "hue", "share")):\n    for index, swatch in enumerate(lichen.sorted(by)):\n        sheet.rect(6 + index * 6, 4 + row * 10.3, 6, 9, fill=swatch)'),
        of("palette", "limited", 'lichen = Palette.from_picture("lichen.png", 12)\nfor row, kept in enumerate((12, 8, 4)):\n    for index, swatch in enumerate(lichen.limited(kept)):\n        sheet.rect(6 + index * 6, 6 + row * 13, 6, 11, fill=swatch)'),
        of("palette", "merged", 'lichen = Palette.from_picture("lichen.png", 12)\nfor row, apart in enumerate((0.0, 0.06, 0.12)):\n    for index, swatch in enumerate(lichen.merged(apart)):\n        sheet.rect(6 + index * 6, 6 + row * 13, 6, 11, fill=swatch)'),
        of("palette", "pick", 'dusk = Palette.from_picture("dusk.png", 6)\nfor cell in sheet.inset(4).grid(19, 10):\n    cell.circle(0, 0, 1.7, fill=dusk.pick(chance, weighted=cell.col > 9))'),
        of("palette", "cycle", 'for index in range(18):\n    sheet.rect(6 + index * 4, 12, 3.4, 24, fill=palette.cycle(index))'),
        of("palette", "ramp", 'for index in range(72):\n    sheet.rect(6 + index, 12, 1, 24, fill=palette.ramp(index / 71))'),
        of("palette", "nearest", 'dusk = sheet.picture("dusk.png")\nfor cell in sheet.grid(42, 24):\n    cell.rect(-1, -1, 2, 2, fill=palette.nearest(dusk.at(cell.x, cell.y)))'),
        of("palette", "overprinted", 'for index, tint in enumerate(Palette.overprinted(["#e8b44f", "#d9715b", "#5b8fb0"], "#f4efe4")):\n    sheet.circle(10 + index * 9.2, 24, 4.2, fill=tint, stroke=ink, stroke_width=0.2)'),
        of("palette", "seen_with", 'moths = Palette(["#d9715b", "#7d9f86", "#7d4f7f", "#e8b44f", "#5b8fb0"])\nrows = [moths, *(moths.seen_with(vision) for vision in ("protanopia", "deuteranopia", "tritanopia"))]\nfor row, seen in enumerate(rows):\n    for index, tint in enumerate(seen):\n        sheet.rect(8 + index * 14, 4 + row * 10.3, 13, 9, fill=tint)'),
        function("contrasted", 'for index, ground in enumerate(("#f4efe4", "#8d99ae", "#14213d")):\n    sheet.rect(index * 28, 0, 28, 48, fill=ground)\n    for row, ratio in enumerate((1.5, 3, 4.5)):\n        sheet.circle(14 + index * 28, 10 + row * 14, 5.5, fill=contrasted("#d9715b", ground, ratio))'),
        function("legible", 'for index, ground in enumerate(("#f4efe4", "#8d99ae", "#14213d")):\n    sheet.rect(index * 28, 0, 28, 48, fill=ground)\n    for row, tint in enumerate(("#e8b44f", "#d9715b", "#7d4f7f")):\n        sheet.text(14 + index * 28, 14 + row * 13, "moth", 9, align="middle", fill=legible(tint, ground))'),
        function("contrast", 'ground, size = "#f4efe4", 4\nfor index, tint in enumerate(["#e8b44f", "#d9715b", "#7d4f7f", "#14213d"]):\n    sheet.circle(15 + index * 18, 20, 7, fill=tint)\n    sheet.text(15 + index * 18, 38, f"{contrast(tint, ground):.1f}", 6, align="middle", fill=ink)'),
        function("mixed", 'for step in range(12):\n    sheet.circle(9 + step * 6, 24, 4, fill=mixed(palette[0], palette[3], step / 11))'),
    ],
    "Pictures": [
        of("picture", "at", 'dusk = sheet.picture("dusk.png")\nfor cell in sheet.grid(28, 16):\n    x, y = cell.col * 3 + 1.5, cell.row * 3 + 1.5\n    cell.circle(0, 0, 1.3, fill=dusk.at(x, y))'),
        of("picture", "average", 'lichen = sheet.picture("lichen.png")\nfor place in sheet.scatter(260, chance, gap=2.5):\n    radius = chance.between(1, 4)\n    x, y = chance.point(sheet)\n    sheet.circle(x, y, radius, fill=lichen.average(x, y, radius))'),
        of("picture", "lightness", 'dusk = sheet.picture("dusk.png")\nfor cell in sheet.grid(42, 24):\n    x, y = cell.col * 2 + 1.0, cell.row * 2 + 1.0\n    cell.circle(0, 0, (1 - dusk.lightness(x, y)) * 1.1, fill=ink)'),
        of("picture", "uphill", 'dusk = sheet.picture("dusk.png")\nfor cell in sheet.grid(21, 12):\n    x, y = cell.col * 4 + 2.0, cell.row * 4 + 2.0\n    cell.frame(turn=dusk.uphill(x, y, 3)).polygon([(-1.5, -0.7), (1.8, 0), (-1.5, 0.7)], fill=dusk.at(x, y))'),
        of("picture", "flow", 'lichen = sheet.picture("lichen.png")\nswarm = Swarm.within(sheet, 1500, chance)\ntrails = swarm.trails(12, lambda swarm: swarm.along(lichen, 0.5).step(0.3))\nsheet.polylines(trails.points, stroke=lichen.at(trails.x, trails.y), stroke_width=0.4)'),
        of("picture", "heading", 'lichen = sheet.picture("lichen.png")\nfor step in range(1500):\n    x, y = chance.point(sheet)\n    sheet.frame(x, y, turn=lichen.heading(x, y, 1.5)).line(-1.2, 0, 1.2, 0, stroke=lichen.at(x, y), stroke_width=0.5)'),
        of("picture", "cells", 'dusk = sheet.inset(3).picture("dusk.png")\ncells = dusk.cells(36, 20)\nx, y = oblique(cells.x * 0.92, cells.y + 22, cells.lightness * 12, angle=70, foreshortening=0.62)\nsheet.frame(3, 12).rects(x, y, cells.width * 0.85, 12, fill=cells.colour)'),
        of("picture", "tinted", 'dusk = sheet.picture("dusk.png")\nfor index, tint in enumerate(("white", "#7d9f86", "#d9715b")):\n    sheet.rect(2 + index * 27, 4, 26, 40, fill=dusk.tinted(tint))'),
        of("picture", "cropped", 'dusk = sheet.picture("dusk.png")\nlamp = dusk.cropped(46, 10, 18, 26)\nsheet.stamp(24, 24, lamp, height=40)\nsheet.stamp(58, 24, lamp.tinted("#7d9f86"), height=28, turn=12)'),
        of("picture", "tiles", 'for tile in sheet.picture("dusk.png").tiles(14, 8):\n    x, y = tile.centre\n    sheet.stamp(x + chance.bell(0, 0.8), y + chance.bell(0, 0.8), tile, turn=chance.bell(0, 6))'),
        of("picture", "toned", 'dusk = sheet.picture("dusk.png")\nfor index, curve in enumerate(([(0, 0), (1, 1)], [(0, 0.2), (0.5, 0.75), (1, 1)], [(0, 1), (1, 0)])):\n    sheet.rect(2 + index * 27, 4, 26, 40, fill=dusk.toned(curve))'),
        of("picture", "detail", 'dusk = sheet.picture("dusk.png")\n\n\ndef rule(block):\n    return (2, 2) if block.depth < 6 and dusk.detail(block.x, block.y, block.width / 2) > 0.05 else None\n\n\nfor block in sheet.subdivided(rule):\n    block.rect(block.left, block.top, block.width, block.height, fill=dusk.average(block.x, block.y, block.width / 3), stroke="#f4efe4", stroke_width=0.15)'),
        of("picture", "placed", 'lichen = sheet.picture("lichen.png", outside="reflect")\nfor index, size in enumerate((8, 16, 32)):\n    sheet.rect(2 + index * 27, 4, 26, 40, fill=lichen.placed((2 + index * 27, 4, size, size)))'),
        function("oblique", 'for row in range(9):\n    for col in range(14):\n        height = 9 * chance.skewed(0, 1, 2)\n        x, y = oblique(col * 5, row * 7, height, angle=65, foreshortening=0.6)\n        sheet.frame(3, 14).rect(x, y, 3.4, height + 1.5, fill=palette.ramp(height / 9))'),
    ],
    "Motion": [
        of("swarm", "within", 'wind = chance("wind").field(26, detail=2)\nswarm = Swarm.within(sheet, 700, chance("start"))\ntrails = swarm.trails(60, lambda swarm: swarm.along(wind, 0.3).step(0.35))\nsheet.polylines(trails.points, stroke=palette.ramp(trails.x / 84), stroke_width=0.2)'),
        of("swarm", "at", 'points = [(x, 24) for x in range(4, 84, 2)]\nswarm = Swarm.at(points, sheet, heading=-90)\ntrails = swarm.trails(40, lambda swarm: swarm.turned(chance.bell(0, 16, size=40)).step(0.6))\nsheet.polylines(trails.points, stroke=ink, stroke_width=0.25)'),
        of("swarm", "along", 'wind = chance("wind").field(30)\nfor row, amount in enumerate((0.05, 1)):\n    swarm = Swarm.at([(x, 4 + row * 22) for x in range(3, 82, 2)], sheet, heading=90)\n    trails = swarm.trails(40, lambda swarm: swarm.along(wind, amount).step(0.4))\n    sheet.polylines(trails.points, stroke=palette.cycle(row), stroke_width=0.25)'),
        of("swarm", "towards", 'swarm = Swarm.within(sheet, 300, chance)\ntrails = swarm.trails(50, lambda swarm: swarm.towards(42, 24, 0.12).step(0.5))\nsheet.polylines(trails.points, stroke="#7d4f7f", stroke_width=0.2, opacity=0.7)\nsheet.circle(42, 24, 2, fill="#e8b44f")'),
        of("swarm", "turned", 'swarm = Swarm.at([(12, 24), (32, 24), (52, 24), (72, 24)], sheet, heading=-90)\ntrails = swarm.trails(90, lambda swarm: swarm.turned([3, 5, 8, 13]).step(0.55))\nsheet.polylines(trails.points, stroke=ink, stroke_width=0.3)'),
        of("swarm", "step", 'for index, edges in enumerate(("stop", "bounce", "wrap")):\n    room = next(sheet.frame(3 + index * 27, 6).grid(1, 1, width=24, height=36))\n    swarm = Swarm.within(room, 24, chance, edges=edges)\n    trails = swarm.trails(80, lambda swarm: swarm.step(0.4))\n    room.polylines(trails.points, stroke=palette.cycle(index), stroke_width=0.25)'),
        of("swarm", "trails", 'wind = chance("wind").field(22)\nswarm = Swarm.within(sheet, 400, chance("start"), edges="wrap")\ntrails = swarm.trails(40, lambda swarm: swarm.along(wind, 0.4).step(0.4), every=4)\nsheet.polylines(trails.points, stroke=palette.ramp(trails.fraction), stroke_width=0.3)'),
    ],
}  # fmt: skip
"""The calls, by what they are for, in the order in which the page has them."""


def draw(entry: Entry) -> Sheet:
    """Run an entry's example on a small sheet."""
    return drawn(entry.example, WIDTH, HEIGHT)


def drawn(code: str, width: float, height: float) -> Sheet:
    """Run lines of a sketch on a sheet of that size."""
    sheet = Sheet(width, height, "mm", Colour.parse("#f4efe4"))
    names = {name: getattr(mothseed, name) for name in mothseed.__all__}
    palette = Palette(["#14213d", "#7d4f7f", "#d9715b", "#e8b44f"])
    own = {"sheet": sheet, "chance": Chance(7), "palette": palette, "ink": INK}
    exec(code, {**names, **own, "__file__": str(ROOT / "src" / "mothseed" / "demo" / "example.py"), "__name__": "example"})
    return sheet


def signature(entry: Entry) -> str:
    """The call as it is written, with its arguments and their defaults; a property has none."""
    if isinstance(entry.call, property):
        return entry.title
    parameters = [p for p in inspect.signature(entry.call).parameters.values() if p.name not in ("self", "cls")]
    plain = [parameter.replace(annotation=inspect.Parameter.empty) for parameter in parameters]
    written = str(inspect.Signature(plain)).replace("'", '"')
    return entry.title + written


def words(entry: Entry) -> str:
    """The call's own documentation, without examples that are run as tests."""
    text = inspect.getdoc(entry.call) or ""
    return re.sub(r"\n*>>> .*", "", text, flags=re.DOTALL).strip()


PAGES = ("guide", "plate", "patterns", "chance", "colour", "pictures")
"""Folders of docs/ whose pages show what the code in them draws."""


def code_of_page(name: str) -> list[str]:
    """The pieces of code of a page, in order."""
    return re.findall(r"```python\n(.*?)```", (ROOT / "docs" / name / "README.md").read_text(encoding="utf-8"), re.DOTALL)


def page() -> str:
    """The whole reference as Markdown."""
    lines = [
        "# Reference",
        "",
        "Written by `scripts/make_reference.py` from the code; the pictures are what the examples draw, on a sheet of 84 by 48 mm.",
        "In them, `palette` has four colours, `ink` is a dark one, and pictures are those of the demo. Every shape takes paint by keyword: `fill`, `stroke`,",
        "`stroke_width`, `opacity`, `linecap`, `linejoin`, `fill_rule`, `dash`, `blend`, `shadow`.",
    ]
    for section, entries in SECTIONS.items():
        lines += ["", f"## {section}"]
        for entry in entries:
            lines += ["", f"### {entry.title}", "", f"`{signature(entry)}`", "", words(entry), ""]
            lines += ["```python", textwrap.dedent(entry.example), "```", "", f"![{entry.title}](pictures/{entry.picture}.png)"]
    return "\n".join(lines) + "\n"


def calls_page() -> str:
    """Everything that a sketch can import, with its methods, as Markdown."""
    lines = [
        "# Every call",
        "",
        "Written by `scripts/make_reference.py` from the code: all that `from mothseed import ...` gives. What it looks like is shown in the",
        "[reference with pictures](README.md).",
    ]
    for name in sorted(mothseed.__all__, key=str.lower):
        value = getattr(mothseed, name)
        if inspect.isclass(value):
            lines += ["", f"## {name}", "", _in_markdown(inspect.getdoc(value) or "")]
            for method_name in sorted(each for each in dir(value) if not each.startswith("_")):
                lines += _member(name, value, method_name)
        elif callable(value):
            lines += ["", f"## {name}", "", f"`{signature(Entry(value, ''))}`", "", _in_markdown(inspect.getdoc(value) or "")]
    lines += ["", "# What calls give", "", "Nobody imports these: they come back from the calls above."]
    for kind, base in GIVEN.items():
        lines += ["", f"## {kind.__name__}", "", _in_markdown(inspect.getdoc(kind) or "")]
        for method_name in sorted(each for each in dir(kind) if not each.startswith("_") and not hasattr(base, each)):
            lines += _member(kind.__name__, kind, method_name)
    return re.sub(r"\n{3,}", "\n\n", "\n".join(lines)) + "\n"


def _member(owner: str, kind: type, name: str) -> list[str]:
    """A method or property of an exported class; what it has from Python's own tuple is left out."""
    home = next(each for each in kind.__mro__ if name in vars(each))
    if not home.__module__.startswith("mothseed"):
        return []
    member = inspect.getattr_static(kind, name)
    called = getattr(kind, name)
    written = signature(Entry(called, "")) if callable(called) else name
    text = _in_markdown(inspect.getdoc(member) or "")
    if text.startswith("As `") or (callable(called) and getattr(called, "__name__", name) != name):  # another spelling
        return []
    if text.startswith("Alias for field"):  # what Python says of the fields of a named tuple
        return []
    return ["", f"### {owner}.{name}", "", f"`{written}`", "", text] if text or callable(called) else []


def _in_markdown(text: str) -> str:
    """A docstring, with its examples as code."""
    return re.sub(r"((?:^>>> .*\n?)(?:.*\S.*\n?)*)", r"```pycon\n\1\n```\n", text, flags=re.MULTILINE).replace(
        "\n\n```\n", "\n```\n"
    )


def main() -> None:
    """Write the pages and their pictures."""
    folder = ROOT / "docs" / "reference"
    (folder / "pictures").mkdir(parents=True, exist_ok=True)
    for entries in SECTIONS.values():
        for entry in entries:
            write_png(folder / "pictures" / f"{entry.picture}.png", rendered(draw(entry).drawing(), PIXELS))
    (folder / "README.md").write_text(page(), encoding="utf-8")
    (folder / "calls.md").write_text(calls_page(), encoding="utf-8")
    for name in PAGES:
        for number, code in enumerate(code_of_page(name), 1):
            write_png(ROOT / "docs" / name / f"{number}.png", rendered(drawn(code, 120, 80).drawing(), 600))


if __name__ == "__main__":
    main()
