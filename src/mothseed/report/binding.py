"""A book of a series: a title page, a page for each edition, contact pages, and a colophon; as one PDF (ISO 32000-1).

Its pages are drawings, made with the same calls as sketches.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from io import BytesIO
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed._version import VERSION
from mothseed.chance.outcome import by_label
from mothseed.colour.value import Colour
from mothseed.faults import PictureError
from mothseed.formats.pdf import as_pdf
from mothseed.geometry.region import Box
from mothseed.geometry.typeface import house_font
from mothseed.records import as_json
from mothseed.render import RENDERER_VERSION
from mothseed.report.contact import Layout, Section, contact_pages
from mothseed.report.page import aspect_of
from mothseed.report.series_sheet import frames_of
from mothseed.report.theme import LIGHT
from mothseed.series import Edition
from mothseed.series.form import Form
from mothseed.series.other_forms import form_there
from mothseed.sheet import Sheet, View
from mothseed.told import counted, told
from mothseed.units import UNITS_PER_INCH

if TYPE_CHECKING:
    from pypdf import PdfWriter

_MARGIN = 18.0
_TITLE, _SUBTITLE, _CAPTION, _NOTE, _SMALL = 13.0, 5.6, 4.6, 3.9, 2.9
"""Sizes of type in millimetres."""
_POINTS = UNITS_PER_INCH["pt"] / UNITS_PER_INCH["mm"]
"""To a millimetre."""
_DPI = 200
_PIXELS = _DPI / UNITS_PER_INCH["mm"]
"""Of a contact page, to a millimetre."""
_MOST_ON_A_PAGE = 36
_COLOPHON_LINE = 4.1
_WIDTH_OF_LETTER = 0.5
"""Average width of a letter, in sizes of the face."""


@dataclass(frozen=True, slots=True)
class Book:
    """What a book says, and the paper it is on."""

    title: str
    subtitle: str
    width: float
    """of a page, in millimetres"""
    height: float


def book_of(folder: Path, editions: Sequence[Edition], book: Book, done: Callable[[int], None]) -> bytes:
    """The book of editions of a series as a PDF; `done` is called for each edition bound.

    Editions also written as PDF are bound as vector shapes, others as pixels. What the ledger knows of them is attached to
    the book as editions.json. Raises PictureError for a picture that cannot be read.
    """
    from pypdf import PdfWriter

    writer = PdfWriter()
    _bind(writer, _title_page(book, editions))
    for number, edition in enumerate(editions, 2):
        picture, shapes = (folder / edition.file).absolute(), _shapes(folder, edition)
        window = _window(book, aspect_of(picture))
        _bind(writer, _edition_page(book, edition, window, None if shapes else picture, number), edition.title)
        if shapes:
            _lay_shapes(writer, book, shapes, window)
        done(1)
    contacts = list(_contact_pages(book, folder, editions))
    for place, content in enumerate(contacts):
        writer.append(BytesIO(content), outline_item=None if place else "all editions", import_outline=False)
    for place, page in enumerate(_colophon(book, editions, len(editions) + len(contacts) + 2)):
        _bind(writer, page, "" if place else "colophon")
    writer.add_metadata({"/Title": book.title, "/Producer": f"Moth Seed {VERSION}"})
    writer.add_attachment("editions.json", as_json([_kept(edition) for edition in editions]).encode())
    file = BytesIO()
    writer.write(file)
    return file.getvalue()


def _bind(writer: PdfWriter, page: Sheet, name: str = "") -> None:
    writer.append(BytesIO(as_pdf(page.drawing())), outline_item=name or None, import_outline=False)


def _page(book: Book, number: int | None = None) -> Sheet:
    """An empty page with its number at the foot."""
    page = Sheet(book.width, book.height, "mm", Colour.parse(LIGHT.paper))
    if number is not None:
        _line(page, book.width / 2, book.height - _MARGIN / 2, str(number), _SMALL, align="middle", fill=LIGHT.muted)
    return page


def _title_page(book: Book, editions: Sequence[Edition]) -> Sheet:
    page = _page(book)
    top = book.height * 0.36
    size = _size_for(book.title, _TITLE, book.width - 2 * _MARGIN)
    _line(page, book.width / 2, top, book.title, size, align="middle", fill=LIGHT.ink)
    page.line(book.width / 2 - 14, top + 9, book.width / 2 + 14, top + 9, stroke=LIGHT.muted, stroke_width=0.25)
    words = book.subtitle or f"{counted(len(editions), 'edition')} of {Path(editions[0].sketch).stem}"
    _line(page, book.width / 2, top + 19, words, _SUBTITLE, align="middle", italic=True, fill=LIGHT.muted)
    return page


def _window(book: Book, aspect: float) -> Box:
    """Where the picture of an edition goes on its page, in millimetres: as large as fits above the caption, and hung a little
    above the middle.
    """
    room_across, room_down = book.width - 2 * _MARGIN, book.height - 2 * _MARGIN - 22
    width = min(room_across, room_down / aspect)
    height = width * aspect
    return (book.width - width) / 2, _MARGIN + (room_down - height) * 0.4, width, height


def _edition_page(book: Book, edition: Edition, window: Box, picture: Path | None, number: int) -> Sheet:
    """The page of an edition with its picture in the window, which stays empty if vector shapes are placed there."""
    page = _page(book, number)
    left, top, width, height = window
    if picture:
        page.rect(*window, fill=page.picture(picture).placed(window))
    below = top + height + 8
    _line(page, left, below, edition.title, _CAPTION, fill=LIGHT.ink)
    came = ", ".join(told(value, 4) for value in by_label(edition.outcomes).values())
    _line(page, left + width, below, came, _NOTE, align="end", italic=True, fill=LIGHT.muted, room=width * 0.8)
    _line(page, left, below + 6.5, edition.note, _NOTE, italic=True, fill=LIGHT.muted, room=width)
    return page


def _shapes(folder: Path, edition: Edition) -> Path | None:
    """The PDF of an edition, if it was written as one, since that is sharp at any size."""
    name = Form(".pdf").file(edition.file)
    return form_there(folder, name) if name in edition.files else None


def _lay_shapes(writer: PdfWriter, book: Book, file: Path, window: Box) -> None:
    """Place the shapes of a PDF in the window of the page bound last."""
    from pypdf import PdfReader
    from pypdf.generic import ArrayObject, FloatObject, NameObject, StreamObject

    try:
        shapes = PdfReader(file).pages[0]
        # As a form, whose content need not be parsed: merging two pages takes many times as long.
        form = StreamObject()
        form.set_data(shapes.get_contents().get_data())  # type: ignore[union-attr]  # a page without is a fault too
        form.update({NameObject("/Type"): NameObject("/XObject"), NameObject("/Subtype"): NameObject("/Form")})
        form[NameObject("/BBox")] = ArrayObject(map(FloatObject, shapes.mediabox))
        for name in ("/Resources", "/Group"):
            form[NameObject(name)] = shapes[name].get_object().clone(writer)  # type: ignore[union-attr]
        kept = writer._add_object(form.flate_encode())
        across = float(shapes.mediabox.width)
    except Exception as fault:  # noqa: BLE001  # whatever a damaged file makes its reader do
        raise PictureError(f"{file} is not a whole picture: {fault}", hint="mothseed edition makes it again") from None
    left, top, width, height = window
    x, y, scale = left * _POINTS, (book.height - top - height) * _POINTS, width * _POINTS / across
    drawn = StreamObject()
    drawn.set_data(f"q {scale:.6f} 0 0 {scale:.6f} {x:.4f} {y:.4f} cm /Edition Do Q".encode())
    page = writer.pages[-1]
    page["/Resources"]["/XObject"][NameObject("/Edition")] = kept  # type: ignore[index]
    before = page.raw_get("/Contents")
    page[NameObject("/Contents")] = ArrayObject([before, writer._add_object(drawn)])


def _contact_pages(book: Book, folder: Path, editions: Sequence[Edition]) -> Iterator[bytes]:
    """Pages with all editions small, each page as a PDF."""
    width, height = (round(side * _PIXELS) for side in (book.width, book.height))
    layout = Layout(width, height, round(_MARGIN * _PIXELS))
    sections = [Section("", tuple(frames_of(folder, editions)))]
    for page in contact_pages(sections, book.title, "all editions", layout, _MOST_ON_A_PAGE):
        file = BytesIO()
        page.save(file, format="PDF", resolution=_DPI)
        yield file.getvalue()


def _colophon(book: Book, editions: Sequence[Edition], number: int) -> Iterator[Sheet]:
    """How the editions were made, and their hashes, on as many pages as it takes."""
    first = editions[0]
    sources = sorted({name: digest for edition in editions for name, digest in edition.sources.items()}.items())
    renderers = ", ".join(sorted({str(edition.renderer) for edition in editions}))
    lines = [
        f"{counted(len(editions), 'edition')} of {first.sketch}, made by Moth Seed, bound by its version {VERSION}",
        f"(renderer {renderers}; the one that bound it is {RENDERER_VERSION}).",
        "Each can be made again from its seed and these files, and known by the hash of its pixels (BLAKE2b).",
        "",
        *(f"{name}   {digest}" for name, digest in sources),
        "",
        *(f"{edition.title}   {edition.pixel_hash}" for edition in editions),
    ]
    per_page = int((book.height - 2 * _MARGIN - 16) / _COLOPHON_LINE)
    for start in range(0, len(lines), per_page):
        page = _page(book, number + start // per_page)
        _line(page, _MARGIN, _MARGIN + 6, "Colophon" if not start else "Colophon, continued", _SUBTITLE, fill=LIGHT.ink)
        for place, words in enumerate(lines[start : start + per_page]):
            top = _MARGIN + 18 + place * _COLOPHON_LINE
            _line(page, _MARGIN, top, words, _SMALL, fill=LIGHT.ink, room=book.width - 2 * _MARGIN)
        yield page


def _kept(edition: Edition) -> dict[str, object]:
    """What the book records about an edition: enough to make it again and to identify it."""
    kept = ("seed", "variant", "number", "sketch", "dials", "reseeds", "without", "sources", "fingerprint", "pixel_hash")
    return {name: getattr(edition, name) for name in (*kept, "renderer", "note")}


def _line(
    page: View,
    x: float,
    y: float,
    words: str,
    size: float,
    *,
    align: str = "start",
    italic: bool = False,
    fill: str,
    room: float = math.inf,
) -> None:
    """One line of text, cut with an ellipsis if it is too long; characters missing from the face become question marks."""
    known = _letters(italic)
    words = "".join(letter if ord(letter) in known else "?" for letter in " ".join(words.split()))
    most = int(room / (size * _WIDTH_OF_LETTER)) if room < math.inf else len(words)
    shown = words if len(words) <= most else words[: most - 1].rstrip() + "…"
    if shown:
        page.text(x, y, shown, size, align=align, italic=italic, fill=fill)


def _size_for(words: str, size: float, room: float) -> float:
    """The size, or a smaller one if the words would not fit."""
    return min(size, room / max(len(words) * _WIDTH_OF_LETTER, 1))


@lru_cache
def _letters(italic: bool) -> frozenset[int]:
    """The characters that the book face has."""
    from fontTools.ttLib import TTFont

    with TTFont(house_font(italic=italic)) as face:
        return frozenset(face.getBestCmap())
