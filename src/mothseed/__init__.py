"""Moth Seed: seeded sketches, rendered, made into reproducible editions and compared.

What a sketch imports comes from here. Names are looked up when first used, so that a command that draws nothing does not
wait for what drawing needs.
"""

from __future__ import annotations

from mothseed._version import VERSION

TYPE_CHECKING = False  # as in `typing`, whose import takes half as long as starting Python
if TYPE_CHECKING:
    from typing import Any

    from mothseed.chance import Chance
    from mothseed.chance.swarm import Swarm
    from mothseed.colour import Colour, Palette, Picture, contrast, contrasted, legible, linear_ramp, mixed, radial_ramp
    from mothseed.geometry import (
        Outline,
        Trail,
        annulus,
        arc,
        clamp,
        distance,
        lettering,
        mix,
        ngon,
        oblique,
        offset,
        resampled,
        rescale,
        smooth,
        snap,
        star,
        stepped,
        trochoid,
    )
    from mothseed.sheet import Style, View, soft_shadow
    from mothseed.sketch import artwork, dial

__version__ = VERSION

__all__ = [
    "Chance",
    "Colour",
    "Outline",
    "Palette",
    "Picture",
    "Style",
    "Swarm",
    "Trail",
    "View",
    "__version__",
    "annulus",
    "arc",
    "artwork",
    "clamp",
    "contrast",
    "contrasted",
    "dial",
    "distance",
    "legible",
    "lettering",
    "linear_ramp",
    "mix",
    "mixed",
    "ngon",
    "oblique",
    "offset",
    "radial_ramp",
    "resampled",
    "rescale",
    "smooth",
    "snap",
    "soft_shadow",
    "star",
    "stepped",
    "trochoid",
]

_HOMES = {
    "Chance": "chance",
    "Colour": "colour",
    "Outline": "geometry",
    "Palette": "colour",
    "Picture": "colour",
    "Style": "sheet",
    "Swarm": "chance.swarm",
    "Trail": "geometry",
    "View": "sheet",
    "annulus": "geometry",
    "arc": "geometry",
    "artwork": "sketch",
    "clamp": "geometry",
    "contrast": "colour",
    "contrasted": "colour",
    "dial": "sketch",
    "distance": "geometry",
    "legible": "colour",
    "lettering": "geometry",
    "linear_ramp": "colour",
    "mix": "geometry",
    "mixed": "colour",
    "ngon": "geometry",
    "oblique": "geometry",
    "offset": "geometry",
    "radial_ramp": "colour",
    "resampled": "geometry",
    "rescale": "geometry",
    "smooth": "geometry",
    "snap": "geometry",
    "soft_shadow": "sheet",
    "star": "geometry",
    "stepped": "geometry",
    "trochoid": "geometry",
}


_SPELLINGS = {"Color": "Colour"}


def __getattr__(name: str) -> Any:
    name = _SPELLINGS.get(name, name)
    if name not in _HOMES:
        raise AttributeError(f"mothseed has no {name}; it has {', '.join(__all__)}")
    from importlib import import_module

    return getattr(import_module(f"mothseed.{_HOMES[name]}"), name)


def __dir__() -> list[str]:
    return __all__
