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
from mothseed import Chance, Colour, Palette
from mothseed.render import rendered, write_png
from mothseed.sheet import Sheet, View

ROOT = Path(__file__).parents[1]
WIDTH, HEIGHT, PIXELS = 84, 48, 504
INK = "#22203a"


@dataclass(frozen=True)
class Entry:
    """One call: what is documented, and lines that show it."""

    call: Callable[..., object]
    example: str
    is_method: bool = True

    @property
    def name(self) -> str:
        """The call's name."""
        return self.call.__name__


def method(call: Callable[..., object], example: str) -> Entry:
    """An entry for a call of a view."""
    return Entry(call, example)


def function(name: str, example: str) -> Entry:
    """An entry for something that `mothseed` exports."""
    return Entry(getattr(mothseed, name), example, is_method=False)


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
    ],
    "Outlines": [
        function("smooth", 'points = [(8, 38), (20, 10), (40, 34), (60, 12), (76, 36)]\nfor tension in (0, 0.5, 1):\n    sheet.path(smooth(points, tension=tension), fill=None, stroke=("#d9715b", "#7d4f7f", "#22203a")[int(tension * 2)], stroke_width=0.5)'),
        function("trochoid", 'sheet.frame(22, 24).path(trochoid(12, -5, 8), fill=None, stroke="#7d4f7f", stroke_width=0.35)\nsheet.frame(62, 24).path(trochoid(9, 3, 5), fill=None, stroke=ink, stroke_width=0.35)'),
        function("Trail", 'trail = Trail(5, 24, heading=-75)\nfor step in range(6):\n    trail = trail.bend(4 + step / 2, 150 if step % 2 == 0 else -150).walk(1 + step)\nsheet.path(trail.outline, fill=None, stroke=ink, stroke_width=0.6)\nfor corner in trail.corners:\n    sheet.circle(corner.x, corner.y, 0.9, fill="#d9715b")'),
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
        method(View.across, 'for part in (0.1, 0.3, 0.5, 0.7, 0.9):\n    sheet.circle(sheet.across(part), sheet.down(0.5), 1 + part * 6, fill="#d9715b")'),
        method(View.bleed, 'wide = sheet.bleed(6)\nwide.circle(0, 0, 16, fill="#e8b44f")\nwide.circle(wide.width, wide.height, 16, fill="#7d4f7f")'),
    ],
    "Arrangements": [
        method(View.grid, 'for cell in sheet.inset(3).grid(9, 5, hexagonal=True):\n    cell.ngon(0, 0, 6, cell.height * 0.46, fill=palette.ramp(cell.col_fraction))'),
        method(View.ring, 'for place in sheet.frame(42, 24).ring(16, 16):\n    place.ellipse(0, 0, 1.4, 4.5, fill=palette.cycle(place.index))'),
        method(View.fan, 'for place in sheet.frame(42, 44).fan(15, 150):\n    place.ellipse(0, -22, 1.6, 14, fill=palette.ramp(place.fraction), opacity=0.7)'),
        method(View.spiral, 'for place in sheet.frame(42, 24).spiral(260, 1.35, kind="phyllotaxis"):\n    place.circle(0, 0, 0.55, fill=palette.ramp(place.fraction))'),
        method(View.along, 'wave = smooth([(4, 30), (24, 10), (44, 36), (64, 12), (80, 28)])\nfor place in sheet.along(wave, 34):\n    place.line(0, -3, 0, 3, stroke=ink, stroke_width=0.4)'),
        method(View.scatter, 'for place in sheet.scatter(150, chance("moss"), margin=3, gap=2.6, weight=lambda x, y: (x / 84) ** 2):\n    place.circle(0, 0, 1, fill="#7d9f86")'),
    ],
    "Paint": [
        function("linear_ramp", 'sheet.rect(8, 8, 68, 32, fill=linear_ramp((8, 8), (76, 40), ["#14213d", "#7d4f7f", "#d9715b", "#e8b44f"]))'),
        function("radial_ramp", 'sheet.circle(42, 24, 21, fill=radial_ramp((36, 18), 26, ["#fdf3cf", "#e8b44f", "#7d4f7f"]))'),
        function("soft_shadow", 'for step in range(4):\n    sheet.circle(15 + step * 18, 23, 6.5, fill="#e8b44f", shadow=soft_shadow(1 + step * 0.6, 0.4 + step * 1.6))'),
    ],
}  # fmt: skip


def draw(entry: Entry) -> Sheet:
    """Run an entry's example on a small sheet."""
    return drawn(entry.example, WIDTH, HEIGHT)


def drawn(code: str, width: float, height: float) -> Sheet:
    """Run lines of a sketch on a sheet of that size."""
    sheet = Sheet(width, height, "mm", Colour.parse("#f4efe4"))
    names = {name: getattr(mothseed, name) for name in mothseed.__all__}
    palette = Palette(["#14213d", "#7d4f7f", "#d9715b", "#e8b44f"])
    exec(code, {**names, "sheet": sheet, "chance": Chance(7), "palette": palette, "ink": INK})
    return sheet


def signature(entry: Entry) -> str:
    """The call as it is written, with its arguments and their defaults."""
    parameters = list(inspect.signature(entry.call).parameters.values())[entry.is_method :]
    plain = [parameter.replace(annotation=inspect.Parameter.empty) for parameter in parameters]
    written = str(inspect.Signature(plain)).replace("'", '"')
    return f"{'view.' if entry.is_method else ''}{entry.name}{written}"


def words(entry: Entry) -> str:
    """The call's own documentation, without examples that are run as tests."""
    text = inspect.getdoc(entry.call) or ""
    return re.sub(r"\n*>>> .*", "", text, flags=re.DOTALL).strip()


PAGES = ("plate", "patterns")
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
        "In them, `palette` has four colours and `ink` is a dark one. Every shape takes paint by keyword: `fill`, `stroke`,",
        "`stroke_width`, `opacity`, `linecap`, `linejoin`, `fill_rule`, `dash`, `blend`, `shadow`.",
    ]
    for section, entries in SECTIONS.items():
        lines += ["", f"## {section}"]
        for entry in entries:
            lines += ["", f"### {entry.name}", "", f"`{signature(entry)}`", "", words(entry), ""]
            lines += ["```python", textwrap.dedent(entry.example), "```", "", f"![{entry.name}](pictures/{entry.name}.png)"]
    return "\n".join(lines) + "\n"


def main() -> None:
    """Write the page and its pictures."""
    folder = ROOT / "docs" / "reference"
    (folder / "pictures").mkdir(parents=True, exist_ok=True)
    for entries in SECTIONS.values():
        for entry in entries:
            write_png(folder / "pictures" / f"{entry.name}.png", rendered(draw(entry).drawing(), PIXELS))
    (folder / "README.md").write_text(page(), encoding="utf-8")
    for name in PAGES:
        for number, code in enumerate(code_of_page(name), 1):
            write_png(ROOT / "docs" / name / f"{number}.png", rendered(drawn(code, 120, 80).drawing(), 600))


if __name__ == "__main__":
    main()
