"""Moth Seed: seeded sketches, rendered, made into reproducible editions and compared.

What a sketch imports comes from here. Names are looked up when first used, so that a command that draws nothing does not
wait for what drawing needs.
"""

from importlib import import_module
from typing import TYPE_CHECKING, Any

from mothseed._version import VERSION

if TYPE_CHECKING:
    from mothseed.chance import Chance
    from mothseed.colour import Colour, Palette
    from mothseed.geometry import Outline, smooth
    from mothseed.sheet import Style, View
    from mothseed.sketch import artwork, dial

__version__ = VERSION

__all__ = ["Chance", "Colour", "Outline", "Palette", "Style", "View", "__version__", "artwork", "dial", "smooth"]

_HOMES = {
    "Chance": "chance",
    "Colour": "colour",
    "Outline": "geometry",
    "Palette": "colour",
    "Style": "sheet",
    "View": "sheet",
    "artwork": "sketch",
    "dial": "sketch",
    "smooth": "geometry",
}


def __getattr__(name: str) -> Any:
    if name not in _HOMES:
        raise AttributeError(f"mothseed has no {name}; it has {', '.join(__all__)}")
    return getattr(import_module(f"mothseed.{_HOMES[name]}"), name)


def __dir__() -> list[str]:
    return __all__
