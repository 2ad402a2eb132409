"""Moth Seed: seeded sketches, rendered, made into reproducible editions and compared.

What a sketch imports comes from here. Names are looked up when first used, so that a command that draws nothing does not
wait for what drawing needs.
"""

from importlib import import_module
from typing import TYPE_CHECKING, Any

from mothseed._version import VERSION

if TYPE_CHECKING:
    from mothseed.chance import Chance
    from mothseed.colour import Colour, Palette, linear_ramp, radial_ramp
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
        offset,
        resampled,
        rescale,
        smooth,
        snap,
        star,
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
    "Style",
    "Trail",
    "View",
    "__version__",
    "annulus",
    "arc",
    "artwork",
    "clamp",
    "dial",
    "distance",
    "lettering",
    "linear_ramp",
    "mix",
    "ngon",
    "offset",
    "radial_ramp",
    "resampled",
    "rescale",
    "smooth",
    "snap",
    "soft_shadow",
    "star",
    "trochoid",
]

_HOMES = {
    "Chance": "chance",
    "Colour": "colour",
    "Outline": "geometry",
    "Palette": "colour",
    "Style": "sheet",
    "Trail": "geometry",
    "View": "sheet",
    "annulus": "geometry",
    "arc": "geometry",
    "artwork": "sketch",
    "clamp": "geometry",
    "dial": "sketch",
    "distance": "geometry",
    "lettering": "geometry",
    "linear_ramp": "colour",
    "mix": "geometry",
    "ngon": "geometry",
    "offset": "geometry",
    "radial_ramp": "colour",
    "resampled": "geometry",
    "rescale": "geometry",
    "smooth": "geometry",
    "snap": "geometry",
    "soft_shadow": "sheet",
    "star": "geometry",
    "trochoid": "geometry",
}


def __getattr__(name: str) -> Any:
    if name not in _HOMES:
        raise AttributeError(f"mothseed has no {name}; it has {', '.join(__all__)}")
    return getattr(import_module(f"mothseed.{_HOMES[name]}"), name)


def __dir__() -> list[str]:
    return __all__
