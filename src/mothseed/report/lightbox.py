"""The light table: a series as one web page, that needs nothing but itself."""

from __future__ import annotations

import base64
import os
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial
from io import BytesIO
from pathlib import Path
from typing import Any
from urllib.parse import quote

from mothseed.chance.outcome import by_label
from mothseed.report.page import thumbnail
from mothseed.report.web import filled_page
from mothseed.series import Edition
from mothseed.told import told

_QUALITY = 82
_MOST_CHOICES = 12
"""Values up to which a column can be filtered by."""


@dataclass(frozen=True, slots=True)
class Card:
    """One edition as the page shows it; plain values, as JSON has them."""

    seed: int | str
    variant: str
    title: str
    picture: Path
    address: str
    """of the picture itself, as the page finds it, or empty"""
    caption: str
    mark: str
    note: str
    dials: dict[str, Any]
    outcomes: dict[str, Any]
    measures: dict[str, float]
    palette: Sequence[tuple[str, float]]
    history: dict[str, Any]
    again: str
    """the command that makes it again"""


def card_of(folder: Path, edition: Edition, page: Path, again: str) -> Card:
    """The card of an edition on a page that lies there; `again` is the command that makes it again."""
    picture = folder / edition.file
    values = by_label(edition.outcomes)
    came = {label: told(value) if isinstance(value, list) else value for label, value in values.items()}
    history: dict[str, Any] = {
        "file": edition.file,
        "sketch": edition.sketch,
        "re-seeded": ", ".join(f"{stream}={seed}" for stream, seed in edition.reseeds.items()),
        "left out": ", ".join(edition.without),
        "fingerprint": edition.fingerprint,
    }
    return Card(
        seed=edition.seed,
        variant=edition.variant,
        title=edition.title,
        picture=picture,
        address=_address(picture, page),
        caption=", ".join(dict.fromkeys(map(told, came.values()))),
        mark=edition.mark,
        note=edition.note,
        dials=edition.dials,
        outcomes=came,
        measures=edition.measures,
        palette=edition.palette,
        history={name: value for name, value in history.items() if value},
        again=again,
    )


def _address(picture: Path, page: Path) -> str:
    """How the page finds a picture: relative to itself, so that both can be moved together."""
    try:
        relative = os.path.relpath(picture.resolve(), page.resolve().parent)
    except ValueError:  # on another drive
        return ""
    return quote(Path(relative).as_posix())


def lightbox(series: str, cards: Sequence[Card], width: int, done: Callable[[int], None]) -> str:
    """The page of a series: an HTML document with pictures that many pixels wide in it.

    `done` is told of each picture that is in it. All words of the series are put in as text, never as markup.
    """
    rows = []
    with ThreadPoolExecutor() as pool:
        for place, (card, small) in enumerate(zip(cards, pool.map(partial(_thumbnail, width=width), cards), strict=True)):
            address, size = small
            rows.append(_row(card, place, address, size))
            done(1)
    marks_file = f"{series}-marks.json"
    data = {
        "series": series,
        "marks_file": marks_file,
        "editions": rows,
        "sortable": _sortable(rows),
        "filters": _filters(rows),
    }
    return filled_page("lightbox.html", series=series, marks_file=marks_file, data=data)


def _row(card: Card, place: int, thumbnail: str, size: tuple[int, int]) -> dict[str, Any]:
    return {
        "seed": card.seed,
        "variant": card.variant,
        "title": card.title,
        "order": place,
        "thumbnail": thumbnail,
        "width": size[0],
        "height": size[1],
        "file": card.address,
        "caption": card.caption,
        "mark": card.mark,
        "note": card.note,
        "dials": card.dials,
        "outcomes": card.outcomes,
        "measures": card.measures,
        "values": {**card.measures, **card.dials, **card.outcomes, **({"variant": card.variant} if card.variant else {})},
        "palette": card.palette,
        "history": card.history,
        "again": card.again,
    }


def _thumbnail(card: Card, width: int) -> tuple[str, tuple[int, int]]:
    """A picture as an address that holds all of it, and its size."""
    image = thumbnail(card.picture, (width, 4 * width))
    buffer = BytesIO()
    image.save(buffer, format="WEBP", quality=_QUALITY, method=4)
    return "data:image/webp;base64," + base64.b64encode(buffer.getvalue()).decode("ascii"), image.size


def _sortable(rows: Sequence[dict[str, Any]]) -> list[str]:
    """The columns of numbers that are not the same in all editions."""
    names = dict.fromkeys(name for row in rows for name in row["values"])
    return [name for name in names if len(_distinct(rows, name)) > 1 and all(map(_is_number, _distinct(rows, name)))]


def _filters(rows: Sequence[dict[str, Any]]) -> dict[str, list[Any]]:
    """The dials and outcomes that have several, but not many, values."""
    names = dict.fromkeys(name for row in rows for name in row["values"] if name not in row["measures"])
    choices = {name: _distinct(rows, name) for name in names}
    return {
        name: sorted(values, key=lambda value: (not _is_number(value), value if _is_number(value) else str(value)))
        for name, values in choices.items()
        if 2 <= len(values) <= _MOST_CHOICES
    }


def _distinct(rows: Sequence[dict[str, Any]], name: str) -> list[Any]:
    values = (row["values"].get(name) for row in rows)
    return list({repr(value): value for value in values if value is not None}.values())


def _is_number(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)
