"""Paint as a value: what a shape is filled and stroked with."""

from __future__ import annotations

import difflib
import math
from collections.abc import Mapping
from struct import Struct
from types import MappingProxyType
from typing import Any, NamedTuple, TypedDict

from mothseed.colour.value import Colour, as_colour
from mothseed.errors import SketchError

LINECAPS = ("butt", "round", "square")
LINEJOINS = ("miter", "round", "bevel")

FILLED, STROKED = 1, 2
"""Flags of a mark's `painted`."""

COLOUR_STEPS = 65535
_NO_COLOUR = (0, 0, 0, 0)
_pack = Struct("<BBB4H4Hdd").pack


class Paint(TypedDict, total=False):
    """The paint keywords that every shape takes; what is left out is that of the view it is drawn on."""

    fill: Colour | str | None
    stroke: Colour | str | None
    stroke_width: float
    opacity: float
    linecap: str
    linejoin: str


class Style(NamedTuple):
    """A whole set of paint. The defaults are those of SVG."""

    fill: Colour | None = Colour(0.0, 0.0, 0.0)
    stroke: Colour | None = None
    stroke_width: float = 1.0
    opacity: float = 1.0
    linecap: str = "butt"
    linejoin: str = "miter"

    def but(self, paint: Mapping[str, Any]) -> Style:
        """The same style with some of its paint changed.

        Raises SketchError for a name that is no paint and a value that cannot be painted with, in words that name both.
        """
        return self._replace(**{name: _checked(name, value) for name, value in paint.items()})

    def packed(self, paint: Mapping[str, Any] = MappingProxyType({})) -> bytes:
        """The style, with some of its paint changed as by `but`, as the tail of a mark's record; see `MARK`.

        Every shape in a paint of its own comes through here, so it makes no style in between.
        """
        fill, stroke, stroke_width, opacity, linecap, linejoin = self
        for name, value in paint.items():
            match name:
                case "fill":
                    fill = value if type(value) is Colour else _checked(name, value)
                case "stroke":
                    stroke = value if type(value) is Colour else _checked(name, value)
                case "opacity":
                    opacity = _checked(name, value)
                case _:
                    return self.but(paint).packed()
        return _pack(
            LINECAPS.index(linecap),
            LINEJOINS.index(linejoin),
            (FILLED if fill is not None else 0) | (STROKED if stroke is not None else 0),
            *(_NO_COLOUR if fill is None else _whole_parts(fill)),
            *(_NO_COLOUR if stroke is None else _whole_parts(stroke)),
            stroke_width,
            opacity,
        )


PAINT_NAMES = Style._fields


def _whole_parts(colour: Colour) -> tuple[int, int, int, int]:
    """A colour in steps of 1/65535, finer than any screen and coarser than what processors disagree on."""
    red, green, blue, alpha = colour
    steps = COLOUR_STEPS
    return int(red * steps + 0.5), int(green * steps + 0.5), int(blue * steps + 0.5), int(alpha * steps + 0.5)


def _checked(name: str, value: object) -> Any:
    match name:
        case "fill" | "stroke":
            try:
                return None if value is None else as_colour(value)
            except SketchError as fault:
                raise SketchError(f"{name}: {fault.message}", hint=fault.hint) from None
        case "stroke_width":
            if not (_is_number(value) and 0 <= value < math.inf):  # type: ignore[operator]
                raise SketchError(f"stroke_width is a length in sheet units, 0 or more (got {value!r})")
            return float(value)  # type: ignore[arg-type]
        case "opacity":
            if not (_is_number(value) and 0 <= value <= 1):  # type: ignore[operator]
                raise SketchError(f"opacity is a number from 0 (not seen) to 1 (solid) (got {value!r})")
            return float(value)  # type: ignore[arg-type]
        case "linecap":
            return _one_of(name, value, LINECAPS)
        case "linejoin":
            return _one_of(name, value, LINEJOINS)
    near = difflib.get_close_matches(name, PAINT_NAMES, 1) or ["fill"] * name.startswith("colo")
    raise SketchError(
        f"{name}= is no paint; paint is {', '.join(PAINT_NAMES)}", hint=f"did you mean {near[0]}=?" if near else ""
    )


def _is_number(value: object) -> bool:
    return hasattr(value, "__float__") and getattr(value, "ndim", 0) == 0


def _one_of(name: str, value: object, choices: tuple[str, ...]) -> object:
    if value not in choices:
        raise SketchError(f"{name} is one of {', '.join(choices)} (got {value!r})", hint=f'write {name}="{choices[1]}"')
    return value
