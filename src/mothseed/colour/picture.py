"""Reading image files of every common kind as pixels."""

from __future__ import annotations

import sys
import warnings
from io import BytesIO
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from mothseed.arrays import ByteArray
from mothseed.faults import PictureError
from mothseed.files import content_hash, read_ordinary
from mothseed.reading import asked_for, was

if TYPE_CHECKING:
    from PIL.Image import Image

_LARGEST_PICTURE = 150_000_000
"""Most pixels: about three times what the largest cameras take. A file with more is damaged or hostile."""

_WHERE = "look at its name; in a sketch, paths are relative to the sketch's own file"


def beside_caller(path: str | Path) -> Path:
    """A path, taken relative to the file of the artist's code that asks for it."""
    frame = sys._getframe(1)
    while frame.f_back is not None and str(frame.f_globals.get("__name__", "")).startswith("mothseed."):
        frame = frame.f_back
    caller = frame.f_globals.get("__file__")
    return (Path(caller).parent / path if caller else Path(path)).resolve()


def read_picture(path: Path) -> ByteArray:
    """The pixels of an image file: uint8 (height, width, 4), red, green, blue and alpha, oriented by its EXIF data. Colours
    of another space, by the file's profile, are converted to sRGB; 16 bits become 8; only the first frame counts. Raises
    PictureError if there is no such file, or if it is no picture, damaged, or too large.
    """
    return picture_read(path, asked_for(path))[0]


def picture_read(path: Path, place: Path) -> tuple[ByteArray, str]:
    """The same for a file whose content is stored elsewhere, with the hash of that content."""
    try:
        content = read_ordinary(place)
    except FileNotFoundError:
        raise PictureError(f"there is no picture {path}", hint=_WHERE) from None
    except IsADirectoryError:
        raise PictureError(f"{path} is a folder, not a picture") from None
    except PermissionError:
        raise PictureError(f"{path} may not be read", hint="look at the file's permissions") from None
    except (OSError, ValueError) as fault:
        raise PictureError(f"{path} cannot be read: {getattr(fault, 'strerror', None) or fault}") from None
    digest = content_hash(content)
    was(path, digest)
    return _decoded(path, content), digest


def _decoded(path: Path, content: bytes) -> ByteArray:
    from PIL import Image, ImageOps, UnidentifiedImageError

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # about size, which is checked here, and metadata, which is not used
            with Image.open(BytesIO(content)) as image:
                if image.width * image.height > _LARGEST_PICTURE:
                    raise _too_large(path, f"{image.width} x {image.height} pixels")
                turned = ImageOps.exif_transpose(image)
                pixels = np.asarray(_in_srgb(_in_8_bits(turned)).convert("RGBA"))
    except UnidentifiedImageError:
        raise PictureError(f"{path} is not a picture that can be read", hint="use PNG, JPEG, WebP, TIFF or GIF") from None
    except Image.DecompressionBombError:
        raise _too_large(path, "far too many pixels") from None
    except (OSError, SyntaxError, ValueError, EOFError) as fault:
        raise PictureError(f"{path} is damaged: {fault}", hint="save it again from the program that made it") from None
    pixels.flags.writeable = False
    return pixels


def _too_large(path: Path, size: str) -> PictureError:
    return PictureError(
        f"{path} has {size}, more than can be read",
        hint="make it smaller first; 2000 pixels on the longer side are plenty for colours",
    )


def _in_8_bits(image: Image) -> Image:
    """A picture in 16-bit or floating-point grey, converted to 8-bit grey; any other unchanged."""
    from PIL import Image as Images

    if not image.mode.startswith(("I", "F")):
        return image
    levels = np.asarray(image).astype(np.float64)
    highest = float(levels.max(initial=0.0))
    white = 1.0 if image.mode == "F" and highest <= 1 else max(65535.0, highest)
    return Images.fromarray(np.round(np.clip(levels / white, 0.0, 1.0) * 255).astype(np.uint8))


def _in_srgb(image: Image) -> Image:
    """A picture with its colours converted to sRGB if its file has a colour profile."""
    profile = image.info.get("icc_profile")
    if not profile or image.mode not in ("RGB", "RGBA", "CMYK"):
        return image
    from PIL import ImageCms  # only here: few pictures need its five milliseconds

    to_mode = "RGBA" if image.mode == "RGBA" else "RGB"
    try:
        own = ImageCms.ImageCmsProfile(BytesIO(profile))
        converted = ImageCms.profileToProfile(image, own, ImageCms.createProfile("sRGB"), outputMode=to_mode)
    except (ImageCms.PyCMSError, OSError, ValueError):
        return image  # an invalid profile is as good as none
    return converted if converted is not None else image
