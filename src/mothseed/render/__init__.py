"""The rasteriser: from a drawing to pixels."""

from mothseed.render.painting import rendered, rendered_bands
from mothseed.render.pixels import pixel_hash
from mothseed.render.version import RENDERER_VERSION

__all__ = ["RENDERER_VERSION", "pixel_hash", "rendered", "rendered_bands"]
