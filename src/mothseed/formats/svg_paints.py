"""What elements are painted with: colours as attributes, and ramps, pictures, shadows and clips as definitions."""

from __future__ import annotations

import base64
import math
from collections.abc import Callable, Iterator
from itertools import pairwise

import numpy as np

from mothseed.arrays import ByteArray, FloatArray
from mothseed.colour.placed import Picture, wrapped
from mothseed.colour.ramp import LINEAR, Ramp, ramp_table
from mothseed.colour.value import Colour
from mothseed.formats.decimals import places_for, several, written
from mothseed.formats.png_writing import encoded
from mothseed.formats.settings import Effort
from mothseed.formats.svg_elements import Placing
from mothseed.kernels.tile_sizes import RAMP_STEPS
from mothseed.portable import cosine_and_sine
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.finish import Shadow

_CLOSE = 0.75 / 255
"""How far what SVG mixes of two stops, in sRGB, may be from the ramp's colours between them."""
_MOST_TEXELS = 4096
"""Pixels on a side to which a picture is drawn out where a shape reaches beyond it."""


class Definitions:
    """The definitions of a file, each written once."""

    def __init__(self, drawing: Drawing) -> None:
        self._drawing = drawing
        self._longer = max(drawing.width, drawing.height)
        self._places = places_for(self._longer)
        self._ids: dict[object, str] = {}
        self.written: list[str] = []

    def _defined(self, key: object, letter: str, write: Callable[[str], str]) -> str:
        """The id of what a key stands for, written down the first time."""
        if key not in self._ids:
            self._ids[key] = name = f"{letter}{len(self._ids) + 1}"
            self.written.append(write(name))
        return self._ids[key]

    def clip(self, data: str, even_odd: bool) -> str:
        """A clip by an outline on the sheet."""
        rule = ' clip-rule="evenodd"' if even_odd else ""
        return self._defined((data, even_odd), "c", lambda name: f'<clipPath id="{name}"><path d="{data}"{rule}/></clipPath>')

    def ramp(self, ramp: Ramp, view: Placing) -> str:
        """A ramp in the coordinates of a view."""
        baked = None if view.baked is None else tuple(view.baked.tolist())
        return self._defined((ramp, baked), "r", lambda name: self._ramp(name, ramp, baked))

    def _ramp(self, name: str, ramp: Ramp, baked: tuple[float, ...] | None) -> str:
        put = self._places + 2
        x, y, u, v = ramp.place
        transform = f' gradientTransform="matrix({several(baked, put)})"' if baked else ""
        if ramp.kind == LINEAR:
            kind, place = "linearGradient", _attributes(put, x1=x, y1=y, x2=u, y2=v)
        else:
            kind, place = "radialGradient", _attributes(put, cx=x, cy=y, r=u)
        return f'<{kind} id="{name}" gradientUnits="userSpaceOnUse"{place}{transform}>{_stops(ramp)}</{kind}>'

    def picture(self, picture: Picture, view: Placing, box: FloatArray) -> str:
        """A picture as paint of a shape that lies in that box, in the coordinates of the view it was laid on."""
        columns, rows = extent_of(picture, box)
        baked = None if view.baked is None else tuple(view.baked.tolist())
        key = (picture.texture.digest, picture.place, picture.tint, picture.outside, picture.smooth, columns, rows, baked)
        return self._defined(key, "p", lambda name: self._picture(name, picture, columns, rows, baked))

    def _picture(
        self, name: str, picture: Picture, columns: tuple[int, int], rows: tuple[int, int], baked: tuple[float, ...] | None
    ) -> str:
        left, top, width, height = place_of(picture, columns, rows)
        put = self._places + 2
        size = {"width": width, "height": height}
        place = _attributes(put, x=left, y=top, **size)
        transform = f' patternTransform="matrix({several(baked, put)})"' if baked else ""
        crisp = "" if picture.smooth else ' style="image-rendering:pixelated"'
        # The contents of a pattern begin at the corner of its tile.
        href = data_address(texels_of(picture, columns, rows))
        image = f'<image preserveAspectRatio="none"{_attributes(put, **size)}{crisp} href="{href}"/>'
        return f'<pattern id="{name}" patternUnits="userSpaceOnUse"{place}{transform}>{image}</pattern>'

    def shadow(self, shadow: Shadow, opacity: float, box: FloatArray) -> str:
        """A shadow as a filter that leaves the shape itself out; `box` holds both on the sheet."""
        left, top, right, bottom = box.tolist()
        cosine, sine = cosine_and_sine(self._drawing.light)
        put = self._places
        region = _attributes(put, x=left, y=top, width=right - left, height=bottom - top)
        moved = _attributes(put, dx=shadow.distance * cosine, dy=shadow.distance * sine)
        colour = _opaque(shadow.colour)
        depth = written(shadow.opacity * opacity * shadow.colour.alpha, 4)
        blur = written(shadow.deviation, put)
        text = (
            f' filterUnits="userSpaceOnUse"{region} color-interpolation-filters="sRGB">'
            f'<feGaussianBlur in="SourceAlpha" stdDeviation="{blur}"/><feOffset{moved} result="o"/>'
            f'<feFlood flood-color="{colour}" flood-opacity="{depth}"/><feComposite in2="o" operator="in"/></filter>'
        )
        return self._defined(text, "s", lambda name: f'<filter id="{name}"{text}')


def _attributes(places: int, **numbers: float) -> str:
    return "".join(f' {name}="{written(number, places)}"' for name, number in numbers.items())


def _opaque(colour: Colour) -> str:
    return colour._replace(alpha=1.0).css


def data_address(pixels: ByteArray) -> str:
    """An address that holds a whole picture."""
    return "data:image/png;base64," + base64.b64encode(encoded(pixels, effort=Effort.USUAL)).decode("ascii")


def colour_attributes(name: str, colour: tuple[float, ...]) -> str:
    """A fill or stroke of one colour as attributes."""
    *parts, alpha = colour
    faded = "" if alpha >= 1 else f' {name}-opacity="{written(alpha, 4)}"'
    return f' {name}="{_opaque(Colour(*parts))}"{faded}'


def _stops(ramp: Ramp) -> str:
    """The colours of a ramp, with as many between as it takes for mixing in sRGB to look as mixing in OKLab."""
    stops = [ramp.stops[0]]
    # Where two colours share a position, the ramp jumps, and both are written.
    for (start, before), (end, after) in pairwise(ramp.stops):
        if end > start:
            stops += _between(before, after, start, end)
        stops.append((end, after))
    parts = []
    for place, colour in stops:
        faded = "" if colour.alpha >= 1 else f' stop-opacity="{written(colour.alpha, 4)}"'
        parts.append(f'<stop offset="{written(place, 5)}" stop-color="{_opaque(colour)}"{faded}/>')
    return "".join(parts)


def _between(before: Colour, after: Colour, start: float, end: float) -> Iterator[tuple[float, Colour]]:
    """The stops that it takes between two colours: each as far from the one before as a straight line is close enough."""
    table = ramp_table(Ramp(LINEAR, (0.0, 0.0, 1.0, 0.0), ((0.0, before), (1.0, after))))
    at = 0
    while True:
        reach = RAMP_STEPS
        while not _is_straight(table[at : reach + 1]):
            reach = (at + reach + 1) // 2
        if reach == RAMP_STEPS:
            return
        yield start + (end - start) * reach / RAMP_STEPS, Colour(*table[reach].clip(0, 1).tolist())
        at = reach


def _is_straight(colours: FloatArray) -> bool:
    """Whether the line from the first to the last of some colours, (n, 4), is close enough to all of them."""
    if len(colours) < 3:
        return True
    share = np.linspace(0, 1, len(colours))[:, None]
    return bool(np.abs(colours[0] + (colours[-1] - colours[0]) * share - colours).max() <= _CLOSE)


def extent_of(picture: Picture, box: FloatArray) -> tuple[tuple[int, int], tuple[int, int]]:
    """Which columns and rows of a picture, drawn out beyond its edges where need be, a box in its coordinates shows.

    A pixel more than the picture at least: where a pattern begins again, its edges would else shine through.
    """
    left, top, width, height = picture.place
    pairs = []
    for low, high, begin, size, count in (
        (box[0], box[2], left, width, picture.texture.width),
        (box[1], box[3], top, height, picture.texture.height),
    ):
        first = min(math.floor((low - begin) / size * count) - 1, -1)
        last = max(math.ceil((high - begin) / size * count) + 1, count + 1)
        pairs.append((max(first, -_MOST_TEXELS), min(last, count + _MOST_TEXELS)))
    return pairs[0], pairs[1]


def place_of(picture: Picture, columns: tuple[int, int], rows: tuple[int, int]) -> tuple[float, float, float, float]:
    """Where those columns and rows of a picture lie, in its coordinates: left, top, width and height."""
    left, top, width, height = picture.place
    across, down = width / picture.texture.width, height / picture.texture.height
    size = (columns[1] - columns[0]) * across, (rows[1] - rows[0]) * down
    return left + columns[0] * across, top + rows[0] * down, *size


def texels_of(picture: Picture, columns: tuple[int, int], rows: tuple[int, int]) -> ByteArray:
    """The pixels of a picture with its tint, drawn out as it is to be: uint8 (rows, columns, 3 or 4)."""
    pixels = picture.texture.pixels
    height, width = pixels.shape[:2]
    found = pixels[wrapped(np.arange(*rows), height, picture.outside)][:, wrapped(np.arange(*columns), width, picture.outside)]
    result: ByteArray = np.rint(found * np.array(picture.tint)).astype(np.uint8)
    if picture.outside == "none":
        result[~_inside(rows, height), :, 3] = 0
        result[:, ~_inside(columns, width), 3] = 0
    return result if (result[..., 3] < 255).any() else np.ascontiguousarray(result[..., :3])


def _inside(span: tuple[int, int], count: int) -> np.ndarray[tuple[int], np.dtype[np.bool]]:
    places = np.arange(*span)
    return (places >= 0) & (places < count)
