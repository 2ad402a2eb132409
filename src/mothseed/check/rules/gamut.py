"""Colours outside sRGB, found in the text of a sketch."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from itertools import product

from mothseed.chance.tints import MIDDLING
from mothseed.check.rule import Finding, Look, Rule
from mothseed.check.text import SourceFile

_COMPUTED = "{}"
_OPTIONS = (
    [f"{lightness / 20:g}" for lightness in range(1, 20)],
    ["0"],
    [str(hue) for hue in range(0, 360, 10)],
)
"""Possible values of computed lightness, chroma and hue."""
_STEPS = 36
_WIDE_SPACES = ("oklch(", "oklab(", "lch(", "lab(", "color(")


def _find(look: Look) -> Iterator[Finding]:
    for file in look.sources:
        for node in file.nodes():
            if isinstance(node, ast.Constant) and isinstance(node.value, str):
                yield from _in_text(node, node.value, file)
            elif isinstance(node, ast.JoinedStr):
                yield from _in_computed(node, file)
            elif isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr == "colour":
                yield from _in_draw(node, file)


def _in_text(node: ast.Constant, written: str, file: SourceFile) -> Iterator[Finding]:
    text = written.strip().lower()
    if not text.startswith(_WIDE_SPACES):
        return
    from coloraide import Color

    try:
        colour = Color(text)
    except ValueError:
        return
    if not colour.in_gamut("srgb", tolerance=0.002):
        nearest = colour.convert("srgb").fit(method="oklch-chroma").to_string(hex=True)
        words = f"{written} is more vivid than a screen can show; it becomes {nearest}"
        yield RULE.finding("out-of-gamut", file.line(node), words, "lower its chroma until it can")


def _in_computed(node: ast.JoinedStr, file: SourceFile) -> Iterator[Finding]:
    """A colour with computed parts: reported if it is out of gamut whatever their values."""
    written = "".join(str(part.value) if isinstance(part, ast.Constant) else _COMPUTED for part in node.values)
    parts = written.strip().lower().removeprefix("oklch(").removesuffix(")").split("/")[0].split()
    if not written.strip().lower().startswith("oklch(") or len(parts) != 3:
        return
    from coloraide import Color

    choices = [[part] if part != _COMPUTED else options for part, options in zip(parts, _OPTIONS, strict=True)]
    try:
        colours = [Color(f"oklch({' '.join(each)})") for each in product(*choices)]
    except ValueError:
        return
    if len(colours) > 1 and not any(colour.in_gamut("srgb", tolerance=0.002) for colour in colours):
        words = f"{ast.unparse(node)} is more vivid than a screen can show, whatever is computed in it"
        yield RULE.finding("out-of-gamut", file.line(node), words, "lower its chroma until it can")


def _in_draw(node: ast.Call, file: SourceFile) -> Iterator[Finding]:
    """A random colour with literal ranges: reported if even the dullest in them is out of gamut."""
    given = {keyword.arg: _range_of(keyword.value) for keyword in node.keywords}
    lightness, chroma, hue = (given.get(name, usual) for name, usual in MIDDLING.items())
    if "chroma" not in given or lightness is None or chroma is None or hue is None:
        return
    from mothseed.colour.oklch import shown_in_srgb

    steps = [index / _STEPS for index in range(_STEPS + 1)]
    lights, hues = ([low + (high - low) * step for step in steps] for low, high in (lightness, hue))
    if chroma[0] > 0 and not any(shown_in_srgb(light, chroma[0], angle) for light, angle in product(lights, hues)):
        words = f"{ast.unparse(node)} is more vivid than a screen can show, whatever is drawn"
        yield RULE.finding("out-of-gamut", file.line(node), words, "lower its chroma until it can")


def _range_of(node: ast.expr) -> tuple[float, float] | None:
    """A literal number, or pair of numbers."""
    try:
        value = ast.literal_eval(node)
        low, high = value if isinstance(value, tuple) else (value, value)
        return (float(low), float(high)) if low <= high else None
    except (ValueError, TypeError):
        return None


RULE = Rule({"out-of-gamut": "a colour that no screen shows, replaced by a duller one"}, _find)
