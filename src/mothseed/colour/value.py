"""Colour values and colour strings."""

from __future__ import annotations

from functools import lru_cache
from numbers import Real
from typing import NamedTuple, Self

from mothseed.faults import SketchError
from mothseed.values import fixed

Swatches = tuple[tuple[str, float], ...]
"""Colours as CSS has them, each with its share of a picture, the largest first."""


class _Parts(NamedTuple):
    red: float
    green: float
    blue: float
    alpha: float = 1.0


_LOW, _HIGH = -1e-9, 1 + 1e-9
"""How far calculated channels may lie outside 0 to 1."""
_filled = tuple.__new__
"""Called directly, as going through the named tuple's own `__new__` takes a fifth of the time of making a colour."""


@fixed("make another: Colour(0.2, 0.4, 0.5), colour.faded(0.5)")
class Colour(_Parts):
    """An sRGB colour with red, green, blue and alpha from 0 to 1; raises SketchError for anything outside that range.

    >>> Colour.parse("tomato").css
    '#ff6347'
    >>> Colour.parse("#1b2a41").faded(0.5).css
    '#1b2a4180'
    """

    __slots__ = ()

    def __new__(cls, red: float, green: float, blue: float, alpha: float = 1.0) -> Self:
        """A colour from its channels."""
        try:
            if _LOW <= red <= _HIGH and _LOW <= green <= _HIGH and _LOW <= blue <= _HIGH and _LOW <= alpha <= _HIGH:
                return _filled(cls, (red, green, blue, alpha))
        except TypeError:
            pass  # anything but a number is reported below
        raise _no_colour(red, green, blue, alpha)

    @classmethod
    def parse(cls, text: str) -> Colour:
        """The colour that a CSS colour string names: "#f4efe4", "teal", "oklch(70% 0.1 140)", "rgb(20 30 40 / 50%)".

        Colours outside sRGB are mapped into it as CSS Color 4 specifies. Raises SketchError for anything else.
        """
        if not isinstance(text, str):
            raise SketchError(f"Colour.parse: a CSS string is needed (got {text!r})", hint='write Colour.parse("teal")')
        return _parsed(text)

    @property
    def css(self) -> str:
        """The colour as `#rrggbb`, or `#rrggbbaa` if it is not opaque."""
        parts = [round(part * 255) for part in self]
        return "#" + bytes(parts[:3] if parts[3] == 255 else parts).hex()

    def over(self, ground: Colour) -> Colour:
        """The opaque colour you see when it lies over another."""
        red, green, blue = (a * self.alpha + b * (1 - self.alpha) for a, b in zip(self[:3], ground[:3], strict=True))
        return Colour(red, green, blue)

    def multiplied(self, other: Colour) -> Colour:
        """The two colours multiplied, channel by channel and including alpha: white changes nothing."""
        return Colour(*(own * part for own, part in zip(self, other, strict=True)))

    def faded(self, alpha: float) -> Colour:
        """The same colour, its alpha multiplied by a number from 0 to 1."""
        if not 0 <= alpha <= 1:
            raise SketchError(f"faded({alpha!r}): alpha is a number from 0 (not seen) to 1 (as it was)")
        return self._replace(alpha=self.alpha * alpha)


def _no_colour(*parts: object) -> SketchError:
    """The message for channels of which at least one is not a number from 0 to 1."""
    for name, part in zip(Colour._fields, parts, strict=True):
        if not isinstance(part, Real):
            hint = 'write Colour.parse("teal") for a name' if isinstance(part, str) else ""
            return SketchError(f"colour: {name} must be a number from 0 to 1 (got {part!r})", hint=hint)
        if not 0 <= float(part) <= 1:
            hint = "divide by 255 for parts from 0 to 255" if float(part) > 1 else ""
            return SketchError(f"colour: {name} must be a number from 0 to 1 (got {part!r})", hint=hint)
    return SketchError(f"a colour has parts from 0 to 1 (got {parts})")


WHITE = Colour(1.0, 1.0, 1.0)


def as_colour(given: object) -> Colour:
    """A colour from a Colour, a CSS string, or three or four numbers from 0 to 1."""
    if isinstance(given, str):
        return _parsed(given)
    if isinstance(given, Colour):
        return given
    if isinstance(given, tuple | list) and len(given) in {3, 4} and all(isinstance(part, Real) for part in given):
        return Colour(*given)
    if getattr(given, "shape", None) in {(3,), (4,)}:
        return Colour(*given.tolist())  # type: ignore[attr-defined]  # a row of an array
    raise SketchError(
        f"a colour is a CSS string, a Colour, or three numbers from 0 to 1 (got {given!r})",
        hint='write "#f4efe4", "teal" or None for no paint',
    )


_READ_OTHERWISE = ("mediumpurple", "palevioletred")
"""Names that the colour library reads differently from CSS; pictures that were made with them stay the same."""


def _digits_of(name: str) -> str:
    """The hexadecimal digits of a CSS colour name; empty for anything else."""
    if not (name.isascii() and name.isalpha()) or name in _READ_OTHERWISE:
        return ""
    import webcolors

    try:
        digits: str = webcolors.name_to_hex(name).removeprefix("#")
    except ValueError:
        return ""
    return digits


@lru_cache(maxsize=4096)
def _parsed(text: str) -> Colour:
    # Most sketches write nothing but hexadecimal colours and names; reading those here spares them the import of the colour
    # library, which takes longer than drawing a small sketch.
    digits = text[1:] if text[:1] == "#" else _digits_of(text.lower())
    if len(digits) in (3, 4):
        digits = "".join(digit * 2 for digit in digits)
    if len(digits) in (6, 8) and digits.isascii() and digits.isalnum():
        try:
            return Colour(*(byte / 255 for byte in bytes.fromhex(digits)))
        except ValueError:
            pass
    from coloraide import Color

    try:
        parsed = Color(text).convert("srgb")
    except ValueError:
        raise SketchError(
            f"{text!r} is not a colour that CSS knows",
            hint='write a name such as "teal", or "#1b2a41", or "oklch(70% 0.1 140)"',
        ) from None
    red, green, blue = (float(c) for c in parsed.fit("srgb", method="oklch-chroma").coords(nans=False))
    alpha = float(parsed.alpha(nans=False))
    return Colour(*(min(max(part, 0.0), 1.0) for part in (red, green, blue, alpha)))
