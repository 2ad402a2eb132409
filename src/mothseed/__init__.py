"""Moth Seed: seeded sketches, rendered, made into reproducible editions and compared.

What a sketch imports comes from here. Names are looked up when first used, so that a command that draws nothing does not
wait for what drawing needs; the packages inside do the same. What each has is listed in the stub beside it.
"""

from __future__ import annotations

import lazy_loader

from mothseed._version import VERSION

TYPE_CHECKING = False  # as in `typing`, whose import takes half as long as starting Python
if TYPE_CHECKING:
    from typing import Any

__version__ = VERSION

_found, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)

_SPELLINGS = {"Color": "Colour"}


def __getattr__(name: str) -> Any:
    name = _SPELLINGS.get(name, name)
    if name not in __all__:
        raise AttributeError(f"mothseed has no {name}; it has {', '.join(__all__)}")
    return _found(name)
