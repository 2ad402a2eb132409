"""Pictures as shapes, that can be printed at any size: SVG and PDF."""

from mothseed.vector.pdf import write_pdf
from mothseed.vector.svg import svg_history, write_svg

__all__ = ["svg_history", "write_pdf", "write_svg"]
