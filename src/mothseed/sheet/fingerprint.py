"""The fingerprint of a drawing, independent of resolution."""

from __future__ import annotations

from hashlib import blake2b

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.extents import lattice_step, mark_matrices, on_lattice, stroke_widths

_FINGERPRINT_BITS = 20
"""Coordinates are rounded to about a millionth of the sheet: less than is visible, more than machines differ by."""


def fingerprint(drawing: Drawing) -> str:
    """BLAKE2b (16 bytes, as hexadecimal digits) of the size, the paper and all marks in order, coordinates rounded.

    Of two equal fingerprints the pictures are equal; a changed place, paint, kind or order changes it.
    """
    digest = blake2b(digest_size=16)
    step = lattice_step(drawing, _FINGERPRINT_BITS)

    def add_rounded(values: FloatArray) -> None:
        digest.update(on_lattice(values, step).astype("<i8").tobytes())

    sheet = (drawing.width, drawing.height, drawing.unit, drawing.paper.css, drawing.light, len(drawing))
    digest.update(repr((sheet, [group._replace(view=0, anchor=0) for group in drawing.groups], drawing.finishes)).encode())
    marks = drawing.marks
    for column in ("kind", "linecap", "linejoin", "painted", "fill", "stroke", "group", "finish"):
        digest.update(np.ascontiguousarray(marks[column]).tobytes())
    digest.update(np.round(marks["opacity"] * 65535).astype("<u2").tobytes())
    add_rounded(mark_matrices(drawing))
    add_rounded(stroke_widths(drawing))
    digest.update(np.ascontiguousarray(marks["outline"]).tobytes())
    add_rounded(drawing.views[[group.view for group in drawing.groups if not group.is_layer]])
    if drawing.outlines:
        digest.update(np.diff(drawing.outlines.first_verb).astype("<i8").tobytes())
        digest.update(drawing.outlines.verbs.tobytes())
        add_rounded(drawing.outlines.points)
    return digest.hexdigest()
