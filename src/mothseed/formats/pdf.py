"""Drawings as PDF (ISO 32000-1), at the size of their sheet: shapes as paths, with transparency and blend modes.

Everything is in one form in sheet coordinates; layers, clips and marks whose fill and stroke fade together are forms within
it.
"""

from __future__ import annotations

import io
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np
import pydyf
from zlib_ng import zlib_ng

from mothseed.arrays import ByteArray
from mothseed.colour.placed import Picture
from mothseed.colour.ramp import LINEAR, Ramp, ramp_table
from mothseed.faults import PictureError
from mothseed.files import content_hash, read_ordinary, write_bytes
from mothseed.formats.decimals import places_for, spaced, written
from mothseed.formats.faint import Patch, alone, faint_runs, picture_of, picture_of_run
from mothseed.formats.format import Format, Written
from mothseed.formats.path_text import pdf_path
from mothseed.formats.repeats import Repeated, repeats
from mothseed.formats.settings import Settings
from mothseed.formats.svg_elements import box_in_view, shape_of
from mothseed.formats.svg_paints import extent_of, place_of, texels_of
from mothseed.geometry.outline import Outline
from mothseed.kernels.tile_sizes import RAMP_STEPS
from mothseed.sheet.blends import PDF_NAMES
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.extents import mark_boxes, stroke_widths
from mothseed.sheet.group import Group, chain, in_common
from mothseed.sheet.mark import Mark, mark_at
from mothseed.units import UNITS_PER_INCH

_POINTS_PER_INCH = 72.0
_SHADOW_PIXELS = 1600
"""Pixels of the sheet's longer side in the picture of a shadow, as PDF has no blur."""
_MITER_LIMIT = 4
_LEVEL = 7
"""Of zlib-ng."""


def write_pdf(path: Path, drawing: Drawing, history: str = "") -> None:
    """Write a drawing as PDF at the size of its sheet, whole or not at all; raises FileError if that fails."""
    write_bytes(path, as_pdf(drawing, history))


def _write(path: Path, drawing: Drawing, history: str, _settings: Settings) -> Written:
    write_pdf(path, drawing, history)
    return Written(drawing.width, drawing.height, drawing.unit)


def pdf_history(path: Path) -> str | None:
    """The history in a PDF file, which is its subject, or None; raises PictureError for other and damaged files."""
    # Imported only to read a PDF, which is rare.
    from pypdf import PdfReader

    try:
        metadata = PdfReader(io.BytesIO(read_ordinary(path))).metadata
        subject: str | None = metadata.subject if metadata else None
    except FileNotFoundError:
        raise PictureError(f"there is no picture {path}", hint="check the path") from None
    except Exception as fault:  # noqa: BLE001  # whatever a stranger's file makes its reader do
        raise PictureError(f"{path} is not a whole picture: {fault}") from None
    return subject


FORMAT = Format("PDF", (".pdf",), _write, frozenset(), pdf_history)


def as_pdf(drawing: Drawing, history: str = "") -> bytes:
    """A drawing as a PDF file of one page."""
    scale = _POINTS_PER_INCH / UNITS_PER_INCH[drawing.unit]
    width, height = drawing.width * scale, drawing.height * scale
    writer = _Writer(drawing)
    sheet = writer.sheet()
    put = places_for(max(width, height))
    content = f"q {spaced((scale, 0, 0, -scale, 0, height), put + 4)} cm /{sheet} Do Q"
    pdf = writer.pdf
    page = _compressed(content.encode())
    pdf.add_object(page)
    pdf.add_page(
        pydyf.Dictionary(
            {
                "Type": "/Page",
                "Parent": pdf.pages.reference,
                "MediaBox": pydyf.Array([0, 0, written(width, 4), written(height, 4)]),
                "Contents": page.reference,
                "Resources": writer.resources(),
                "Group": _TRANSPARENCY,
            }
        )
    )
    if history:
        pdf.info["Subject"] = pydyf.String(history)
    file = io.BytesIO()
    pdf.write(file, compress=True)
    return file.getvalue()


_TRANSPARENCY = pydyf.Dictionary({"Type": "/Group", "S": "/Transparency", "CS": "/DeviceRGB", "I": "true"})
_GREY = pydyf.Dictionary({"Type": "/Group", "S": "/Transparency", "CS": "/DeviceGray", "I": "true"})


class _Writer:
    """Walks through a drawing once, in painting order, collecting the resources that its content refers to."""

    def __init__(self, drawing: Drawing, around: _Writer | None = None) -> None:
        """`around` is the writer of the drawing that contains this symbol; file and objects are shared."""
        self._drawing = drawing
        self._put = places_for(max(drawing.width, drawing.height))
        self._widths = stroke_widths(drawing)
        self._boxes = mark_boxes(drawing)
        self._runs = faint_runs(drawing)
        self._symbols, self._repeats = repeats(drawing, self._runs)
        self._extent = np.array([0.0, 0.0, drawing.width, drawing.height])
        self.pdf: pydyf.PDF
        self._kinds: dict[str, pydyf.Dictionary]
        self._names: dict[object, str]
        self._resources: pydyf.Dictionary
        if around is not None:
            self.pdf, self._kinds, self._resources, self._names = around.pdf, around._kinds, around._resources, around._names
            self._extent = np.concatenate([self._boxes[:, :2].min(axis=0), self._boxes[:, 2:].max(axis=0)])
            return
        self.pdf = pydyf.PDF()
        self._kinds = {kind: pydyf.Dictionary() for kind in ("ExtGState", "XObject", "Shading")}
        self._resources = pydyf.Dictionary(dict(self._kinds))
        self.pdf.add_object(self._resources)
        self._names = {}

    def resources(self) -> bytes:
        """The reference to the resources."""
        reference: bytes = self._resources.reference
        return reference

    def sheet(self) -> str:
        """The name of the form with the whole sheet."""
        drawing = self._drawing
        ops: list[str] = []
        if drawing.paper.alpha > 0:
            size = spaced((drawing.width, drawing.height), self._put)
            ops.append(f"q {self._state(fill=drawing.paper.alpha)}{_rgb(drawing.paper[:3])} rg 0 0 {size} re f Q")
        return self._form([*ops, *self._marks()])

    def _symbol(self, symbol: Repeated) -> str:
        """The name of the form of a symbol, which is not a group, so that its marks are composited one by one."""
        inner = _Writer(symbol.drawing, self)
        return inner._form(inner._marks(), group=None)

    def _marks(self) -> list[str]:
        """All marks, in their groups."""
        drawing, symbols = self._drawing, [self._symbol(symbol) for symbol in self._symbols]
        ops: list[str] = []
        stack: list[tuple[int, list[str]]] = [(0, ops)]
        groups = drawing.marks["group"].tolist()
        number = 0
        while number < len(groups):
            if number in self._repeats:
                repeat = self._repeats[number]
                self._regroup(stack, repeat.groups)
                placed = spaced(repeat.matrix.tolist(), self._put + 3)
                stack[-1][1].append(f"q {placed} cm /{symbols[repeat.symbol]} Do Q")
                number = repeat.end
                continue
            self._regroup(stack, chain(drawing.groups, groups[number]))
            into = stack[-1][1]
            if number in self._runs:
                into += self._patch(picture_of_run(drawing, number, self._runs[number]))
                number = self._runs[number]
                continue
            mark = mark_at(drawing.marks, number)
            into += self._shadow(number, mark)
            into += self._mark(number, mark)
            number += 1
        self._regroup(stack, [])
        return ops

    def _regroup(self, stack: list[tuple[int, list[str]]], wanted: Sequence[int]) -> None:
        """Close groups that end, and open those that begin."""
        common = in_common([number for number, _ in stack[1:]], wanted)
        while len(stack) > common + 1:
            number, ops = stack.pop()
            group = self._drawing.groups[number]
            state = self._state(fill=group.opacity, stroke=group.opacity, blend=group.blend)
            stack[-1][1].append(f"q {state}/{self._form(ops)} Do Q")
        stack += [(number, self._clipping(self._drawing.groups[number])) for number in wanted[common:]]

    def _clipping(self, group: Group) -> list[str]:
        if group.is_layer:
            return []
        outline = self._drawing.outlines[group.outline].transformed(tuple(self._drawing.views[group.view]))  # type: ignore[arg-type]
        return [f"{pdf_path(outline, self._put)} W{'*' * group.even_odd} n"]

    # Marks

    def _mark(self, number: int, mark: Mark) -> list[str]:
        finish = self._drawing.finishes[mark.finish]
        filled, stroked, opacity = mark.is_filled, mark.is_stroked, mark.opacity
        if not (filled or stroked):
            return []
        path = pdf_path(self._outline(mark), self._put)
        as_one = filled and stroked and (opacity < 1 or finish.blend != "normal")
        own, blend = (1.0, "normal") if as_one else (opacity, finish.blend)
        ops = []
        if filled:
            rule = "*" * mark.is_even_odd
            if finish.fill is None:
                *parts, alpha = mark.fill
                ops.append(f"q {self._state(fill=alpha * own, blend=blend)}{_rgb(parts)} rg {path} f{rule} Q")
            else:
                shade = self._shade(finish.fill, number)
                ops.append(f"q {self._state(fill=own, blend=blend)}{path} W{rule} n {shade} Q")
        if stroked:
            pen = self._pen(number, mark)
            if finish.stroke is None:
                *parts, alpha = mark.stroke
                ops.append(f"q {self._state(stroke=alpha * own, blend=blend)}{_rgb(parts)} RG {pen} {path} S Q")
            else:
                mask = self._mask([f"1 G {pen} {path} S"], number)
                form = self._form([self._shade(finish.stroke, number)], number)
                ops.append(f"q {self._state(fill=own, blend=blend)}/{mask} gs /{form} Do Q")
        if not as_one:
            return ops
        return [f"q {self._state(fill=opacity, stroke=opacity, blend=finish.blend)}/{self._form(ops, number)} Do Q"]

    def _outline(self, mark: Mark) -> Outline:
        """A mark's outline on the sheet."""
        matrix = self._drawing.views[mark.view]
        return shape_of(self._drawing, mark).transformed(tuple(matrix))  # type: ignore[arg-type]

    def _pen(self, number: int, mark: Mark) -> str:
        dash = self._drawing.finishes[mark.finish].dash
        text = f"{written(float(self._widths[number]), self._put)} w {mark.linecap} J {mark.linejoin} j {_MITER_LIMIT} M"
        if dash:
            scale = float(self._drawing.stroke_scales[mark.view])
            text += f" [{' '.join(written(length * scale, self._put) for length in dash)}] 0 d"
        return text

    def _shadow(self, number: int, mark: Mark) -> list[str]:
        """The shadow of a mark as a picture, without the mark itself."""
        finish = self._drawing.finishes[mark.finish]
        if finish.shadow is None or not mark.is_seen:
            return []
        caster = alone(self._drawing, number, number + 1)
        marks = caster.marks.copy()
        marks["fill"], marks["stroke"], marks["finish"] = 0, 0, 0
        plain = finish._replace(fill=None, stroke=None, blend="normal")
        return self._patch(picture_of(replace(caster, marks=marks, finishes=(plain,)), _SHADOW_PIXELS))

    def _patch(self, patch: Patch | None) -> list[str]:
        if patch is None:
            return []
        left, top, width, height = patch.place
        placed = spaced((width, 0, 0, -height, left, top + height), self._put)
        return [f"q {placed} cm /{self._image(patch.pixels, smooth=True)} Do Q"]

    # Paint

    def _shade(self, shade: Ramp | Picture, number: int) -> str:
        """Content that paints a ramp or picture over the area of the mark."""
        matrix = self._drawing.views[self._drawing.marks["view"][number]]
        placed = spaced(matrix.tolist(), self._put + 3)
        if isinstance(shade, Ramp):
            paint = f"{placed} cm /{self._ramp(shade)} sh"
            if all(colour.alpha >= 1 for _, colour in shade.stops):
                return paint
            mask = self._mask([f"{placed} cm /{self._ramp(shade, alpha=True)} sh"], number)
            # In a form of its own: otherwise the mask would replace an existing one.
            return f"/{self._form([f'/{mask} gs {paint}'], number)} Do"
        columns, rows = extent_of(shade, box_in_view(self._boxes[number], matrix))
        left, top, width, height = place_of(shade, columns, rows)
        key = (shade.texture.digest, shade.tint, shade.outside, shade.smooth, columns, rows)
        if key not in self._names:
            self._names[key] = self._image(texels_of(shade, columns, rows), smooth=shade.smooth)
        laid = spaced((width, 0, 0, -height, left, top + height), self._put + 3)
        return f"{placed} cm {laid} cm /{self._names[key]} Do"

    def _ramp(self, ramp: Ramp, *, alpha: bool = False) -> str:
        """A shading of a ramp's colours, or of its alpha, in the coordinates of its view."""
        key = (ramp, alpha)
        if key not in self._names:
            table = ramp_table(ramp)
            levels = np.rint(table[:, 3:] * 65535 if alpha else table[:, :3] * 65535).astype(">u2")
            channels = levels.shape[1]
            extra = {
                "FunctionType": 0, "Domain": "[0 1]", "Range": f"[{' '.join(['0 1'] * channels)}]",
                "Size": f"[{RAMP_STEPS + 1}]", "BitsPerSample": 16,
            }  # fmt: skip
            function = _compressed(levels.tobytes(), extra)
            self.pdf.add_object(function)
            x, y, u, v = ramp.place
            is_linear = ramp.kind == LINEAR
            places = (x, y, u, v) if is_linear else (x, y, 0, x, y, u)
            shading = pydyf.Dictionary(
                {
                    "ShadingType": 2 if is_linear else 3,
                    "ColorSpace": "/DeviceGray" if alpha else "/DeviceRGB",
                    "Coords": f"[{' '.join(written(number, self._put + 3) for number in places)}]",
                    "Function": function.reference,
                    "Extend": "[true true]",
                }
            )
            self._names[key] = self._added("Shading", "R", shading)
        return self._names[key]

    def _image(self, pixels: ByteArray, *, smooth: bool) -> str:
        # Shadows of a repeated motif are often identical.
        key = (content_hash(pixels.tobytes()), pixels.shape, smooth)
        if key not in self._names:
            size: dict[str, object] = {
                "Type": "/XObject", "Subtype": "/Image", "Width": pixels.shape[1], "Height": pixels.shape[0],
                "BitsPerComponent": 8, "Interpolate": "true" if smooth else "false",
            }  # fmt: skip
            extra = {**size, "ColorSpace": "/DeviceRGB"}
            if pixels.shape[2] == 4:
                alpha = _compressed(pixels[..., 3].tobytes(), {**size, "ColorSpace": "/DeviceGray"})
                self.pdf.add_object(alpha)
                extra["SMask"] = alpha.reference
            self._names[key] = self._added("XObject", "I", _compressed(pixels[..., :3].tobytes(), extra))
        return self._names[key]

    # Objects

    def _form(self, ops: Iterable[str], number: int | None = None, group: pydyf.Dictionary | None = _TRANSPARENCY) -> str:
        """The name of a form, the size of the sheet or of a mark; viewers keep a bitmap of that size for each."""
        whole = self._extent
        box = whole if number is None else np.clip(self._boxes[number], whole[[0, 1, 0, 1]], whole[[2, 3, 2, 3]])
        bounds = f"[{spaced(box.tolist(), self._put)}]"
        extra = {"Type": "/XObject", "Subtype": "/Form", "BBox": bounds, "Resources": self.resources()}
        if group is not None:
            extra["Group"] = group
        return self._added("XObject", "F", _compressed("\n".join(ops).encode(), extra))

    def _mask(self, ops: Iterable[str], number: int) -> str:
        """A graphics state with a luminosity mask from some content."""
        form = self._form(ops, number, _GREY)
        content = self._kinds["XObject"][form]
        mask = pydyf.Dictionary({"Type": "/Mask", "S": "/Luminosity", "G": content})
        return self._added("ExtGState", "M", pydyf.Dictionary({"Type": "/ExtGState", "SMask": mask}))

    def _state(self, fill: float = 1.0, stroke: float = 1.0, blend: str = "normal") -> str:
        """A graphics state with opacities and a blend mode; empty for the defaults."""
        if fill >= 1 and stroke >= 1 and blend == "normal":
            return ""
        key = (written(fill, 5), written(stroke, 5), blend)
        if key not in self._names:
            mode = PDF_NAMES[blend]
            state = pydyf.Dictionary({"Type": "/ExtGState", "ca": key[0], "CA": key[1], "BM": f"/{mode}"})
            self._names[key] = self._added("ExtGState", "G", state)
        return f"/{self._names[key]} gs "

    def _added(self, kind: str, letter: str, value: pydyf.Object) -> str:
        self.pdf.add_object(value)
        name = f"{letter}{len(self._kinds[kind]) + 1}"
        self._kinds[kind][name] = value.reference
        return name


def _compressed(content: bytes, extra: Mapping[str, object] | None = None) -> pydyf.Stream:
    """A stream, as small as zlib makes it at its best, in a quarter of the time."""
    return pydyf.Stream([zlib_ng.compress(content, _LEVEL)], {**(extra or {}), "Filter": "/FlateDecode"})


def _rgb(parts: Sequence[float]) -> str:
    return spaced(parts, 5)
