"""Text as outlines."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cached_property, lru_cache
from io import BytesIO
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np

from mothseed.arrays import ByteArray, FloatArray, PointArray, WholeArray
from mothseed.checks import finite, is_finite, length, one_of
from mothseed.faults import SketchError
from mothseed.geometry.affine import shifted
from mothseed.geometry.given_points import refuse_endless
from mothseed.geometry.lengths import length_of, places_along
from mothseed.geometry.outline import Outline, all_joined
from mothseed.geometry.pens.recording import RecordPen
from mothseed.geometry.trail import Trail, as_outline
from mothseed.geometry.typeface import house_font
from mothseed.portable import cosines_and_sines

ALIGNMENTS = ("start", "middle", "end")
LEADING = 1.3
"""Default distance of baselines, in sizes."""


def lettering(
    text: str,
    size: float,
    *,
    bold: bool = False,
    italic: bool = False,
    align: str = "start",
    spacing: float = 0.0,
    font: str | Path | None = None,
    kerning: bool = False,
    width: float | None = None,
    leading: float = LEADING,
    along: Outline | Trail | Iterable[object] | None = None,
) -> Outline:
    """Text as an outline, its first baseline along x with the origin at its start, middle or end.

    `size` is the height of the face in the units of what it is drawn on, `spacing` is added after each letter, and `kerning`
    sets pairs of letters as close as the font says. Without a `font`, a TTF or OTF file, it is a book face that is installed
    with Moth Seed and has Latin, Greek and Cyrillic. A line ends at a line break, and, where a `width` is given, between words
    so that it fits; baselines lie `leading` sizes apart. `along` is an outline that one line follows instead, letter by
    letter: from its start on, about its middle, or up to its end; a closed one begins and ends where it closes. Raises
    SketchError for characters that the font lacks, naming them, a file that is no font, and an outline that is too short.
    """
    _check_text(text, size, spacing)
    one_of("text", "align", align, ALIGNMENTS)
    file = str(font or house_font(bold=bold, italic=italic))
    if along is None:
        lines = lines_of(text, size, spacing=spacing, font=file, kerning=kerning, width=width, leading=leading)
        set_lines = [_set_line(_Setting(file, line, kerning), float(size), align, float(spacing)) for line in lines]
        if len(set_lines) == 1:
            return set_lines[0]
        return all_joined(line.moved(0.0, number * leading * size) for number, line in enumerate(set_lines))
    if width is not None:
        raise SketchError("text: width is for lines that lie straight, along for one that follows an outline")
    line = as_outline(along, "lettering", "write along=smooth(points)", closed=False)
    return _set_along(_Setting(file, text, kerning), float(size), align, float(spacing), line)


def lines_of(
    text: str, size: float, *, spacing: float, font: str, kerning: bool, width: float | None, leading: float
) -> list[str]:
    """The lines of a text, broken at its line breaks, and between words to fit a width if there is one. A word that is too
    wide gets a line of its own. Raises SketchError as `lettering` does.
    """
    _check_text(text, size, spacing)
    finite("text", leading=leading)
    if width is None:
        return text.split("\n") if "\n" in text else [text]
    length("text", width=width)
    lines = []
    for paragraph in text.split("\n"):
        line, *words = paragraph.split(" ")
        for word in words:
            longer = f"{line} {word}"
            begins = _begins_of(_face(font), _Setting(font, longer, kerning))
            if float(begins[-1]) * size / _face(font).units + spacing * (len(longer) - 1) > width:
                lines.append(line)
                line = word
            else:
                line = longer
        lines.append(line)
    return lines


def _check_text(text: object, size: object, spacing: object) -> None:
    if not isinstance(text, str):
        raise SketchError(f"text: the text is a string (got {text!r})", hint="write str(...) around a number")
    if not (is_finite(size) and size > 0 and is_finite(spacing)):  # type: ignore[operator]  # it is a number by then
        raise SketchError(f"text: size must be a length above 0 (got {size!r})")


class _Setting(NamedTuple):
    """A line of text, and how its letters are spaced."""

    font: str
    text: str
    kerning: bool


class Words(NamedTuple):
    """What an outline spells, and how: enough to set it again in the same font."""

    text: str
    size: float
    bold: bool
    italic: bool
    align: str
    spacing: float
    font: str
    kerning: bool
    x: float
    y: float
    turn: float

    @property
    def setting(self) -> tuple[object, ...]:
        """What lines share that differ only in size and place."""
        return self.text, self.bold, self.italic, self.font, self.kerning, self.spacing / self.size

    @property
    def family(self) -> str:
        """The name of the font's family."""
        return _face(self.font or house_font(bold=self.bold, italic=self.italic)).family


@dataclass(frozen=True, slots=True, eq=False)
class Lettered(Outline):
    """An outline that knows what it spells, for files that keep text as text."""

    words: Words


@lru_cache(maxsize=1024)
def lettered(words: Words) -> Lettered:
    """A line of words in position, as an outline; the same object each time, so that it is stored once. Raises SketchError as
    `lettering` does.
    """
    _check_text(words.text, words.size, words.spacing)
    one_of("text", "align", words.align, ALIGNMENTS)
    setting = _Setting(words.font or house_font(bold=words.bold, italic=words.italic), words.text, words.kerning)
    verbs, points = _line(setting, float(words.size), words.align, float(words.spacing))
    if words.turn:
        points = Outline(verbs, points).turned(words.turn).points
    if words.x or words.y:
        points = shifted(points, words.x, words.y)
    refuse_endless(points, "Outline")
    points.setflags(write=False)
    # Verbs and points match, and checking them again would take half the time of recording a word.
    result = object.__new__(Lettered)
    for name, part in (("verbs", verbs), ("points", points), ("words", words)):
        object.__setattr__(result, name, part)
    return result


@lru_cache(maxsize=1024)
def _set_line(setting: _Setting, size: float, align: str, spacing: float) -> Outline:
    """A line of text, cached as captions and single letters repeat in a sketch."""
    return Outline(*_line(setting, size, align, spacing))


def _line(setting: _Setting, size: float, align: str, spacing: float) -> tuple[ByteArray, PointArray]:
    """Verbs and points of a line of text."""
    letters = _letters_of(setting)
    scale = size / _face(setting.font).units
    points = letters.points * scale
    if spacing:
        points[:, 0] += letters.owners * spacing
    width = float(letters.begins[-1]) * scale + spacing * max(len(setting.text) - 1, 0)
    if align != "start":
        points[:, 0] -= width / 2 if align == "middle" else width
    return letters.verbs, points


def _set_along(setting: _Setting, size: float, align: str, spacing: float, line: Outline) -> Outline:
    """A line of text that follows an outline: each letter stands upright on it at its middle."""
    letters = _letters_of(setting)
    scale = size / _face(setting.font).units
    begins = letters.begins * scale + spacing * np.arange(len(letters.begins))
    width, whole = float(begins[-1]) - spacing * bool(setting.text), length_of(line)
    if width > whole:
        raise SketchError(
            f"text: {setting.text!r} is {width:.4g} long, and the outline {whole:.4g}",
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
    """The glyphs of a text one after another, in the font's units, y down."""

    verbs: ByteArray
    points: PointArray
    owners: WholeArray
    """(n,): the glyph of each point"""
    begins: FloatArray
    """(k + 1,): where each glyph begins, and where the last one ends"""


@lru_cache(maxsize=1024)
def _letters_of(setting: _Setting) -> _Letters:
    """The glyphs of a text, gathered once for all sizes; raises SketchError for characters that the font lacks."""
    face = _face(setting.font)
    begins = _begins_of(face, setting)
    glyphs = [_glyph(face, face.letters[ord(letter)]) for letter in setting.text]
    verbs = np.concatenate([np.zeros(0, np.uint8), *(glyph[0] for glyph in glyphs)])
    points = np.concatenate([np.zeros((0, 2)), *(glyph[1] for glyph in glyphs)])
    owners = np.repeat(np.arange(len(glyphs)), [len(glyph[1]) for glyph in glyphs])
    points[:, 0] += begins[owners]
    points[:, 1] *= -1.0
    verbs.setflags(write=False)  # all sizes share them
    return _Letters(verbs, points, owners, begins)


def _begins_of(face: _Face, setting: _Setting) -> FloatArray:
    """Where each letter of a line begins, and where the last ends: float64 (k + 1,), in the font's units."""
    missing = sorted({letter for letter in setting.text if ord(letter) not in face.letters})
    if "\n" in missing:
        raise SketchError("text: one line is needed (got a line break)", hint="text and lettering take several lines")
    if missing:
        raise SketchError(
            f"text: the font has no {', '.join(missing)}", hint="use other letters, or font= with a file that has them"
        )
    advances = np.array([_glyph(face, face.letters[ord(letter)])[2] for letter in setting.text])
    if setting.kerning and setting.text:
        advances += _kerns(setting.font, setting.text)
    return np.cumsum([0.0, *advances.tolist()])


def _kerns(font: str, text: str) -> FloatArray:
    """How much each letter is moved towards the next, or away from it, by the font's own kerning: float64 (k,)."""
    set_close, set_plain = (_advances(font, text, kerning=kerning) for kerning in (True, False))
    return set_close - set_plain


def _advances(font: str, text: str, *, kerning: bool) -> FloatArray:
    import uharfbuzz

    buffer = uharfbuzz.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    uharfbuzz.shape(_shaper(font), buffer, {"kern": kerning, "liga": False, "clig": False, "calt": False})
    owners = np.array([info.cluster for info in buffer.glyph_infos], np.int64)
    advances = np.zeros(len(text))
    np.add.at(advances, owners, [place.x_advance for place in buffer.glyph_positions])
    return advances


@lru_cache(maxsize=8)
def _shaper(font: str) -> Any:
    import uharfbuzz

    return uharfbuzz.Font(uharfbuzz.Face(uharfbuzz.Blob(Path(font).read_bytes())))


class _Face:
    """An open font file."""

    def __init__(self, file: str) -> None:
        from fontTools.ttLib import TTFont

        self._file = file
        with _reading(file):
            self._font = TTFont(BytesIO(Path(file).read_bytes()), lazy=True)
            self.letters: dict[int, str] = self._font.getBestCmap()
            self.glyphs: Any = self._font.getGlyphSet()
            self.units: int = self._font["head"].unitsPerEm

    @cached_property
    def family(self) -> str:
        """The name of its family. Only text that stays text asks for it: reading it takes as long as opening the font."""
        with _reading(self._file):
            names = self._font.get("name")
            return (names and names.getBestFamilyName()) or "serif"


@contextmanager
def _reading(file: str) -> Iterator[None]:
    """A block that reads a font; raises SketchError if that fails."""
    from fontTools.ttLib import TTLibError

    try:
        yield
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
