"""Pictures: image files as a source of colour."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from pathlib import Path

import numpy as np

from mothseed.arrays import ByteArray
from mothseed.errors import PictureError

_LARGEST_PICTURE = 200_000_000
"""Pixels; about four times what the largest cameras make. More is taken for a damaged or hostile file."""

_opened: ContextVar[set[Path] | None] = ContextVar("opened", default=None)


@contextmanager
def watching_pictures() -> Iterator[set[Path]]:
    """Collects the paths of all pictures read within: what an edition depends on besides its code.

    It only listens; nothing that is drawn depends on it.
    """
    paths: set[Path] = set()
    token = _opened.set(paths)
    try:
        yield paths
    finally:
        _opened.reset(token)


def note_picture(path: Path) -> None:
    """Tell whoever is watching that a picture's content was used, be it read now or kept from before."""
    paths = _opened.get()
    if paths is not None:
        paths.add(path)


def read_picture(path: Path) -> ByteArray:
    """The pixels of an image file, as uint8 (height, width, 4): red, green, blue, alpha, turned the way its EXIF says.

    Raises PictureError where there is no such file, or it is no picture, broken, or too large to be one.
    """
    from PIL import Image, ImageOps, UnidentifiedImageError

    note_picture(path)
    try:
        with Image.open(path) as image:
            if image.width * image.height > _LARGEST_PICTURE:
                raise PictureError(
                    f"{path} has {image.width} x {image.height} pixels, more than can be read",
                    hint="make it smaller first; 2000 pixels on the longer side are plenty for colours",
                )
            return np.asarray(ImageOps.exif_transpose(image).convert("RGBA"))
    except FileNotFoundError:
        raise PictureError(f"there is no picture {path}", hint="paths are relative to the sketch that names them") from None
    except IsADirectoryError:
        raise PictureError(f"{path} is a folder, not a picture") from None
    except PermissionError:
        raise PictureError(f"{path} may not be read", hint="look at the file's permissions") from None
    except UnidentifiedImageError:
        raise PictureError(f"{path} is not a picture that can be read", hint="use PNG, JPEG, WebP, TIFF or GIF") from None
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError) as fault:
        raise PictureError(f"{path} is damaged: {fault}", hint="save it anew from the program that made it") from None
