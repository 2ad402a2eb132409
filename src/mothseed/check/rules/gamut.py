"""Colours that no screen shows, told from the text of a sketch."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from mothseed.check.rule import Finding, Look, Rule
from mothseed.check.text import SourceFile, source_files

_WIDE_SPACES = ("oklch(", "oklab(", "lch(", "lab(", "color(")


def _find(look: Look) -> Iterator[Finding]:
    for file in source_files(look.sketch):
        for node in ast.walk(file.tree):
            if isinstance(node, ast.Constant) and isinstance(node.value, str):
                yield from _in_text(node, node.value, file)


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


RULE = Rule({"out-of-gamut": "a colour that no screen shows, replaced by a duller one"}, _find)
