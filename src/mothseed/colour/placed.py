"""Pictures laid on a view: a source of colour at any place, and paint."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple, overload

import numpy as np
import numpy.typing as npt

from mothseed.arrays import ByteArray, FloatArray, WholeArray
from mothseed.checks import finite, length, one_of, whole
from mothseed.colour.oklch import lightness_of, oklab_from_srgb
from mothseed.colour.texture import Texture
from mothseed.colour.value import WHITE, Colour, as_colour
from mothseed.faults import SketchError
from mothseed.geometry.flow import Flow, along_contours
from mothseed.geometry.given_points import as_points
from mothseed.geometry.region import Box
from mothseed.native.library import Kernel
from mothseed.portable import heading
from mothseed.values import fixed

FITS = ("cover", "contain", "stretch")
OUTSIDES = ("pad", "repeat", "reflect", "none")
"""What lies beyond a picture's edge, in the terms of SVG's spreadMethod: its edge extended, the picture repeated, its mirror
image, or nothing.
"""

_find_colours, _find_slopes = Kernel("sampling.find_colours"), Kernel("sampling.find_slopes")
_add_up_discs = Kernel("sampling.add_up_discs")

_LARGEST_DISC = 4.0
"""Most pixels in the radius of a disc to average over, in the copy of the picture that is used; it has at least half as many,
so that its rim is round enough.
"""
_FARTHEST = 1e15

Numbers = npt.ArrayLike


class Cells(NamedTuple):
    """The cells of a picture, row by row, as arrays of one length, to move and draw."""

    x: FloatArray
    """where the middle of each lies"""
    y: FloatArray
    width: float
    height: float
    colour: FloatArray
    """float64 (n, 4): the mean colour of each, red, green, blue and alpha, as `circles(fill=...)` takes them"""
    lightness: FloatArray
    """from 0 to 1"""
    col: WholeArray
    row: WholeArray


@fixed('lay the picture on a view again: sheet.picture("dusk.png"), or tint it: picture.tinted("teal")')
@dataclass(frozen=True, slots=True)
class Picture:
    """A picture laid over a view; `view.picture("dusk.png")` makes one. Positions are in the view's coordinates.

    It gives you its colour at any point, one at a time or in arrays, and it is paint: `fill=picture` shows it through any
    shape drawn on the same view.
    """

    texture: Texture
    place: Box
    """left, top, width and height of the whole picture"""
    area: Box
    """left, top, width and height of the view it was laid on"""
    outside: str = "pad"
    smooth: bool = True
    tint: Colour = WHITE

    def __post_init__(self) -> None:
        one_of("picture", "outside", self.outside, OUTSIDES)

    def tinted(self, colour: object) -> Picture:
        """The same picture with its colours multiplied by another: white changes nothing."""
        return replace(self, tint=self.tint.multiplied(as_colour(colour)))

    def placed(self, box: Box) -> Picture:
        """The same picture moved to another left, top, width and height, which become its area."""
        return replace(self, place=box, area=box)

    @property
    def size(self) -> tuple[int, int]:
        """Its width and height in pixels."""
        return self.texture.width, self.texture.height

    @property
    def centre(self) -> tuple[float, float]:
        """The middle of the whole picture: stamped there, it is where it was laid."""
        left, top, width, height = self.place
        return left + width / 2, top + height / 2

    center = centre

    def cropped(self, left: float, top: float, width: float, height: float) -> Picture:
        """The part of it inside a rectangle, to the nearest pixel, as a picture in the same position.

        Raises SketchError for sizes that are not above 0, and for a rectangle outside the picture.
        """
        finite("cropped", left=left, top=top)
        length("cropped", width=width, height=height)
        x, y, wide, high = self.place
        cols = [round((edge - x) / wide * self.texture.width) for edge in (left, left + width)]
        rows = [round((edge - y) / high * self.texture.height) for edge in (top, top + height)]
        first_col, last_col = max(cols[0], 0), min(max(cols[1], cols[0] + 1), self.texture.width)
        first_row, last_row = max(rows[0], 0), min(max(rows[1], rows[0] + 1), self.texture.height)
        if not (first_col < last_col and first_row < last_row):
            raise SketchError(
                f"cropped: the picture does not reach there; it lies at {x:g}, {y:g} and is {wide:g} by {high:g}",
                hint="left, top, width and height are those of the view that it was laid on",
            )
        pixels = np.ascontiguousarray(self.texture.pixels[first_row:last_row, first_col:last_col])
        step_x, step_y = wide / self.texture.width, high / self.texture.height
        box = (
            x + first_col * step_x,
            y + first_row * step_y,
            (last_col - first_col) * step_x,
            (last_row - first_row) * step_y,
        )
        return replace(self, texture=Texture(pixels), place=box, area=box)

    def tiles(self, cols: int, rows: int) -> list[Picture]:
        """The picture cut into tiles, as far as it lies on the view's area: row by row, each a picture in its position.

        Put them back with `sheet.stamp(*tile.centre, tile)`, or put them elsewhere. Raises SketchError for counts that are
        not whole numbers from 1 on.
        """
        cols, rows = whole("tiles", "cols", cols, 1), whole("tiles", "rows", rows, 1)
        left, top, width, height = self.area
        wide, high = width / cols, height / rows
        return [self.cropped(left + col * wide, top + row * high, wide, high) for row in range(rows) for col in range(cols)]

    def toned(self, curve: Iterable[tuple[float, float]]) -> Picture:
        """The picture with a tone curve applied: `photo.toned([(0, 0.1), (0.5, 0.7), (1, 1)])` lifts shadows and midtones.

        The curve runs straight from point to point; each point maps a value of red, green and blue to a new one, from 0 to 1,
        and beyond its ends the curve is flat. Raises SketchError for fewer than two points, values outside 0 to 1, and points
        that are not in ascending order.
        """
        points = as_points(curve, "toned", 2)
        if not ((points >= 0) & (points <= 1)).all() or not (np.diff(points[:, 0]) > 0).all():
            raise SketchError(
                "toned: a tone curve goes from left to right, its values from 0 to 1",
                hint="write toned([(0, 0), (0.5, 0.7), (1, 1)])",
            )
        levels = np.floor(np.interp(np.arange(256) / 255, points[:, 0], points[:, 1]) * 255 + 0.5).astype(np.uint8)
        pixels = self.texture.pixels.copy()
        pixels[..., :3] = levels[pixels[..., :3]]
        return replace(self, texture=Texture(pixels))

    # Looking colours up

    @overload
    def at(self, x: float, y: float) -> Colour: ...
    @overload
    def at(self, x: Numbers, y: Numbers) -> FloatArray: ...
    def at(self, x: Numbers, y: Numbers) -> Colour | FloatArray:
        """The colour at a point: a Colour, or for arrays float64 (..., 4) as `circles(fill=...)` takes it.

        Interpolates between pixels unless the picture was made with `smooth=False`. Raises SketchError for coordinates that
        are not finite.
        """
        if isinstance(x, float | int) and isinstance(y, float | int):
            return Colour(*self._parts_at(float(x), float(y)))
        u, v = self._in_pixels(x, y, self.texture.pixels.shape)
        return _colour_or_array(self._sampled(self.texture.pixels, u, v) * self.tint)

    def _parts_at(self, x: float, y: float) -> list[float]:
        """Red, green, blue and alpha of one place, by the same arithmetic as those of many: arrays of one take ten times as
        long.
        """
        pixels = self.texture.pixels
        u, v = self._place_in_pixels(x, y, pixels.shape)
        if self.smooth:
            red, green, blue, alpha = self._four_mixed(pixels, u, v)
            parts = [red / alpha, green / alpha, blue / alpha, alpha] if alpha > 0 else [0.0, 0.0, 0.0, alpha]
        else:
            column, row, inside = self._wrapped_place(math.floor(u), math.floor(v), pixels.shape)
            parts = [part / 255 if inside else 0.0 for part in pixels[row, column].tolist()]
        return [min(max(part * tint, 0.0), 1.0) for part, tint in zip(parts, self.tint, strict=True)]

    @overload
    def lightness(self, x: float, y: float) -> float: ...
    @overload
    def lightness(self, x: Numbers, y: Numbers) -> FloatArray: ...
    def lightness(self, x: Numbers, y: Numbers) -> float | FloatArray:
        """How light it looks at a point, from 0 (black) to 1 (white): the lightness of OKLab."""
        if isinstance(x, float | int) and isinstance(y, float | int):
            return lightness_of(self._parts_at(float(x), float(y)))
        colours = self.at(x, y)
        if isinstance(colours, Colour):  # of arrays of one number each
            return lightness_of(colours)
        values: FloatArray = oklab_from_srgb(colours[..., :3])[..., 0]
        return values

    @overload
    def average(self, x: float, y: float, radius: float, *, exact: bool = False) -> Colour: ...
    @overload
    def average(self, x: Numbers, y: Numbers, radius: Numbers, *, exact: bool = False) -> FloatArray: ...
    def average(self, x: Numbers, y: Numbers, radius: Numbers, *, exact: bool = False) -> Colour | FloatArray:
        """The mean colour of a disc, in the form that `at` gives.

        If the sides of the picture cannot be halved evenly, the disc can be a few pixels off; `exact=True` puts it right. It
        is an option so that older sketches draw what they always drew. Raises SketchError for a negative radius.
        """
        xs, ys, radii = _of_one_shape(x, y, radius)
        if not ((radii >= 0) & (radii < math.inf)).all():
            raise SketchError("average: the radius must be 0 or more, and finite")
        in_pixels = radii * math.sqrt(self._scale_x * self._scale_y)
        levels = np.ceil(np.log2(np.maximum(in_pixels, 1e-9) / _LARGEST_DISC)).clip(0).astype(np.int64)
        result = np.empty((*xs.shape, 4))
        for level in np.unique(levels).tolist():
            which = levels == level
            pixels = self.texture.shrunk(level) if exact else self.texture.level(level)
            result[which] = self._mean_over_discs(xs[which], ys[which], radii[which], pixels)
        return _colour_or_array(result * self.tint)

    @overload
    def detail(self, x: float, y: float, radius: float) -> float: ...
    @overload
    def detail(self, x: Numbers, y: Numbers, radius: Numbers) -> FloatArray: ...
    def detail(self, x: Numbers, y: Numbers, radius: Numbers) -> float | FloatArray:
        """How much its lightness varies in a square of that radius around a point: the standard deviation.

        It is 0 where the picture is uniform and at most 0.5, for half black and half white; anything outside the picture is
        ignored. Raises SketchError for a radius that is not above 0.
        """
        xs, ys, radii = _of_one_shape(x, y, radius)
        if not ((radii > 0) & (radii < math.inf)).all():
            raise SketchError("detail: the radius must be above 0, and finite")
        sums = self.texture.lightness_sums()
        shape = (sums.shape[1] - 1, sums.shape[2] - 1)
        first = self._in_pixels(xs - radii, ys - radii, shape)
        last = self._in_pixels(xs + radii, ys + radii, shape)
        (left, right), (top, bottom) = (
            (np.floor(low).clip(0, count - 1).astype(np.int64), np.ceil(high).clip(1, count).astype(np.int64))
            for low, high, count in zip(first, last, shape[::-1], strict=True)
        )
        right, bottom = np.maximum(right, left + 1), np.maximum(bottom, top + 1)
        pixels = (right - left) * (bottom - top)
        total = sums[:, bottom, right] - sums[:, top, right] - sums[:, bottom, left] + sums[:, top, left]
        mean, mean_square = total / pixels
        spread = np.sqrt(np.maximum(mean_square - mean * mean, 0.0))
        return float(spread) if spread.ndim == 0 else spread

    def _mean_over_discs(self, x: FloatArray, y: FloatArray, radius: FloatArray, pixels: ByteArray) -> FloatArray:
        """Mean colours (n, 4) of discs, from a reduced copy of the picture in which they are a few pixels wide."""
        u, v = self._in_pixels(x, y, pixels.shape)
        reach_x = radius * self._scale_x * pixels.shape[1] / self.texture.width
        reach_y = radius * self._scale_y * pixels.shape[0] / self.texture.height
        reach_x, reach_y = np.maximum(reach_x, 0.5), np.maximum(reach_y, 0.5)
        span = int(math.ceil(max(reach_x.max(), reach_y.max()) + 0.5))
        sums = np.empty((len(x), 5))
        _add_up_discs(pixels, OUTSIDES.index(self.outside), u, v, reach_x, reach_y, span, sums)
        return _straight(sums[:, :4] / sums[:, 4:])

    @overload
    def uphill(self, x: float, y: float, radius: float | None = None) -> float: ...
    @overload
    def uphill(self, x: Numbers, y: Numbers, radius: float | None = None) -> FloatArray: ...
    def uphill(self, x: Numbers, y: Numbers, radius: float | None = None) -> float | FloatArray:
        """The heading in which it gets lighter fastest, in degrees; 0 where it is uniform.

        It is measured between points `radius` away, two pixels by default.
        """
        across, down = self._slopes(x, y, radius)
        return heading(across, down)

    @overload
    def heading(self, x: float, y: float, radius: float | None = None) -> float: ...
    @overload
    def heading(self, x: Numbers, y: Numbers, radius: float | None = None) -> FloatArray: ...
    def heading(self, x: Numbers, y: Numbers, radius: float | None = None) -> float | FloatArray:
        """The heading of the flow at a place, in degrees."""
        flow = self.flow(x, y, radius)
        return heading(flow.dx, flow.dy)

    def flow(self, x: Numbers, y: Numbers, radius: float | None = None) -> Flow:
        """The direction along lines of equal lightness, with the lighter side on the left: what a brush would follow."""
        return along_contours(*self._slopes(x, y, radius))

    def _slopes(self, x: Numbers, y: Numbers, radius: float | None) -> tuple[FloatArray, FloatArray]:
        reach = 2.0 / math.sqrt(self._scale_x * self._scale_y) if radius is None else radius
        if not 0 < reach < math.inf:
            raise SketchError(f"picture: the radius must be above 0 (got {radius!r})")
        in_pixels = reach * math.sqrt(self._scale_x * self._scale_y)
        levels = self.texture.lightness(max(int(math.log2(max(in_pixels, 1.0) / 2)), 0))
        height, width = levels.shape
        across = min(reach * self._scale_x * width / self.texture.width, _FARTHEST)
        down = min(reach * self._scale_y * height / self.texture.height, _FARTHEST)
        if isinstance(x, float | int) and isinstance(y, float | int):
            return self._slopes_at(float(x), float(y), levels, across, down)
        u, v = self._in_pixels(x, y, levels.shape)
        slopes = np.empty((2, u.size))
        _find_slopes(levels, OUTSIDES.index(self.outside), u.ravel(), v.ravel(), across, down, slopes)
        return slopes[0].reshape(u.shape), slopes[1].reshape(u.shape)

    def _slopes_at(self, x: float, y: float, levels: FloatArray, across: float, down: float) -> tuple[FloatArray, FloatArray]:
        """As `_slopes`, for one place."""
        height, width = levels.shape
        u, v = self._place_in_pixels(x, y, levels.shape)

        def light(u: float, v: float) -> float:
            column, row = math.floor(u - 0.5), math.floor(v - 0.5)
            if 0 <= column < width - 1 and 0 <= row < height - 1:
                near = levels[row : row + 2, column : column + 2].ravel().tolist()
            else:
                near = [float(levels[row, column]) for column, row, _ in self._four_places(column, row, levels.shape)]
            return _mixed(near, u - 0.5 - column, v - 0.5 - row)

        slopes = light(u + across, v) - light(u - across, v), light(u, v + down) - light(u, v - down)
        return np.float64(slopes[0]), np.float64(slopes[1])  # type: ignore[return-value]  # arrays of one

    def cells(self, cols: int, rows: int) -> Cells:
        """The picture split into cells, as far as it lies on the view's area: the position and mean colour of each.

        Move, sort or filter the arrays, and draw them at once: `view.rects(c.x - c.width / 2, ..., fill=c.colour)`. Raises
        SketchError for counts that are not whole numbers from 1 on.
        """
        cols, rows = whole("cells", "cols", cols, 1), whole("cells", "rows", rows, 1)
        left, top, width, height = self.area
        wide, high = width / cols, height / rows
        row, col = (part.ravel() for part in np.mgrid[0:rows, 0:cols])
        x, y = left + (col + 0.5) * wide, top + (row + 0.5) * high
        # The disc of the same area: its mean colour cannot be told from that of the rectangle.
        radius = math.sqrt(wide * high / math.pi)
        colour = np.asarray(self.average(x, y, np.full(len(x), radius)))
        return Cells(x, y, wide, high, colour, oklab_from_srgb(colour[:, :3])[:, 0], col, row)

    # Internals

    @property
    def _scale_x(self) -> float:
        return self.texture.width / self.place[2]

    @property
    def _scale_y(self) -> float:
        return self.texture.height / self.place[3]

    def _in_pixels(self, x: Numbers, y: Numbers, shape: tuple[int, ...]) -> tuple[FloatArray, FloatArray]:
        """Places in pixels of a copy of the picture; the middle of the first pixel is at 0.5."""
        left, top, width, height = self.place
        across, down = _of_one_shape(x, y)
        u, v = (across - left) / width * shape[1], (down - top) / height * shape[0]
        if not ((np.abs(u) < _FARTHEST) & (np.abs(v) < _FARTHEST)).all():
            raise _not_finite()
        return u, v

    def _place_in_pixels(self, x: float, y: float, shape: tuple[int, ...]) -> tuple[float, float]:
        """As `_in_pixels`, for one place."""
        left, top, width, height = self.place
        u, v = (x - left) / width * shape[1], (y - top) / height * shape[0]
        if not (abs(u) < _FARTHEST and abs(v) < _FARTHEST):
            raise _not_finite()
        return u, v

    def _wrapped_place(self, column: int, row: int, shape: tuple[int, ...]) -> tuple[int, int, bool]:
        """The column and row of a pixel that may lie beyond the edge, and whether it exists."""
        height, width = shape[:2]
        inside = self.outside != "none" or (0 <= column < width and 0 <= row < height)
        return _wrapped_number(column, width, self.outside), _wrapped_number(row, height, self.outside), inside

    def _four_places(self, column: int, row: int, shape: tuple[int, ...]) -> list[tuple[int, int, bool]]:
        """A pixel and those to its right, below it, and to the right of that, each as `_wrapped_place` has it."""
        return [self._wrapped_place(column + across, row + down, shape) for down in range(2) for across in range(2)]

    def _four_mixed(self, pixels: ByteArray, u: float, v: float) -> list[float]:
        """As `find_colours`, for one place: red, green and blue times alpha, and alpha, from 0 to 1."""
        column, row = math.floor(u - 0.5), math.floor(v - 0.5)
        if 0 <= column < pixels.shape[1] - 1 and 0 <= row < pixels.shape[0] - 1:
            upper, lower = pixels[row : row + 2, column : column + 2].tolist()
            near = [_premultiplied_texel(*texel) for texel in (*upper, *lower)]
        else:
            places = self._four_places(column, row, pixels.shape)
            near = [
                _premultiplied_texel(*pixels[row, column].tolist()) if inside else _NO_TEXEL for column, row, inside in places
            ]
        across, down = u - 0.5 - column, v - 0.5 - row
        return [_mixed(parts, across, down) for parts in zip(*near, strict=True)]

    def _sampled(self, pixels: ByteArray, u: FloatArray, v: FloatArray) -> FloatArray:
        """Colours (..., 4), not premultiplied: interpolated between the four nearest pixels, or of the nearest."""
        if not self.smooth:
            return self._texels(pixels, np.floor(u), np.floor(v)) / 255
        colours = np.empty((u.size, 4))
        _find_colours(pixels, OUTSIDES.index(self.outside), u.ravel(), v.ravel(), colours)
        return _straight(colours.reshape(*u.shape, 4))

    def _texels(self, pixels: ByteArray, column: FloatArray, row: FloatArray) -> FloatArray:
        """Pixels (..., 4), 0 to 255, by columns and rows that may lie beyond the edge."""
        height, width = pixels.shape[:2]
        texels = pixels[wrapped(row, height, self.outside), wrapped(column, width, self.outside)].astype(np.float64)
        if self.outside == "none":
            texels[(column < 0) | (column >= width) | (row < 0) | (row >= height)] = 0.0
        return texels


def fitted(texture: Texture, area: Box, fit: str) -> Box:
    """The rectangle of a picture that covers an area, is contained in it, or stretched to it, centred on it."""
    if fit not in FITS:
        raise SketchError(f"picture: fit must be one of {', '.join(FITS)} (got {fit!r})", hint='write fit="contain"')
    left, top, width, height = area
    if fit == "stretch":
        return area
    scales = width / texture.width, height / texture.height
    scale = max(scales) if fit == "cover" else min(scales)
    wide, high = texture.width * scale, texture.height * scale
    return left + (width - wide) / 2, top + (height - high) / 2, wide, high


def wrapped(index: FloatArray | WholeArray, count: int, outside: str) -> WholeArray:
    """Row or column numbers that may lie beyond the edge of a picture, brought inside it; for "none", the nearest."""
    match outside:
        case "repeat":
            there = np.mod(index, count)
        case "reflect":
            folded = np.mod(index, 2 * count)
            there = np.where(folded < count, folded, 2 * count - 1 - folded)
        case _:
            there = index
    return there.clip(0, count - 1).astype(np.int64)


def _wrapped_number(index: int, count: int, outside: str) -> int:
    """As `wrapped`, for one number."""
    if outside == "repeat":
        return index % count
    if outside == "reflect":
        folded = index % (2 * count)
        return folded if folded < count else 2 * count - 1 - folded
    return min(max(index, 0), count - 1)


def _mixed(near: Sequence[float], across: float, down: float) -> float:
    """One number of the four nearest pixels, row by row, interpolated between them as the kernels do it."""
    upper_left, upper_right, lower_left, lower_right = near
    upper = upper_left + (upper_right - upper_left) * across
    lower = lower_left + (lower_right - lower_left) * across
    return upper + (lower - upper) * down


_NO_TEXEL = (0.0, 0.0, 0.0, 0.0)


def _premultiplied_texel(red: int, green: int, blue: int, alpha: int) -> tuple[float, float, float, float]:
    """Red, green and blue times alpha, and alpha, from 0 to 1."""
    part = alpha / 255
    return red / 255 * part, green / 255 * part, blue / 255 * part, part


def _straight(parts: FloatArray) -> FloatArray:
    alpha = parts[..., 3:]
    return np.concatenate([np.where(alpha > 0, parts[..., :3] / np.where(alpha > 0, alpha, 1.0), 0.0), alpha], axis=-1)


def _colour_or_array(colours: FloatArray) -> Colour | FloatArray:
    kept = colours.clip(0.0, 1.0)
    return Colour(*kept.tolist()) if kept.ndim == 1 else kept


def _not_finite() -> SketchError:
    return SketchError("picture: a place is not finite", hint="check for a division by 0")


def _of_one_shape(*parts: Numbers) -> tuple[FloatArray, ...]:
    """Numbers and arrays broadcast to float64 of one shape; raises SketchError if they cannot be."""
    try:
        return np.broadcast_arrays(*(np.asarray(part, np.float64) for part in parts))
    except (TypeError, ValueError):
        raise SketchError("picture: a place is numbers, or arrays of one shape", hint="write picture.at(x, y)") from None
