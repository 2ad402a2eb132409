"""Files of pictures: one module for each format, and a table of them all."""

from mothseed.formats.format import Format, Written
from mothseed.formats.registry import format_of, history_in, write_picture
from mothseed.formats.settings import Effort, Settings

__all__ = ["Effort", "Format", "Settings", "Written", "format_of", "history_in", "write_picture"]
