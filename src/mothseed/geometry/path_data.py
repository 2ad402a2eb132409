"""Outlines from SVG path data."""

from __future__ import annotations

import numpy as np

from mothseed.faults import SketchError
from mothseed.geometry.outline import Outline
from mothseed.geometry.pens.recording import RecordPen
from mothseed.geometry.verbs import CLOSE, LINE


def from_path_data(data: str) -> Outline:
    """The outline that SVG path data describes, such as "M 0 0 H 20 a 5 5 0 0 1 0 10 z"; arcs are cubics of up to 90 degrees.

    https://www.w3.org/TR/SVG2/paths.html. Raises SketchError for what is none.
    """
    from fontTools.svgLib.path import parse_path

    from mothseed.geometry.pens.borrowed import BorrowedPen

    record = RecordPen()
    hint = 'path data begins with M: Outline.from_svg("M 0 0 L 20 0 L 10 15 z")'
    if not isinstance(data, str):
        raise SketchError(f"from_svg: path data is a string (got {type(data).__name__})", hint=hint)
    try:
        parse_path(data, BorrowedPen(record))
    except Exception:  # noqa: BLE001  # whatever the parser stumbles over
        raise SketchError(f"from_svg: this is not path data: {data[:60]!r}", hint=hint) from None
    if not len(record.verbs):
        raise SketchError(f"from_svg: this is not path data: {data[:60]!r}", hint=hint)
    return _without_closing_lines(Outline(record.verbs, record.points))


def _without_closing_lines(outline: Outline) -> Outline:
    """The outline without lines back to the start of a subpath that closing it draws anyway."""
    verbs, points = [], []
    for own, places in outline.subpaths():
        is_drawn = own[-2:].tolist() == [LINE, CLOSE] and bool((places[-1] == places[0]).all())
        verbs.append(np.delete(own, -2) if is_drawn else own)
        points.append(places[:-1] if is_drawn else places)
    return Outline(np.concatenate(verbs), np.concatenate(points))
