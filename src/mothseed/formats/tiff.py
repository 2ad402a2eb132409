"""Pictures as TIFF files (TIFF 6.0), deflated."""

from __future__ import annotations

from functools import partial

from mothseed.formats.format import Format
from mothseed.formats.picture_reading import read_history
from mothseed.formats.pillow import write_by_pillow

FORMAT = Format(
    "TIFF", (".tif", ".tiff"), partial(write_by_pillow, format="TIFF", compression="tiff_adobe_deflate"), history=read_history
)
