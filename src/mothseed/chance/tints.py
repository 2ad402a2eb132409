"""Random colours that go together."""

from __future__ import annotations

import math
from typing import Any

from mothseed.chance.places import Places
from mothseed.checks import is_finite
from mothseed.colour.oklch import from_oklch, oklch_of
from mothseed.colour.value import Colour, as_colour
from mothseed.faults import SketchError

Range = tuple[float, float]
MIDDLING: dict[str, Range] = {"lightness": (0.35, 0.85), "chroma": (0.04, 0.16), "hue": (0.0, 360.0)}
"""Default ranges of a random colour."""


class Tints(Places):
    """Random colours within ranges, or near another."""

    __slots__ = ()

    def colour(
        self,
        *,
        lightness: Range | float | None = None,
        chroma: Range | float | None = None,
        hue: Range | float | None = None,
        red: Range | float | None = None,
        green: Range | float | None = None,
        blue: Range | float | None = None,
        clip: bool = True,
        label: str | None = None,
    ) -> Colour:
        """A random colour within ranges, either in OKLCH or in red, green and blue.

        `lightness` (0 to 1), `chroma` (0 to about 0.4) and `hue` (degrees; a range may wrap past 360) follow CSS Color 4.
        Colours outside the gamut of a screen lose chroma and are clipped where that is too small to notice, which may turn
        the hue by a few degrees; with `clip=False` lightness and hue stay as drawn. `red`, `green` and `blue` go from 0 to 1.
        Each argument is a range or a single number. Anything you leave out varies over a moderate range in OKLCH, or over 0
        to 1 in RGB. Takes three numbers from the stream. Raises SketchError if you mix the two kinds.
        """
        oklch, rgb = (lightness, chroma, hue), (red, green, blue)
        by_light = any(part is not None for part in oklch)
        if by_light and any(part is not None for part in rgb):
            raise SketchError(
                "colour: give ranges of lightness, chroma and hue, or of red, green and blue, not of both",
                hint="colour(lightness=(0.6, 0.8), hue=(20, 90))",
            )
        if any(part is not None for part in rgb):
            first, second, third = (self._within("colour", part, (0.0, 1.0)) for part in rgb)
            colour = Colour(first, second, third)
        else:
            first, second, third = (self._within("colour", p, m) for p, m in zip(oklch, MIDDLING.values(), strict=True))
            colour = from_oklch(first, second, third, clip=clip)
        self._kept(label, colour)
        return colour

    def color(self, **parts: Any) -> Colour:
        """As `colour`."""
        return self.colour(**parts)

    def color_near(self, key: object, **parts: Any) -> Colour:
        """As `colour_near`."""
        return self.colour_near(key, **parts)

    def _within(self, call: str, part: Range | float | None, default: Range) -> float:
        low, high = default if part is None else part if isinstance(part, tuple) else (part, part)
        if not 0 <= high - low < math.inf:
            hint = "write the smaller number first"
            if default == MIDDLING["hue"] and is_finite(low) and is_finite(high) and 0 <= high < low:
                hint = f"write ({low:g}, {high + 360:g}), which passes 360 and comes round"
            raise SketchError(f"{call}: a range is written (low, high) (got {part!r})", hint=hint)
        return low + (high - low) * self._unit()

    def colour_near(
        self,
        key: object,
        *,
        lightness: float = 0.08,
        chroma: float = 0.03,
        hue: float = 15.0,
        clip: bool = True,
        label: str | None = None,
    ) -> Colour:
        """A colour close to another: lightness, chroma and hue vary uniformly by at most these amounts.

        `lightness` is on a scale from 0 to 1, `chroma` from 0 to about 0.4, `hue` in degrees. Colours outside the gamut of a
        screen lose chroma; `clip` works as for `colour`. Takes three numbers from the stream. Raises SketchError for amounts
        that are negative or not finite, and if the key is not a colour.
        """
        base = as_colour(key)
        for name, amount in (("lightness", lightness), ("chroma", chroma), ("hue", hue)):
            if not 0 <= amount < math.inf:
                raise SketchError(f"colour_near: {name} is by how much it may differ, 0 or more (got {amount!r})")
        light, vivid, angle = oklch_of(base)
        light = min(max(self.jittered(light, lightness), 0.0), 1.0)
        vivid = max(self.jittered(vivid, chroma), 0.0)
        colour = from_oklch(light, vivid, self.jittered(angle, hue), base.alpha, clip=clip)
        self._kept(label, colour)
        return colour
