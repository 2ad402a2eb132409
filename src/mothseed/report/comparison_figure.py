"""A comparison as a file: side by side, overlaid, or alternating."""

from __future__ import annotations

from pathlib import Path

from mothseed.compare import Comparison
from mothseed.compare.in_words import change_lines, figures, lines_of_shapes
from mothseed.formats.animation import write_animation
from mothseed.report.overlay import TURN, taking_turns
from mothseed.report.page import write_page
from mothseed.report.side_by_side import side_by_side
from mothseed.report.theme import LIGHT, Theme

ANIMATIONS = (".gif", ".webp")


def write_comparison(comparison: Comparison, output: Path, theme: Theme = LIGHT, *, overlay: bool = False) -> None:
    """Write the figure of a comparison, or an animation if the file's name asks for one."""
    if output.suffix.lower() in ANIMATIONS:
        write_animation(output, taking_turns(*comparison.images, comparison.titles, theme), [TURN, TURN])
        return
    lines = [
        *change_lines(comparison.changes),
        *lines_of_shapes(comparison),
        "  ·  ".join(figures(comparison.pair)),
    ]
    shapes = comparison.shapes
    figure = side_by_side(comparison.images, comparison.pair, comparison.titles, lines, theme, shapes, overlay=overlay)
    write_page(figure, output)
