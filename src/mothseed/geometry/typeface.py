"""The typeface of the house: for text in sketches without a font of their own, and on sheets and figures."""

from __future__ import annotations

from functools import lru_cache
from importlib.util import find_spec
from pathlib import Path

from mothseed.faults import SketchError

_FACES = {
    (False, False): "STIXGeneral.ttf",
    (True, False): "STIXGeneralBol.ttf",
    (False, True): "STIXGeneralItalic.ttf",
    (True, True): "STIXGeneralBolIta.ttf",
}


@lru_cache(maxsize=4)
def house_font(*, bold: bool = False, italic: bool = False) -> str:
    """The file of the book face, which comes with Matplotlib."""
    found = find_spec("matplotlib")  # found without importing, which would take longer than drawing a small sketch
    if found is None or found.origin is None:
        raise SketchError("the fonts of Matplotlib are not installed", hint="reinstall Moth Seed with pip")
    return str(Path(found.origin).parent / "mpl-data" / "fonts" / "ttf" / _FACES[bold, italic])
