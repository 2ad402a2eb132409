"""The light table: a series as a web page for browsing, marking and comparing."""

from __future__ import annotations

import base64
import os
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import quote

import numpy as np

from mothseed.arrays import FloatArray
from mothseed.chance.outcome import by_label
from mothseed.report.web import filled_page
from mothseed.series import Edition
from mothseed.told import told

_STEPS = 32_000
"""Steps from the centre of all points to the farthest."""
_MOST_CHOICES = 12
"""Most values a column may have to be filtered by."""


@dataclass(frozen=True, slots=True, eq=False)
class Arranged:
    """How the editions of a page are arranged by likeness."""

    points: FloatArray
    """float64 (n, k): look-alikes are close together; the first two columns are the map"""
    groups: Sequence[str]
    """the name of the group of each; empty if there are no groups"""
    axes: Sequence[str]
    """the two directions of the map, in words"""


def row_of(edition: Edition, address: str, again: str) -> dict[str, Any]:
    """An edition as plain values for a page, with the address of its picture and the command that remakes it."""
    values = by_label(edition.outcomes)
    came = {label: told(value) if isinstance(value, list) else value for label, value in values.items()}
    history: dict[str, Any] = {
        "file": edition.file,
        "sketch": edition.sketch,
        "re-seeded": ", ".join(f"{stream}={seed}" for stream, seed in edition.reseeds.items()),
        "left out": ", ".join(edition.without),
        "fingerprint": edition.fingerprint,
    }
    return {
        "seed": edition.seed,
        "variant": edition.variant,
        "title": edition.title,
        "file": address,
        "caption": ", ".join(dict.fromkeys(map(told, came.values()))),
        "mark": edition.mark,
        "note": edition.note,
        "dials": edition.dials,
        "outcomes": came,
        "measures": edition.measures,
        "palette": edition.palette,
        "history": {name: value for name, value in history.items() if value},
        "again": again,
    }


def address_of(picture: Path, page: Path) -> str:
    """The address of a picture for a page in a folder: relative, so that both can be moved together."""
    try:
        relative = os.path.relpath(picture.resolve(), page.resolve().parent)
    except ValueError:  # on another drive
        return ""
    return quote(Path(relative).as_posix())


def lightbox(
    series: str, rows: Sequence[dict[str, Any]], small: Iterable[str], aspect: float, arranged: Arranged | None, *, served: bool
) -> str:
    """The page of a series, as HTML. `small` are addresses of small pictures, `aspect` is their height over their width; if
    the page is `served`, marks go to the server. All text from the series is inserted as text, never as markup.
    """
    marks_file = f"{series}-marks.json"
    editions = [{**row, "order": place, "small": address} for place, (row, address) in enumerate(zip(rows, small, strict=True))]
    if arranged:
        spread = np.maximum(np.ptp(arranged.points[:, :2], axis=0), 1e-12)
        places = ((arranged.points[:, :2] - arranged.points[:, :2].min(axis=0)) / spread).round(4).tolist()
        groups = arranged.groups or [""] * len(editions)
        editions = [{**row, "place": place, "group": group} for row, place, group in zip(editions, places, groups, strict=True)]
    filters = _filters(editions)
    data = {
        "series": series,
        "marks_file": marks_file,
        "served": served,
        "editions": editions,
        "aspect": round(aspect, 4),
        "sortable": _sortable(editions),
        "filters": filters,
        "grouped": [*["group"] * bool(arranged and arranged.groups), *filters],
        "points": _points(arranged),
        "axes": list(arranged.axes) if arranged else [],
    }
    return filled_page("lightbox.html", series=series, marks_file=marks_file, data=data)


def _points(arranged: Arranged | None) -> dict[str, Any] | None:
    """Points rounded to 16-bit integers, little-endian, in Base64 (RFC 4648), to keep the page small."""
    if arranged is None:
        return None
    largest = max(float(np.abs(arranged.points).max()), 1e-12)
    steps = np.round(arranged.points / largest * _STEPS).astype("<i2")
    return {"width": steps.shape[1], "values": base64.b64encode(steps.tobytes()).decode("ascii")}


def _sortable(rows: Sequence[dict[str, Any]]) -> list[str]:
    """The numeric columns that are not the same in all editions."""
    columns = _columns(rows, ("measures", "dials", "outcomes"))
    return [name for name, values in columns.items() if len(values) > 1 and all(map(_is_number, values))]


def _filters(rows: Sequence[dict[str, Any]]) -> dict[str, list[Any]]:
    """The dials and outcomes that have several values, but not many."""
    choices = _columns(rows, ("dials", "outcomes"))
    variants = list(dict.fromkeys(row["variant"] for row in rows if row["variant"]))
    return {
        name: sorted(values, key=lambda value: (not _is_number(value), value if _is_number(value) else str(value)))
        for name, values in {**choices, "variant": variants}.items()
        if 2 <= len(values) <= _MOST_CHOICES
    }


def _columns(rows: Sequence[dict[str, Any]], parts: Sequence[str]) -> dict[str, list[Any]]:
    """The different values of what some parts of the rows have, by its name; where two have the same the later one counts."""
    found: dict[str, dict[str, Any]] = {}
    for part in parts:
        own: dict[str, dict[str, Any]] = {}
        for row in rows:
            for name, value in row[part].items():
                if value is not None:
                    own.setdefault(name, {})[repr(value)] = value
        found |= own
    return {name: list(values.values()) for name, values in found.items()}


def _is_number(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)
