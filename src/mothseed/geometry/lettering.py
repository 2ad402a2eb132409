"""Text as outlines."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from importlib.util import find_spec
from io import BytesIO
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np

from mothseed.arrays import ByteArray, FloatArray, PointArray, WholeArray
from mothseed.checks import is_finite, one_of
from mothseed.faults import SketchError
from mothseed.geometry.lengths import length_of, places_along
from mothseed.geometry.outline import Outline
from mothseed.geometry.pens.recording import RecordPen
from mothseed.geometry.trail import Trail, as_outline
from mothseed.portable import cosines_and_sines

ALIGNMENTS = ("start", "middle", "end")
_FACES = {
    (False, False): "STIXGeneral.ttf",
    (True, False): "STIXGeneralBol.ttf",
    (False, True): "STIXGeneralItalic.ttf",
    (True, True): "STIXGeneralBolIta.ttf",
}


def lettering(
    text: str,
    size: float,
    *,
    bold: bool = False,
    italic: bool = False,
    align: str = "start",
    spacing: float = 0.0,
    font: str | Path | None = None,
    along: Outline | Trail | Iterable[object] | None = None,
) -> Outline:
    """A line of text as an outline, its baseline along x with the origin at its start, middle or end.

    `size` is the height of the face in the units of what it is drawn on, `spacing` is added after each letter. Without a
    `font`, a TTF or OTF file, it is a book face that is installed with Moth Seed and has Latin, Greek and Cyrillic. `along`
    is an outline that the baseline follows instead, letter by letter: from its start on, about its middle, or up to its end; a
    closed one begins and ends where it closes. Raises SketchError for characters that the font lacks, naming them, for a file
    that is no font, and for an outline that is too short.
    """
    if not isinstance(text, str):
        raise SketchError(f"text: the text is a string (got {text!r})", hint="write str(...) around a number")
    if not (is_finite(size) and size > 0 and is_finite(spacing)):
        raise SketchError(f"text: size is a length above 0 (got {size!r})")
    one_of("text", "align", align, ALIGNMENTS)
    file = str(font or house_font(bold=bold, italic=italic))
    if along is not None:
        line = as_outline(along, "lettering", "write along=smooth(points)", closed=False)
        return _set_along(file, text, float(size), align, float(spacing), line)
    return _set_line(file, text, float(size), align, float(spacing))


@dataclass(frozen=True, slots=True)
class Words:
    """What an outline spells, and how: enough to set it again with the same font."""

    text: str
    size: float
    bold: bool
    italic: bool
    align: str
    spacing: float
    font: str
    x: float
    y: float
    turn: float

    @property
    def setting(self) -> tuple[object, ...]:
        """What lines have in common that are the same but for their size and place."""
        return self.text, self.bold, self.italic, self.font, self.spacing / self.size

    @property
    def family(self) -> str:
        """The name of the font's family."""
        return _face(self.font or str(house_font(bold=self.bold, italic=self.italic))).family


@dataclass(frozen=True, slots=True, eq=False)
class Lettered(Outline):
    """An outline that knows what it spells, for files that keep text as text."""

    words: Words


@lru_cache(maxsize=1024)
def lettered(words: Words) -> Lettered:
    """Words in their place as an outline, the same object each time, so that it is kept once; raises as `lettering` does."""
    line = lettering(
        words.text,
        words.size,
        bold=words.bold,
        italic=words.italic,
        align=words.align,
        spacing=words.spacing,
        font=words.font or None,
    )
    points = line.turned(words.turn).points if words.turn else line.points
    return Lettered(line.verbs, points + np.array([words.x, words.y]) if words.x or words.y else points, words)


@lru_cache(maxsize=1024)
def _set_line(font: str, text: str, size: float, align: str, spacing: float) -> Outline:
    """A line of text, kept as captions and single letters come again in a sketch."""
    letters = _letters_of(font, text)
    scale = size / _face(font).units
    points = letters.points * scale
    if spacing:
        points[:, 0] += letters.owners * spacing
    width = float(letters.begins[-1]) * scale + spacing * max(len(text) - 1, 0)
    if align != "start":
        points[:, 0] -= width / 2 if align == "middle" else width
    return Outline(letters.verbs, points)


def _set_along(font: str, text: str, size: float, align: str, spacing: float, line: Outline) -> Outline:
    """A line of text that follows an outline: each letter stands upright on it where its middle is."""
    letters = _letters_of(font, text)
    scale = size / _face(font).units
    begins = letters.begins * scale + spacing * np.arange(len(letters.begins))
    width, whole = float(begins[-1]) - spacing * bool(text), length_of(line)
    if width > whole:
        raise SketchError(
            f"text: {text!r} is {width:.4g} long, and the outline {whole:.4g}",
            hint="make the size smaller, or the outline longer",
        )
    middles = (begins[:-1] + begins[1:] - spacing) / 2
    ahead = {"start": 0.0, "middle": (whole - width) / 2, "end": whole - width}[align]
    places = np.array(places_along(line, (ahead + middles) / whole)).reshape(-1, 3)
    cosine, sine = cosines_and_sines(places[:, 2])
    own = letters.owners
    x, y = letters.points[:, 0] * scale + (spacing * own - middles[own]), letters.points[:, 1] * scale
    points = np.stack(
        [places[own, 0] + x * cosine[own] - y * sine[own], places[own, 1] + x * sine[own] + y * cosine[own]], axis=1
    )
    return Outline(letters.verbs, points)


class _Letters(NamedTuple):
    """The glyphs of a text set one after the other, in the font's units, y down."""

    verbs: ByteArray
    points: PointArray
    owners: WholeArray
    """(n,): which glyph each point is of"""
    begins: FloatArray
    """(k + 1,): where each glyph begins, and where the last one ends"""


@lru_cache(maxsize=1024)
def _letters_of(font: str, text: str) -> _Letters:
    """The glyphs of a text, gathered once for all sizes; raises SketchError for characters that the font lacks."""
    face = _face(font)
    missing = sorted({letter for letter in text if ord(letter) not in face.letters})
    if missing:
        raise SketchError(
            f"text: the font has no {', '.join(missing)}", hint="use other letters, or font= with a file that has them"
        )
    glyphs = [_glyph(face, face.letters[ord(letter)]) for letter in text]
    verbs = np.concatenate([np.zeros(0, np.uint8), *(glyph[0] for glyph in glyphs)])
    points = np.concatenate([np.zeros((0, 2)), *(glyph[1] for glyph in glyphs)])
    owners = np.repeat(np.arange(len(glyphs)), [len(glyph[1]) for glyph in glyphs])
    begins = np.cumsum([0.0, *(glyph[2] for glyph in glyphs)])
    points[:, 0] += begins[owners]
    points[:, 1] *= -1.0
    return _Letters(verbs, points, owners, begins)


@lru_cache(maxsize=4)
def house_font(*, bold: bool = False, italic: bool = False) -> Path:
    """The file of the book face; it comes with Matplotlib."""
    found = find_spec("matplotlib")  # finds without importing, which would take longer than drawing a small sketch
    if found is None or found.origin is None:
        raise SketchError("the fonts of Matplotlib are not installed", hint="install Moth Seed anew with pip")
    return Path(found.origin).parent / "mpl-data" / "fonts" / "ttf" / _FACES[bold, italic]


class _Face:
    """A font file that was opened."""

    def __init__(self, file: str) -> None:
        from fontTools.ttLib import TTFont, TTLibError

        try:
            font = TTFont(BytesIO(Path(file).read_bytes()), lazy=True)
            self.letters: dict[int, str] = font.getBestCmap()
            self.glyphs: Any = font.getGlyphSet()
            self.units: int = font["head"].unitsPerEm
            self.family: str = font["name"].getBestFamilyName() or "serif"
        except (OSError, TTLibError, KeyError) as fault:
            raise SketchError(f"text: {file} is not a font that can be read: {fault}", hint="use a TTF or OTF file") from None


@lru_cache(maxsize=8)
def _face(file: str) -> _Face:
    return _Face(file)


Glyph = tuple["np.ndarray[Any, np.dtype[np.uint8]]", "np.ndarray[Any, np.dtype[np.float64]]", float]


@lru_cache(maxsize=2048)
def _glyph(face: _Face, name: str) -> Glyph:
    """Verbs, points and advance of a glyph, in the font's units, y up."""
    from mothseed.geometry.pens.borrowed import BorrowedPen

    record = RecordPen()
    glyph = face.glyphs[name]
    glyph.draw(BorrowedPen(record, face.glyphs))
    return record.verbs, record.points, float(glyph.width)
