"""The colours of sheets and figures, on light paper and on dark; pages use the same."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from mothseed.colour import Colour
from mothseed.colour.oklch import from_oklch, oklch_of


@dataclass(frozen=True, slots=True)
class Theme:
    """Colours that go together, as CSS strings."""

    paper: str
    ink: str
    muted: str
    """of secondary text"""
    hairline: str
    accent: str
    keep: str
    maybe: str
    drop: str
    bar: str
    deviating: str
    """of a bar that deviates from what was expected"""
    heat: tuple[str, ...]
    """the scale of differences, from none, which is the paper, to the largest"""
    least_lightness: float
    """least lightness (the L of OKLCH) of colours that encode data, so that they stand out"""

    def data(self, css: str) -> str:
        """A colour that encodes data, adapted to this paper: of the same hue, and light enough."""
        return _lightened(css, self.least_lightness)

    def mark(self, name: str) -> str | None:
        """The colour of an artist's mark, such as keep; None for anything else."""
        return {"keep": self.keep, "maybe": self.maybe, "drop": self.drop}.get(name)


LIGHT = Theme(
    paper="#f6f3ec",
    ink="#26242e",
    muted="#625e6c",
    hairline="#d8d2c6",
    accent="#5b4a9c",
    keep="#3f7a46",
    maybe="#835a05",
    drop="#b03d36",
    bar="#b9a9c4",
    deviating="#d9715b",
    heat=("#f6f3ec", "#f0c36a", "#d9603b", "#8c1f4b", "#241537"),
    least_lightness=0.0,
)
DARK = Theme(
    paper="#17171f",
    ink="#ece7dc",
    muted="#a8a3b3",
    hairline="#3a3947",
    accent="#b7a6f0",
    keep="#7fc587",
    maybe="#e3b65a",
    drop="#f08a80",
    bar="#5f5279",
    deviating="#a4503d",
    heat=("#17171f", "#5b2a6e", "#b23a58", "#ee8a4a", "#fff0b8"),
    least_lightness=0.68,
)


@lru_cache(maxsize=256)
def _lightened(css: str, least: float) -> str:
    lightness, chroma, hue = oklch_of(Colour.parse(css))
    return css if lightness >= least else from_oklch(least, chroma, hue).css
