"""The daybook of a sketch: what was drawn of it while it was worked on, with the source as it was."""

from mothseed.daybook.book import Daybook
from mothseed.daybook.entry import Entry

__all__ = ["Daybook", "Entry"]
