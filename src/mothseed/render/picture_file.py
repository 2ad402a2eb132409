"""From a drawing to a picture file: PNG in bands, so that memory does not grow with its height; other kinds by Pillow."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from mothseed.errors import PictureError
from mothseed.files import written_whole
from mothseed.render.levels import USUAL, Levels
from mothseed.render.png import HISTORY_TAG, Effort, write_png_bands
from mothseed.render.raster import picture_size, rendered, rendered_bands
from mothseed.sheet.drawing import Drawing

_JPEG: dict[str, Any] = {"format": "JPEG", "quality": 95, "subsampling": 0}
_TIFF: dict[str, Any] = {"format": "TIFF", "compression": "tiff_adobe_deflate"}
_WEBP: dict[str, Any] = {"format": "WEBP", "lossless": True, "exact": True}
_OTHERS = {".webp": _WEBP, ".tif": _TIFF, ".tiff": _TIFF, ".jpg": _JPEG, ".jpeg": _JPEG}
ENDINGS = (".png", *_OTHERS)
"""Of the picture files that can be written."""
_LONGEST_WEBP = 16383


def write_picture(
    path: Path,
    drawing: Drawing,
    width: int,
    history: str = "",
    dpi: float | None = None,
    threads: int | None = None,
    effort: Effort = Effort.USUAL,
    levels: Levels = USUAL,
) -> tuple[int, int]:
    """Render a drawing that many pixels wide and write it with its history, whole or not at all; returns its size.

    The path's ending, one of ENDINGS, says what kind of file it becomes. Raises UsageError for a size that cannot be made,
    PictureError for what the kind of file cannot hold, FileError where it cannot be written.
    """
    width, height = picture_size(drawing.width, drawing.height, width)
    ending = path.suffix.lower()
    if ending == ".png":
        bands = rendered_bands(drawing, width, threads, levels)
        write_png_bands(path, bands, height, history, dpi, effort, levels.bits)
    elif levels != USUAL:
        raise PictureError(f"{path.name}: only a PNG has 16 bits, grey or dither", hint="write .png")
    else:
        _write_other(path, drawing, width, height, history, dpi, threads)
    return width, height


def _write_other(
    path: Path, drawing: Drawing, width: int, height: int, history: str, dpi: float | None, threads: int | None
) -> None:
    from PIL import Image

    options = _OTHERS[path.suffix.lower()]
    if options is _JPEG and drawing.paper.alpha < 1:
        raise PictureError("a JPEG cannot be transparent", hint="give the sheet a paper, or write .png or .webp")
    if options is _WEBP and max(width, height) > _LONGEST_WEBP:
        raise PictureError(
            f"a WebP has at most {_LONGEST_WEBP} pixels on a side, not {width} x {height}", hint="write .png or .tif"
        )
    image = Image.fromarray(rendered(drawing, width, threads))
    exif = Image.Exif()
    if history:
        exif[HISTORY_TAG] = _in_ascii(history)
    resolution: dict[str, Any] = {} if dpi is None else {"dpi": (dpi, dpi)}
    with written_whole(path) as part:
        image.save(part, exif=exif, **resolution, **options)


def _in_ascii(text: str) -> str:
    """JSON with all else than ASCII escaped, which is all that EXIF can hold."""
    units = text.encode("utf-16-be")
    codes = [int.from_bytes(units[place : place + 2], "big") for place in range(0, len(units), 2)]
    return "".join(chr(code) if code < 128 else f"\\u{code:04x}" for code in codes)
