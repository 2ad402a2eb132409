"""Outlines as the paths of vector files."""

from __future__ import annotations

from mothseed.formats.decimals import each_written
from mothseed.geometry.outline import Outline
from mothseed.geometry.verbs import LINE, MOVE, POINTS_TAKEN


def svg_path(outline: Outline, places: int) -> str:
    """The `d` of an SVG path: absolute commands, with repeated letters left out."""
    texts = each_written(outline.points.ravel().tolist(), places)
    parts: list[str] = []
    before, place = -1, 0
    for verb in outline.verbs.tolist():
        end = place + 2 * POINTS_TAKEN[verb]
        text = " ".join(texts[place:end]).replace(" -", "-")
        # A pair that follows a move without a letter is a line.
        if verb == before != MOVE or (verb == LINE and before == MOVE):
            parts.append(text if text.startswith("-") else " " + text)
        else:
            parts.append("MLCZ"[verb] + text)
        before, place = verb, end
    return "".join(parts)


def pdf_path(outline: Outline, places: int) -> str:
    """Path construction operators of PDF (ISO 32000-1, section 8.5.2)."""
    texts = each_written(outline.points.ravel().tolist(), places)
    parts: list[str] = []
    place = 0
    for verb in outline.verbs.tolist():
        end = place + 2 * POINTS_TAKEN[verb]
        parts += texts[place:end]
        parts.append("mlch"[verb])
        place = end
    return " ".join(parts)
