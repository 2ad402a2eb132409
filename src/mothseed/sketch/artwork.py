"""The mark of the one function of a sketch that draws."""

from __future__ import annotations

import inspect
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from mothseed.checks import finite, length, one_of
from mothseed.colour.ramp import Ramp
from mothseed.colour.value import Colour, as_colour
from mothseed.faults import SketchError
from mothseed.sheet.drawing import DEFAULT_LIGHT
from mothseed.sizes import OutputSize, output_size, picture_size
from mothseed.sketch.dials import Dial
from mothseed.units import UNITS_PER_INCH

DrawFunction = Callable[..., Any]


@dataclass(frozen=True, slots=True)
class Artwork:
    """A function that draws, the sheet it draws on, and its dials by name."""

    function: DrawFunction
    width: float
    height: float
    unit: str
    paper: Colour | Ramp
    light: float
    dials: dict[str, Dial]

    @property
    def line(self) -> int:
        """The line of the file on which it is defined."""
        return self.function.__code__.co_firstlineno


def artwork(
    width: float = 210,
    height: float = 210,
    unit: str = "mm",
    paper: Colour | Ramp | str | None = "#ffffff",
    light: float = DEFAULT_LIGHT,
) -> Callable[[DrawFunction], Artwork]:
    """Mark the function that draws the picture: `@artwork(width=180, height=240, unit="mm", paper="#f4efe4")`.

    The function takes the sheet and chance, then dials as keyword-only arguments. Units are mm, cm, in, pt and px. Paper is a
    colour, a ramp, or None for transparent, below everything else. `light` is the direction in which soft shadows fall, in
    degrees. Raises SketchError for a sheet without a size, and for a function that takes anything else.
    """
    if callable(width):
        raise SketchError("@artwork needs to be called", hint="write @artwork() or @artwork(width=180, height=240)")
    length("artwork", width=width, height=height)
    one_of("artwork", "unit", unit, UNITS_PER_INCH, hint='write unit="mm"')
    finite("artwork", light=light, hint="it is a heading in degrees")
    ground = paper if isinstance(paper, Ramp) else as_colour("#ffffff00" if paper is None else paper)

    def mark(function: DrawFunction) -> Artwork:
        return Artwork(function, float(width), float(height), unit, ground, float(light), _dials(function))

    return mark


def _dials(function: DrawFunction) -> dict[str, Dial]:
    parameters = list(inspect.signature(function).parameters.values())
    positional = [p for p in parameters if p.kind in (p.POSITIONAL_ONLY, p.POSITIONAL_OR_KEYWORD)]
    if len(positional) != 2 or any(p.default is not p.empty for p in positional):
        raise SketchError(
            f"{function.__name__} must take the sheet and chance, then dials after a star",
            hint=f"write def {function.__name__}(sheet, chance, *, count=dial(12, 1, 99)):",
        )
    dials = {}
    for parameter in parameters[2:]:
        if parameter.kind is not parameter.KEYWORD_ONLY or not isinstance(parameter.default, Dial):
            raise SketchError(
                f"{function.__name__}: {parameter.name} is not a dial",
                hint=f"write {parameter.name}=dial(12, 1, 99) after the star",
            )
        dials[parameter.name] = parameter.default
    return dials


def size_for(artwork: Artwork, width: str | None, dpi: float | None) -> OutputSize:
    """What a width, as it is written, and a resolution come to for a sheet; raises FieldError where it cannot be made."""
    size = output_size(width, dpi, artwork.width / UNITS_PER_INCH[artwork.unit])
    picture_size(artwork.width, artwork.height, size.pixels)
    return size
