"""Drawings as SVG (https://www.w3.org/TR/SVG2/): shapes as elements, layers and frames as groups, paint in shared classes.

The history is the text of the `metadata` element.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator, Sequence
from html import escape
from pathlib import Path
from xml.etree import ElementTree as ET

from mothseed.colour.placed import Picture
from mothseed.colour.ramp import Ramp
from mothseed.faults import PictureError
from mothseed.files import read_ordinary, write_bytes
from mothseed.formats.decimals import places_for, several, written
from mothseed.formats.faint import Patch, faint_runs, picture_of_run
from mothseed.formats.format import Format, Written
from mothseed.formats.repeats import Repeated, repeats
from mothseed.formats.settings import Settings
from mothseed.formats.svg_elements import (
    Placing,
    box_in_view,
    element_of,
    lettering_of,
    path_data_on_sheet,
    placing,
    text_attributes,
    views_of,
)
from mothseed.formats.svg_paints import Definitions, colour_attributes, data_address
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.extents import mark_boxes
from mothseed.sheet.finish import Finish
from mothseed.sheet.group import Group, chain, in_common
from mothseed.sheet.mark import Mark, mark_at
from mothseed.sheet.style import LINECAPS, LINEJOINS

_NAMESPACE = "http://www.w3.org/2000/svg"
_HISTORY_ID = "mothseed"
_FROM_CLASS = 2
"""How often the same paint must occur to get a class."""


def write_svg(path: Path, drawing: Drawing, history: str = "", *, keep_text: bool = False) -> None:
    """Write a drawing as SVG at the size of its sheet, whole or not at all; raises FileError where that is not possible.

    Text is written as outlines, which look the same everywhere, or with `keep_text` as text, which can be read and changed
    where the font is installed.
    """
    write_bytes(path, as_svg(drawing, history, keep_text=keep_text).encode())


def as_svg(drawing: Drawing, history: str = "", *, keep_text: bool = False) -> str:
    """A drawing as the text of an SVG file."""
    put = places_for(max(drawing.width, drawing.height))
    width, height = written(drawing.width, put), written(drawing.height, put)
    body, definitions = _Writer(drawing, keep_text).written()
    size = f'width="{width}{drawing.unit}" height="{height}{drawing.unit}" viewBox="0 0 {width} {height}"'
    parts = [f'<svg xmlns="{_NAMESPACE}" {size}>']
    if history:
        parts.append(f'<metadata id="{_HISTORY_ID}">{escape(history, quote=False)}</metadata>')
    parts += definitions
    # An isolated group, so that blending happens against the paper and not against the page behind it.
    parts.append('<g style="isolation:isolate">')
    if drawing.paper.alpha > 0:
        parts.append(f'<rect width="{width}" height="{height}"{colour_attributes("fill", drawing.paper)}/>')
    return "\n".join([*parts, *body, "</g>", "</svg>", ""])


def svg_history(path: Path) -> str | None:
    """The history in an SVG file, or None if it has none; raises PictureError if the file is not a whole SVG."""
    try:
        root = ET.fromstring(read_ordinary(path).decode())  # noqa: S314  # expat expands no entity beyond bounds
    except FileNotFoundError:
        raise PictureError(f"there is no picture {path}", hint="check the path") from None
    except (OSError, ValueError, ET.ParseError) as fault:
        raise PictureError(f"{path} is not a whole picture: {fault}") from None
    found = root.find(f"{{{_NAMESPACE}}}metadata[@id='{_HISTORY_ID}']")
    return None if found is None else found.text


def _write(path: Path, drawing: Drawing, history: str, settings: Settings) -> Written:
    write_svg(path, drawing, history, keep_text=settings.keep_text)
    return Written(drawing.width, drawing.height, drawing.unit)


FORMAT = Format("SVG", (".svg",), _write, frozenset({"keep_text"}), svg_history)


class _Writer:
    """Walks through a drawing once, in painting order."""

    def __init__(self, drawing: Drawing, keep_text: bool, around: _Writer | None = None) -> None:
        """`around` is the writer of the drawing that contains this symbol; definitions and names are shared."""
        self._drawing = drawing
        self._keep_text = keep_text
        self._views = views_of(drawing)
        self._definitions: Definitions = Definitions(drawing) if around is None else around._definitions
        self._boxes = mark_boxes(drawing)
        self._names: Counter[str] = Counter() if around is None else around._names
        self._runs = faint_runs(drawing)
        self._symbols, self._repeats = repeats(drawing, self._runs)

    def written(self) -> tuple[list[str], list[str]]:
        """The elements and their definitions."""
        paints = self._paints()
        counts = Counter(paints)
        classes = {paint: f"p{place}" for place, (paint, count) in enumerate(counts.most_common()) if count >= _FROM_CLASS}
        body = list(self._elements([_with_class(paint, classes) for paint in paints]))
        rules = "".join(f".{name}{{{_as_rule(paint)}}}" for paint, name in classes.items() if paint)
        style = [f"<style>{rules}</style>"] if rules else []
        defined = self._definitions.written
        return body, [*style, *(["<defs>", *defined, "</defs>"] if defined else [])]

    def _paints(self) -> list[str]:
        """The paint of each mark as attributes; empty for marks written in a symbol."""
        paints = [""] * len(self._drawing.marks)
        number = 0
        while number < len(paints):
            if number in self._repeats:
                number = self._repeats[number].end
            else:
                paints[number] = self._paint(number, mark_at(self._drawing.marks, number))
                number += 1
        return paints

    def _elements(self, paints: Sequence[str]) -> Iterator[str]:
        """Elements in their groups: layers and clips, and within those one for each shared frame."""
        drawing = self._drawing
        runs, symbols = self._runs, [self._symbol(symbol) for symbol in self._symbols]
        groups, views = drawing.marks["group"].tolist(), drawing.marks["view"].tolist()
        open_groups: list[int] = []
        open_view: int | None = None
        number = 0
        while number < len(drawing.marks):
            if number in self._repeats:
                repeat = self._repeats[number]
                yield from self._closed_view(open_view)
                yield from self._changed_groups(open_groups, repeat.groups)
                open_groups, open_view, number = repeat.groups, None, repeat.end
                transform = placing(repeat.matrix, 1.0, max(drawing.width, drawing.height)).transform
                yield f'<use href="#{symbols[repeat.symbol]}"' + (f' transform="{transform}"' if transform else "") + "/>"
                continue
            mark = mark_at(drawing.marks, number)
            wanted = chain(drawing.groups, mark.group)
            view = self._views[mark.view]
            shadow = self._shadow(number, mark, view)
            if wanted != open_groups or mark.view != open_view or shadow or number in runs:
                yield from self._closed_view(open_view)
                yield from self._changed_groups(open_groups, wanted)
                open_groups, open_view = wanted, None
            if number in runs:
                if patch := picture_of_run(drawing, number, runs[number]):
                    yield self._image(patch)
                number = runs[number]
                continue
            words = lettering_of(drawing, mark, view) if self._keep_text else None
            if words is not None:
                yield from self._closed_view(open_view)
                open_view = None
                yield from [shadow] * bool(shadow)
                yield f"<text{text_attributes(words, view)}{paints[number]}>{escape(words.text, quote=False)}</text>"
                number += 1
                continue
            element = f"{element_of(drawing, mark, view)}{paints[number]}"
            number += 1
            if open_view is None:
                yield from [shadow] * bool(shadow)
                if not (number < len(drawing.marks) and views[number] == mark.view and groups[number] == mark.group):
                    yield f'<{element} transform="{view.transform}"/>' if view.transform else f"<{element}/>"
                    continue
                yield from [f'<g transform="{view.transform}">'] * bool(view.transform)
                open_view = mark.view
            yield f"<{element}/>"
        yield from self._closed_view(open_view)
        yield from self._changed_groups(open_groups, [])

    def _symbol(self, symbol: Repeated) -> str:
        """The id of a symbol, which is defined if necessary."""
        name = self._named(symbol.name, "symbol")
        inner = _Writer(symbol.drawing, self._keep_text, self)
        elements = list(inner._elements(inner._paints()))
        # Without overflow, a symbol hides what lies left of its origin and above it.
        self._definitions.written += [f'<symbol id="{name}" overflow="visible">', *elements, "</symbol>"]
        return name

    def _image(self, patch: Patch) -> str:
        put = places_for(max(self._drawing.width, self._drawing.height))
        x, y, width, height = (written(number, put) for number in patch.place)
        return (
            f'<image x="{x}" y="{y}" width="{width}" height="{height}" preserveAspectRatio="none" '
            f'href="{data_address(patch.pixels)}"/>'
        )

    def _closed_view(self, view: int | None) -> list[str]:
        return ["</g>"] if view is not None and self._views[view].transform else []

    def _changed_groups(self, before: list[int], wanted: list[int]) -> Iterator[str]:
        common = in_common(before, wanted)
        yield from ["</g>"] * (len(before) - common)
        for number in wanted[common:]:
            yield self._opened(self._drawing.groups[number])

    def _opened(self, group: Group) -> str:
        if not group.is_layer:
            outline = self._drawing.outlines[group.outline]
            longer = max(self._drawing.width, self._drawing.height)
            data = path_data_on_sheet(outline, self._drawing.views[group.view], longer)
            return f'<g clip-path="url(#{self._definitions.clip(data, group.even_odd)})">'
        faded = f' opacity="{written(group.opacity, 4)}"' if group.opacity < 1 else ""
        blend = f"mix-blend-mode:{group.blend}" if group.blend != "normal" else "isolation:isolate"
        return f'<g id="{self._named(group.name, "layer")}"{faded} style="{blend}">'

    def _named(self, given: str, kind: str) -> str:
        """An id for a layer or symbol: its name if possible, with a number if that is taken."""
        name = re.sub(r"[^\w.-]", "-", given)
        name = name if name[:1].isalpha() else f"{kind}-{name}"
        self._names[name] += 1
        return name if self._names[name] == 1 else f"{name}-{self._names[name]}"

    def _shadow(self, number: int, mark: Mark, view: Placing) -> str:
        """The shadow of a mark as a separate element below it; empty without a shadow."""
        finish = self._drawing.finishes[mark.finish]
        if finish.shadow is None or not mark.is_seen:
            return ""
        filter_id = self._definitions.shadow(finish.shadow, mark.opacity, self._boxes[number])
        paint = "" if mark.is_filled else ' fill="none"'
        if mark.is_stroked:
            paint += ' stroke="#000"' + _pen(mark, view, finish)
        if mark.is_even_odd:
            paint += ' fill-rule="evenodd"'
        transform = f' transform="{view.transform}"' if view.transform else ""
        return f'<g filter="url(#{filter_id})"><{element_of(self._drawing, mark, view)}{transform}{paint}/></g>'

    def _paint(self, number: int, mark: Mark) -> str:
        """All paint of a mark as attributes."""
        finish = self._drawing.finishes[mark.finish]
        view = self._views[mark.view]
        fill = self._side("fill", mark.fill, finish.fill, number, view) if mark.is_filled else ' fill="none"'
        text = "" if fill == ' fill="#000000"' else fill
        if mark.is_filled and mark.is_even_odd:
            text += ' fill-rule="evenodd"'
        if mark.is_stroked:
            text += self._side("stroke", mark.stroke, finish.stroke, number, view) + _pen(mark, view, finish)
        if mark.opacity < 1:
            text += f' opacity="{written(mark.opacity, 4)}"'
        return text + (f' style="mix-blend-mode:{finish.blend}"' if finish.blend != "normal" else "")

    def _side(self, name: str, colour: tuple[float, ...], shade: Ramp | Picture | None, number: int, view: Placing) -> str:
        if shade is None:
            return colour_attributes(name, colour)
        if isinstance(shade, Ramp):
            return f' {name}="url(#{self._definitions.ramp(shade, view)})"'
        box = box_in_view(self._boxes[number], self._drawing.views[self._drawing.marks["view"][number]])
        return f' {name}="url(#{self._definitions.picture(shade, view, box)})"'


def _pen(mark: Mark, view: Placing, finish: Finish) -> str:
    """How a mark is stroked, without its paint."""
    put = view.places
    width = written(mark.stroke_width * view.stroke_scale, put)
    text = "" if width == "1" else f' stroke-width="{width}"'
    if mark.linecap:
        text += f' stroke-linecap="{LINECAPS[mark.linecap]}"'
    if mark.linejoin:
        text += f' stroke-linejoin="{LINEJOINS[mark.linejoin]}"'
    if finish.dash:
        text += f' stroke-dasharray="{several([length * view.stroke_scale for length in finish.dash], put)}"'
    return text


_RULE = re.compile(r' ([\w-]+)="([^"]*)"')


def _as_rule(paint: str) -> str:
    """Attributes as declarations of a style sheet, including those already in a style."""
    return ";".join(value if name == "style" else f"{name}:{value}" for name, value in _RULE.findall(paint))


def _with_class(paint: str, classes: dict[str, str]) -> str:
    return f' class="{classes[paint]}"' if paint in classes and paint else paint
