"""Text as outlines."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from importlib.util import find_spec
from io import BytesIO
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np

from mothseed.arrays import ByteArray, PointArray, WholeArray
from mothseed.checks import is_finite, one_of
from mothseed.faults import SketchError
from mothseed.geometry.outline import Outline
from mothseed.geometry.pens.recording import RecordPen

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
) -> Outline:
    """A line of text as an outline, its baseline along x with the origin at its start, middle or end.

    `size` is the height of the face in the units of what it is drawn on, `spacing` is added after each letter. Without a
    `font`, a TTF or OTF file, it is a book face that is installed with Moth Seed and has Latin, Greek and Cyrillic. Raises
    SketchError for characters that the font lacks, naming them, and for a file that is no font.
    """
    if not isinstance(text, str):
        raise SketchError(f"text: the text is a string (got {text!r})", hint="write str(...) around a number")
    if not (is_finite(size) and size > 0 and is_finite(spacing)):
        raise SketchError(f"text: size is a length above 0 (got {size!r})")
    one_of("text", "align", align, ALIGNMENTS)
    return _set_line(str(font or house_font(bold=bold, italic=italic)), text, float(size), align, float(spacing))


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
    width = letters.width * scale + spacing * max(len(text) - 1, 0)
    if align != "start":
        points[:, 0] -= width / 2 if align == "middle" else width
    return Outline(letters.verbs, points)


class _Letters(NamedTuple):
    """The glyphs of a text set one after the other, in the font's units, y down."""

    verbs: ByteArray
    points: PointArray
    owners: WholeArray
    """(n,): which glyph each point is of"""
    width: float


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
    return _Letters(verbs, points, owners, float(begins[-1]))


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
    from fontTools.pens.basePen import BasePen

    record = RecordPen()

    class Pen(BasePen):  # type: ignore[misc]  # fontTools has no types
        """Draws on our pen what fontTools draws on its own."""

        def _moveTo(self, pt: Any) -> None:  # noqa: N802  # fontTools' names
            record.move(*pt)

        def _lineTo(self, pt: Any) -> None:  # noqa: N802
            record.line(*pt)

        def _curveToOne(self, pt1: Any, pt2: Any, pt3: Any) -> None:  # noqa: N802
            record.cubic(*pt1, *pt2, *pt3)

        def _closePath(self) -> None:  # noqa: N802
            record.close()

    glyph = face.glyphs[name]
    glyph.draw(Pen(face.glyphs))
    return record.verbs, record.points, float(glyph.width)
