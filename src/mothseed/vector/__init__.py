"""Pictures as shapes: SVG, which every browser and drawing program opens, and any size can be printed from."""

from mothseed.vector.svg import svg_history, write_svg

__all__ = ["svg_history", "write_svg"]
