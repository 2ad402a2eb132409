"""The rasteriser and the writers: from a drawing to pixels and files."""

from mothseed.render.picture_file import write_picture
from mothseed.render.pixels import pixel_hash
from mothseed.render.png import read_history, write_png
from mothseed.render.raster import RENDERER_VERSION, prepare_renderer, rendered

__all__ = ["RENDERER_VERSION", "pixel_hash", "prepare_renderer", "read_history", "rendered", "write_picture", "write_png"]
