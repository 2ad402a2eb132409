"""Comparing one picture with the sketch it says it was made from."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from mothseed.arrays import ByteArray
from mothseed.faults import PictureError, UsageError
from mothseed.formats.picture_reading import read_pixels
from mothseed.making import Made, make_again
from mothseed.render import RENDERER_VERSION
from mothseed.sheet import fingerprint
from mothseed.sketch import Sketch
from mothseed.sketch.history import History, history_in_picture

_LOSSLESS = {".png", ".tif", ".tiff", ".webp"}


@dataclass(frozen=True, slots=True)
class PictureCheck:
    """The result of remaking a picture."""

    history: History
    findings: tuple[str, ...]
    """differences, in words"""
    with_pixels: bool
    """whether its pixels were compared too"""

    @property
    def compared(self) -> str:
        """What was compared, in words."""
        return "its drawing and its pixels" if self.with_pixels else "its drawing"


def check_picture(path: Path, sketch: Sketch) -> PictureCheck:
    """Remake a picture from its history, and compare drawing and pixels.

    Pixels are compared where the file keeps them as they are, in 8 bits, and the same renderer painted them. Raises
    PictureError for what is no picture, UsageError where it carries no history, or that of another sketch.
    """
    history = history_in_picture(path)
    if history is None:
        raise PictureError(f"{path} carries no history of how it was made", hint="mothseed proof writes pictures that do")
    if history.sketch != sketch.path.name:
        raise UsageError(f"{path} was made from {history.sketch}, not from {sketch.path.name}")
    if history.renderer > RENDERER_VERSION:
        raise UsageError(f"{path} was painted by a later version of Moth Seed", hint="update it: pip install -U mothseed")
    made = make_again(sketch, history)
    pixels = _pixels(path) if history.renderer == RENDERER_VERSION else None
    findings = tuple(_findings(history, sketch, made, pixels))
    return PictureCheck(history, findings, pixels is not None)


def _findings(history: History, sketch: Sketch, made: Made, pixels: ByteArray | None) -> Iterator[str]:
    if fingerprint(made.drawing) != history.fingerprint:
        changed = history.sketch_hash and history.sketch_hash != sketch.source_hash
        since = f"{sketch.path.name} was changed since" if changed else "something that it uses was changed since"
        yield f"its drawing is not what comes now: {since}"
    elif pixels is not None:
        again = made.pixels(pixels.shape[1])
        if again.shape != pixels.shape or (again != pixels).any():
            yield "its drawing is the same, its pixels are not: somebody has changed them"


def _pixels(path: Path) -> ByteArray | None:
    """The pixels of a picture file; None for vector files and other rounding, which have nothing to compare."""
    if path.suffix.lower() not in _LOSSLESS:
        return None
    with path.open("rb") as file:
        head = file.read(26)
    if path.suffix.lower() == ".png" and head[24:26] not in (b"\x08\x02", b"\x08\x06"):
        return None
    pixels = read_pixels(path)
    return pixels if pixels.ndim == 3 else None
